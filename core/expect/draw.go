package expect

import (
	"math/rand/v2"
	"slices"
	"sort"

	"omphalos/core/program"
)

// A Drawer draws answers at random as they are assumed to be given. It is
// read-only and serves any number of goroutines.
type Drawer struct {
	p     *program.Program
	each  []draw
	given *Assumption
}

// A draw is how the answer to one question is drawn.
type draw struct {
	values []program.Value // one of them
	sums   []float64       // rising to 1

	amounts *amounts // numbers and dates
	named   []float64

	design *Design     // several picks; which rows of a grid are answered
	fewer  [][]float64 // per member, the chance of fewer than k picks among it and those behind it
	rows   [][]float64 // of a grid: per row, rising to 1
}

// NewDrawer returns a Drawer of a program's answers.
func NewDrawer(p *program.Program, a *Assumption) *Drawer {
	d := &Drawer{p: p, each: make([]draw, len(p.Questions)), given: a}
	for i := range p.Questions {
		q, to, from := &p.Questions[i], &d.each[i], &a.Each[i]
		switch {
		case q.Form == program.OfSome, q.Form == program.OfGrid:
			to.design = &from.Picks
			for _, sizes := range to.design.Sizes() {
				to.fewer = append(to.fewer, fewer(sizes))
			}
			for _, row := range from.Rows {
				to.rows = append(to.rows, rising(row))
			}
		case q.Form == program.OfAmount && !q.Rated():
			to.amounts = &from.Amounts
			var shares []float64
			for _, at := range to.amounts.order {
				shares = append(shares, to.amounts.named[at])
			}
			to.named = rising(append(shares, to.amounts.rest))
		default:
			to.values = from.Values
			to.sums = rising(from.Shares)
		}
	}
	return d
}

// rising returns the sums of shares.
func rising(shares []float64) []float64 {
	sums, sum := make([]float64, len(shares)), 0.0
	for i, s := range shares {
		sum += s
		sums[i] = sum
	}
	return sums
}

func pick(sums []float64, r *rand.Rand) int {
	at := sort.SearchFloat64s(sums, r.Float64()*sums[len(sums)-1])
	return min(at, len(sums)-1)
}

// Draw draws an answer to every question into a, whose memory is reused.
func (d *Drawer) Draw(r *rand.Rand, a program.Answers) {
	for i := range d.each {
		q, from := &d.p.Questions[i], &d.each[i]
		known, given := d.given.Known(i)
		switch {
		case given:
			a[i] = known
			a[i].Picks = slices.Clone(known.Picks) // whose memory is reused
		case q.Form == program.OfSome:
			a[i] = from.several(r, a[i].Picks[:0])
		case q.Form == program.OfGrid:
			a[i] = from.grid(r, a[i].Picks[:0])
		case from.amounts != nil:
			a[i] = from.amount(r)
		default:
			a[i] = from.values[pick(from.sums, r)]
		}
	}
}

// set draws picks one by one, each under the condition that the limits are met.
func (d *draw) set(r *rand.Rand, picks []int16) []int16 {
	s := d.design
	some := *s
	if s.none >= 0 {
		if r.Float64() < s.none {
			return picks
		}
		some.mayBeNone = false
	}
	for o, chance := range s.Chances {
		after, had := d.fewer[o+1], len(picks)
		with := chance * within(after, some.least-had-1, some.most-had-1)
		without := within(after, some.least-had, some.most-had)
		if some.mayBeNone && had == 0 {
			without += after[1]
		}
		without *= 1 - chance
		if with > 0 && r.Float64()*(with+without) < with {
			picks = append(picks, int16(o))
		}
	}
	return picks
}

func (d *draw) several(r *rand.Rand, picks []int16) program.Value {
	if picks = d.set(r, picks); len(picks) == 0 {
		return program.Value{State: program.Skipped, Picks: picks}
	}
	return program.Value{State: program.Given, Picks: picks}
}

func (d *draw) grid(r *rand.Rand, picks []int16) program.Value {
	var answered [64]int16
	set := d.set(r, answered[:0])
	if len(set) == 0 || len(d.rows) == 0 {
		return program.Value{State: program.Skipped, Picks: picks}
	}
	for row := range d.rows {
		column := int16(-1)
		if len(set) > 0 && int(set[0]) == row {
			set, column = set[1:], int16(pick(d.rows[row], r))
		}
		picks = append(picks, column)
	}
	return program.Value{State: program.Given, Picks: picks}
}

func (d *draw) amount(r *rand.Rand) program.Value {
	a := d.amounts
	n := a.l.Count()
	if n == 0 || r.Float64() < a.Skipped {
		return program.Value{State: program.Skipped}
	}
	among := n
	if a.Open != nil {
		among = int64(len(a.Open))
	}
	var at int64
	if k := pick(d.named, r); k < len(a.order) {
		at = a.order[k]
	} else {
		for at = r.Int64N(among); ; at = r.Int64N(among) {
			if _, named := a.named[at]; !named || a.others <= 0 {
				break
			}
		}
	}
	if a.Open == nil {
		return program.Value{State: program.Given, Number: a.l.At(at)}
	}
	near := a.near(int(at))
	return program.Value{State: program.Given, Number: near.At(r.Int64N(near.Count()))}
}
