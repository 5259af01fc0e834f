package tally

import (
	"bytes"
	"encoding/binary"
	"errors"
	"fmt"
	"slices"
	"strings"

	"github.com/RoaringBitmap/roaring/v2"
)

// A segment is written as
//
//	all       the numbers that are there
//	sets      how many, and for each the property, the value and the numbers
//	columns   how many, and for each the property, the numbers that have a value, how many
//	          distinct values, these (the first, then the distance of each to the one
//	          before), and for each number the place of its value among them, in two bytes
//
// Counts and distances are varints (of encoding/binary; the first value signed), texts and
// numbers their length in bytes and their bytes, numbers in the format of roaring bitmaps.
// Form is the version of all this.
const Form = 2

// ErrSegment says that what was kept of a segment can't be read.
var ErrSegment = errors.New("a segment can't be read")

// Seal puts a segment, of which nothing is added any more, into its small form and writes
// it.
func (t *Tally) Seal(segment int) []byte {
	w := writer{}
	within := roaring.New()
	within.AddRange(uint64(segment)<<segmentBits, uint64(segment+1)<<segmentBits)
	w.numbers(roaring.And(t.all, within))
	var sets []Member
	for of, values := range t.sets {
		for value, s := range values {
			if !of.Kind.later() && s.Intersects(within) {
				sets = append(sets, Member{of, value})
			}
		}
	}
	slices.SortFunc(
		sets,
		func(a, b Member) int { return strings.Compare(a.Of.key()+"\x00"+a.Value, b.Of.key()+"\x00"+b.Value) },
	)
	w.count(len(sets))
	for _, m := range sets {
		w.text(m.Of.key())
		w.text(m.Value)
		w.numbers(roaring.And(t.sets[m.Of][m.Value], within))
	}
	var columns []Property
	for of, c := range t.columns {
		if c.given.Intersects(within) {
			columns = append(columns, of)
		}
	}
	slices.SortFunc(columns, func(a, b Property) int { return strings.Compare(a.key(), b.key()) })
	w.count(len(columns))
	for _, of := range columns {
		c := t.columns[of]
		c.seal(uint32(segment))
		sealed := c.chunks[uint32(segment)]
		w.text(of.key())
		given := roaring.And(c.given, within)
		w.numbers(given)
		w.count(len(sealed.values))
		for i, value := range sealed.values {
			if i == 0 {
				w.b = binary.AppendVarint(w.b, value)
			} else {
				w.b = binary.AppendUvarint(w.b, uint64(value-sealed.values[i-1]))
			}
		}
		given.Iterate(func(n uint32) bool {
			w.b = binary.LittleEndian.AppendUint16(w.b, sealed.codes[n&(segmentSize-1)])
			return true
		})
	}
	return w.b
}

// key writes a property as one text.
func (p Property) key() string { return string(p.Kind) + "\x1f" + p.Key + "\x1f" + p.Row }

type writer struct{ b []byte }

func (w *writer) count(n int)   { w.b = binary.AppendUvarint(w.b, uint64(n)) }
func (w *writer) text(s string) { w.count(len(s)); w.b = append(w.b, s...) }

func (w *writer) numbers(set *roaring.Bitmap) {
	set.RunOptimize()
	var b bytes.Buffer
	_, _ = set.WriteTo(&b) // a buffer takes everything
	w.count(b.Len())
	w.b = append(w.b, b.Bytes()...)
}

// Load adds a segment that Seal wrote. The error wraps ErrSegment, and leaves the Tally in
// no state to be used.
func (t *Tally) Load(segment int, kept []byte) (err error) {
	r := reader{rest: kept, segment: segment}
	defer func() {
		if fault := recover(); fault != nil {
			err = fmt.Errorf("%w: %v", ErrSegment, fault)
		}
	}()
	all := r.numbers()
	if all.IsEmpty() {
		return nil
	}
	t.all.Or(all)
	t.last = max(t.last, int(all.Maximum()))
	for range r.count() {
		of, value, numbers := r.property(), r.text(), r.numbers()
		t.set(of, value).Or(numbers)
	}
	for range r.count() {
		of, given := r.property(), r.numbers()
		c := t.columns[of]
		if c == nil {
			c = newColumn()
			t.columns[of] = c
		}
		c.given.Or(given)
		sealed := &chunk{values: make([]int64, r.count()), codes: make([]uint16, segmentSize)}
		for i := range sealed.values {
			if i == 0 {
				sealed.values[0] = r.signed()
			} else {
				sealed.values[i] = sealed.values[i-1] + int64(r.number())
			}
		}
		given.Iterate(func(n uint32) bool {
			code := r.code()
			_ = sealed.values[code] // or it can't be read
			sealed.codes[n&(segmentSize-1)] = code
			return true
		})
		c.chunks[uint32(segment)] = sealed
	}
	if len(r.rest) > 0 {
		return ErrSegment
	}
	return nil
}

// A reader panics where there is nothing to read; Load tells.
type reader struct {
	rest    []byte
	segment int
}

func (r *reader) number() uint64 { return next(r, binary.Uvarint) }
func (r *reader) signed() int64  { return next(r, binary.Varint) }

// next reads a number in one of the two ways of encoding/binary.
func next[N int64 | uint64](r *reader, read func([]byte) (N, int)) N {
	n, size := read(r.rest)
	if size <= 0 {
		panic("it ends too early")
	}
	r.rest = r.rest[size:]
	return n
}

// count reads how many follow, each of a byte at the least.
func (r *reader) count() int {
	n := r.number()
	if n > uint64(len(r.rest)) {
		panic("it ends too early")
	}
	return int(n)
}

func (r *reader) bytes() []byte {
	n := r.count()
	b := r.rest[:n]
	r.rest = r.rest[n:]
	return b
}

func (r *reader) text() string { return string(r.bytes()) }

func (r *reader) code() uint16 {
	code := binary.LittleEndian.Uint16(r.rest)
	r.rest = r.rest[2:]
	return code
}

func (r *reader) property() Property {
	parts := strings.SplitN(r.text(), "\x1f", 3)
	return Property{Kind(parts[0]), parts[1], parts[2]}
}

func (r *reader) numbers() *roaring.Bitmap {
	set := roaring.New()
	if err := set.UnmarshalBinary(r.bytes()); err != nil {
		panic(err)
	}
	if err := set.Validate(); err != nil && !set.IsEmpty() {
		panic(err)
	}
	if !set.IsEmpty() && (SegmentOf(int(set.Minimum())) != r.segment || SegmentOf(int(set.Maximum())) != r.segment) {
		panic("it holds numbers of another")
	}
	return set
}
