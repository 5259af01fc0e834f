// Package tally counts responses. A Tally holds, for the responses of one quiz, which have
// which property: as sets of response numbers (who gave an answer, who got an outcome) and as
// columns of values (scores, times). Any combination of properties is an intersection of
// sets, and what it holds is counted without reading a response.
//
// Numbers are those of the responses, from 1. They fall into segments of 65,536, which are
// written and read one by one. The package knows nothing of databases.
package tally

import (
	"github.com/RoaringBitmap/roaring/v2"
)

// segmentBits is how many bits of a number are its place in a segment, which is the size of
// a container of a roaring bitmap.
const (
	segmentBits = 16
	segmentSize = 1 << segmentBits
)

// SegmentOf returns the segment of a number.
func SegmentOf(number int) int { return number >> segmentBits }

// Span returns the first and the last number of a segment.
func Span(segment int) (first, last int) {
	return max(1, segment<<segmentBits), (segment+1)<<segmentBits - 1
}

// A Tally is of the responses with numbers up to Last. It may be read by many goroutines, or
// changed by one.
type Tally struct {
	last    int
	all     *roaring.Bitmap
	sets    map[Property]map[string]*roaring.Bitmap
	columns map[Property]*column
}

// New returns an empty Tally.
func New() *Tally {
	return &Tally{all: roaring.New(), sets: map[Property]map[string]*roaring.Bitmap{}, columns: map[Property]*column{}}
}

// Last returns the largest number that has been added, 0 for none.
func (t *Tally) Last() int { return t.last }

// All returns how many responses there are.
func (t *Tally) All() int { return int(t.all.GetCardinality()) }

// An Entry is what a response says of itself.
type Entry struct {
	Number int
	Sets   []Member
	Values []Value
}

// A Member says that a response has a value of a property.
type Member struct {
	Of    Property
	Value string
}

// A Value of a response in a column.
type Value struct {
	Of    Property
	Value int64
}

// Set adds a value, where it is one.
func (e *Entry) Set(kind Kind, value string) {
	if value != "" {
		e.Sets = append(e.Sets, Member{Property{Kind: kind}, value})
	}
}

// Add adds a response, whose number is larger than all before.
func (t *Tally) Add(e *Entry) {
	n := uint32(e.Number)
	t.last = e.Number
	t.all.Add(n)
	for _, m := range e.Sets {
		t.set(m.Of, m.Value).Add(n)
	}
	for _, v := range e.Values {
		c := t.columns[v.Of]
		if c == nil {
			c = newColumn()
			t.columns[v.Of] = c
		}
		c.add(n, v.Value)
	}
}

// Put adds one that may be there already: it then has what the entry says, and nothing else.
func (t *Tally) Put(e *Entry) {
	last := max(t.last, e.Number)
	if t.all.Contains(uint32(e.Number)) {
		t.Remove(e.Number)
	}
	t.Add(e)
	t.last = last
}

// Mark says that a response has a value of a property of which more may come later.
func (t *Tally) Mark(of Property, value string, number int) { t.set(of, value).Add(uint32(number)) }

// set returns the set of a value, made where it is not there.
func (t *Tally) set(of Property, value string) *roaring.Bitmap {
	values := t.sets[of]
	if values == nil {
		values = map[string]*roaring.Bitmap{}
		t.sets[of] = values
	}
	s := values[value]
	if s == nil && len(values) >= mostValues*(SegmentOf(t.last)+1) {
		value = Rest
		s = values[value]
	}
	if s == nil {
		s = roaring.New()
		values[value] = s
	}
	return s
}

// Remove takes a response away.
func (t *Tally) Remove(number int) {
	n := uint32(number)
	t.all.Remove(n)
	for _, values := range t.sets {
		for _, s := range values {
			s.Remove(n)
		}
	}
	for _, c := range t.columns {
		c.remove(n)
	}
}

// Within returns how many responses of a segment there are.
func (t *Tally) Within(segment int) int {
	first, last := Span(segment)
	return int(t.all.Rank(uint32(last)) - t.all.Rank(uint32(first-1)))
}

// Size is about how much memory the Tally takes, in bytes.
func (t *Tally) Size() int {
	size := int(t.all.GetSizeInBytes())
	for _, values := range t.sets {
		for value, s := range values {
			size += 200 + len(value) + int(s.GetSizeInBytes())
		}
	}
	for _, c := range t.columns {
		size += c.size()
	}
	return size
}
