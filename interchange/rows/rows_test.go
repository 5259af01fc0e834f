package rows_test

import (
	"archive/zip"
	"bytes"
	"encoding/csv"
	"encoding/json"
	"encoding/xml"
	"fmt"
	"io"
	"path"
	"strconv"
	"strings"
	"testing"
	"time"

	independent "github.com/fraugster/parquet-go"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/interchange/rows"
)

var columns = []rows.Column{
	{Key: "number", Words: "Number", Kind: rows.Whole},
	{Key: "finished", Words: "Finished", Kind: rows.Moment},
	{Key: "answer.crop", Words: "What do you grow?", Kind: rows.Text},
	{Key: "answer.tools", Words: "=Which of these?", Kind: rows.Texts},
	{Key: "score.need", Words: "Need", Kind: rows.Number},
	{Key: "answer.planted", Words: "Since when?", Kind: rows.Day},
}

var at = time.Date(2026, 10, 5, 7, 8, 9, 0, time.UTC)

// cells are the row with a number: every third has no text, one in two nothing but one text,
// and one in seven is not known when.
func cells(n int) []rows.Cell {
	row := []rows.Cell{
		rows.Counted(int64(n)), {Given: n%7 > 0, At: at.Add(time.Duration(n) * time.Second)},
		rows.Said([]string{"", "=1+1, \"so\"", "Birnen\nund Äpfel 🍐"}[n%3]),
		{Given: true, Texts: []string{"saw", "-ladder"}[:1+n%2]},
		{Given: true, N: int64(n)*500_000 - 1_250_000},
		{Given: n%2 == 0, At: time.Date(2026, 1, 1+n, 0, 0, 0, 0, time.UTC)},
	}
	if n%5 == 0 {
		row[3] = rows.Cell{}
	}
	return row
}

const many = 40_000 // more than go out together

func written(t testing.TB, f rows.Format, n int, with rows.Options) []byte {
	var file bytes.Buffer
	w, err := rows.New(f, &file, columns, with)
	require.NoError(t, err)
	for i := range n {
		require.NoError(t, w.Row(cells(i)))
		if i%1000 == 0 {
			require.NoError(t, w.Flush())
		}
	}
	require.NoError(t, w.Close())
	return file.Bytes()
}

// said is a row as CSV has it.
func said(n int) []string {
	c := cells(n)
	row := []string{strconv.Itoa(n), "", c[2].Text, strings.Join(c[3].Texts, "; "),
		strconv.FormatFloat(float64(c[4].N)/1e6, 'f', -1, 64), ""}
	if c[1].Given {
		row[1] = c[1].At.Format("2006-01-02T15:04:05.000Z07:00")
	}
	if c[5].Given {
		row[5] = c[5].At.Format(time.DateOnly)
	}
	return row
}

func TestCSV(t *testing.T) {
	file := written(t, rows.CSV, many, rows.Options{Words: true})
	assert.Equal(t, many+2, bytes.Count(file, []byte("\r\n")), "rows end as RFC 4180 has them, lines of a text as they were given")
	list, err := csv.NewReader(bytes.NewReader(file)).ReadAll()
	require.NoError(t, err)
	assert.Equal(t, "number,finished,answer.crop,answer.tools,score.need,answer.planted", strings.Join(list[0], ","))
	assert.Equal(t, []string{"'=Which of these?", "Need"}, list[1][3:5], "and no spreadsheet runs words")
	for i, row := range list[2:] {
		due := said(i)
		if strings.HasPrefix(due[2], "=") {
			due[2] = "'" + due[2]
		}
		require.Equal(t, due, row)
	}
	list, err = csv.NewReader(bytes.NewReader(written(t, rows.CSV, 3, rows.Options{}))).ReadAll()
	require.NoError(t, err)
	assert.Len(t, list, 4)
}

