package program

import (
	"cmp"
	"maps"
	"slices"

	"omphalos/core/decimal"
	"omphalos/core/formula"
	"omphalos/core/quiz"
)

// A compiler turns keys into positions. It runs on quizzes without problems,
// so that every key is known.
type compiler struct {
	q     *quiz.Quiz
	p     *Program
	names formula.Names // that formulas may read
}

func newCompiler(q *quiz.Quiz) *compiler {
	index := func(keys []string) map[string]int {
		m := make(map[string]int, len(keys))
		for i, k := range keys {
			m[k] = i
		}
		return m
	}
	return &compiler{q: q, names: formula.NamesOf(q.FormulaNames()), p: &Program{
		Quiz:          q,
		QuestionIndex: index(q.QuestionKeys()),
		ScaleIndex:    index(quiz.InOrder(q.Scales)),
		outcomeIndex:  index(quiz.InOrder(q.Outcomes)),
	}}
}

func (c *compiler) compile() {
	q, p := c.q, c.p
	keys := q.QuestionKeys()
	sections := quiz.InOrder(q.Sections)
	p.zone = q.Zone()
	p.Sections = make([]Section, len(sections))
	for i := len(sections) - 1; i >= 0; i-- {
		start := len(keys)
		if i+1 < len(sections) {
			start = p.Sections[i+1].start
		}
		for j, k := range keys {
			if q.Questions[k].Section == sections[i] {
				start = j
				break
			}
		}
		p.Sections[i] = Section{Key: sections[i], start: start}
	}
	p.Questions = make([]Question, len(keys))
	for i, k := range keys {
		c.shape(&p.Questions[i], k, q.Questions[k], slices.Index(sections, q.Questions[k].Section))
	}
	for i, k := range sections {
		p.Sections[i].When = c.condition(q.Sections[k].ShowWhen)
	}
	for i, k := range keys {
		c.path(&p.Questions[i], q.Questions[k])
	}
	for _, k := range quiz.InOrder(q.Scales) {
		c.scale(k, q.Scales[k])
	}
	for i := range p.Scales {
		c.feeders(i)
	}
	for i, k := range keys {
		c.spans(&p.Questions[i], q.Questions[k])
	}
	c.bound()
	for _, k := range quiz.InOrder(q.Outcomes) {
		c.outcome(k, q.Outcomes[k])
	}
	c.decision()
	if q.Contact != nil {
		p.ContactWhen = c.condition(q.Contact.When)
		for _, k := range quiz.InOrder(q.Contact.Fields) {
			var field Question
			c.shape(&field, k, q.Contact.Fields[k], None)
			p.Contact = append(p.Contact, field)
		}
	}
	c.followUps()
}

// shape compiles what a question asks and what its answers add.
func (c *compiler) shape(to *Question, key string, q *quiz.Question, section int) {
	*to = Question{
		Key:      key,
		Kind:     q.Kind,
		Form:     formOf(q.Kind),
		Section:  section,
		Required: q.Required && q.Kind != quiz.Interlude,
	}
	to.low, to.high = q.Bounds()
	to.Lattice, to.Wordings = q.Lattice(), &Wordings{}
	keys := quiz.InOrder(q.Answers)
	to.options = make(map[string]int, len(keys))
	to.Answers = make([]Answer, len(keys))
	for i, k := range keys {
		a := q.Answers[k]
		to.options[k] = i
		to.Answers[i] = Answer{Key: k, Adds: c.additions(a.Adds), writeIn: a.WriteIn, needsWords: a.WriteIn && a.Needed}
	}
	to.MaxPicks = len(keys)
	if q.Picks != nil {
		to.MinPicks = q.Picks.Min // of those who pick any
		if q.Picks.Max > 0 {
			to.MaxPicks = min(q.Picks.Max, len(keys))
		}
	}
	to.caps = c.additions(q.Cap)
	c.rows(to, q)
	for _, k := range c.scaleKeys(q.Weigh) {
		to.Weighs = append(to.Weighs, c.weighing(k, q, q.Weigh[k]))
	}
}

func (c *compiler) scaleKeys(m map[string]*quiz.Weighing) []string {
	keys := slices.Collect(maps.Keys(m))
	slices.SortFunc(keys, func(a, b string) int { return cmp.Compare(c.p.ScaleIndex[a], c.p.ScaleIndex[b]) })
	return keys
}

func (c *compiler) additions(adds map[string]decimal.Decimal) []Addition {
	list := make([]Addition, 0, len(adds))
	for k, d := range adds {
		list = append(list, Addition{c.p.ScaleIndex[k], d})
	}
	slices.SortFunc(list, func(a, b Addition) int { return cmp.Compare(a.Scale, b.Scale) })
	return list
}

func (c *compiler) path(to *Question, q *quiz.Question) {
	to.When = c.condition(q.ShowWhen)
	for i, k := range quiz.InOrder(q.Answers) {
		if t := q.Answers[k].Then; t != nil {
			compiled := c.then(*t)
			to.Answers[i].Then, to.thens = &compiled, true
		}
	}
	for _, k := range quiz.InOrder(q.Then) {
		to.Then = append(to.Then, ThenRule{c.condition(q.Then[k].When), c.then(q.Then[k].Then)})
	}
}

func (c *compiler) then(t quiz.Then) Onward {
	to := Onward{Way: t.Go}
	switch t.Go {
	case quiz.ToQuestion:
		to.Question = c.p.QuestionIndex[t.To]
	case quiz.ToSection:
		to.Question = c.p.Sections[slices.IndexFunc(c.p.Sections, func(s Section) bool { return s.Key == t.To })].start
	case quiz.ToOutcome, quiz.PartWays:
		to.Outcome = c.p.outcomeIndex[t.To]
	}
	return to
}

// bound finds out whether sums stay within the range whatever is answered.
func (c *compiler) bound() {
	sums := make([]decimal.Decimal, len(c.p.Scales))
	for i := range c.p.Questions {
		q := &c.p.Questions[i]
		if q.Form == OfAmount && len(q.Weighs) > 0 && (q.low == nil || q.high == nil) {
			return
		}
		for _, s := range q.Spans {
			sums[s.Scale] = sums[s.Scale].Add(max(s.High, -s.Low))
		}
	}
	for i, s := range c.p.Scales {
		if sums[i].Add(max(s.Start, -s.Start)) >= decimal.Max/2 {
			return
		}
	}
	c.p.Bounded = true
}
