package scorecard

import (
	"math"
	"slices"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
)

// say fills in what the answers to each question say, and which points a fit suggests.
func (l *Learner) say(to *Learned, fit *Fit) {
	var shapes []Question
	reach := 0.0
	for i := range l.Program.Questions {
		if l.first[i] < 0 {
			continue
		}
		one := Said{Question: i, Number: l.number(i), One: l.Program.Question(i).Kind != quiz.Several,
			Ordered: slices.Contains(l.ordered, l.Program.Key(i))}
		if one.Number && (!l.factored(i) || l.given[l.first[i]].All() == 0) {
			continue
		}
		shape, wide := l.shape(i, one)
		shapes, reach = append(shapes, shape), reach+wide
		l.weigh(&one, to.All)
		to.Questions = append(to.Questions, one)
	}
	if fit == nil || l.Scale == "" {
		return
	}
	points, per := Points(fit.Weights, shapes, reach), PerWeight(fit.Weights, shapes, reach)
	for n := range to.Questions {
		q := &to.Questions[n]
		for k := range q.Answers {
			a, column := &q.Answers[k], l.first[q.Question]+k
			if a.All() == 0 {
				continue // nobody says anything of it
			}
			a.Suggested, a.Points, a.Off = true, decimal.FromInt(int64(points[column])), z*fit.Errors[column]*per
			if !q.Number {
				continue
			}
			if wide := q.High - q.Low; wide > 0 {
				a.Points = decimal.Decimal(math.Round(fit.Weights[column]*per/wide*100)) * (decimal.One / 100)
				a.Off /= wide
			} else {
				a.Suggested = false
			}
		}
	}
}

// weighing is how a number weighs for the scale, nil where it does not.
func (l *Learner) weighing(i int) *quiz.Weighing { return l.Program.Question(i).Weigh[l.Scale] }

// factored tells whether a question's number is multiplied, and no more.
func (l *Learner) factored(i int) bool {
	w := l.weighing(i)
	return w != nil && w.Factor != nil && !w.Reversed && len(w.Brackets) == 0
}

// shape is a question as points are made of it, with how far its own points reach.
func (l *Learner) shape(i int, of Said) (q Question, reach float64) {
	if of.Number {
		column := l.first[i]
		return Question{Columns: []int{column}, Counts: []int{l.given[column].All()}},
			math.Abs(l.weighing(i).Factor.Float64()) * (l.high[column] - l.low[column])
	}
	q = Question{One: of.One, Ordered: of.Ordered}
	low, high, below, above := math.Inf(1), math.Inf(-1), 0.0, 0.0
	for k, answer := range l.keys[i] {
		column := l.first[i] + k
		q.Columns, q.Counts = append(q.Columns, column), append(q.Counts, l.given[column].All())
		adds := l.Program.Question(i).Answers[answer].Adds[l.Scale].Float64()
		low, high, below, above = min(low, adds), max(high, adds), below+min(adds, 0), above+max(adds, 0)
	}
	if !of.One || len(q.Columns) == 0 {
		return q, above - below
	}
	return q, high - low
}

// weigh fills in what those say who gave each answer.
func (l *Learner) weigh(one *Said, all Tally) {
	i := one.Question
	one.Leaks = Leaks(l.asked[i], all)
	if one.Number {
		column := l.first[i]
		one.Low, one.High = l.low[column], l.high[column]
		one.Answers = []Answer{{Evidence: Evidence{Tally: l.given[column]}, Yours: *l.weighing(i).Factor}}
		return
	}
	parts := make([]Tally, len(l.keys[i]))
	for k := range parts {
		parts[k] = l.given[l.first[i]+k]
	}
	evidence, value := Weigh(parts)
	kinds := 0
	for _, p := range parts {
		if p.All() > 0 {
			kinds++
		}
	}
	one.Value = value
	one.Chance, one.Most = Chance(kinds, 1, l.asked[i])
	if !one.One { // several can be given: each answer against not giving it
		one.Value = 0
		one.Chance, one.Most = Chance(2, kinds, l.asked[i])
		for k, with := range parts {
			two, value := Weigh([]Tally{with, l.asked[i].less(with)})
			evidence[k], one.Value = two[0], max(one.Value, value)
		}
	}
	for k, answer := range l.keys[i] {
		with := parts[k]
		one.Answers = append(one.Answers, Answer{
			Key: answer, Evidence: evidence[k], Odds: Compare(with, l.asked[i].less(with)),
			Leaks: with.Won > manyLeak && Leaks(with, all),
			Yours: l.Program.Question(i).Answers[answer].Adds[l.Scale],
		})
	}
}

// less are those who are not among others.
func (t Tally) less(others Tally) Tally { return Tally{t.Won - others.Won, t.Lost - others.Lost} }