func TestLines(t *testing.T) {
	d := json.NewDecoder(bytes.NewReader(written(t, rows.Lines, many, rows.Options{})))
	for i := range many {
		var row map[string]any
		require.NoError(t, d.Decode(&row))
		due, c := map[string]any{"number": float64(i), "score.need": float64(i)/2 - 1.25}, cells(i)
		for k, text := range map[int]string{1: "finished", 2: "answer.crop", 5: "answer.planted"} {
			if c[k].Given {
				due[text] = said(i)[k]
			}
		}
		if c[3].Given {
			tools := []any{}
			for _, tool := range c[3].Texts {
				tools = append(tools, tool)
			}
			due["answer.tools"] = tools
		}
		require.Equal(t, due, row)
	}
	_, err := d.Token()
	assert.ErrorIs(t, err, io.EOF)
	var odd bytes.Buffer
	w, err := rows.New(rows.Lines, &odd, columns[2:3], rows.Options{})
	require.NoError(t, err)
	require.NoError(t, w.Row([]rows.Cell{rows.Said("a\xffb\u2028")}))
	require.NoError(t, w.Close())
	assert.True(t, json.Valid(odd.Bytes()), "%q", odd.String())
}

// sheet reads a sheet of a workbook by its parts, without what wrote it: values as they stand
// there, with the style of each.
func sheet(t testing.TB, file []byte, name string) (list [][]string) {
	z, err := zip.NewReader(bytes.NewReader(file), int64(len(file)))
	require.NoError(t, err)
	read := func(part string, into any) {
		f, err := z.Open(part)
		require.NoError(t, err)
		require.NoError(t, xml.NewDecoder(f).Decode(into))
	}
	var book struct {
		Sheets []struct {
			Name string `xml:"name,attr"`
			ID   string `xml:"http://schemas.openxmlformats.org/officeDocument/2006/relationships id,attr"`
		} `xml:"sheets>sheet"`
	}
	var links struct {
		Relationship []struct {
			ID     string `xml:"Id,attr"`
			Target string `xml:"Target,attr"`
		}
	}
	read("xl/workbook.xml", &book)
	read("xl/_rels/workbook.xml.rels", &links)
	part := ""
	for _, s := range book.Sheets {
		for _, l := range links.Relationship {
			if s.Name == name && s.ID == l.ID {
				part = path.Join("xl", strings.TrimPrefix(l.Target, "/xl/"))
			}
		}
	}
	require.NotEmpty(t, part, "a sheet %q", name)
	var data struct {
		Rows []struct {
			Cells []struct {
				At     string `xml:"r,attr"`
				Style  string `xml:"s,attr"`
				Value  string `xml:"v"`
				Inline string `xml:"is>t"`
			} `xml:"c"`
		} `xml:"sheetData>row"`
	}
	read(part, &data)
	for _, r := range data.Rows {
		row := make([]string, 0, len(r.Cells))
		for _, c := range r.Cells {
			for len(row) < int(c.At[0]-'A') {
				row = append(row, "")
			}
			row = append(row, c.Value+c.Inline)
		}
		list = append(list, row)
	}
	return list
}

func TestWorkbook(t *testing.T) {
	more := rows.Sheet{Name: "Questions", Columns: columns[2:5], Rows: [][]rows.Cell{cells(1)[2:5], cells(2)[2:5]}}
	file := written(t, rows.Workbook, many, rows.Options{Name: "Responses", More: []rows.Sheet{more}})
	list := sheet(t, file, "Responses")
	require.Len(t, list, many+1, "with one heading")
	assert.Equal(t, "Number,Finished,What do you grow?,=Which of these?,Need,Since when?", strings.Join(list[0], ","))
	epoch := time.Date(1899, 12, 30, 0, 0, 0, 0, time.UTC) // day 0 of ISO/IEC 29500-1 §18.17.4
	for i, row := range list[1:] {
		for len(row) < len(columns) {
			row = append(row, "")
		}
		due, c := said(i), cells(i)
		for k, form := range map[int]string{1: "2006-01-02T15:04:05.000Z07:00", 5: time.DateOnly} {
			if c[k].Given {
				days, err := strconv.ParseFloat(row[k], 64)
				require.NoError(t, err)
				row[k] = epoch.Add(time.Duration(days * 24 * float64(time.Hour))).Round(time.Second).Format(form)
			}
		}
		require.Equal(t, due, row)
	}
	behind := sheet(t, file, "Questions")
	assert.Equal(t, [][]string{{"=1+1, \"so\"", "saw; -ladder", "-0.75"}, {"Birnen\nund Äpfel 🍐", "saw",
		"-0.25"}}, behind[1:])
}

