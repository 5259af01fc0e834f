package tally

import (
	"cmp"
	"maps"
	"slices"

	"github.com/RoaringBitmap/roaring/v2"

	"omphalos/core/inference"
)

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
	return s.ValuesBy(of, func(value int64) int64 {
		q := value / unit
		if value%unit < 0 {
			q--
		}
		return q
	})
}

// ValuesBy counts the responses by what a function makes of their numbers in a column, the least
// first. It is called with numbers that mostly follow each other.
func (s Slice) ValuesBy(of Property, bin func(value int64) int64) []Bin {
	c := s.tally.columns[of]
	if c == nil {
		return nil
	}
	counts := map[int64]int{}
	c.counts(s.set, func(value int64, count int) { counts[bin(value)] += count })
	bins := make([]Bin, 0, len(counts))
	for _, value := range slices.Sorted(maps.Keys(counts)) {
		bins = append(bins, Bin{Value: value, Count: counts[value]})
	}
	return bins
}
