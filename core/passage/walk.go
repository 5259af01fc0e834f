package passage

import (
	"omphalos/core/decimal"
	"omphalos/core/quiz"
)

// An Input is all that a passage depends on beside the quiz.
type Input struct {
	Answers Answers
	Visitor *Visitor
	Contact map[string]string // what was typed into contact fields, by key
	// Place says what a place of a table is called, "" for unknown. It serves words alone;
	// nil knows none.
	Place func(table, key string) string
	// Stop ends the walk at the first question that is Absent; otherwise such
	// questions count as skipped.
	Stop bool
}

// End says how a passage ended.
type End string

// The ends.
const (
	Unfinished End = "unfinished" // there is a question to ask
	Decided    End = "decided"    // the decision named the outcome
	Named      End = "named"      // a then named the outcome
	Parted     End = "parted"     // a then named the outcome, and nothing is kept
)

// Otherwise is Result.Step where no step named an outcome.
const Otherwise = -1

// A Result is where a passage has come to. Its slices belong to the Walker and
// are good until its next Walk.
type Result struct {
	End     End
	Next    int               // position of the question to ask, when unfinished
	Seen    []int             // positions of the questions on the passage, in order
	Missing []int             // of them, the required ones without a full answer
	Scores  []decimal.Decimal // by scale; so far, when unfinished
	Step    int               // position of the deciding step or Otherwise, when Decided
	Outcome int               // position
	Landing int               // position among the outcome's landings
	Contact bool              // the contact section applies
	Beyond  bool              // a score is beyond the range of decimals, and stands at its end
}

// A Walker walks passages of one program, reusing its memory. It serves one
// goroutine at a time.
type Walker struct {
	course walk
	result Result
}

// Walker returns a new Walker.
func (p *Program) Walker() *Walker {
	w := &Walker{course: *p.course()}
	w.result = Result{Seen: make([]int, 0, len(p.questions)), Scores: make([]decimal.Decimal, len(p.scales))}
	return w
}

// Walk is Walker.Walk with a Walker of its own.
func (p *Program) Walk(in Input) *Result { return p.Walker().Walk(in) }

// Walk computes a passage. The Result is good until the next Walk.
func (w *Walker) Walk(in Input) *Result { return w.run(in, nil) }

func (w *Walker) run(in Input, t tracer) *Result {
	w.course.begin(in.Answers, in.Visitor, in.Contact, t)
	r := &w.result
	*r = Result{Seen: r.Seen[:0], Missing: r.Missing[:0], Scores: r.Scores}
	w.questions(in.Stop)
	w.finish()
	return r
}

// questions walks until the passage ends, or to the question to ask.
func (w *Walker) questions(stop bool) {
	r, c := &w.result, &w.course
	r.End = Decided
	// Most passages need no more of a choice than its sums, which can't overflow.
	quick := c.trace == nil && c.p.bounded && !c.p.averages && !c.p.leads
	for i := c.ahead(0, none); i < len(c.p.questions); {
		q, v := &c.p.questions[i], c.value(i)
		if stop && v.State == Absent {
			r.End, r.Next = Unfinished, i
			return
		}
		c.seen[i] = true
		if c.p.formulas { // as moved does, inline
			clear(c.fresh)
		}
		r.Seen = append(r.Seen, i)
		if q.required && !q.complete(v) {
			r.Missing = append(r.Missing, i)
		}
		if quick && q.form == ofOne {
			if v.State == Given {
				for _, a := range q.answers[v.Option].adds {
					c.sums[a.scale] += a.amount
				}
			}
		} else {
			if c.trace != nil {
				c.trace.asked(i, v)
			}
			c.weigh(q, v)
		}
		if !q.leads() {
			i = c.ahead(i+1, q.section)
			continue
		}
		to := c.leave(i, v)
		if to.end != Unfinished {
			r.End, c.outcome = to.end, to.outcome
			return
		}
		i = to.next
	}
}

// finish computes the scores and, at the end of the passage, the outcome and
// the landing.
func (w *Walker) finish() {
	r, c := &w.result, &w.course
	for i := range r.Scores {
		r.Scores[i] = c.score(i)
		c.beyond = c.beyond || r.Scores[i] == decimal.Max || r.Scores[i] == decimal.Min
		if c.trace != nil {
			c.trace.reached(i, r.Scores[i])
		}
	}
	r.Beyond = c.beyond
	if r.End == Unfinished {
		return
	}
	if r.End == Decided {
		r.Step = c.decide(r.Scores)
	}
	r.Outcome = c.outcome
	r.Landing = c.land()
	r.Contact = c.p.quiz.Contact != nil && r.End != Parted && c.p.contactWhen.holds(c)
}

