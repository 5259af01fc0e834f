package expect

import (
	"omphalos/core/program"
)

// An Observer counts what respondents answered, to tell odds by it. It serves one
// goroutine at a time.
type Observer struct {
	p     *program.Program
	seen  []float64
	given []map[string]float64
	// Passages is how many have been added.
	Passages int
}

// NewObserver returns an Observer of a program's passages.
func NewObserver(p *program.Program) *Observer {
	o := &Observer{p: p, seen: make([]float64, len(p.Questions)), given: make([]map[string]float64, len(p.Questions))}
	for i := range o.given {
		o.given[i] = map[string]float64{}
	}
	return o
}

// Add counts a passage: of the questions that it came to, what was answered.
func (o *Observer) Add(answers program.Answers, seen []int) {
	o.Passages++
	for _, i := range seen {
		o.seen[i]++
		for _, name := range o.p.NamesOf(i, answers[i]) {
			o.given[i][name]++
		}
	}
}

// AddShares counts n of whom only a question is known that they came to, and how those n
// answered it: shares from 0 to 1 by answer.
func (o *Observer) AddShares(question int, shares map[string]float64, n float64) {
	o.seen[question] += n
	for name, share := range shares {
		o.given[question][name] += n * share
	}
}

// Shares returns how often each answer was given, in percent of those who saw the
// question. Questions that nobody saw have no entry: nothing is known of them.
func (o *Observer) Shares() Shares {
	shares := Shares{}
	for i, n := range o.seen {
		if n == 0 {
			continue
		}
		percents := map[string]float64{}
		for _, name := range o.p.Names(i) {
			percents[name] = 0
		}
		for name, given := range o.given[i] {
			percents[name] = 100 * given / n
		}
		shares[o.p.Key(i)] = percents
	}
	return shares
}
