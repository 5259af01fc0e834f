package passage

import (
	"cmp"
	"maps"
	"slices"
	"time"

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
		quiz:          q,
		questionIndex: index(q.QuestionKeys()),
		scaleIndex:    index(quiz.InOrder(q.Scales)),
		outcomeIndex:  index(quiz.InOrder(q.Outcomes)),
	}}
}

func (c *compiler) compile() {
	q, p := c.q, c.p
	keys := q.QuestionKeys()
	sections := quiz.InOrder(q.Sections)
	if p.zone = time.UTC; q.Settings != nil && q.Settings.TimeZone != "" {
		if zone, err := time.LoadLocation(q.Settings.TimeZone); err == nil {
			p.zone = zone
		}
	}
	p.sections = make([]section, len(sections))
	for i := len(sections) - 1; i >= 0; i-- {
		start := len(keys)
		if i+1 < len(sections) {
			start = p.sections[i+1].start
		}
		for j, k := range keys {
			if q.Questions[k].Section == sections[i] {
				start = j
				break
			}
		}
		p.sections[i] = section{key: sections[i], start: start}
	}
	p.questions = make([]question, len(keys))
	for i, k := range keys {
		c.shape(&p.questions[i], k, q.Questions[k], slices.Index(sections, q.Questions[k].Section))
	}
	for i, k := range sections {
		p.sections[i].when = c.condition(q.Sections[k].ShowWhen)
	}
	for i, k := range keys {
		c.path(&p.questions[i], q.Questions[k])
	}
	for _, k := range quiz.InOrder(q.Scales) {
		c.scale(k, q.Scales[k])
	}
	for i := range p.scales {
		c.feeders(i)
	}
	for i, k := range keys {
		c.spans(&p.questions[i], q.Questions[k])
	}
	c.bound()
	for _, k := range quiz.InOrder(q.Outcomes) {
		c.outcome(k, q.Outcomes[k])
	}
	c.decision()
	if q.Contact != nil {
		p.contactWhen = c.condition(q.Contact.When)
		for _, k := range quiz.InOrder(q.Contact.Fields) {
			var field question
			c.shape(&field, k, q.Contact.Fields[k], none)
			p.contact = append(p.contact, field)
		}
	}
}

// shape compiles what a question asks and what its answers add.
func (c *compiler) shape(to *question, key string, q *quiz.Question, section int) {
	*to = question{
		key:      key,
		kind:     q.Kind,
		form:     formOf(q.Kind),
		section:  section,
		required: q.Required && q.Kind != quiz.Interlude,
	}
	to.low, to.high = q.Bounds()
	to.lattice, to.words = q.Lattice(), &wordClasses{}
	keys := quiz.InOrder(q.Answers)
	to.options = make(map[string]int, len(keys))
	to.answers = make([]answer, len(keys))
	for i, k := range keys {
		a := q.Answers[k]
		to.options[k] = i
		to.answers[i] = answer{key: k, adds: c.additions(a.Adds), writeIn: a.WriteIn}
	}
	to.maxPicks = len(keys)
	if q.Picks != nil {
		to.minPicks = q.Picks.Min // of those who pick any
		if q.Picks.Max > 0 {
			to.maxPicks = min(q.Picks.Max, len(keys))
		}
	}
	to.caps = c.additions(q.Cap)
	c.rows(to, q)
	for _, k := range c.scaleKeys(q.Weigh) {
		to.weighs = append(to.weighs, c.weighing(k, q, q.Weigh[k]))
	}
}

func (c *compiler) scaleKeys(m map[string]*quiz.Weighing) []string {
	keys := slices.Collect(maps.Keys(m))
	slices.SortFunc(keys, func(a, b string) int { return cmp.Compare(c.p.scaleIndex[a], c.p.scaleIndex[b]) })
	return keys
}

func (c *compiler) additions(adds map[string]decimal.Decimal) []addition {
	list := make([]addition, 0, len(adds))
	for k, d := range adds {
		list = append(list, addition{c.p.scaleIndex[k], d})
	}
	slices.SortFunc(list, func(a, b addition) int { return cmp.Compare(a.scale, b.scale) })
	return list
}

// rows works out what each cell of a grid adds: the column's amounts, or the
// row's own, turned around within the row where it is reversed.
func (c *compiler) rows(to *question, q *quiz.Question) {
	keys := quiz.InOrder(q.Rows)
	to.rowIndex = make(map[string]int, len(keys))
	columns := quiz.InOrder(q.Answers)
	for i, k := range keys {
		r := q.Rows[k]
		to.rowIndex[k] = i
		compiled := row{key: k, adds: make([][]addition, len(columns))}
		for scale, amounts := range c.cells(q, r, columns) {
			compiled.feeds = append(compiled.feeds, scale)
			for column, amount := range amounts {
				if r.Reversed {
					amount = slices.Min(amounts).Add(slices.Max(amounts)).Sub(amount)
				}
				compiled.adds[column] = append(compiled.adds[column], addition{scale, amount})
			}
		}
		for _, adds := range compiled.adds {
			slices.SortFunc(adds, func(a, b addition) int { return cmp.Compare(a.scale, b.scale) })
		}
		slices.Sort(compiled.feeds)
		to.rows = append(to.rows, compiled)
	}
}