// A walk is the state of one passage.
type walk struct {
	p       *Program
	answers Answers
	visitor *Visitor
	contact map[string]string
	trace   tracer                        // nil but for explanations
	watch   func(c *condition, held bool) // nil but for walks of all passages

	seen        []bool
	sums        []decimal.Decimal
	counts      []int64 // questions and rows answered, for means
	lows, highs []decimal.Decimal
	fed         []bool // something other than 0 was added
	outcome     int

	scored   bool     // a condition has asked for a score
	deciding int      // position of the step that is looked at
	part     int      // of it: the row, the band or the contender that named the outcome
	ties     []uint16 // positions of the steps whose contenders were tied

	values []decimal.Decimal // of formulas, worked out once wherever the passage stands
	fresh  []bool            // which of them are
	beyond bool              // a sum has left the range
}

// course returns the state of a passage before it begins.
func (p *Program) course() *walk {
	n := len(p.scales)
	return &walk{
		p:       p,
		seen:    make([]bool, len(p.questions)),
		sums:    make([]decimal.Decimal, n),
		counts:  make([]int64, n),
		lows:    make([]decimal.Decimal, n),
		highs:   make([]decimal.Decimal, n),
		fed:     make([]bool, n),
		values:  make([]decimal.Decimal, n),
		fresh:   make([]bool, n),
		outcome: none,
	}
}

// begin puts the passage of other answers at its beginning.
func (w *walk) begin(answers Answers, v *Visitor, contact map[string]string, t tracer) {
	w.answers, w.visitor, w.contact, w.trace, w.outcome, w.beyond = answers, v, contact, t, none, false
	w.ties = w.ties[:0]
	clear(w.seen)
	clear(w.sums)
	clear(w.fed)
	if w.p.averages {
		clear(w.counts)
		clear(w.lows)
		clear(w.highs)
	}
}

// moved forgets the values of formulas: the passage stands elsewhere.
func (w *walk) moved() {
	if w.p.formulas {
		clear(w.fresh)
	}
}

// given returns the value of a question that is answered on the passage so far.
func (w *walk) given(question int) *Value {
	if !w.seen[question] || question >= len(w.answers) || w.answers[question].State != Given {
		return nil
	}
	return &w.answers[question]
}

// value returns what is known of a question's answer.
func (w *walk) value(i int) *Value {
	if i < len(w.answers) {
		return &w.answers[i]
	}
	return &absent
}

var absent Value

// ahead returns the first question from i on that shows, the number of questions where
// none does. Inside is the section that the passage stands in, or none: a section's
// condition is asked once, on entering it.
func (w *walk) ahead(i, inside int) int {
	for i < len(w.p.questions) {
		q := &w.p.questions[i]
		if q.section != inside {
			inside = q.section
			if when := w.p.sections[inside].when; when != nil && !w.asks(when) {
				if w.trace != nil {
					w.trace.passedSection(inside)
				}
				i = w.p.sectionEnd(inside)
				continue
			}
		}
		if q.when == nil || w.asks(q.when) {
			return i
		}
		if w.trace != nil {
			w.trace.passedQuestion(i)
		}
		i++
	}
	return i
}

// A turn is where a passage goes on from a question.
type turn struct {
	next    int // the question that it comes to, or the number of questions
	end     End // Unfinished where it goes on
	outcome int // that a then named, or none
	rule    int // the then rule that led on, or none
}

// leave returns where a passage goes on from question i, whose answer has been weighed:
// by the then of the answer, else by the first rule that holds, else to the next in order.
func (w *walk) leave(i int, v *Value) turn {
	q, from := &w.p.questions[i], i+1
	t, rule := w.onward(q, v)
	to := turn{next: len(w.p.questions), end: Unfinished, outcome: none, rule: rule}
	if t != nil {
		if w.trace != nil {
			w.trace.then(t)
		}
		switch t.way {
		case quiz.Decide:
			to.end = Decided
			return to
		case quiz.ToOutcome:
			to.end, to.outcome = Named, t.outcome
			return to
		case quiz.PartWays:
			to.end, to.outcome = Parted, t.outcome
			return to
		}
		from = max(from, t.question)
	}
	if to.next = w.ahead(from, q.section); to.next == len(w.p.questions) {
		to.end = Decided
	}
	return to
}

// onward returns the then that applies and, where a rule says so, its position; nil for
// the next in order.
func (w *walk) onward(q *question, v *Value) (t *then, rule int) {
	if t := q.ownThen(v); t != nil {
		return t, none
	}
	for i := range q.then {
		if w.asks(q.then[i].when) {
			return &q.then[i].then, i
		}
	}
	return nil, none
}

// leads tells whether anything leads on from a question elsewhere than to the next.
func (q *question) leads() bool { return q.thens || q.then != nil }

// asks tells whether a condition holds where the passage stands, and lets it be watched.
func (w *walk) asks(c *condition) bool {
	if c == nil {
		return true
	}
	held := c.holds(w)
	if w.watch != nil {
		w.watch(c, held)
	}
	return held
}

