package passage

import (
	"math/rand/v2"
	"sort"
)

// A Drawer draws answers at random as they are assumed to be given. It is
// read-only and serves any number of goroutines.
type Drawer struct {
	p    *Program
	each []draw
}

// A draw is how the answer to one question is drawn.
type draw struct {
	values []Value   // one of them
	sums   []float64 // rising to 1

	rows    [][]float64 // grid: per row, rising to 1
	skipped float64

	chances []float64   // several
	rest    [][]float64 // several: per answer, the chance of k picks among it and those behind it
}

// Drawer returns a Drawer of a program's answers.
func (p *Program) Drawer(shares Shares) *Drawer {
	d := &Drawer{p: p, each: make([]draw, len(p.questions))}
	for i := range p.questions {
		q, to := &p.questions[i], &d.each[i]
		percents := shares[q.key]
		switch q.form {
		case ofSome:
			to.chances = q.chances(percents)
			if to.rest = q.rest(to.chances); q.valid(to.rest[0]) <= 0 {
				to.chances = q.chances(nil)
				to.rest = q.rest(to.chances)
			}
		case ofGrid:
			rows, skipped := q.cells(percents)
			for _, row := range rows {
				to.rows = append(to.rows, rising(row))
			}
			to.skipped = skipped
		default:
			to.values = q.values()
			to.sums = rising(q.valueShares(percents, to.values, p.Names(i)))
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

// rest returns, per answer, the chance of k picks among it and those behind it.
func (q *question) rest(chances []float64) [][]float64 {
	list := make([][]float64, len(chances)+1)
	list[len(chances)] = []float64{1}
	for o := len(chances) - 1; o >= 0; o-- {
		last := list[o+1]
		next := make([]float64, min(len(last)+1, q.maxPicks+1))
		for k, share := range last {
			next[k] += share * (1 - chances[o])
			if k+1 < len(next) {
				next[k+1] += share * chances[o]
			}
		}
		list[o] = next
	}
	return list
}

// valid returns the chance of a number of picks within the limits.
func (q *question) valid(picks []float64) float64 {
	sum := 0.0
	for k := q.minPicks; k < len(picks); k++ {
		sum += picks[k]
	}
	return sum
}

// Draw draws an answer to every question into a, whose memory is reused.
func (d *Drawer) Draw(r *rand.Rand, a Answers) {
	for i := range d.each {
		q, from := &d.p.questions[i], &d.each[i]
		switch q.form {
		case ofSome:
			a[i] = from.several(q, r, a[i].Picks[:0])
		case ofGrid:
			a[i] = from.grid(r, a[i].Picks[:0])
		default:
			a[i] = from.values[pick(from.sums, r)]
		}
	}
}

// several draws picks one by one, each under the condition that the limits are met.
func (d *draw) several(q *question, r *rand.Rand, picks []int16) Value {
	within := func(rest []float64, had int) float64 {
		sum := 0.0
		for k, share := range rest {
			if n := had + k; n >= q.minPicks && n <= q.maxPicks {
				sum += share
			}
		}
		return sum
	}
	for o, chance := range d.chances {
		with := chance * within(d.rest[o+1], len(picks)+1)
		without := (1 - chance) * within(d.rest[o+1], len(picks))
		if with > 0 && r.Float64()*(with+without) < with {
			picks = append(picks, int16(o))
		}
	}
	if len(picks) == 0 {
		return Value{State: Skipped, Picks: picks}
	}
	return Value{State: Given, Picks: picks}
}

func (d *draw) grid(r *rand.Rand, picks []int16) Value {
	if len(d.rows) == 0 || r.Float64() < d.skipped {
		return Value{State: Skipped, Picks: picks}
	}
	for _, row := range d.rows {
		picks = append(picks, int16(pick(row, r)))
	}
	return Value{State: Given, Picks: picks}
}
