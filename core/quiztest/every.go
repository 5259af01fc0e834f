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
			given(program.Value{Text: text}, "text")
		}
	}
	if !q.Required || q.Kind == quiz.Interlude {
		values, names = append(values, program.Value{State: program.Skipped}), append(names, program.SkippedName)
	}
	return values, shared(q, names)
}

// shared divides 1 by what is expected: the rest alike among those not named.
func shared(q *quiz.Question, names []string) []float64 {
	shares := make([]float64, len(names))
	sum, unnamed := 0.0, 0
	for k, name := range names {
		if percent, named := q.Expect[name]; named {
			shares[k] = percent.Float64() / 100
			sum += shares[k]
		} else {
			unnamed++
		}
	}
	for k, name := range names {
		if _, named := q.Expect[name]; !named {
			shares[k] = max(1-sum, 0) / float64(unnamed)
		}
	}
	if unnamed == 0 {
		for k := range shares {
			shares[k] /= sum
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
	shares := make([]float64, n)
	for k := range shares {
		shares[k] = 1 / float64(n)
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
		if percent, named := q.Expect[key]; named {
			wishes = append(
				wishes,
				wish{percent.Float64() / 100, func(k int) bool { return slices.Contains(values[k].Picks, int16(o)) }},
			)
		}
	}
	return values, scaled(len(values), append(wishes, passing(q, values)...))
}

// passing is the wish for passing by.
func passing(q *quiz.Question, values []program.Value) []wish {
	percent, named := q.Expect[program.SkippedName]
	if !named {
		return nil
	}
	return []wish{{percent.Float64() / 100, func(k int) bool { return values[k].State == program.Skipped }}}
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
	wishes := passing(q, values)
	passed, left := 0.0, 0 // whether leaving a row alone shares in the rest
	if len(wishes) > 0 {
		passed = wishes[0].share
	}
	if !q.Required {
		left = 1
	}
	for r, row := range p.RowKeys(i) {
		rest, unnamed := 1-passed, left
		for _, column := range p.AnswerKeys(i) {
			if percent, named := q.Expect[row+"."+column]; named {
				rest -= percent.Float64() / 100
			} else {
				unnamed++
			}
		}
		for o, column := range p.AnswerKeys(i) {
			share := rest / float64(unnamed)
			if percent, named := q.Expect[row+"."+column]; named {
				share = percent.Float64() / 100
			}
			wishes = append(wishes, wish{share, func(k int) bool { return values[k].Picks[r] == int16(o) }})
		}
	}
	return values, scaled(len(values), wishes)
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