// cells returns, per scale that the row feeds, the amount of each column.
func (c *compiler) cells(q *quiz.Question, r *quiz.Row, columns []string) map[int][]decimal.Decimal {
	cells := map[int][]decimal.Decimal{}
	set := func(key string, column int, amount decimal.Decimal) {
		i := c.p.scaleIndex[key]
		if r.Scales != nil && !slices.Contains(r.Scales, key) {
			return
		}
		if cells[i] == nil {
			cells[i] = make([]decimal.Decimal, len(columns))
		}
		cells[i][column] = amount
	}
	own := map[string]bool{}
	for _, adds := range r.Adds {
		for key := range adds {
			own[key] = true
		}
	}
	for column, k := range columns {
		for key, amount := range q.Answers[k].Adds {
			if !own[key] {
				set(key, column, amount)
			}
		}
		for key, amount := range r.Adds[k] {
			set(key, column, amount)
		}
	}
	return cells
}

func (c *compiler) weighing(key string, q *quiz.Question, w *quiz.Weighing) weighing {
	to := weighing{scale: c.p.scaleIndex[key]}
	if w.Factor != nil {
		to.factor = *w.Factor
	}
	if w.Reversed {
		low, high := q.Bounds()
		to.turns, to.reversed = true, low.Add(*high)
	}
	if w.Brackets == nil {
		return to
	}
	to.brackets = make([]bracket, 0, len(w.Brackets))
	for _, b := range w.Brackets {
		from := decimal.Min
		if b.From != nil {
			from = b.From.Value()
		}
		to.brackets = append(to.brackets, bracket{from, b.Adds})
	}
	slices.SortFunc(to.brackets, func(a, b bracket) int { return cmp.Compare(a.from, b.from) })
	return to
}

func (c *compiler) path(to *question, q *quiz.Question) {
	to.when = c.condition(q.ShowWhen)
	for i, k := range quiz.InOrder(q.Answers) {
		if t := q.Answers[k].Then; t != nil {
			compiled := c.then(*t)
			to.answers[i].then, to.thens = &compiled, true
		}
	}
	for _, k := range quiz.InOrder(q.Then) {
		to.then = append(to.then, thenRule{c.condition(q.Then[k].When), c.then(q.Then[k].Then)})
	}
}

func (c *compiler) then(t quiz.Then) then {
	to := then{way: t.Go}
	switch t.Go {
	case quiz.ToQuestion:
		to.question = c.p.questionIndex[t.To]
	case quiz.ToSection:
		to.question = c.p.sections[slices.IndexFunc(c.p.sections, func(s section) bool { return s.key == t.To })].start
	case quiz.ToOutcome, quiz.PartWays:
		to.outcome = c.p.outcomeIndex[t.To]
	}
	return to
}

func (c *compiler) scale(key string, s *quiz.Scale) {
	to := scale{key: key, method: cmp.Or(s.Method, quiz.Sum), start: s.Start, decimals: 2, money: s.Kind == quiz.Money}
	if s.Kind == quiz.Money {
		to.decimals = CurrencyPlaces(s.Currency)
	}
	if s.Decimals != nil {
		to.decimals = *s.Decimals
	}
	if to.method == quiz.Formula {
		c.p.formulas = true
		// Check has compiled it before.
		to.formula, _ = formula.Compile(s.Formula, c.names)
		for _, name := range to.formula.Names() {
			if i, isScale := c.p.scaleIndex[name]; isScale {
				to.reads = append(to.reads, operand{i, -1})
			} else {
				to.reads = append(to.reads, operand{-1, c.p.questionIndex[name]})
			}
		}
	}
	for _, k := range quiz.InOrder(s.Fees) {
		f := s.Fees[k]
		to.fees = append(to.fees, fee{f.Name, f.Percent, f.Fixed})
	}
	c.p.averages = c.p.averages || to.method == quiz.Mean || to.method == quiz.Percent
	c.p.scales = append(c.p.scales, to)
}

// feeders finds what a formula comes from in the end.
func (c *compiler) feeders(i int) []operand {
	s := &c.p.scales[i]
	if s.feeders != nil || len(s.reads) == 0 {
		return s.feeders
	}
	s.feeders = []operand{}
	for _, o := range s.reads {
		found := []operand{o}
		if o.question < 0 && c.p.scales[o.scale].method == quiz.Formula {
			found = c.feeders(o.scale)
		}
		for _, f := range found {
			if !slices.Contains(s.feeders, f) {
				s.feeders = append(s.feeders, f)
			}
		}
	}
	return s.feeders
}

// bound finds out whether sums stay within the range whatever is answered.
func (c *compiler) bound() {
	sums := make([]decimal.Decimal, len(c.p.scales))
	for i := range c.p.questions {
		q := &c.p.questions[i]
		if q.form == ofAmount && len(q.weighs) > 0 && (q.low == nil || q.high == nil) {
			return
		}
		for _, s := range q.spans {
			sums[s.scale] = sums[s.scale].Add(max(s.high, -s.low))
		}
	}
	for i, s := range c.p.scales {
		if sums[i].Add(max(s.start, -s.start)) >= decimal.Max/2 {
			return
		}
	}
	c.p.bounded = true
}

func (c *compiler) outcome(key string, o *quiz.Outcome) {
	to := outcome{key: key}
	for _, k := range quiz.InOrder(o.Landings) {
		to.landings = append(to.landings, c.landing(k, o.Landings[k]))
	}
	c.p.outcomes = append(c.p.outcomes, to)
}
