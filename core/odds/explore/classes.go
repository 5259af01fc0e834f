package explore

import (
	"slices"
	"strconv"

	"omphalos/core/program"
)

// measure works out what a piece's answer adds, and what later steps can tell of it.
func (e *Explorer) measure(i int, p *piece) {
	q, w := &e.p.Questions[i], &e.w
	clear(w.Sums)
	clear(w.Counts)
	clear(w.Fed)
	w.Weigh(q, &p.value)
	p.adds, p.fed, p.own = slices.Clone(w.Sums), 0, program.None
	if e.p.Averages {
		p.counts = slices.Clone(w.Counts)
	}
	for s, until := range e.until {
		if until < before(i) {
			p.adds[s] = 0
		}
		if slot := e.fedSlots[s]; slot != program.None && w.Fed[s] {
			p.fed |= 1 << slot
		}
	}
	if own := q.OwnThen(&p.value); own != nil {
		p.own = slices.IndexFunc(q.Answers, func(a program.Answer) bool { return a.Then == own })
	}
	p.class = e.classOf(i, p.value)
}

// classOf returns the class of a value: values of which every condition that
// asks says the same, and whose numbers and tied contenders are the same, are one.
func (e *Explorer) classOf(i int, v program.Value) int {
	sig := e.signature(i, v)
	if k, known := e.signed[i][sig]; known {
		return k
	}
	k := len(e.classes[i])
	e.signed[i][sig] = k
	e.classes[i] = append(e.classes[i], v)
	return k
}

func (e *Explorer) signature(i int, v program.Value) string {
	w := &e.w
	w.Answers[i], w.Seen[i] = v, true
	sig := []byte{byte(v.State)}
	if e.asked[i] < before(i) {
		sig = sig[:0]
	}
	for _, c := range e.clauses[i] {
		sig = strconv.AppendBool(sig, c.Holds(w))
	}
	if e.numbers[i] {
		sig = strconv.AppendInt(sig, int64(v.Number), 36)
	}
	for _, scale := range e.settles[i] {
		sig = strconv.AppendInt(append(sig, ','), int64(w.AddedBy(i, scale)), 36)
	}
	w.Answers[i], w.Seen[i] = program.Value{}, false
	return string(sig)
}
