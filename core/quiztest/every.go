package quiztest

import (
	"math"
	"slices"

	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/core/quiz"
)

// Values returns every answer that can be given to question i of a program, and its
// share as the quiz expects it. It knows nothing of how odds are computed: choices,
// ratings and numbers are counted, sets of picks and cells of grids written out one by
// one; of texts of the letters a, b and c, and of numbers without limits, there is one
// for each way in which conditions tell them apart.
func Values(p *program.Program, i int) ([]program.Value, []float64) {
	q := p.Question(i)
	var values []program.Value
	var names []string
	given := func(v program.Value, name string) {
		v.State = program.Given
		values, names = append(values, v), append(names, name)
	}
	switch {
	case q.Kind.Choice():
		for o, key := range p.AnswerKeys(i) {
			given(program.Value{Option: int16(o)}, key)
		}
	case q.Kind == quiz.Several:
		return sets(p, i)
	case q.Kind == quiz.Grid:
		return cells(p, i)
	case q.Kind.Numeric() || q.Kind == quiz.Date:
		numbers := q.Lattice()
		if numbers.Open() {
			for _, n := range apart(p, i) {
				given(program.Value{Number: n}, "open")
			}
			break
		}
		for n := numbers.First; n <= numbers.Last; n += numbers.Step {
			given(program.Value{Number: n}, n.String())
		}
	case q.Kind == quiz.ShortText:
		for _, text := range texts(p, i) {
			name := "text"
			if names := p.NamesOf(i, program.Value{State: program.Given, Text: text}); len(names) > 0 {
				name = names[0]
			}
			given(program.Value{Text: text}, name)
		}
	}
	if !q.Required || q.Kind == quiz.Interlude {
		values, names = append(values, program.Value{State: program.Skipped}), append(names, program.SkippedName)
	}
	return values, shared(names, func(name string) (float64, bool) { return expected(q, name) })
}

// expected returns what a quiz expects of a name, 0 to 1, and whether it does.
func expected(q *quiz.Question, name string) (float64, bool) {
	percent, named := q.Expect[name]
	return percent.Float64() / 100, named
}

// shared divides 1 by what is expected of some of a list: the rest alike among those not
// named. What is more than 1 together, or all that there is, is taken as proportions.
func shared(names []string, expected func(name string) (float64, bool)) []float64 {
	shares := make([]float64, len(names))
	sum, unnamed := 0.0, 0
	for k, name := range names {
		share, named := expected(name)
		if shares[k] = share; !named {
			unnamed++
		}
		sum += share
	}
	for k, name := range names {
		_, named := expected(name)
		switch {
		case unnamed == 0 && sum == 0:
			shares[k] = 1 / float64(len(names))
		case unnamed == 0 || sum > 1:
			shares[k] /= sum
		case !named:
			shares[k] = (1 - sum) / float64(unnamed)
		}
	}
	return shares
}

func limits(q *quiz.Question, n int) (least, most int) {
	most = n
	if q.Picks != nil {
		least = q.Picks.Min
		if q.Picks.Max > 0 {
			most = q.Picks.Max
		}
	}
	return max(least, 1), most
}

// A wish is a share that some of a list have together.
type wish struct {
	share float64
	of    func(k int) bool
}

// scaled gives a list of like things the shares that are wished, one wish after the
// other until all hold: iterative proportional fitting (Deming & Stephan 1940), whose
// limit is the distribution of maximum entropy.
func scaled(n int, wishes []wish) []float64 {
	shares, left := make([]float64, n), possible(n, wishes)
	for _, k := range left {
		shares[k] = 1 / float64(len(left))
	}
	for range 10000 {
		off := 0.0
		for _, w := range wishes {
			sum := 0.0
			for k := range shares {
				if w.of(k) {
					sum += shares[k]
				}
			}
			off = max(off, math.Abs(sum-w.share))
			for k := range shares {
				if w.of(k) && sum > 0 {
					shares[k] *= w.share / sum
				} else if !w.of(k) && sum < 1 {
					shares[k] *= (1 - w.share) / (1 - sum)
				}
			}
		}
		if off < 1e-13 {
			break
		}
	}
	return shares
}

