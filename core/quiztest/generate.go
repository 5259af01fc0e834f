package quiztest

import (
	"fmt"

	"pgregory.net/rapid"

	"omphalos/core/decimal"
	"omphalos/core/passage"
	"omphalos/core/quiz"
)

// Limits bound what Draw makes.
type Limits struct {
	Questions int // at most
	Answers   int // of a question, at most
}

// Draw makes a quiz of any kind without problems: branches, show-whens, several
// picks, grids, numbers, means, percents and formulas, leaders with ties,
// decision tables, partings.
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
		s := g.m.Scale(k, rapid.SampledFrom([]quiz.Method{quiz.Sum, quiz.Sum, quiz.Mean, quiz.Percent}).Draw(g.t, "method"))
		s.Start = g.amount()
	}
}

func (g *generator) formula() {
	s := g.m.Scale("formula", quiz.Formula)
	s.Formula = rapid.SampledFrom([]string{"s0 + s1", "(s0 - s1) / 3", "s0 / s1", "s0 > 1 ? s1 : s2", "max(s0, s1, 2) * 0.5"}).Draw(g.t, "formula")
}

func (g *generator) sections() {
	if g.chance(2, "second section") {
		g.m.Sections["second"] = &quiz.Section{Order: 2}
	}
}

func (g *generator) question(i int) {
	kind := rapid.SampledFrom([]quiz.Kind{quiz.Single, quiz.Single, quiz.YesNo, quiz.Several, quiz.Grid, quiz.Rating, quiz.Statement}).Draw(g.t, "kind")
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
	for _, a := range q.Answers {
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
		if g.chance(3, "cap") {
			q.Cap = map[string]decimal.Decimal{g.scale(): 2 * decimal.One}
		}
	case quiz.Grid:
		q.Rows = map[string]*quiz.Row{"r0": {Order: 0, Label: "r0"}, "r1": {Order: 1, Label: "r1", Reversed: true}}
	case quiz.Rating:
		q.Limits = &quiz.Limits{Low: NumberBound(1), High: NumberBound(4)}
		factor := g.amount()
		q.Weigh = map[string]*quiz.Weighing{g.scale(): {Factor: &factor, Reversed: g.chance(2, "reversed")}}
	}
	if g.m.Sections["second"] != nil && i >= g.most.Questions/2 {
		q.Section = "second"
	}
}

// NumberBound is a limit at a whole number.
func NumberBound(n int64) *quiz.Bound { return quiz.NumberBound(decimal.FromInt(n)) }

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
			return &quiz.Condition{Subject: quiz.Subject{Scale: g.scale()}, Test: quiz.Test{Op: quiz.AtLeast, Value: quiz.Amount(g.amount())}}
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
	case q.Kind.Numeric():
		c.Op = rapid.SampledFrom([]quiz.Op{quiz.AtLeast, quiz.LessThan, quiz.Is}).Draw(g.t, "op")
		c.Value = quiz.Amount(decimal.FromInt(int64(rapid.IntRange(1, 4).Draw(g.t, "value"))))
	}
	return c
}

func (g *generator) decision() {
	keys := g.m.QuestionKeys()
	for range rapid.IntRange(0, 3).Draw(g.t, "steps") {
		switch rapid.IntRange(0, 3).Draw(g.t, "step") {
		case 0:
			g.m.Decide(quiz.Step{Kind: quiz.RuleStep, When: g.condition(keys), Outcome: g.outcome()})
		case 1:
			low := g.amount()
			s := g.m.Bands(rapid.SampledFrom(append([]string{"formula"}, scaleKeys...)).Draw(g.t, "bands of"), "")
			s.Cuts["a"] = &quiz.Cut{At: low, Outcome: g.outcome()}
			s.Cuts["b"] = &quiz.Cut{At: low + decimal.FromInt(2)}
			if g.chance(2, "closed") {
				s.Lowest, s.Cuts["b"].Outcome = g.outcome(), g.outcome()
			}
		case 2:
			g.leader(keys)
		case 3:
			g.table(keys)
		}
	}
}

func (g *generator) leader(keys []string) {
	s := quiz.Step{Kind: quiz.LeaderStep, Contenders: map[string]*quiz.Contender{}}
	for i, k := range scaleKeys {
		s.Contenders[k] = &quiz.Contender{Order: float64(i), Outcome: fmt.Sprintf("o%d", i)}
	}
	s.Ties = &quiz.Ties{By: rapid.SampledFrom([]quiz.TiePolicy{quiz.TieOrder, quiz.TieQuestion, quiz.TieOutcome, quiz.TieNext}).Draw(g.t, "ties")}
	switch s.Ties.By {
	case quiz.TieQuestion:
		s.Ties.Question = rapid.SampledFrom(keys).Draw(g.t, "tie question")
	case quiz.TieOutcome:
		s.Ties.Outcome = g.outcome()
	}
	if g.chance(3, "lead") {
		lead := decimal.One
		s.Lead = &lead
	}
	if g.chance(3, "least") {
		least := g.amount()
		s.Least = &least
	}
	g.m.Decide(s)
}

func (g *generator) table(keys []string) {
	s := quiz.Step{Kind: quiz.TableStep, Columns: map[string]*quiz.Column{}, Rules: map[string]*quiz.TableRule{}}
	for i := range rapid.IntRange(1, 2).Draw(g.t, "columns") {
		c := g.onAnswer(rapid.SampledFrom(keys).Draw(g.t, "column"))
		s.Columns[fmt.Sprintf("c%d", i)] = &quiz.Column{Order: float64(i), Subject: c.Subject}
	}
	for i := range rapid.IntRange(1, 3).Draw(g.t, "rules") {
		r := &quiz.TableRule{Order: float64(i), Outcome: g.outcome(), Cells: map[string]*quiz.Test{}}
		for k, col := range s.Columns {
			if g.chance(3, "any") {
				continue
			}
			test := g.onAnswer(col.Answer).Test
			r.Cells[k] = &test
		}
		s.Rules[fmt.Sprintf("r%d", i)] = r
	}
	g.m.Decide(s)
}

// DrawAnswers answers some of the questions of a program.
func DrawAnswers(t *rapid.T, p *passage.Program) passage.Input {
	in := passage.Input{Answers: make(passage.Answers, p.Questions()), Visitor: &passage.Visitor{}}
	for i := range in.Answers {
		in.Answers[i] = DrawAnswer(t, p, i)
	}
	return in
}

// DrawAnswer answers one question, or passes it by.
func DrawAnswer(t *rapid.T, p *passage.Program, i int) passage.Value {
	var typed passage.Typed
	keys := p.AnswerKeys(i)
	switch kind := p.Question(i).Kind; {
	case rapid.IntRange(0, 5).Draw(t, "skip") == 0:
	case kind.Choice():
		typed.Values = []string{rapid.SampledFrom(keys).Draw(t, "choice")}
	case kind == quiz.Several:
		n := rapid.IntRange(0, p.Question(i).Picks.Max).Draw(t, "picks")
		typed.Values = rapid.Permutation(keys).Draw(t, "several")[:n]
	case kind == quiz.Grid:
		typed.Rows = map[string]string{}
		for _, row := range p.RowKeys(i) {
			typed.Rows[row] = rapid.SampledFrom(append([]string{""}, keys...)).Draw(t, "cell")
		}
	case kind == quiz.Rating:
		typed.Values = []string{fmt.Sprint(rapid.IntRange(1, 4).Draw(t, "rating"))}
	}
	v, err := p.Read(i, typed)
	if err != nil {
		t.Fatalf("reading an answer: %v", err)
	}
	return v
}
