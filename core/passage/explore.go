package passage

import (
	"encoding/binary"
	"math"
	"math/big"
	"slices"
	"strconv"

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
	refs    []map[*condition]bool // per question: the clauses that ask for its answer; nil if what it added is asked for
	kept    []int                 // the questions that have a slot
	class   []int                 // per question on the walk: the class of its answer
	buffer  Stand
}

// An Effect is what one or several answers to a question do.
type Effect struct {
	Share   float64   // of those who see the question, all answers being as likely
	Ways    *big.Int  // how many different answers have this effect
	Chosen  []float64 // per answer: the part of Share that chooses it
	Skipped bool
	adds    []decimal.Decimal // by scale
	counts  []int64
	fed     []bool
	class   int
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

// MostPieces bounds how many different answers to one question are told apart.
const MostPieces = 1 << 14

// Explorable tells whether no question has more different answers than
// MostPieces.
func (p *Program) Explorable() bool {
	for i := range p.questions {
		q, pieces := &p.questions[i], 1.0
		switch q.form {
		case ofSome:
			pieces = math.Pow(2, float64(len(q.answers)))
		case ofGrid:
			pieces = math.Pow(float64(len(q.answers)), float64(len(q.rows)))
		}
		if pieces > MostPieces {
			return false
		}
	}
	return true
}

// answer works out the effects of the answers to question i.
func (e *Explorer) answer(i int) {
	q := &e.p.questions[i]
	e.classes = append(e.classes, nil)
	e.effects = append(e.effects, nil)
	options, shares := e.values(i), e.Shares(i)
	for k, v := range options {
		f := Effect{Share: shares[k], Ways: big.NewInt(1), Chosen: make([]float64, len(q.answers)), Skipped: v.State != Given}
		switch {
		case v.State != Given:
		case q.form == ofOne:
			f.Chosen[v.Option] = shares[k]
		case q.form == ofSome:
			for _, o := range v.Picks {
				f.Chosen[o] = shares[k]
			}
		}
		e.effects[i] = append(e.effects[i], e.measure(i, v, f))
	}
	e.effects[i] = e.merge(e.effects[i])
}

// Values returns every different answer to question i that counts: all choices
// and picks, all rows of a grid, numbers and dates at the points that something
// asks for and between, texts answered or not; and passing by where it is allowed.
func (e *Explorer) Values(i int) []Value { return e.values(i) }

// Shares returns how likely each of Values is when all are alike; passing a grid
// by is as likely as one of the columns of a row.
func (e *Explorer) Shares(i int) []float64 {
	q, values := &e.p.questions[i], e.values(i)
	shares := make([]float64, len(values))
	skip := 1 / float64(len(q.answers)+1)
	for k, v := range values {
		shares[k] = 1 / float64(len(values))
		if q.form == ofGrid && !q.required {
			shares[k] = skip
			if v.State == Given {
				shares[k] = (1 - skip) / float64(len(values)-1)
			}
		}
	}
	return shares
}

// Effects returns what the answers to question i do, merged.
func (e *Explorer) Effects(i int) []Effect { return e.effects[i] }

func (e *Explorer) values(i int) []Value {
	q := &e.p.questions[i]
	var list []Value
	switch {
	case q.form == ofOne:
		for o := range q.answers {
			list = append(list, Value{State: Given, Option: int16(o)})
		}
	case q.form == ofSome:
		list = picks(len(q.answers), q.minPicks, q.maxPicks)
	case q.form == ofGrid:
		list = cells(len(q.rows), len(q.answers))
	case q.kind == quiz.Rating || q.kind == quiz.Stars:
		for n := *q.low; n <= *q.high; n += decimal.One {
			list = append(list, Value{State: Given, Number: n})
		}
	case q.form == ofAmount:
		for _, n := range e.points(i) {
			list = append(list, Value{State: Given, Number: n})
		}
	case q.kind == quiz.Statement:
		return []Value{{State: Skipped}}
	default:
		list = []Value{{State: Given, Text: "…"}}
	}
	if !q.required && !(q.form == ofSome && q.minPicks == 0) || len(list) == 0 {
		list = append(list, Value{State: Skipped})
	}
	return list
}

// picks lists the sets of answers within the limits; the empty one is Skipped.
func picks(n, least, most int) []Value {
	var list []Value
	for set := range 1 << n {
		v := Value{State: Given}
		for o := range n {
			if set>>o&1 == 1 {
				v.Picks = append(v.Picks, int16(o))
			}
		}
		if len(v.Picks) == 0 {
			v.State = Skipped
		}
		if len(v.Picks) >= least && len(v.Picks) <= most {
			list = append(list, v)
		}
	}
	return list
}

// cells lists the full answers to a grid.
func cells(rows, columns int) []Value {
	list := []Value{{State: Given}}
	for range rows {
		var longer []Value
		for _, v := range list {
			for c := range columns {
				longer = append(longer, Value{State: Given, Picks: append(slices.Clone(v.Picks), int16(c))})
			}
		}
		list = longer
	}
	return list
}

// points returns numbers at and between all that something compares the answer with.
func (e *Explorer) points(i int) []decimal.Decimal {
	q := &e.p.questions[i]
	var at []decimal.Decimal
	for c := range e.refs[i] {
		if c != nil {
			at = append(at, c.numbers...)
		}
	}
	for _, w := range q.weighs {
		for _, b := range w.brackets {
			if b.from != decimal.Min {
				from := b.from
				if w.turns {
					from = w.reversed.Sub(from)
				}
				at = append(at, from)
			}
		}
	}
	for _, limit := range []*decimal.Decimal{q.low, q.high} {
		if limit != nil {
			at = append(at, *limit)
		}
	}
	slices.Sort(at)
	at = slices.Compact(at)
	if len(at) == 0 {
		at = []decimal.Decimal{0}
	}
	step := max(q.step, 0)
	if step == 0 {
		step = decimal.One
	}
	all := []decimal.Decimal{at[0].Sub(step)}
	for k, n := range at {
		all = append(all, n)
		if k+1 < len(at) {
			if between := n + (at[k+1]-n)/2; between > n && (q.kind != quiz.Date || between%decimal.One == 0 || at[k+1]-n >= 2*decimal.One) {
				if q.kind == quiz.Date {
					between = between.Round(0)
				}
				all = append(all, between)
			}
		}
	}
	all = append(all, at[len(at)-1].Add(step))
	return slices.DeleteFunc(slices.Compact(all), func(n decimal.Decimal) bool { low, high := q.outside(n); return low || high })
}

// measure works out what a value adds, and its class: what later steps can tell of it.
func (e *Explorer) measure(i int, v Value, eff Effect) Effect {
	q, w := &e.p.questions[i], &e.w
	clear(w.sums)
	clear(w.counts)
	clear(w.fed)
	w.weigh(q, &v)
	eff.adds, eff.counts, eff.fed = slices.Clone(w.sums), slices.Clone(w.counts), slices.Clone(w.fed)
	eff.class = e.classOf(i, v)
	return eff
}

// classOf returns the class of a value: values of which every condition that
// asks says the same, and whose thens and numbers are the same, are one class.
func (e *Explorer) classOf(i int, v Value) int {
	same := func(other Value) bool { return e.signature(i, v) == e.signature(i, other) }
	if k := slices.IndexFunc(e.classes[i], same); k >= 0 {
		return k
	}
	e.classes[i] = append(e.classes[i], v)
	return len(e.classes[i]) - 1
}

func (e *Explorer) signature(i int, v Value) string {
	w := &e.w
	w.answers[i], w.seen[i] = v, true
	defer func() { w.answers[i], w.seen[i] = Value{}, false }()
	sig := strconv.Itoa(int(v.State))
	keep := e.refs[i][nil]
	for _, c := range e.ordered(i) {
		sig += strconv.FormatBool(c.clauseHolds(w))
	}
	for _, s := range e.p.scales {
		for _, o := range s.reads {
			keep = keep || o.question == i
		}
	}
	if t := e.p.questions[i].ownThen(&v); t != nil {
		sig += string(t.way) + strconv.Itoa(t.question) + "," + strconv.Itoa(t.outcome)
	}
	if keep {
		sig += v.Number.String() + strconv.Itoa(int(v.Option))
		for _, p := range v.Picks {
			sig += "," + strconv.Itoa(int(p))
		}
	}
	return sig
}

// ordered returns the clauses that ask for question i, in a stable order.
func (e *Explorer) ordered(i int) []*condition {
	var list []*condition
	for c := range e.refs[i] {
		if c != nil {
			list = append(list, c)
		}
	}
	slices.SortFunc(list, func(a, b *condition) int {
		return slices.Compare([]string{string(a.op), a.key()}, []string{string(b.op), b.key()})
	})
	return list
}

func (c *condition) key() string {
	key := strconv.Itoa(c.row)
	for _, w := range c.words {
		key += "\x00" + w
	}
	return key
}

// merge puts effects together that do the same.
func (e *Explorer) merge(list []Effect) []Effect {
	at := map[string]int{}
	var merged []Effect
	for _, f := range list {
		key := strconv.Itoa(f.class)
		for s := range f.adds {
			key += "," + strconv.FormatInt(int64(f.adds[s]), 36) + ":" + strconv.FormatInt(f.counts[s], 36) + strconv.FormatBool(f.fed[s])
		}
		key += strconv.FormatBool(f.Skipped)
		k, found := at[key]
		if !found {
			at[key] = len(merged)
			merged = append(merged, f)
			continue
		}
		merged[k].Share += f.Share
		merged[k].Ways = new(big.Int).Add(merged[k].Ways, f.Ways)
		for a := range f.Chosen {
			merged[k].Chosen[a] += f.Chosen[a]
		}
	}
	return merged
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
