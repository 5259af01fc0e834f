package bundle_test

import (
	"archive/zip"
	"bytes"
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/interchange/bundle"
)

func TestWhatIsWrittenIsReadBack(t *testing.T) {
	want := bundle.Bundle{
		Document: []byte("{\n  \"format\": \"omphalos/quiz@1\"\n}\n"),
		Pictures: map[string][]byte{"abc": {1, 2, 3}, "def": {4}},
		Tables: map[string][]map[string]string{
			"signposts": {{"table": "visits", "key": "IE", "address": "https://example.org/?a=1,\"b\""}},
			"products": {{"key": "hive", "name": "=Hive", "text": "Two\nlines", "picture": "",
				"description": "", "price": "1.50", "sale_price": "", "currency": "EUR", "tags": "a, b",
				"address": "", "in_stock": "yes"}},
		},
	}
	var file, again bytes.Buffer
	require.NoError(t, bundle.Write(&file, want))
	require.NoError(t, bundle.Write(&again, want))
	assert.Equal(t, file.Bytes(), again.Bytes(), "the same bundle is the same file")
	got, err := bundle.Read(file.Bytes())
	require.NoError(t, err)
	assert.Equal(t, want, got)
}

func TestWhatIsNoBundle(t *testing.T) {
	archive := func(files map[string]string) []byte {
		var b bytes.Buffer
		z := zip.NewWriter(&b)
		for name, content := range files {
			f, err := z.Create(name)
			require.NoError(t, err)
			_, err = f.Write([]byte(content))
			require.NoError(t, err)
		}
		require.NoError(t, z.Close())
		return b.Bytes()
	}
	many := map[string]string{}
	for i := range 1001 {
		many[fmt.Sprint("pictures/", i)] = "x"
	}
	for name, data := range map[string][]byte{
		"no archive":         []byte("PK no"),
		"no quiz":            archive(map[string]string{"pictures/a": "x"}),
		"a bomb":             archive(map[string]string{"quiz.json": "{}", "pictures/a": strings.Repeat("0", 13<<20)}),
		"a document too big": archive(map[string]string{"quiz.json": strings.Repeat(" ", 5<<20)}),
		"too many":           archive(many),
	} {
		_, err := bundle.Read(data)
		assert.ErrorIs(t, err, bundle.ErrBundle, name)
	}
	_, err := bundle.Read(archive(map[string]string{"quiz.json": "{}", "tables/signposts.csv": "board\nx\n"}))
	assert.ErrorContains(t, err, "the table signposts")
	b, err := bundle.Read(archive(map[string]string{"quiz.json": "{}", "../../etc/passwd": "x", "pictures/": "",
		"notes.txt": "x", "tables/else.csv": "x"}))
	require.NoError(t, err)
	assert.Empty(t, b.Pictures, "what is beside is passed over")
}
