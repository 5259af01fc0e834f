package quiztest

import (
	"fmt"
	"math/bits"
	"slices"

	"pgregory.net/rapid"

	"omphalos/core/decimal"
	"omphalos/core/program"
	"omphalos/core/quiz"
)

func (g *generator) question(i int) {
	kind := rapid.SampledFrom([]quiz.Kind{quiz.Single, quiz.Single, quiz.YesNo, quiz.Several, quiz.Several,
		quiz.Grid, quiz.Rating, quiz.Number, quiz.Number, quiz.ShortText, quiz.Interlude}).
		Draw(g.t, "kind")
	var answers []string
	if kind.HasAnswers() {
		n := rapid.IntRange(2, g.most.Answers).Draw(g.t, "answers")
		if kind == quiz.YesNo {
			n = 2
		}
		for a := range n {
			answers = append(answers, fmt.Sprintf("a%d", a))
		}
	}
	q := g.m.Ask(fmt.Sprintf("q%d", i), kind, answers...)
	q.Required = g.chance(2, "required")
	for _, k := range answers {
		a := q.Answers[k]
		for range rapid.IntRange(0, 2).Draw(g.t, "adds") {
			if a.Adds == nil {
				a.Adds = map[string]decimal.Decimal{}
			}
			a.Adds[g.scale()] = g.amount()
		}
	}
	switch kind {
	case quiz.Several:
		q.Picks = &quiz.Picks{Max: rapid.IntRange(1, len(answers)).Draw(g.t, "max")}
		q.Picks.Min = rapid.IntRange(0, q.Picks.Max).Draw(g.t, "min")
		if g.chance(3, "cap") {
			q.Cap = map[string]decimal.Decimal{g.scale(): 2 * decimal.One}
		}
	case quiz.Grid:
		q.Rows = map[string]*quiz.Row{"r0": {Order: 0, Label: "r0"}, "r1": {Order: 1, Label: "r1", Reversed: true}}
	case quiz.Rating:
		q.Limits = &quiz.Limits{Low: NumberBound(1), High: NumberBound(4)}
		if g.chance(3, "steps") {
			two := decimal.FromInt(2)
			q.Limits.Step = &two
		}
		g.weigh(q, true)
	case quiz.Number:
		g.number(q)
	case quiz.ShortText:
		q.Limits = &quiz.Limits{High: NumberBound(3)}
	}
	switch {
	case kind == quiz.Several && g.chance(2, "to be had"):
		g.expectPicks(q, answers)
	case kind != quiz.Interlude && kind != quiz.ShortText && g.chance(2, "expected"):
		g.expect(q, namesOf(q, answers))
	}
	if g.m.Sections["second"] != nil && i >= g.most.Questions/2 {
		q.Section = "second"
	}
}

// percent is one of 0 to 100, the corners first.
func (g *generator) percent() decimal.Decimal {
	return decimal.FromInt(int64(rapid.OneOf(
		rapid.SampledFrom([]int{0, 100, 50, 25}),
		rapid.IntRange(0, 100),
	).Draw(g.t, "percent")))
}

// expect expects some of the names of a question's answers; what is expected together need
// not be to be had.
func (g *generator) expect(q *quiz.Question, names []string) {
	q.Expect = map[string]decimal.Decimal{}
	for _, name := range names {
		if g.chance(2, "named") {
			q.Expect[name] = g.percent()
		}
	}
}

// namesOf returns the names of answers that can be expected.
func namesOf(q *quiz.Question, answers []string) (names []string) {
	switch {
	case q.Kind == quiz.Grid:
		for _, row := range quiz.InOrder(q.Rows) {
			for _, a := range append(slices.Clone(answers), program.SkippedName) {
				names = append(names, row+"."+a)
			}
		}
	case q.Kind.HasAnswers():
		names = slices.Clone(answers)
	case q.Kind.Numeric() && !q.Lattice().Open():
		for l, n := q.Lattice(), int64(0); n < min(l.Count(), 6); n++ {
			names = append(names, l.At(n).String())
		}
	}
	return append(names, program.SkippedName)
}

// expectPicks expects of several picks what some way of picking gives: sets of an allowed
// size, some more often than others and some never, so that it lies within what can be had,
// on its edges and at its corners.
func (g *generator) expectPicks(q *quiz.Question, answers []string) {
	least, most := limits(q, len(answers))
	picked, all, none := make([]int64, len(answers)), int64(0), int64(0)
	for set := range 1 << len(answers) {
		n := bits.OnesCount(uint(set))
		if n > 0 && (n < least || n > most) || n == 0 && q.Required {
			continue
		}
		weight := int64(rapid.SampledFrom([]int{0, 0, 1, 1, 2, 5, 9}).Draw(g.t, "weight"))
		all += weight
		if n == 0 {
			none = weight
		}
		for o := range answers {
			if set>>o&1 == 1 {
				picked[o] += weight
			}
		}
	}
	if all == 0 {
		return
	}
	q.Expect = map[string]decimal.Decimal{}
	for o, key := range answers {
		if g.chance(2, "named") {
			q.Expect[key] = decimal.FromInt(picked[o]).Ratio(100, decimal.FromInt(all), 6)
		}
	}
	if g.chance(2, "passing") {
		q.Expect[program.SkippedName] = decimal.FromInt(none).Ratio(100, decimal.FromInt(all), 6)
	}
}

// weigh weighs a number by a factor, or by brackets.
func (g *generator) weigh(q *quiz.Question, factor bool) {
	w, scale := &quiz.Weighing{}, g.scale()
	factor = factor && (g.m.Scales[scale].Method != quiz.Percent || !q.Lattice().Open())
	if factor && g.chance(2, "factor") {
		amount := g.amount()
		w.Factor = &amount
	} else {
		w.Brackets = map[string]*quiz.Bracket{"low": {Adds: g.amount()}, "some": {From: NumberBound(2),
			Adds: g.amount()}, "more": {From: NumberBound(3), Adds: g.amount()}}
	}
	w.Reversed = !q.Lattice().Open() && g.chance(2, "reversed")
	q.Weigh = map[string]*quiz.Weighing{scale: w}
}

// number has limits and a step, or one limit or none.
func (g *generator) number(q *quiz.Question) {
	q.Limits = &quiz.Limits{}
	open := g.chance(3, "open")
	if !open || g.chance(3, "below") {
		q.Limits.Low = quiz.NumberBound(decimal.Decimal(rapid.IntRange(-3, 2).Draw(g.t, "low")) * decimal.One / 2)
	}
	if g.most.Wide && g.chance(2, "wide") {
		if q.Limits.Low != nil {
			q.Limits.High = quiz.NumberBound(q.Limits.Low.Value() + 7*decimal.One)
		}
		g.weigh(q, true)
		return
	}
	if !open {
		step := rapid.SampledFrom([]decimal.Decimal{decimal.One / 2, decimal.One, 3 * decimal.One / 4}).
			Draw(g.t, "step")
		q.Limits.Step = &step
		q.Limits.High = quiz.NumberBound(
			q.Limits.Low.Value() + decimal.Decimal(rapid.IntRange(0, 6).Draw(g.t, "high"))*decimal.One/2,
		)
	}
	if g.chance(4, "weighs nothing") {
		return
	}
	g.weigh(q, !open)
}

// NumberBound is a limit at a whole number.
func NumberBound(n int64) *quiz.Bound { return quiz.NumberBound(decimal.FromInt(n)) }
