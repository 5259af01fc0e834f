package explore

import (
	"slices"

	"omphalos/core/program"
	"omphalos/core/quiz"
)

// Narrow returns the Vector of passages before question i without what nothing
// later asks for: Vectors become equal where the differences can't change how
// passages end any more.
func (e *Explorer) Narrow(i int, v Vector) Vector {
	v[0] &= e.masks[i][0]
	v[1] &= e.masks[i][1]
	for k := range e.clamps {
		e.clamps[k].narrow(i, &v)
	}
	for k := range e.standings {
		e.standings[k].narrow(i, &v)
	}
	return v
}

// A clamp is a sum that is only compared with numbers. As soon as it can't pass
// another of them, it is as good as any other that can't.
type clamp struct {
	field     field
	cuts      []int64 // rising; a comparison changes its answer at them
	low, high []int64 // per question: the least and the most still to be added
	floor     []int64 // per question: the least that can have been added
}

func (e *Explorer) clamp() {
	if !e.lands() {
		return
	}
	n := len(e.p.Questions)
	for _, f := range e.fields {
		s := &e.p.Scales[max(f.scale, 0)]
		if f.of != asSum || s.Method != quiz.Sum || len(s.Fees) > 0 || !e.alone[f.scale] || e.leads[f.scale] > 0 {
			continue
		}
		c := clamp{field: f, low: make([]int64, n+1), high: make([]int64, n+1), floor: make([]int64, n+1)}
		for q := n - 1; q >= 0; q-- {
			low, high := e.gainOf(&f, q)
			c.low[q], c.high[q] = c.low[q+1]+low, c.high[q+1]+high
		}
		for q := range n + 1 {
			c.floor[q] = c.low[0] - c.low[q]
		}
		for _, compared := range e.compared[f.scale] {
			for k, d := range compared.numbers {
				at := Ceiling(d-int64(s.Start), f.unit)
				above := Ceiling(d+1-int64(s.Start), f.unit)
				switch compared.op {
				case quiz.AtLeast, quiz.LessThan:
					c.cuts = append(c.cuts, at)
				case quiz.AtMost, quiz.MoreThan:
					c.cuts = append(c.cuts, above)
				case quiz.Between:
					c.cuts = append(c.cuts, []int64{at, above}[k%2])
				default:
					c.cuts = append(c.cuts, at, above)
				}
			}
		}
		slices.Sort(c.cuts)
		c.cuts = slices.Compact(c.cuts)
		e.clamps = append(e.clamps, c)
	}
}

// gainOf returns the least and the most, in units, that question q's effects add to a field.
func (e *Explorer) gainOf(f *field, q int) (low, high int64) {
	for k := range e.effects[q] {
		if f.scale != program.None {
			n := int64(e.effects[q][k].adds[f.scale]) / f.unit
			low, high = min(low, n), max(high, n)
		}
	}
	return low, high
}

// Ceiling returns a / b rounded up; b is more than 0.
func Ceiling(a, b int64) int64 {
	n := a / b
	if a%b > 0 {
		n++
	}
	return n
}

func (c *clamp) narrow(i int, v *Vector) {
	n := c.field.get(*v)
	passed, _ := slices.BinarySearch(c.cuts, n+c.low[i]+1) // how many cuts are passed for good
	if passed < len(c.cuts) && c.cuts[passed] <= n+c.high[i] {
		return
	}
	to := c.floor[i]
	if passed > 0 {
		to = max(to, c.cuts[passed-1]-c.low[i])
	}
	c.field.put(v, to)
}
