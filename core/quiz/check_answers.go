package quiz

import (
	"maps"
	"slices"

	"omphalos/core/decimal"
)

func (c *checker) answers(p Pointer, q *Question) {
	if !q.Kind.HasAnswers() {
		if len(q.Answers) > 0 {
			c.refuse("answers", p+"/answers", "a-question-of-the", q.Kind)
		}
		return
	}
	c.many(p+"/answers", len(q.Answers), "a question")
	c.many(p+"/then", len(q.Then), "a question")
	if len(q.Answers) == 0 {
		c.note("answers", p+"/answers", "has-no-answers-yet")
	} else if q.Kind == YesNo && len(q.Answers) != 2 {
		c.note("answers", p+"/answers", "a-yes-no-question", len(q.Answers))
	}
	for _, k := range InOrder(q.Answers) {
		a, ap := q.Answers[k], p.Join("answers", k)
		c.key(ap, k, false)
		c.label(ap+"/label", a.Label)
		c.fillins(ap+"/note", a.Note, MaxLabel)
		c.picture(ap+"/picture", a.Picture)
		c.adds(ap+"/adds", a.Adds)
		if a.Then != nil {
			c.then(ap+"/then", a.Then, c.position[p.Key()])
		}
	}
	if q.Picks != nil {
		c.picks(p+"/picks", q)
	}
	for _, name := range slices.Sorted(maps.Keys(q.Expect)) {
		if q.Expect[name] < 0 || q.Expect[name] > 100*decimal.One {
			c.refuse("expect", p.Join("expect", name), "an-expectation-is-0")
		}
	}
	for _, scale := range slices.Sorted(maps.Keys(q.Cap)) {
		c.feeds(p.Join("cap", scale), scale)
		if q.Cap[scale] <= 0 {
			c.refuse("cap", p.Join("cap", scale), "a-cap-is-more")
		}
	}
}

func (c *checker) picks(p Pointer, q *Question) {
	n := len(q.Answers)
	switch most := q.Picks.Max; {
	case q.Kind != Several:
		c.refuse("picks", p, "only-a-question-of")
	case q.Picks.Min < 0 || most < 0:
		c.refuse("picks", p, "picks-are-0-or")
	case most > 0 && q.Picks.Min > most:
		c.refuse("picks", p, "at-least-and-at", q.Picks.Min, most)
	case q.Picks.Min > n:
		c.note("picks", p+"/min", "asks-for-of", Count(q.Picks.Min, "pick"), Count(n, "answer"))
	}
}

func (c *checker) adds(p Pointer, adds map[string]decimal.Decimal) {
	for _, scale := range slices.Sorted(maps.Keys(adds)) {
		c.feeds(p.Join(scale), scale)
		c.amount(p.Join(scale), adds[scale])
	}
}

// feeds checks that something may add to the scale.
func (c *checker) feeds(p Pointer, scale string) {
	s := c.q.Scales[scale]
	switch {
	case s == nil:
		c.note("unknown", p, "adds-to-the-scale", clip(scale))
	case s.Method == Formula:
		c.note("formula", p, "is-a-formula-and", s.Name)
	}
}

func (c *checker) rows(p Pointer, q *Question) {
	if q.Kind != Grid {
		if len(q.Rows) > 0 {
			c.refuse("rows", p+"/rows", "only-a-grid-has")
		}
		return
	}
	if len(q.Rows) == 0 {
		c.note("rows", p+"/rows", "the-grid-has-no-rows")
	}
	c.many(p+"/rows", len(q.Rows), "a grid")
	for _, k := range InOrder(q.Rows) {
		r, rp := q.Rows[k], p.Join("rows", k)
		c.key(rp, k, false)
		c.label(rp+"/label", r.Label)
		for _, column := range slices.Sorted(maps.Keys(r.Adds)) {
			if q.Answers[column] == nil {
				c.note("unknown", rp.Join("adds", column), "the-grid-has-no-column", clip(column))
			}
			c.adds(rp.Join("adds", column), r.Adds[column])
		}
		for _, scale := range r.Scales {
			c.feeds(rp+"/scales", scale)
		}
	}
}
