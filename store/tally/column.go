package tally

import (
	"slices"

	"github.com/RoaringBitmap/roaring/v2"
)

// A column holds a number for each response that has one: a chunk a segment.
type column struct {
	given  *roaring.Bitmap
	chunks map[uint32]*chunk // by segment
	sorted []placed          // all of them by their numbers, see Tally.Sort; nil where that is not kept
}

func newColumn() *column { return &column{given: roaring.New(), chunks: map[uint32]*chunk{}} }

// A chunk is the numbers of a segment. As long as numbers are added it holds them raw; a
// sealed one has the distinct numbers in order, and for each place the place of its number
// among them.
type chunk struct {
	raw    []int64
	values []int64
	codes  []uint16
}

func (c *column) add(n uint32, value int64) {
	c.given.Add(n)
	at := c.chunks[n>>segmentBits]
	if at == nil {
		at = &chunk{}
		c.chunks[n>>segmentBits] = at
	}
	low := int(n & (segmentSize - 1))
	if low >= len(at.raw) {
		at.raw = append(at.raw, make([]int64, low+1-len(at.raw))...)
	}
	at.raw[low] = value
	if c.sorted != nil {
		one := placed{n, value}
		i, _ := slices.BinarySearchFunc(c.sorted, one, placed.compare)
		c.sorted = slices.Insert(c.sorted, i, one)
	}
}

// remove takes the number of a response away.
func (c *column) remove(n uint32) {
	value, has := c.value(n)
	if !has {
		return
	}
	c.given.Remove(n)
	if i, is := slices.BinarySearchFunc(c.sorted, placed{n, value}, placed.compare); is {
		c.sorted = slices.Delete(c.sorted, i, i+1)
	}
}

// seal puts a segment's numbers into their small form.
func (c *column) seal(segment uint32) {
	at := c.chunks[segment]
	if at == nil || at.raw == nil {
		return
	}
	sealed := &chunk{codes: make([]uint16, segmentSize)}
	c.eachIn(segment, c.given, func(_ uint32, value int64) bool {
		sealed.values = append(sealed.values, value)
		return true
	})
	slices.Sort(sealed.values)
	sealed.values = slices.Clip(slices.Compact(sealed.values))
	c.eachIn(segment, c.given, func(n uint32, value int64) bool {
		i, _ := slices.BinarySearch(sealed.values, value)
		sealed.codes[n&(segmentSize-1)] = uint16(i)
		return true
	})
	c.chunks[segment] = sealed
}

func (c *chunk) at(low uint32) int64 {
	if c.raw != nil {
		return c.raw[low]
	}
	return c.values[c.codes[low]]
}

func (c *column) size() int {
	size := int(c.given.GetSizeInBytes()) + 16*cap(c.sorted)
	for _, at := range c.chunks {
		size += 8*cap(at.raw) + 8*len(at.values) + 2*len(at.codes)
	}
	return size
}

// value returns the number of a response, and false where it has none.
func (c *column) value(n uint32) (int64, bool) {
	if !c.given.Contains(n) {
		return 0, false
	}
	return c.chunks[n>>segmentBits].at(n & (segmentSize - 1)), true
}

// each gives f the numbers of the responses of a set that have one, until f returns false.
func (c *column) each(set *roaring.Bitmap, f func(n uint32, value int64) bool) {
	var at *chunk
	segment := uint32(1<<32 - 1)
	given := roaring.And(set, c.given).ManyIterator()
	var some [1024]uint32
	for k := given.NextMany(some[:]); k > 0; k = given.NextMany(some[:]) {
		for _, n := range some[:k] {
			if n>>segmentBits != segment {
				segment = n >> segmentBits
				at = c.chunks[segment]
			}
			if !f(n, at.at(n&(segmentSize-1))) {
				return
			}
		}
	}
}

// counts gives f the numbers of the responses of a set, each with how many have it, by
// segments: a number comes once a segment, or more often where it is not sealed.
func (c *column) counts(set *roaring.Bitmap, f func(value int64, count int)) {
	segment, at, seen := uint32(1<<32-1), (*chunk)(nil), []int(nil) // seen: by code
	tell := func() {
		for code, n := range seen {
			if n > 0 {
				f(at.values[code], n)
			}
		}
	}
	given := roaring.And(set, c.given).ManyIterator()
	var some [1024]uint32
	for k := given.NextMany(some[:]); k > 0; k = given.NextMany(some[:]) {
		for _, n := range some[:k] {
			if n>>segmentBits != segment {
				tell()
				segment = n >> segmentBits
				at = c.chunks[segment]
				seen = make([]int, len(at.values)) // none of one that is not sealed
			}
			if low := n & (segmentSize - 1); at.raw != nil {
				f(at.raw[low], 1)
			} else {
				seen[at.codes[low]]++
			}
		}
	}
	tell()
}

// eachIn is each within a segment.
func (c *column) eachIn(segment uint32, set *roaring.Bitmap, f func(n uint32, value int64) bool) {
	within := roaring.New()
	within.AddRange(uint64(segment)<<segmentBits, uint64(segment+1)<<segmentBits)
	within.And(set)
	c.each(within, f)
}

// between returns the responses of a set whose numbers are from one to another.
func (c *column) between(from, to int64, set *roaring.Bitmap) *roaring.Bitmap {
	found := roaring.New()
	var some []uint32
	c.each(set, func(n uint32, value int64) bool {
		if from <= value && value <= to {
			some = append(some, n)
		}
		if len(some) == cap(some) || len(some) == 1<<12 {
			found.AddMany(some)
			some = some[:0]
		}
		return true
	})
	found.AddMany(some)
	return found
}
