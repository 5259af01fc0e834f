package passage

import (
	"encoding/binary"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
)

// An Explorer walks all passages of a program at once for package odds: it
// tells what can be answered to a question, merged where nothing later can
// tell two answers apart, and where each answer leads from a state. It serves
// one goroutine at a time.
type Explorer struct {
	p       *Program
	w       walk
	ends    bool                  // outcomes and landings are wanted
	track   []bool                // scales whose distribution is wanted
	live    [][]bool              // per question: scales that are still asked for when it is answered
	asked   []int                 // per question: the last question whose step asks for its answer, −1 for none
	slots   []int                 // per question: its place in a Stand, −1 if nothing later asks for its answer
	effects [][]Effect            // per question
	classes [][]Value             // per question: one Value per class of answers that later steps tell apart
	signed  []map[string]int      // per question: the class of each signature
	refs    []map[*condition]bool // per question: the clauses that ask for its answer; nil if what it added is asked for
	kept    []int                 // the questions that have a slot
	class   []int                 // per question on the walk: the class of its answer
	buffer  Stand
}

// A Stand is where passages stand that nothing later can tell apart, before
// they answer a question: the scales and the classes of answers that are still
// asked for, in an order of the Explorer's. Equal Stands are the same.
type Stand []int64

// Finish is how the passages of a state end.
type Finish struct {
	End     End
	Outcome int
	Landing int
	Step    int
	Scores  []decimal.Decimal
}

// Explore returns an Explorer of the program for a visitor, to find out the
// ends of passages.
func (p *Program) Explore(visitor *Visitor) *Explorer { return p.explore(visitor, none) }

// ExploreScale returns an Explorer that keeps one scale to the end, and the
// others only while the path asks for them. Of a Finish then only how it ended
// and that scale's score are true.
func (p *Program) ExploreScale(visitor *Visitor, scale int) *Explorer {
	return p.explore(visitor, scale)
}

func (p *Program) explore(visitor *Visitor, scale int) *Explorer {
	e := &Explorer{p: p, track: make([]bool, len(p.scales)), ends: scale == none}
	if !e.ends {
		e.track[scale] = true
	}
	n := len(p.scales)
	e.w = walk{p: p, visitor: visitor, answers: make(Answers, len(p.questions)), seen: make([]bool, len(p.questions)),
		sums: make([]decimal.Decimal, n), counts: make([]int64, n), lows: make([]decimal.Decimal, n), highs: make([]decimal.Decimal, n), fed: make([]bool, n), outcome: none}
	e.liveness()
	for i := range p.questions {
		e.answer(i)
	}
	return e
}

// Keeps tells whether the scale's score is true at the end.
func (e *Explorer) Keeps(scale int) bool { return e.live[len(e.p.questions)][scale] }

// uses gathers what a condition asks for.
func (e *Explorer) uses(c *condition, question func(*condition), scale func(int)) {
	if c == nil {
		return
	}
	for _, part := range c.parts {
		e.uses(part, question, scale)
	}
	if c.group != "" {
		return
	}
	switch c.subject {
	case ofOption, ofPicks, ofNumber, ofText:
		question(c)
	case ofScale:
		scale(c.scale)
	}
}

// liveness finds, for each question, the scales that are asked for after it and
// the last place that asks for its answer.
func (e *Explorer) liveness() {
	p, end := e.p, len(e.p.questions)
	last := make([]int, len(p.scales)) // last place that asks for a scale
	e.asked, e.refs = make([]int, end), make([]map[*condition]bool, end)
	for i := range last {
		last[i] = -1
		if e.track[i] {
			last[i] = end
		}
	}
	for i := range e.asked {
		e.asked[i], e.refs[i] = -1, map[*condition]bool{}
	}
	var scaleAt func(i, at int)
	questionAt := func(i, at int) { e.asked[i] = max(e.asked[i], at) }
	scaleAt = func(i, at int) {
		last[i] = max(last[i], at)
		for _, o := range p.scales[i].reads {
			if o.question >= 0 {
				questionAt(o.question, at)
			} else {
				scaleAt(o.scale, at)
			}
		}
	}
	note := func(c *condition, at int) {
		e.uses(c, func(c *condition) { questionAt(c.question, at); e.refs[c.question][c] = true }, func(i int) { scaleAt(i, at) })
	}
	for s := range p.sections {
		note(p.sections[s].when, p.sectionEnd(s))
	}
	for i := range p.questions {
		note(p.questions[i].when, i)
		for _, r := range p.questions[i].then {
			note(r.when, i)
		}
	}
	for i := range p.steps {
		if !e.ends {
			break
		}
		s := &p.steps[i]
		note(s.when, end)
		for _, r := range s.rules {
			for _, c := range r.cells {
				note(c, end)
			}
		}
		if s.kind == quiz.BandsStep {
			scaleAt(s.scale, end)
		}
		for _, c := range s.contenders {
			scaleAt(c.scale, end)
		}
		if s.kind == quiz.LeaderStep && s.ties == quiz.TieQuestion {
			questionAt(s.tieBy, end)
			e.refs[s.tieBy][nil] = true // what it added, too
		}
	}
	for _, o := range p.outcomes {
		for _, l := range o.landings {
			if e.ends {
				note(l.when, end)
			}
		}
	}
	for i := range last {
		if last[i] >= 0 {
			scaleAt(i, last[i]) // a tracked formula needs what it reads
		}
	}
	e.slots = make([]int, end)
	size := len(p.scales)
	if p.averages {
		size *= 4
	}
	if p.leads {
		size += len(p.scales)
	}
	for i := range e.slots {
		e.slots[i] = none
		if e.asked[i] > i {
			e.slots[i] = size
			e.kept = append(e.kept, i)
			size++
		}
	}
	e.class = make([]int, end)
	e.buffer = make(Stand, size)
	e.live = make([][]bool, end+1)
	for q := range e.live {
		e.live[q] = make([]bool, len(p.scales))
		for i := range last {
			e.live[q][i] = last[i] >= q
		}
	}
}

