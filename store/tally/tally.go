// Package tally counts responses. A Tally holds, for the responses of one quiz, which have
// which property: as sets of response numbers (who gave an answer, who got an outcome) and as
// columns of values (scores, times). Any combination of properties is an intersection of
// sets, and what it holds is counted without reading a response.
//
// Numbers are those of the responses, from 1. They fall into segments of 65,536, which are
// written and read one by one. The package knows nothing of databases.
package tally

import (
	"cmp"
	"maps"
	"slices"

	"github.com/RoaringBitmap/roaring/v2"

	"omphalos/core/inference"
)

// A Property is something that responses have: a kind, with the key of the question or the
// scale where it is one of those, and the row in a grid.
type Property struct {
	Kind     Kind
	Key, Row string
}

// A Kind of property.
type Kind string

// The kinds with sets: each response has one value, or none, or of Answer and Chosen several.
const (
	Outcome  Kind = "outcome"
	Landing  Kind = "landing"
	End      Kind = "end"
	Release  Kind = "release" // its number in the database
	Source   Kind = "source"
	Medium   Kind = "medium"
	Campaign Kind = "campaign"
	Country  Kind = "country"
	Language Kind = "language"
	Device   Kind = "device"
	Answer   Kind = "answer"   // of a question: the keys of the answers
	Answered Kind = "answered" // of a question: "" where it was answered
	Asked    Kind = "asked"    // of a question: "" where it was on the passage, answered or not
)

// The kinds with sets of what may still come after a response is finished. They are not
// written with a segment: Mark adds them.
const (
	Contact Kind = "contact" // "yes" where somebody said who they are
	Pressed Kind = "pressed" // of what was shown at the end
)

// The kinds of leads, beside those that they have in common with responses.
const (
	State    Kind = "state"
	Owner    Kind = "owner"    // the number of a user, "0" for nobody
	Quiz     Kind = "quiz"     // its number
	Standing Kind = "standing" // of the outcome
	Next     Kind = "next"     // the day of the next step, in days since 1970
	Reach    Kind = "reach"    // thousandths of the ruler
)

func (k Kind) later() bool { return k == Contact || k == Pressed }

// The kinds with columns.
const (
	Finished Kind = "finished" // Unix time in seconds
	Seconds  Kind = "seconds"  // from the beginning to the end
	Score    Kind = "score"    // of a scale, in millionths
	Amount   Kind = "amount"   // answer to a question with numbers, in millionths; days since 1970 of a date
	Spent    Kind = "spent"    // seconds at a question
)

// Column tells whether the kind has values that are numbers.
func (k Kind) Column() bool {
	return k == Finished || k == Seconds || k == Score || k == Amount || k == Spent || k == Next || k == Reach
}

// Rest is the value under which further values of a property are counted where a segment has
// more than mostValues: addresses bring along whatever somebody wrote into them.
const Rest = "…"

const mostValues = 2000

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

// A Part of a sentence that names responses: those with one of some values of a property,
// or with a number from one to another, both included. Not turns it round.
type Part struct {
	Of       Property
	Values   []string // of a set
	From, To int64    // of a column
	Not      bool
}

// A Slice is the responses of which all of some parts are true.
type Slice struct {
	tally *Tally
	set   *roaring.Bitmap
}

// Slice returns the responses of which all parts are true: all for none.
func (t *Tally) Slice(parts ...Part) Slice {
	s := Slice{t, t.all}
	for _, p := range parts {
		s = s.And(p)
	}
	return s
}

// having returns the responses with what a part asks, of those that are asked about or more.
func (t *Tally) having(p Part, asked *roaring.Bitmap) *roaring.Bitmap {
	if p.Of.Kind.Column() {
		if c := t.columns[p.Of]; c != nil {
			return c.between(p.From, p.To, asked)
		}
		return roaring.New()
	}
	var sets []*roaring.Bitmap
	for _, value := range p.Values {
		if s := t.sets[p.Of][value]; s != nil {
			sets = append(sets, s)
		}
	}
	if len(sets) == 1 {
		return sets[0]
	}
	return roaring.FastOr(sets...)
}

// And returns the responses of the slice of which a further part is true.
func (s Slice) And(p Part) Slice {
	having := s.tally.having(p, s.set)
	if p.Not {
		return Slice{s.tally, roaring.AndNot(s.set, having)}
	}
	return Slice{s.tally, roaring.And(s.set, having)}
}

// Without returns the responses of the slice that another of the same Tally has not.
func (s Slice) Without(other Slice) Slice { return Slice{s.tally, roaring.AndNot(s.set, other.set)} }

// Among returns the responses of the slice with some numbers.
func (s Slice) Among(numbers []int) Slice {
	some := roaring.New()
	for _, n := range numbers {
		some.Add(uint32(n))
	}
	some.And(s.set)
	return Slice{s.tally, some}
}

// Has tells whether a response is in the slice.
func (s Slice) Has(number int) bool { return s.set.Contains(uint32(number)) }

// Count returns how many responses there are.
func (s Slice) Count() int { return int(s.set.GetCardinality()) }

// A Count is how many responses have a value.
type Count struct {
	Value string
	Count int
}

// Split counts the responses by the values of a property, most first; values that none has
// are left out.
func (s Slice) Split(of Property) []Count {
	var counts []Count
	for value, set := range s.tally.sets[of] {
		if n := int(s.set.AndCardinality(set)); n > 0 {
			counts = append(counts, Count{value, n})
		}
	}
	slices.SortFunc(counts, func(a, b Count) int { return cmp.Or(b.Count-a.Count, cmp.Compare(a.Value, b.Value)) })
	return counts
}

// SplitAll counts the responses by the values of every property of a kind.
func (s Slice) SplitAll(kind Kind) map[Property][]Count {
	counts := map[Property][]Count{}
	for of := range s.tally.sets {
		if of.Kind == kind {
			counts[of] = s.Split(of)
		}
	}
	return counts
}

// Cross counts the responses by the values of two properties at once, in [a][b].
func (s Slice) Cross(a, b Property) map[string]map[string]int {
	counts := map[string]map[string]int{}
	for value, set := range s.tally.sets[a] {
		both := Slice{s.tally, roaring.And(s.set, set)}
		row := map[string]int{}
		for _, c := range both.Split(b) {
			row[c.Value] = c.Count
		}
		if len(row) > 0 {
			counts[value] = row
		}
	}
	return counts
}

// A Bin is how many responses have a number.
type Bin = inference.Bin

// Values counts the responses by their numbers in a column, divided by unit and rounded
// down, the least first.
func (s Slice) Values(of Property, unit int64) []Bin {
	c := s.tally.columns[of]
	if c == nil {
		return nil
	}
	counts := map[int64]int{}
	c.counts(s.set, func(value int64, count int) {
		q := value / unit
		if value%unit < 0 {
			q--
		}
		counts[q] += count
	})
	bins := make([]Bin, 0, len(counts))
	for _, value := range slices.Sorted(maps.Keys(counts)) {
		bins = append(bins, Bin{Value: value, Count: counts[value]})
	}
	return bins
}
