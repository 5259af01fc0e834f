package listing

import (
	"bytes"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

var known = []string{"table", "key", "address"}

func TestWhatIsRefused(t *testing.T) {
	for text, says := range map[string]string{
		"":                                 "there is nothing in it",
		"table,key,adress\n":               `the column "adress" is not one of table, key, address`,
		"table,address\n":                  `the column "key" is missing`,
		"table,key,address\na,b,c\na,b\n":  "line 3 has 2 columns, and the first line has 3",
		"table,key,address\na,\"b\"x,c\n":  "it is no CSV",
		"table,key,table,address\na,b,c,d": `the column "table" is not one of`,
	} {
		_, err := Read(strings.NewReader(text), known, known)
		assert.ErrorContains(t, err, says, text)
	}
}

// A spreadsheet's export: a byte order mark, semicolons, columns in another order.
func TestASpreadsheetsExport(t *testing.T) {
	rows, err := Read(
		strings.NewReader(
			"\ufeffKey;Table;Address\r\nIE;booking;https://example.org/a;b\r\n"[:len(
				"\ufeffKey;Table;Address\r\nIE;booking;https://example.org/a")],
		),
		known,
		known,
	)
	require.NoError(t, err)
	assert.Equal(t, []map[string]string{{"key": "IE", "table": "booking", "address": "https://example.org/a"}}, rows)
}

func TestWhatIsWrittenIsReadBack(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		cell := rapid.Custom(func(t *rapid.T) string {
			return strings.TrimSpace(rapid.StringMatching(`[a-z",; äñ\n-]{0,12}`).Draw(t, "cell"))
		})
		var rows []map[string]string
		for range rapid.IntRange(1, 6).Draw(t, "rows") {
			rows = append(
				rows,
				map[string]string{
					"table":   "t" + cell.Draw(t, "table"),
					"key":     cell.Draw(t, "key"),
					"address": cell.Draw(t, "address"),
				},
			)
		}
		var b bytes.Buffer
		require.NoError(t, Write(&b, known, rows))
		back, err := Read(&b, known, known)
		require.NoError(t, err)
		assert.Equal(t, rows, back)
	})
}

// What a spreadsheet would run is written so that it does not, and comes back unchanged
// (OWASP, CSV Injection); numbers stay numbers.
func TestCellsThatRun(t *testing.T) {
	for _, cell := range []string{"=1+1", "+353 1 234", "-cmd|' /C calc'!A0", "@SUM(A1)", "\tx", "'=1", "''+",
		"'", "it's", "", "-3.5", "+4", "12"} {
		var file bytes.Buffer
		require.NoError(t, Write(&file, []string{"a", "b"}, []map[string]string{{"a": cell, "b": "x"}}))
		rows, err := Read(bytes.NewReader(file.Bytes()), []string{"a", "b"}, nil)
		require.NoError(t, err)
		assert.Equal(t, strings.TrimSpace(cell), rows[0]["a"], "%q as %q", cell, file.String())
		line := strings.Split(file.String(), "\n")[1]
		if runs(strings.TrimLeft(cell, "'")) && !number.MatchString(cell) {
			assert.Equal(t, "'", strings.TrimLeft(line, `"`)[:1])
		}
	}
}
