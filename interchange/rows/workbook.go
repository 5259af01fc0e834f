package rows

import (
	"archive/zip"
	"cmp"
	"fmt"
	"io"
	"strings"
	"time"

	"github.com/xuri/excelize/v2"

	"omphalos/core/decimal"
)

// mostRows is how many rows of a table stand on a sheet: programs take 1,048,576, of which
// one is the heading.
const mostRows = excelize.TotalRows - 1

// firstDay is the first that a workbook counts in days as all programs do: before it stands a
// day that never was (ISO/IEC 29500-1, 18.17.4.1).
var firstDay = time.Date(1900, time.March, 1, 0, 0, 0, 0, time.UTC)

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
	moment, day := "yyyy-mm-dd hh:mm:ss.000", "yyyy-mm-dd"
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

// begin begins a sheet with the words of its columns as heading, each unlike the others.
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
	if err := w.sheet.SetPanes(&excelize.Panes{Freeze: true, YSplit: 1, TopLeftCell: "A2",
		ActivePane: "bottomLeft"}); err != nil {
		return err
	}
	heading, taken := make([]any, len(columns)), map[string]bool{}
	for i, c := range columns {
		words := cmp.Or(c.Words, c.Key)
		if taken[strings.ToLower(words)] {
			words += " (" + c.Key + ")"
		}
		heading[i], taken[strings.ToLower(words)] = words, true
		if c.Kind == Moment || c.Kind == Day {
			if err := w.sheet.SetColWidth(i+1, i+1, 20); err != nil {
				return err
			}
		}
	}
	w.row = 0
	return w.add(heading)
}

// add adds a row to the sheet.
func (w *workbook) add(cells []any) error {
	w.row++
	return w.sheet.SetRow(fmt.Sprint("A", w.row), cells)
}

func (w *workbook) Row(cells []Cell) error {
	if w.row == mostRows+1 {
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
				if c.At.Before(firstDay) {
					value = Plain(kind, c)
					break
				}
				value = excelize.Cell{StyleID: w.styles[kind], Value: wall(c.At)}
			default:
				value = Plain(kind, c)
			}
		}
		w.cells = append(w.cells, value)
	}
	return w.add(w.cells)
}

// wall returns the moment in UTC at which clocks show there what they show at another in its zone:
// a workbook knows of no zones.
func wall(at time.Time) time.Time {
	_, ahead := at.Zone()
	return at.UTC().Add(time.Duration(ahead) * time.Second)
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
