package rows

import (
	"archive/zip"
	"fmt"
	"io"

	"github.com/xuri/excelize/v2"

	"omphalos/core/decimal"
)

// mostRows is how many rows of a table stand on a sheet: programs take 1,048,576, of which
// two are heads.
const mostRows = excelize.TotalRows - 2

// A workbook has a sheet for each mostRows rows, and those that stand behind. Rows go to disk
// until it is closed: the format has its list of contents at the end.
type workbook struct {
	file    *excelize.File
	columns []Column
	with    Options
	styles  map[Kind]int
	sheet   *excelize.StreamWriter
	sheets  int
	row     int // the last one of the sheet
	cells   []any
}

func newWorkbook(to io.Writer, columns []Column, with Options) (*workbook, error) {
	w := &workbook{file: excelize.NewFile(), columns: columns, with: with, styles: map[Kind]int{}}
	w.file.SetZipWriter(func(io.Writer) excelize.ZipWriter { return zip.NewWriter(to) }) // not into memory first
	moment, day := "yyyy-mm-dd hh:mm:ss", "yyyy-mm-dd"
	for kind, form := range map[Kind]*string{Moment: &moment, Day: &day} {
		style, err := w.file.NewStyle(&excelize.Style{CustomNumFmt: form})
		if err != nil {
			return nil, err
		}
		w.styles[kind] = style
	}
	return w, w.next()
}

// next begins a sheet of the table.
func (w *workbook) next() error {
	if err := w.end(); err != nil {
		return err
	}
	w.sheets++
	name := w.with.Name
	if w.sheets > 1 {
		name = fmt.Sprint(name, " ", w.sheets)
	}
	return w.begin(name, w.columns)
}

// end writes the sheet that is begun.
func (w *workbook) end() error {
	if w.sheet == nil {
		return nil
	}
	return w.sheet.Flush()
}

// begin begins a sheet with keys in its first row and words in its second.
func (w *workbook) begin(name string, columns []Column) (err error) {
	if w.sheets == 1 && w.sheet == nil {
		err = w.file.SetSheetName("Sheet1", name)
	} else {
		_, err = w.file.NewSheet(name)
	}
	if err != nil {
		return err
	}
	if w.sheet, err = w.file.NewStreamWriter(name); err != nil {
		return err
	}
	if err := w.sheet.SetPanes(&excelize.Panes{Freeze: true, YSplit: 2, TopLeftCell: "A3",
		ActivePane: "bottomLeft"}); err != nil {
		return err
	}
	keys, words := make([]any, len(columns)), make([]any, len(columns))
	for i, c := range columns {
		keys[i], words[i] = c.Key, c.Words
		if c.Kind == Moment || c.Kind == Day {
			if err := w.sheet.SetColWidth(i+1, i+1, 20); err != nil {
				return err
			}
		}
	}
	w.row = 0
	if err := w.add(keys); err != nil {
		return err
	}
	return w.add(words)
}

// add adds a row to the sheet.
func (w *workbook) add(cells []any) error {
	w.row++
	return w.sheet.SetRow(fmt.Sprint("A", w.row), cells)
}

func (w *workbook) Row(cells []Cell) error {
	if w.row == mostRows+2 {
		if err := w.next(); err != nil {
			return err
		}
	}
	return w.line(w.columns, cells)
}

func (w *workbook) line(columns []Column, cells []Cell) error {
	w.cells = w.cells[:0]
	for i, c := range cells {
		kind, value := columns[i].Kind, any(nil)
		if c.Given {
			switch kind {
			case Whole:
				value = c.N
			case Number:
				value = decimal.Decimal(c.N).Float64()
			case Moment, Day:
				value = excelize.Cell{StyleID: w.styles[kind], Value: c.At.UTC()}
			default:
				value = Plain(kind, c)
			}
		}
		w.cells = append(w.cells, value)
	}
	return w.add(w.cells)
}

// Flush does nothing: a workbook goes out at its end.
func (w *workbook) Flush() error { return nil }

func (w *workbook) Close() error {
	defer w.file.Close()
	for _, more := range w.with.More {
		if err := w.end(); err != nil {
			return err
		}
		if err := w.begin(more.Name, more.Columns); err != nil {
			return err
		}
		for _, row := range more.Rows {
			if err := w.line(more.Columns, row); err != nil {
				return err
			}
		}
	}
	if err := w.end(); err != nil {
		return err
	}
	return w.file.Write(io.Discard) // it goes to the zip writer's
}
