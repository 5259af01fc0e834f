package coverage

import (
	"math/big"
	"slices"
)

func (m *measure) cover(keys []string, rules [][]box) (*Coverage, error) {
	all := []box{m.full()}
	c := &Coverage{Columns: m.columns, All: m.count(all), Covered: new(big.Int)}
	left, once, twice := all, []box(nil), []box(nil)
	var every []box
	for i, boxes := range rules {
		every = append(every, boxes...)
		var own []box // disjoint
		for _, b := range boxes {
			own = append(own, without([]box{b}, own)...)
		}
		fresh := without(own, once)
		var again []box
		for _, a := range own {
			for _, b := range once {
				if both := meet(a, b); both != nil {
					again = append(again, both)
				}
			}
		}
		c.Rules = append(c.Rules, Rule{Key: keys[i], New: m.count(fresh), Again: m.count(again)})
		twice = append(twice, without(again, twice)...)
		once = append(once, fresh...)
		left = without(left, boxes)
		if len(left)+len(once)+len(twice) > mostBoxes {
			return nil, ErrWide
		}
	}
	c.Covered, c.Twice = m.count(once), m.count(twice)
	for _, b := range m.few(left, every) {
		c.Left = append(c.Left, m.rows(b)...)
	}
	return c, nil
}

// few describes what is left by few boxes, which may overlap: each is widened as far
// as nothing covered comes into it, and those that hold most are taken first.
func (m *measure) few(left, covered []box) []box {
	var wide []box
	for _, b := range left {
		b = slices.Clone(b)
		for i := range b {
			for _, set := range m.widenings(i) {
				was := b[i]
				b[i] |= set
				if slices.ContainsFunc(covered, func(c box) bool { return meet(b, c) != nil }) {
					b[i] = was
				}
			}
		}
		if !slices.ContainsFunc(wide, func(o box) bool { return slices.Equal(o, b) }) {
			wide = append(wide, b)
		}
	}
	var taken []box
	for len(left) > 0 {
		best, most := -1, new(big.Int)
		for i, b := range wide {
			if n := new(big.Int).Sub(m.count(left), m.count(without(left, []box{b}))); n.Cmp(most) > 0 {
				best, most = i, n
			}
		}
		taken = append(taken, wide[best])
		left = without(left, []box{wide[best]})
	}
	return taken
}

// widenings are what a column may be widened by: all at once, then case by case.
func (m *measure) widenings(column int) []uint64 {
	list := []uint64{m.full()[column]}
	for i := range m.columns[column].cases {
		list = append(list, 1<<i)
	}
	return list
}
