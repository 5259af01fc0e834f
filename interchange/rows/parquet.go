package rows

import (
	"fmt"
	"io"
	"reflect"
	"time"

	"github.com/parquet-go/parquet-go"

	"omphalos/core/decimal"
)

// groupRows is how many rows of Parquet go out together.
const groupRows = 1 << 14

// A parquetWriter writes groups of rows. Numbers are doubles, times milliseconds in UTC,
// several texts a list; what is not given is null, of a list nothing.
type parquetWriter struct {
	out     *parquet.GenericWriter[any]
	columns []Column
	row     parquet.Row
	rows    int // of the group
}

// Each kind as a field of a struct, from which the schema is read: it keeps the order of
// columns.
var parquetTypes = map[Kind]struct {
	of  reflect.Type
	tag string
}{
	Text:   {reflect.TypeFor[*string](), "optional"},
	Texts:  {reflect.TypeFor[[]string](), "list"},
	Whole:  {reflect.TypeFor[*int64](), "optional"},
	Number: {reflect.TypeFor[*float64](), "optional"},
	Moment: {reflect.TypeFor[*int64](), "optional,timestamp(millisecond)"},
	Day:    {reflect.TypeFor[*int32](), "optional,date"},
}

func newParquet(to io.Writer, columns []Column) *parquetWriter {
	fields := make([]reflect.StructField, len(columns))
	for i, c := range columns {
		as := parquetTypes[c.Kind]
		tag := fmt.Sprintf(`parquet:"%s,%s"`, c.Key, as.tag)
		fields[i] = reflect.StructField{Name: fmt.Sprint("C", i), Type: as.of, Tag: reflect.StructTag(tag)}
	}
	schema := parquet.SchemaOf(reflect.New(reflect.StructOf(fields)).Interface())
	return &parquetWriter{
		out: parquet.NewGenericWriter[any](to, schema, parquet.Compression(&parquet.Snappy)), columns: columns,
	}
}

func (w *parquetWriter) Row(cells []Cell) error {
	w.row = w.row[:0]
	for i, c := range cells {
		if !c.Given {
			w.row = append(w.row, parquet.NullValue().Level(0, 0, i))
			continue
		}
		if w.columns[i].Kind != Texts {
			w.row = append(w.row, single(w.columns[i].Kind, c).Level(0, 1, i))
			continue
		}
		for k, text := range c.Texts {
			w.row = append(w.row, parquet.ByteArrayValue([]byte(text)).Level(min(k, 1), 1, i))
		}
	}
	if _, err := w.out.WriteRows([]parquet.Row{w.row}); err != nil {
		return err
	}
	if w.rows++; w.rows == groupRows {
		w.rows = 0
		return w.out.Flush()
	}
	return nil
}

func single(kind Kind, c Cell) parquet.Value {
	switch kind {
	case Whole:
		return parquet.Int64Value(c.N)
	case Number:
		return parquet.DoubleValue(decimal.Decimal(c.N).Float64())
	case Moment:
		return parquet.Int64Value(c.At.UnixMilli())
	case Day:
		return parquet.Int32Value(int32(c.At.Unix() / int64(24*time.Hour/time.Second)))
	default:
		return parquet.ByteArrayValue([]byte(c.Text))
	}
}

// Flush does nothing: groups go out as they are full.
func (w *parquetWriter) Flush() error { return nil }

func (w *parquetWriter) Close() error { return w.out.Close() }