// possible returns those of n things that can have a share at all where wishes hold: what
// adds up to the least that a weighing of the wishes can come to is made of things that
// weigh the least. (On an edge of what can be had, fitting comes ever nearer and never
// there.)
func possible(n int, wishes []wish) []int {
	left := make([]int, n)
	for k := range left {
		left[k] = k
	}
	if len(wishes) == 0 {
		return left
	}
	last := wishes[len(wishes)-1] // passing by, where that is wished
	for pruned := true; pruned; {
		pruned = false
		for _, w := range wishes {
			for _, of := range weighings {
				weigh := func(is func(w wish) float64) (sum float64) {
					for _, each := range wishes[:len(wishes)-1] {
						sum += of.each * is(each)
					}
					return sum + of.one*is(w) + of.last*is(last)
				}
				at := func(k int) float64 {
					return weigh(func(w wish) float64 {
						if w.of(k) {
							return 1
						}
						return 0
					})
				}
				least := math.Inf(1)
				for _, k := range left {
					least = min(least, at(k))
				}
				if weigh(func(w wish) float64 { return w.share }) > least+2e-6 {
					continue
				}
				had := len(left)
				left = slices.DeleteFunc(left, func(k int) bool { return at(k) > least })
				pruned = pruned || len(left) < had
			}
		}
	}
	return left
}

// weighings are what edges of up to three picks are seen by: each wish, one more, and the
// last.
var weighings = func() (list []struct{ each, one, last float64 }) {
	for _, each := range []float64{-1, 0, 1} {
		for one := -3.0; one <= 3; one++ {
			for last := -4.0; last <= 4; last++ {
				list = append(list, struct{ each, one, last float64 }{each, one, last})
			}
		}
	}
	return list
}()

func sets(p *program.Program, i int) ([]program.Value, []float64) {
	q, keys := p.Question(i), p.AnswerKeys(i)
	least, most := limits(q, len(keys))
	var values []program.Value
	for set := range 1 << len(keys) {
		v := program.Value{State: program.Given}
		for o := range keys {
			if set>>o&1 == 1 {
				v.Picks = append(v.Picks, int16(o))
			}
		}
		switch n := len(v.Picks); {
		case n == 0 && !q.Required:
			values = append(values, program.Value{State: program.Skipped})
		case n >= least && n <= most:
			values = append(values, v)
		}
	}
	var wishes []wish
	for o, key := range keys {
		if share, named := expected(q, key); named {
			wishes = append(wishes, wish{share, func(k int) bool { return slices.Contains(values[k].Picks, int16(o)) }})
		}
	}
	return values, scaled(len(values), append(wishes, passing(q, values)))
}

// passing is the wish for passing by: what is wished of nothing where none is.
func passing(q *quiz.Question, values []program.Value) wish {
	share, named := expected(q, program.SkippedName)
	if !named || q.Required {
		return wish{0, func(int) bool { return false }}
	}
	return wish{share, func(k int) bool { return values[k].State == program.Skipped }}
}

func cells(p *program.Program, i int) ([]program.Value, []float64) {
	q, columns := p.Question(i), len(p.AnswerKeys(i))
	values := []program.Value{{State: program.Skipped}}
	for range p.RowKeys(i) {
		var longer []program.Value
		for _, v := range values {
			for c := -1; c < columns; c++ {
				if c < 0 && q.Required {
					continue
				}
				next := program.Value{State: v.State, Picks: append(slices.Clone(v.Picks), int16(c))}
				if c >= 0 {
					next.State = program.Given
				}
				longer = append(longer, next)
			}
		}
		values = longer
	}
	last := passing(q, values)
	var wishes []wish
	for r, row := range p.RowKeys(i) {
		var names []string
		for _, column := range p.AnswerKeys(i) {
			names = append(names, row+"."+column)
		}
		if !q.Required {
			names = append(names, row+"."+program.SkippedName)
		}
		answered := 0.0
		for o, share := range shared(names, func(name string) (float64, bool) { // of those who don't pass by
			share, named := expected(q, name)
			return share / max(1-last.share, 1e-300), named && last.share < 1
		}) {
			if share *= 1 - last.share; o < columns {
				wishes = append(wishes, wish{share, func(k int) bool { return values[k].Picks[r] == int16(o) }})
				answered += share
			}
		}
		wishes = append(wishes, wish{answered, func(k int) bool { return values[k].Picks[r] >= 0 }})
	}
	return values, scaled(len(values), append(wishes, last))
}

// Passages calls f with the answers and the share of every passage, walked one by
// one as respondents do. The Result is good until f returns.
func Passages(p *program.Program, f func(in passage.Input, r *passage.Result, share float64)) {
	in := passage.Input{Answers: make(program.Answers, len(p.Questions)), Stop: true}
	values, shares := make([][]program.Value, len(p.Questions)), make([][]float64, len(p.Questions))
	for i := range values {
		values[i], shares[i] = Values(p, i)
	}
	w := passage.NewWalker(p)
	var walk func(share float64)
	walk = func(share float64) {
		r := w.Walk(in)
		if r.End != program.Unfinished {
			f(in, r, share)
			return
		}
		next := r.Next
		for k, v := range values[next] {
			in.Answers[next] = v
			walk(share * shares[next][k])
		}
		in.Answers[next] = program.Value{}
	}
	walk(1)
}
