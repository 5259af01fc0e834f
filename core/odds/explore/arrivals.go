package explore

import (
	"slices"

	"omphalos/core/program"
)

// shown returns the conditions of what a landing shows: its blocks and products.
func (e *Explorer) shown(l *program.Landing) (list []*program.Condition) {
	if e.purpose != forArrivals {
		return nil
	}
	for _, blocks := range [][]program.Block{l.Blocks, l.Named, l.Tags} {
		for _, b := range blocks {
			if b.When != nil {
				list = append(list, b.When)
			}
		}
	}
	return list
}

// afterwards returns the conditions that are asked of those who have landed and are kept:
// of contact and of what goes out.
func (e *Explorer) afterwards() (list []*program.Condition) {
	if e.purpose != forArrivals {
		return nil
	}
	if e.p.ContactWhen != nil {
		list = append(list, e.p.ContactWhen)
	}
	for _, f := range e.p.FollowUps {
		if e.tells(f.When) {
			list = append(list, f.When)
		}
	}
	return list
}

// tells tells whether passages that differ in what a condition asks for are told apart:
// those of what goes out tell no numbers and words apart.
func (e *Explorer) tells(c *program.Condition) bool {
	return c != nil && c.Subject != program.OfNumber && c.Subject != program.OfText &&
		!slices.ContainsFunc(c.Parts, func(part *program.Condition) bool { return !e.tells(part) })
}

// arrived asks what is asked of those who have landed, each part by itself.
func (e *Explorer) arrived(outcome, landing int, end program.End) {
	landings := e.p.Outcomes[outcome].Landings
	for i := range landings[:landing+1] {
		e.probe(landings[i].When)
	}
	for _, c := range e.shown(&landings[landing]) {
		e.probe(c)
	}
	if end == program.Parted {
		return // nothing is kept
	}
	for _, c := range e.afterwards() {
		e.probe(c)
	}
}

func (e *Explorer) probe(c *program.Condition) {
	if c == nil {
		return
	}
	v := e.arrivals[c]
	e.arrivals[c] = v.with(c.Holds(&e.w))
	for _, part := range c.Parts {
		e.probe(part)
	}
}

// Arrived calls f with what came of each condition, and each part of one, that is asked of
// those who have landed: of landings, of what they show, of contact, of what goes out.
func (e *Explorer) Arrived(f func(c *program.Condition, v Verdict)) {
	for c, v := range e.arrivals {
		f(c, v)
	}
}
