package quiztest

import (
	"omphalos/core/decimal"
	"omphalos/core/passage"
	"omphalos/core/quiz"
)

// Values returns every answer to question i of a program, with its share when all
// are as likely and passing by is as likely as one of them: choices, sets of picks,
// grids, ratings, and a statement's none.
func Values(p *passage.Program, i int) ([]passage.Value, []float64) {
	q := p.Question(i)
	n := len(p.AnswerKeys(i))
	var values []passage.Value
	switch {
	case q.Kind.Choice():
		for o := range n {
			values = append(values, passage.Value{State: passage.Given, Option: int16(o)})
		}
	case q.Kind == quiz.Several:
		return sets(q, n)
	case q.Kind == quiz.Grid:
		return cells(q, len(p.RowKeys(i)), n)
	case q.Kind == quiz.Rating:
		low, high := q.Range()
		for d := low; d <= high; d += decimal.One {
			values = append(values, passage.Value{State: passage.Given, Number: d})
		}
	}
	if !q.Required || q.Kind == quiz.Statement {
		values = append(values, passage.Value{State: passage.Skipped})
	}
	return values, alike(len(values))
}

func alike(n int) []float64 {
	shares := make([]float64, n)
	for i := range shares {
		shares[i] = 1 / float64(n)
	}
	return shares
}

func sets(q *quiz.Question, n int) ([]passage.Value, []float64) {
	least, most := 0, n
	if q.Picks != nil {
		least = q.Picks.Min
		if q.Picks.Max > 0 {
			most = q.Picks.Max
		}
	}
	if q.Required {
		least = max(least, 1)
	}
	var values []passage.Value
	for set := range 1 << n {
		v := passage.Value{State: passage.Given}
		for o := range n {
			if set>>o&1 == 1 {
				v.Picks = append(v.Picks, int16(o))
			}
		}
		if len(v.Picks) == 0 {
			v.State = passage.Skipped
		}
		if len(v.Picks) >= least && len(v.Picks) <= most {
			values = append(values, v)
		}
	}
	return values, alike(len(values))
}

func cells(q *quiz.Question, rows, columns int) ([]passage.Value, []float64) {
	values := []passage.Value{{State: passage.Given}}
	for range rows {
		var longer []passage.Value
		for _, v := range values {
			for c := range columns {
				picks := append(append([]int16{}, v.Picks...), int16(c))
				longer = append(longer, passage.Value{State: passage.Given, Picks: picks})
			}
		}
		values = longer
	}
	shares := alike(len(values))
	if q.Required {
		return values, shares
	}
	skip := 1 / float64(columns+1)
	for i := range shares {
		shares[i] *= 1 - skip
	}
	return append(values, passage.Value{State: passage.Skipped}), append(shares, skip)
}

// Passages calls f with the answers and the share of every passage, walked one by
// one as respondents do. The Result is good until f returns.
func Passages(p *passage.Program, f func(in passage.Input, r *passage.Result, share float64)) {
	in := passage.Input{Answers: make(passage.Answers, p.Questions()), Stop: true}
	w := p.Walker()
	var walk func(share float64)
	walk = func(share float64) {
		r := w.Walk(in)
		if r.End != passage.Unfinished {
			f(in, r, share)
			return
		}
		next := r.Next
		values, shares := Values(p, next)
		for k, v := range values {
			in.Answers[next] = v
			walk(share * shares[k])
		}
		in.Answers[next] = passage.Value{}
	}
	walk(1)
}
