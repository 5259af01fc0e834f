// Package bundle writes a quiz with all that it needs into one file, and reads it back: a ZIP
// archive with quiz.json (docs/format.md), the pictures under pictures/, and the rows of the
// tables that it uses as CSV under tables/.
package bundle

import (
	"archive/zip"
	"bytes"
	"errors"
	"fmt"
	"io"
	"maps"
	"path"
	"slices"
	"strings"

	"omphalos/core/quiz"
	"omphalos/interchange/listing"
	"omphalos/interchange/qti"
)

// A Bundle is a quiz with what it needs.
type Bundle struct {
	Document []byte                         // quiz.json, to the byte
	Pictures map[string][]byte              // by name
	Tables   map[string][]map[string]string // rows by column, of each of Columns
}

// Columns are those of the tables, by the name of each, as listing.Read takes them.
var Columns = map[string][]string{
	"signposts": {"table", "key", "address"},
	"products": {"key", "name", "text", "picture", "description", "price", "sale_price", "currency", "tags",
		"address", "in_stock", "name:*", "text:*", "description:*", "address:*"},
	"places": {"table", "key", "name", "address", "latitude", "longitude"},
	"calendars": {"name", "zone", "minutes", "buffer", "seats", "lead", "ahead", "off", "monday", "tuesday",
		"wednesday", "thursday", "friday", "saturday", "sunday"},
}

// What a bundle may hold, so that a small file does not become a large one.
const (
	MaxFile    = 64 << 20 // bytes of the archive
	maxEntries = 1000
	maxPicture = 12 << 20 // bytes of one
	maxTable   = 4 << 20
	maxAll     = 128 << 20 // of all, unpacked
)

// ErrBundle says that a file is no bundle.
var ErrBundle = errors.New("is no quiz with its pictures")

const document = "quiz.json"

// Write writes a bundle. The same bundle is always the same bytes.
func Write(w io.Writer, b Bundle) error {
	z := zip.NewWriter(w)
	put := func(name string, data []byte) error {
		f, err := z.Create(name)
		if err == nil {
			_, err = f.Write(data)
		}
		if err != nil {
			return fmt.Errorf("writing %s: %w", name, err)
		}
		return nil
	}
	if err := put(document, b.Document); err != nil {
		return err
	}
	for _, name := range slices.Sorted(maps.Keys(b.Pictures)) {
		if err := put("pictures/"+name, b.Pictures[name]); err != nil {
			return err
		}
	}
	for _, name := range slices.Sorted(maps.Keys(b.Tables)) {
		var rows bytes.Buffer
		if err := listing.Write(&rows, Columns[name], b.Tables[name]); err != nil {
			return fmt.Errorf("writing the table %s: %w", name, err)
		}
		if err := put("tables/"+name+".csv", rows.Bytes()); err != nil {
			return err
		}
	}
	return z.Close()
}

// Read reads a bundle. What is in the archive beside is passed over. The error wraps
// ErrBundle, or says what is wrong with a table; the document is not looked at.
func Read(data []byte) (Bundle, error) {
	b := Bundle{Pictures: map[string][]byte{}, Tables: map[string][]map[string]string{}}
	z, err := zip.NewReader(bytes.NewReader(data), int64(len(data)))
	if err != nil {
		return b, fmt.Errorf("the file %w: %v", ErrBundle, err)
	}
	if len(z.File) > maxEntries {
		return b, fmt.Errorf("the file %w: it holds %d files, and at most %d are read", ErrBundle, len(z.File), maxEntries)
	}
	all := 0
	for _, f := range z.File {
		take, most := b.taker(f.Name)
		if take == nil {
			continue
		}
		content, err := unpack(f, most)
		if err != nil {
			return b, err
		}
		if all += len(content); all > maxAll {
			return b, fmt.Errorf("the file %w: unpacked it is too large", ErrBundle)
		}
		if err := take(content); err != nil {
			return b, err
		}
	}
	if b.Document == nil {
		return b, fmt.Errorf("the file %w: there is no %s in it", ErrBundle, document)
	}
	return b, nil
}

// Open reads a file of whatever form it is: one that Write wrote, a package of QTI 3.0, or a
// quiz.json alone. Lost is what there are no words for here. The error wraps ErrBundle or
// qti.ErrQTI; a document alone is not looked at.
func Open(data []byte) (b Bundle, lost []string, err error) {
	if qti.Is(data) {
		q, pictures, lost, err := qti.Read(data)
		if err != nil {
			return b, nil, err
		}
		return Bundle{Document: q.Write(), Pictures: pictures}, lost, nil
	}
	if bytes.HasPrefix(data, []byte("PK")) {
		b, err = Read(data)
		return b, nil, err
	}
	return Bundle{Document: data}, nil, nil
}

// taker returns what takes a file of the archive, and how large it may be; nil for none.
func (b *Bundle) taker(name string) (take func([]byte) error, most int) {
	folder, file := path.Split(name)
	switch {
	case name == document:
		return func(data []byte) error { b.Document = data; return nil }, quiz.MaxSize
	case folder == "pictures/" && file != "":
		return func(data []byte) error { b.Pictures[file] = data; return nil }, maxPicture
	case folder == "tables/" && strings.HasSuffix(file, ".csv"):
		table := strings.TrimSuffix(file, ".csv")
		columns := Columns[table]
		if columns == nil {
			return nil, 0
		}
		return func(data []byte) error {
			rows, err := listing.Read(bytes.NewReader(data), columns, columns[:1])
			if err != nil {
				return fmt.Errorf("the table %s: %w", table, err)
			}
			b.Tables[table] = rows
			return nil
		}, maxTable
	}
	return nil, 0
}

// unpack reads a file of the archive, whatever size it says that it has.
func unpack(f *zip.File, most int) ([]byte, error) {
	r, err := f.Open()
	if err != nil {
		return nil, fmt.Errorf("the file %w: %v", ErrBundle, err)
	}
	defer r.Close()
	data, err := io.ReadAll(io.LimitReader(r, int64(most)+1))
	if err != nil {
		return nil, fmt.Errorf("the file %w: %v", ErrBundle, err)
	}
	if len(data) > most {
		return nil, fmt.Errorf("the file %w: %s is too large", ErrBundle, f.Name)
	}
	return data, nil
}