// sectionEnd returns the position after the section's last question.
func (p *Program) sectionEnd(s int) int {
	if s+1 < len(p.sections) {
		return p.sections[s+1].start
	}
	return len(p.questions)
}

// weigh adds what the answer is worth.
func (w *walk) weigh(q *question, v *Value) {
	if w.p.averages {
		bare := q.required && !q.complete(v) // passed by all the same, in a table of answers
		for _, s := range q.spans {
			low, high := s.low, s.high
			if bare {
				low, high = s.bareLow, s.bareHigh
			}
			w.lows[s.scale] = w.lows[s.scale].Add(low)
			w.highs[s.scale] = w.highs[s.scale].Add(high)
			if v.State == Given && q.form != ofGrid {
				w.counts[s.scale]++
			}
		}
	}
	if v.State != Given {
		return
	}
	switch q.form {
	case ofOne:
		w.add(q.answers[v.Option].adds, "")
	case ofSome:
		w.addPicks(q, v.Picks)
	case ofGrid:
		for r, column := range v.Picks {
			if column < 0 {
				continue
			}
			for _, scale := range q.rows[r].feeds {
				w.counts[scale]++
			}
			w.add(q.rows[r].adds[column], q.rows[r].key)
		}
	case ofAmount:
		for i := range q.weighs {
			w.addTo(q.weighs[i].scale, q.weighs[i].weigh(v.Number), "")
		}
	}
}

func (w *walk) add(adds []addition, row string) {
	for _, a := range adds {
		w.addTo(a.scale, a.amount, row)
	}
}

func (w *walk) addTo(scale int, amount decimal.Decimal, row string) {
	sum := w.sums[scale].Add(amount)
	w.beyond = w.beyond || sum == decimal.Max || sum == decimal.Min
	w.sums[scale] = sum
	w.fed[scale] = w.fed[scale] || amount != 0
	if w.trace != nil {
		w.trace.added(scale, amount, row)
	}
}

func (w *walk) addPicks(q *question, picks []int16) {
	if len(q.caps) == 0 {
		for _, o := range picks {
			w.add(q.answers[o].adds, "")
		}
		return
	}
	for _, s := range q.spans {
		var sum decimal.Decimal
		for _, o := range picks {
			sum = sum.Add(amountOf(q.answers[o].adds, s.scale))
		}
		w.addTo(s.scale, q.capped(s.scale, sum), "")
	}
}

// ownThen returns the then of the chosen answer, of several the first that has one.
func (q *question) ownThen(v *Value) *then {
	if !q.thens || v.State != Given {
		return nil
	}
	if q.form == ofOne {
		return q.answers[v.Option].then
	}
	if q.form == ofSome {
		for _, o := range v.Picks {
			if t := q.answers[o].then; t != nil {
				return t
			}
		}
	}
	return nil
}

// score returns the scale's value so far.
func (w *walk) score(i int) decimal.Decimal {
	s := &w.p.scales[i]
	switch s.method {
	case quiz.Mean:
		if w.counts[i] == 0 {
			return s.start
		}
		return w.sums[i].Ratio(1, decimal.FromInt(w.counts[i]), s.decimals)
	case quiz.Percent:
		return w.sums[i].Sub(w.lows[i]).Ratio(100, w.highs[i].Sub(w.lows[i]), s.decimals)
	case quiz.Formula:
		if !w.fresh[i] {
			value, notes := s.formula.Eval(s.decimals, func(n int) decimal.Decimal { return w.operand(s.reads[n]) })
			if w.trace != nil {
				w.trace.formula(i, notes)
			}
			w.values[i], w.fresh[i] = w.withFees(s, value), true
		}
		return w.values[i]
	}
	return w.withFees(s, s.start.Add(w.sums[i]))
}

// operand returns what a formula reads: a scale's value, or the number that
// was answered, 0 without one.
func (w *walk) operand(o operand) decimal.Decimal {
	if o.question < 0 {
		return w.score(o.scale)
	}
	if v := w.given(o.question); v != nil {
		return v.Number
	}
	return 0
}

func (w *walk) withFees(s *scale, value decimal.Decimal) decimal.Decimal {
	total := value
	for i := range s.fees {
		total = total.Add(s.feeOn(i, value))
	}
	return total
}

// feeOn returns one fee on a subtotal, rounded to the scale's decimals.
func (s *scale) feeOn(i int, subtotal decimal.Decimal) decimal.Decimal {
	f := s.fees[i]
	return subtotal.Mul(f.percent).Ratio(1, 100*decimal.One, s.decimals).Add(f.fixed.Round(s.decimals))
}

// land returns the position of the first landing whose condition holds.
func (w *walk) land() int {
	landings := w.p.outcomes[w.outcome].landings
	for i := range landings {
		holds := w.asks(landings[i].when)
		if w.trace != nil {
			w.trace.landing(w.outcome, i, holds)
		}
		if holds {
			return i
		}
	}
	return len(landings) - 1
}
