package tally

import (
	"cmp"
	"container/heap"
	"slices"

	"github.com/RoaringBitmap/roaring/v2"
)

// An Order in which responses are listed: by number, or by a property and then by number.
// Values of sets are in the order of their texts; responses without a value come last.
type Order struct {
	By      Property // of no kind: by number
	Falling bool
}

// A Mark is where a page ended: the number of its last response. Zero is before the first,
// and so is that of a response which is not there any more.
type Mark int

// Page returns the numbers of the responses that come after a mark in an order, at most so
// many.
func (s Slice) Page(by Order, after Mark, most int) []int {
	if !s.tally.all.Contains(uint32(after)) && by.By.Kind != "" {
		after = 0
	}
	switch {
	case by.By.Kind == "":
		return s.byNumber(by.Falling, after, most)
	case by.By.Kind.Column():
		return s.byColumn(by, after, most)
	}
	return s.bySet(by, after, most)
}

func (s Slice) byNumber(falling bool, after Mark, most int) []int {
	var page []int
	if falling {
		end := int(after) // the numbers before it
		if after == 0 {
			end = s.tally.last + 1
		}
		rank := s.set.Rank(uint32(max(end-1, 0)))
		for i := int(rank) - 1; i >= 0 && len(page) < most; i-- {
			n, err := s.set.Select(uint32(i))
			if err != nil {
				break
			}
			page = append(page, int(n))
		}
		return page
	}
	it := s.set.Iterator()
	it.AdvanceIfNeeded(uint32(after) + 1)
	for it.HasNext() && len(page) < most {
		page = append(page, int(it.Next()))
	}
	return page
}

// A placed response is one with its value.
type placed struct {
	number uint32
	value  int64
}

// before tells whether one comes before another.
func (a placed) before(b placed, falling bool) bool {
	order := cmp.Or(cmp.Compare(a.value, b.value), cmp.Compare(a.number, b.number))
	if falling {
		return order > 0
	}
	return order < 0
}

// A lastFirst is a heap of the first few that have been met, the last of them on top.
type lastFirst struct {
	list    []placed
	falling bool
}

func (h lastFirst) Len() int           { return len(h.list) }
func (h lastFirst) Less(i, j int) bool { return h.list[j].before(h.list[i], h.falling) }
func (h lastFirst) Swap(i, j int)      { h.list[i], h.list[j] = h.list[j], h.list[i] }
func (h *lastFirst) Push(x any)        { h.list = append(h.list, x.(placed)) }
func (h *lastFirst) Pop() any {
	last := h.list[len(h.list)-1]
	h.list = h.list[:len(h.list)-1]
	return last
}

// Sort keeps the numbers in the order of a column from now on, so that a page of many is found
// at once.
func (t *Tally) Sort(by Property) {
	c := t.columns[by]
	if c == nil {
		c = newColumn()
		t.columns[by] = c
	}
	c.sorted = make([]placed, 0, c.given.GetCardinality())
	c.each(c.given, func(n uint32, value int64) bool {
		c.sorted = append(c.sorted, placed{n, value})
		return true
	})
	slices.SortFunc(c.sorted, placed.compare)
}

func (a placed) compare(b placed) int {
	return cmp.Or(cmp.Compare(a.value, b.value), cmp.Compare(a.number, b.number))
}

// sparse is how many of a slice are looked at one by one, rather than along the order of all.
var sparse = uint64(20_000)

// along goes along the order of all, and tells whether there is one.
func (s Slice) along(c *column, by Order, after Mark, most int) (page []int, is bool) {
	if c.sorted == nil || s.set.GetCardinality() < sparse {
		return nil, false
	}
	value, valued := c.value(uint32(after))
	if after != 0 && !valued {
		return nil, false
	}
	at, step := 0, 1
	if by.Falling {
		at, step = len(c.sorted)-1, -1
	}
	if after != 0 {
		at, _ = slices.BinarySearchFunc(c.sorted, placed{uint32(after), value}, placed.compare)
		at += step
	}
	for ; at >= 0 && at < len(c.sorted); at += step {
		if n := c.sorted[at].number; s.set.Contains(n) {
			if page = append(page, int(n)); len(page) == most {
				return page, true
			}
		}
	}
	return nil, false // those without a value come behind
}

func (s Slice) byColumn(by Order, after Mark, most int) []int {
	c := s.tally.columns[by.By]
	if c == nil {
		c = newColumn()
	}
	if page, is := s.along(c, by, after, most); is {
		return page
	}
	without := roaring.AndNot(s.set, c.given)
	var page []int
	value, valued := c.value(uint32(after))
	if after == 0 || valued {
		mark := placed{uint32(after), value}
		first := lastFirst{falling: by.Falling}
		c.each(s.set, func(n uint32, value int64) bool {
			one := placed{n, value}
			switch {
			case after > 0 && !mark.before(one, by.Falling):
			case len(first.list) < most:
				heap.Push(&first, one)
			case most > 0 && one.before(first.list[0], by.Falling):
				first.list[0] = one
				heap.Fix(&first, 0)
			}
			return true
		})
		slices.SortFunc(first.list, func(a, b placed) int {
			if a.before(b, by.Falling) {
				return -1
			}
			return 1
		})
		for _, one := range first.list {
			page = append(page, int(one.number))
		}
		after = 0
	}
	if len(page) < most {
		page = append(page, Slice{s.tally, without}.byNumber(by.Falling, after, most-len(page))...)
	}
	return page
}

func (s Slice) bySet(by Order, after Mark, most int) []int {
	sets := s.tally.sets[by.By]
	values := make([]string, 0, len(sets))
	for value := range sets {
		values = append(values, value)
	}
	slices.Sort(values)
	if by.Falling {
		slices.Reverse(values)
	}
	var page []int
	left := s.set.Clone() // a response with several values is listed under the first
	started := after == 0
	take := func(set *roaring.Bitmap, marked bool) {
		from := Mark(0)
		if !started && marked {
			started, from = true, after
		}
		if started && len(page) < most {
			page = append(page, Slice{s.tally, set}.byNumber(by.Falling, from, most-len(page))...)
		}
	}
	for _, value := range values {
		if len(page) >= most {
			return page
		}
		mine := roaring.And(left, sets[value])
		left.AndNot(sets[value])
		take(mine, sets[value].Contains(uint32(after)))
	}
	take(left, true)
	return page
}
