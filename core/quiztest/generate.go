package quiztest

import (
	"slices"

	"pgregory.net/rapid"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
)

// Limits bound what Draw makes.
type Limits struct {
	Questions int // at most
	Answers   int // of a question, at most
	// Wide numbers have more values than can be counted, or no limits beside a factor.
	Wide bool
}

// Draw makes a quiz of any kind without problems: branches, show-whens, several
// picks with limits and expectations, grids with rows that can be left alone, numbers
// with steps, factors and brackets or without limits, texts with conditions, means,
// percents and formulas over them, leaders with ties, decision tables, partings; several
// landings of an outcome, blocks, contact and mail with conditions.
func Draw(t *rapid.T, most Limits) Maker {
	g := generator{t, New("o0", "o1", "o2"), most}
	g.scales()
	g.sections()
	for i := range rapid.IntRange(1, most.Questions).Draw(t, "questions") {
		g.question(i)
	}
	g.formula()
	g.paths()
	g.decision()
	g.landings()
	return g.m
}

type generator struct {
	t    *rapid.T
	m    Maker
	most Limits
}

func (g *generator) chance(oneIn int, what string) bool {
	return rapid.IntRange(1, oneIn).Draw(g.t, what) == 1
}

func (g *generator) outcome() string {
	return rapid.SampledFrom([]string{"o0", "o1", "o2"}).Draw(g.t, "outcome")
}

var scaleKeys = []string{"s0", "s1", "s2"}

func (g *generator) scale() string { return rapid.SampledFrom(scaleKeys).Draw(g.t, "scale") }

func (g *generator) amount() decimal.Decimal {
	return decimal.Decimal(rapid.IntRange(-30, 50).Draw(g.t, "tenths")) * decimal.One / 10
}

func (g *generator) scales() {
	for _, k := range scaleKeys {
		s := g.m.Scale(
			k,
			rapid.SampledFrom([]quiz.Method{quiz.Sum, quiz.Sum, quiz.Mean, quiz.Percent}).Draw(g.t, "method"),
		)
		s.Start = g.amount()
	}
}

func (g *generator) formula() {
	s := g.m.Scale("formula", quiz.Formula)
	formulas := []string{"s0 + s1", "(s0 - s1) / 3", "s0 / s1", "s0 > 1 ? s1 : s2", "max(s0, s1, 2) * 0.5"}
	for k, q := range g.m.Questions {
		if q.Kind == quiz.Number && (g.most.Wide || !q.Lattice().Open()) || q.Kind == quiz.Rating {
			formulas = append(formulas, k+" * s0", "("+k+" - 2) / 3")
		}
	}
	slices.Sort(formulas)
	s.Formula = rapid.SampledFrom(formulas).Draw(g.t, "formula")
}

func (g *generator) sections() {
	if g.chance(2, "second section") {
		g.m.Sections["second"] = &quiz.Section{Order: 2}
	}
}

// paths adds show-whens and thens to questions after the first.
func (g *generator) paths() {
	keys := g.m.QuestionKeys()
	for i, k := range keys {
		q := g.m.Questions[k]
		if i > 0 && g.chance(3, "show when") {
			q.ShowWhen = g.condition(keys[:i])
		}
		if g.chance(3, "rule") {
			q.Then = map[string]*quiz.ThenRule{"t0": {When: g.condition(keys[:i+1]), Then: g.then(keys[i+1:])}}
		}
		for _, a := range quiz.InOrder(q.Answers) {
			if q.Kind != quiz.Grid && g.chance(6, "then") {
				to := g.then(keys[i+1:])
				q.Answers[a].Then = &to
			}
		}
	}
	if s := g.m.Sections["second"]; s != nil && g.chance(2, "section when") {
		var before []string
		for _, k := range keys {
			if g.m.Questions[k].Section == "main" {
				before = append(before, k)
			}
		}
		if len(before) > 0 && len(before) < len(keys) {
			s.ShowWhen = g.condition(before)
		}
	}
}

func (g *generator) then(later []string) quiz.Then {
	if len(later) > 0 && g.chance(2, "jump") {
		return quiz.Then{Go: quiz.ToQuestion, To: rapid.SampledFrom(later).Draw(g.t, "to")}
	}
	way := rapid.SampledFrom([]quiz.Way{quiz.Decide, quiz.ToOutcome, quiz.PartWays}).Draw(g.t, "way")
	if way == quiz.Decide {
		return quiz.Then{Go: way}
	}
	return quiz.Then{Go: way, To: g.outcome()}
}

func (g *generator) condition(asked []string) *quiz.Condition {
	clause := func() *quiz.Condition {
		if len(asked) == 0 || g.chance(3, "on a scale") {
			return &quiz.Condition{
				Subject: quiz.Subject{Scale: g.scale()},
				Test:    quiz.Test{Op: quiz.AtLeast, Value: quiz.Amount(g.amount())},
			}
		}
		return g.onAnswer(rapid.SampledFrom(asked).Draw(g.t, "asked"))
	}
	switch rapid.IntRange(0, 5).Draw(g.t, "group") {
	case 0:
		return &quiz.Condition{All: []*quiz.Condition{clause(), clause()}}
	case 1:
		return &quiz.Condition{Any: []*quiz.Condition{clause(), clause()}}
	case 2:
		return &quiz.Condition{None: []*quiz.Condition{clause()}}
	case 3:
		return &quiz.Condition{One: []*quiz.Condition{clause(), clause()}}
	}
	return clause()
}

func (g *generator) onAnswer(key string) *quiz.Condition {
	q := g.m.Questions[key]
	c := &quiz.Condition{Subject: quiz.Subject{Answer: key}, Test: quiz.Test{Op: quiz.IsAnswered}}
	if q.Kind == quiz.Grid {
		c.Row = rapid.SampledFrom([]string{"r0", "r1"}).Draw(g.t, "row")
	}
	switch {
	case g.chance(5, "answered"):
	case q.Kind.HasAnswers():
		ops := []quiz.Op{quiz.Is, quiz.IsNot, quiz.IsOneOf, quiz.Includes}
		c.Op = rapid.SampledFrom(ops).Draw(g.t, "op")
		c.Value = quiz.Words(rapid.SampledFrom(quiz.InOrder(q.Answers)).Draw(g.t, "answer"))
	case q.Kind == quiz.ShortText:
		c.Op = rapid.SampledFrom([]quiz.Op{quiz.Is, quiz.IsNot, quiz.Contains, quiz.Contains}).Draw(g.t, "op")
		c.Value = quiz.Words(rapid.SampledFrom([]string{"a", "b", "ab", "ba", "abc", "bb"}).Draw(g.t, "words"))
	case q.Kind.Numeric():
		c.Op = rapid.SampledFrom([]quiz.Op{quiz.AtLeast, quiz.LessThan, quiz.Is}).Draw(g.t, "op")
		c.Value = quiz.Amount(decimal.FromInt(int64(rapid.IntRange(1, 4).Draw(g.t, "value"))))
	}
	return c
}