// Start returns the first question that is asked and the Stand before it, or
// the end of every passage. A Stand is good until the next Step.
func (e *Explorer) Start() (question int, s Stand, f *Finish) {
	clear(e.buffer)
	e.load(e.buffer)
	return e.advance(0, -1)
}

// Step returns where the effect leads from a state before a question: to the
// next question, or to the end.
func (e *Explorer) Step(question int, s Stand, f *Effect) (next int, to Stand, end *Finish) {
	e.load(s)
	w, q := &e.w, &e.p.questions[question]
	w.seen[question], w.answers[question], e.class[question] = true, e.classes[question][f.class], f.class
	for i := range f.adds {
		w.sums[i] = w.sums[i].Add(f.adds[i])
		w.counts[i] += f.counts[i]
		w.fed[i] = w.fed[i] || f.fed[i]
	}
	if w.p.averages {
		for _, sp := range q.spans {
			w.lows[sp.scale], w.highs[sp.scale] = w.lows[sp.scale].Add(sp.low), w.highs[sp.scale].Add(sp.high)
		}
	}
	t := w.onward(q, &w.answers[question])
	if t == nil {
		return e.advance(question+1, q.section)
	}
	switch t.way {
	case quiz.Decide:
		return 0, nil, e.end(Decided, none)
	case quiz.ToOutcome:
		return 0, nil, e.end(Named, t.outcome)
	case quiz.PartWays:
		return 0, nil, e.end(Parted, t.outcome)
	}
	return e.advance(max(question+1, t.question), q.section)
}

// load puts a Stand into the walk.
func (e *Explorer) load(s Stand) {
	w, n := &e.w, len(e.p.scales)
	for i := range n {
		w.sums[i] = decimal.Decimal(s[i])
	}
	at := n
	if e.p.averages {
		for i := range n {
			w.lows[i], w.highs[i], w.counts[i] = decimal.Decimal(s[at+i]), decimal.Decimal(s[at+n+i]), s[at+2*n+i]
		}
		at += 3 * n
	}
	for i := range n {
		w.fed[i] = e.p.leads && s[at+i] != 0
	}
	clear(w.seen)
	for _, i := range e.kept {
		if c := s[e.slots[i]]; c > 0 {
			w.seen[i], w.answers[i], e.class[i] = true, e.classes[i][c-1], int(c-1)
		}
	}
	w.outcome = none
}

// advance goes on from place i to the next question that shows.
func (e *Explorer) advance(i, inside int) (int, Stand, *Finish) {
	w := &e.w
	for i < len(e.p.questions) {
		q := &e.p.questions[i]
		if q.section != inside {
			inside = q.section
			if when := e.p.sections[inside].when; when != nil && !when.holds(w) {
				i = e.p.sectionEnd(inside)
				continue
			}
		}
		if q.when == nil || q.when.holds(w) {
			return i, e.save(i), nil
		}
		i++
	}
	return 0, nil, e.end(Decided, none)
}

// save takes the Stand out of the walk and forgets what nothing asks for from
// question i on.
func (e *Explorer) save(i int) Stand {
	w, n, s := &e.w, len(e.p.scales), e.buffer
	clear(s)
	at := n
	if e.p.averages {
		at += 3 * n
	}
	for k := range n {
		if !e.live[i][k] {
			continue
		}
		s[k] = int64(w.sums[k])
		if m := e.p.scales[k].method; e.p.averages && (m == quiz.Mean || m == quiz.Percent) {
			s[n+k], s[2*n+k], s[3*n+k] = int64(w.lows[k]), int64(w.highs[k]), w.counts[k]
		}
		if e.p.leads && e.ends && w.fed[k] {
			s[at+k] = 1
		}
	}
	for _, k := range e.kept {
		if k < i && w.seen[k] && e.asked[k] >= i {
			s[e.slots[k]] = 1 + int64(e.class[k])
		}
	}
	return s
}

func (e *Explorer) end(how End, outcome int) *Finish {
	w := &e.w
	w.outcome = outcome
	f := &Finish{End: how, Scores: make([]decimal.Decimal, len(e.p.scales)), Step: Otherwise}
	for i := range f.Scores {
		f.Scores[i] = w.score(i)
	}
	if !e.ends {
		return f
	}
	if how == Decided {
		f.Step = w.decide(f.Scores)
	}
	f.Outcome, f.Landing = w.outcome, w.land()
	return f
}

// Key appends the Stand to b, as a map key.
func (s Stand) Key(b []byte) []byte {
	for _, n := range s {
		b = binary.LittleEndian.AppendUint64(b, uint64(n))
	}
	return b
}