// Workbooks know no days before 1900 and take the one of 29 February for real: such days stand
// as text. Headings that are alike are told apart.
func TestDaysBeforeWorkbooks(t *testing.T) {
	alike := []rows.Column{{Key: "a", Words: "When?", Kind: rows.Day}, {Key: "b", Words: "when?", Kind: rows.Moment}}
	var file bytes.Buffer
	w, err := rows.New(rows.Workbook, &file, alike, rows.Options{Name: "Days"})
	require.NoError(t, err)
	for _, day := range []string{"1850-03-04", "1900-02-28", "1900-03-01"} {
		at, err := time.Parse(time.DateOnly, day)
		require.NoError(t, err)
		require.NoError(t, w.Row([]rows.Cell{{Given: true, At: at}, {Given: true, At: at}}))
	}
	require.NoError(t, w.Close())
	assert.Equal(t, [][]string{{"When?", "when? (b)"}, {"1850-03-04", "1850-03-04T00:00:00.000Z"},
		{"1900-02-28", "1900-02-28T00:00:00.000Z"}, {"61", "61"}}, sheet(t, file.Bytes(), "Days"))
}

func TestParquet(t *testing.T) {
	file := written(t, rows.Parquet, many, rows.Options{})
	r, err := independent.NewFileReader(bytes.NewReader(file))
	require.NoError(t, err)
	assert.EqualValues(t, many, r.NumRows())
	for i := range many {
		row, err := r.NextRow()
		require.NoError(t, err)
		c := cells(i)
		due := map[string]any{"number": int64(i), "score.need": float64(i)/2 - 1.25}
		if c[1].Given {
			due["finished"] = c[1].At.UnixMilli()
		}
		if c[2].Given {
			due["answer.crop"] = []byte(c[2].Text)
		}
		if c[5].Given {
			due["answer.planted"] = int32(c[5].At.Unix() / 86400)
		}
		tools := fmt.Sprintf("%s", row["answer.tools"])
		delete(row, "answer.tools")
		require.Equal(t, due, row)
		for _, tool := range c[3].Texts {
			require.Contains(t, tools, tool)
		}
		if !c[3].Given {
			require.NotContains(t, tools, "saw")
		}
	}
	for i, name := range []string{"number", "finished", "answer.crop", "answer.tools", "score.need", "answer.planted"} {
		assert.Equal(t, name, r.GetSchemaDefinition().RootColumn.Children[i].SchemaElement.Name)
	}
}

func TestFormats(t *testing.T) {
	for _, f := range rows.Formats {
		again, err := rows.FormatOf(string(f))
		require.NoError(t, err)
		assert.Equal(t, f, again)
		assert.Equal(t, f == rows.Lines, len(written(t, f, 0, rows.Options{Name: "Responses"})) == 0, "%s of nothing", f)
	}
	_, err := rows.FormatOf("xls")
	assert.ErrorIs(t, err, rows.ErrFormat)
	assert.ErrorContains(t, err, "csv, xlsx, jsonl, parquet")
}

// BenchmarkRow is a row in each format.
func BenchmarkRow(b *testing.B) {
	for _, f := range rows.Formats {
		b.Run(string(f), func(b *testing.B) {
			w, err := rows.New(f, io.Discard, columns, rows.Options{Name: "Responses"})
			require.NoError(b, err)
			for n := 0; b.Loop(); n++ {
				require.NoError(b, w.Row(cells(n)))
			}
			require.NoError(b, w.Close())
		})
	}
}
