package quiztest

import (
	"fmt"
	"math/bits"
	"math/rand/v2"
	"slices"

	"pgregory.net/rapid"

	"omphalos/core/decimal"
	"omphalos/core/passage"
	"omphalos/core/program"
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
// percents and formulas over them, leaders with ties, decision tables, partings.
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
		if g.chance(2, "expected") {
			g.expectPicks(q, answers)
		}
	case quiz.Grid:
		q.Rows = map[string]*quiz.Row{"r0": {Order: 0, Label: "r0"}, "r1": {Order: 1, Label: "r1", Reversed: true}}
		if g.chance(3, "expected") {
			q.Expect = map[string]decimal.Decimal{"r0.a0": g.percent(50), "r1.a1": g.percent(50)}
			if !q.Required && g.chance(2, "passing") {
				q.Expect[program.SkippedName] = g.percent(30)
			}
		}
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
	default:
		if kind.Choice() && g.chance(3, "expected") {
			q.Expect = map[string]decimal.Decimal{"a0": g.percent(100)}
		}
	}
	if g.m.Sections["second"] != nil && i >= g.most.Questions/2 {
		q.Section = "second"
	}
}

func (g *generator) percent(most int) decimal.Decimal {
	return decimal.FromInt(int64(rapid.IntRange(1, most-1).Draw(g.t, "percent")))
}

// expectPicks expects of several picks what some way of picking gives, so that it can
// be had: sets of an allowed size, some more often than others.
func (g *generator) expectPicks(q *quiz.Question, answers []string) {
	least, most := limits(q, len(answers))
	picked, all, none := make([]int64, len(answers)), int64(0), int64(0)
	for set := range 1 << len(answers) {
		n := bits.OnesCount(uint(set))
		if n > 0 && (n < least || n > most) || n == 0 && q.Required {
			continue
		}
		weight := int64(rapid.IntRange(1, 9).Draw(g.t, "weight"))
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
	q.Expect = map[string]decimal.Decimal{}
	for o, key := range answers[1:] { // one is left open, so that rounding does no harm
		if o++; g.chance(2, "named") {
			q.Expect[key] = decimal.FromInt(picked[o]).Ratio(100, decimal.FromInt(all), 6)
		}
	}
	if none > 0 && g.chance(2, "passing") {
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
	s.Ties = &quiz.Ties{
		By: rapid.SampledFrom([]quiz.TiePolicy{quiz.TieOrder, quiz.TieQuestion, quiz.TieOutcome, quiz.TieNext}).
			Draw(g.t, "ties"),
	}
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
		for _, k := range quiz.InOrder(s.Columns) {
			col := s.Columns[k]
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
func DrawAnswers(t *rapid.T, p *program.Program) passage.Input {
	in := passage.Input{Answers: make(program.Answers, len(p.Questions)), Visitor: &program.Visitor{}}
	for i := range in.Answers {
		in.Answers[i] = DrawAnswer(t, p, i)
	}
	return in
}

// DrawAnswer answers one question, or passes it by.
func DrawAnswer(t *rapid.T, p *program.Program, i int) program.Value {
	var typed program.Typed
	keys := p.AnswerKeys(i)
	switch kind := p.Question(i).Kind; {
	case rapid.IntRange(0, 5).Draw(t, "skip") == 0:
	case kind.Choice():
		typed.Values = []string{rapid.SampledFrom(keys).Draw(t, "choice")}
	case kind == quiz.Several:
		least, most := limits(p.Question(i), len(keys))
		n := rapid.IntRange(least, most).Draw(t, "picks")
		typed.Values = rapid.Permutation(keys).Draw(t, "several")[:n]
	case kind == quiz.Grid:
		typed.Rows = map[string]string{}
		for _, row := range p.RowKeys(i) {
			typed.Rows[row] = rapid.SampledFrom(append([]string{""}, keys...)).Draw(t, "cell")
		}
	case kind == quiz.Rating || kind == quiz.Number:
		if values := p.Question(i).Lattice(); values.Open() {
			low := max(values.First, -decimal.FromInt(20))
			typed.Values = []string{
				(low + decimal.Decimal(rapid.IntRange(0, 60_000_000).Draw(t, "millionths"))).String(),
			}
		} else {
			typed.Values = []string{values.At(rapid.Int64Range(0, values.Count()-1).Draw(t, "value")).String()}
		}
	case kind == quiz.ShortText:
		typed.Values = []string{rapid.StringMatching("[abc]{1,3}").Draw(t, "text")}
	}
	v, err := p.Read(i, typed)
	if err != nil {
		t.Fatalf("reading an answer: %v", err)
	}
	return v
}

// RandomAnswers answers every question of a program at random, as a respondent may.
func RandomAnswers(r *rand.Rand, p *program.Program) passage.Input {
	in := passage.Input{Answers: make(program.Answers, len(p.Questions)), Visitor: &program.Visitor{}}
	for i := range in.Answers {
		for { // what is refused is answered again
			v, err := p.Read(i, randomly(r, p, i))
			if err == nil && (v.State == program.Given || !p.Needs(i)) {
				in.Answers[i] = v
				break
			}
		}
	}
	return in
}

func randomly(r *rand.Rand, p *program.Program, i int) (t program.Typed) {
	keys, q := p.AnswerKeys(i), p.Question(i)
	if r.IntN(6) == 0 {
		return t
	}
	switch kind := q.Kind; {
	case kind.Choice():
		t.Values = []string{keys[r.IntN(len(keys))]}
	case kind == quiz.Several:
		for _, o := range r.Perm(len(keys))[:r.IntN(len(keys)+1)] {
			t.Values = append(t.Values, keys[o])
		}
	case kind == quiz.Grid:
		t.Rows = map[string]string{}
		for _, row := range p.RowKeys(i) {
			if o := r.IntN(len(keys) + 1); o < len(keys) {
				t.Rows[row] = keys[o]
			} else if q.Required {
				t.Rows[row] = keys[0]
			}
		}
	case kind.Numeric():
		l := q.Lattice()
		low, high := max(l.First, -decimal.FromInt(30)), min(l.Last, decimal.FromInt(30))
		near := l.Within(low, high)
		t.Values = []string{near.At(r.Int64N(near.Count())).String()}
	case kind == quiz.ShortText:
		text := make([]byte, 1+r.IntN(3))
		for k := range text {
			text[k] = "abc"[r.IntN(3)]
		}
		t.Values = []string{string(text)}
	}
	return t
}
