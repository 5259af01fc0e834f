package quiz

import (
	"maps"
	"slices"

	"omphalos/core/decimal"
)

func (c *checker) question(parent Pointer, key string, q *Question) {
	p := parent.Join(key)
	c.key(p, key, true)
	if !q.Kind.known() {
		c.refuse("word", p+"/kind", "is-which-is-no-kind", clip(string(q.Kind)))
		return
	}
	if parent == "/questions" && c.q.Sections[q.Section] == nil {
		c.note("unknown", p+"/section", "the-question-is-in", clip(q.Section))
	}
	c.label(p+"/label", q.Label)
	c.fillins(p+"/help", q.Help, MaxText)
	c.fillins(p+"/reason", q.Reason, MaxText)
	c.picture(p+"/picture", q.Picture)
	word(c, p+"/layout", q.Layout, AnswerLayouts)
	c.answers(p, q)
	c.rows(p, q)
	c.limits(p, q)
	c.weighings(p, q)
	if (q.Kind == Location || q.Kind == Appointment) && q.Table == "" {
		c.note("table", p+"/table", "needs-its-table-choose")
	}
	if parent != "/questions" {
		return
	}
	here := c.position[key]
	c.condition(p+"/showWhen", q.ShowWhen, here, false)
	for _, k := range InOrder(q.Then) {
		c.key(p.Join("then", k), k, false)
		c.condition(p.Join("then", k, "when"), q.Then[k].When, here+1, false)
		c.then(p.Join("then", k), &q.Then[k].Then, here)
	}
}

// mostDays is how far from today a date may be bounded, in days.
const mostDays = 36525

func (c *checker) limits(p Pointer, q *Question) {
	l := q.Limits
	if l == nil {
		return
	}
	p += "/limits"
	if q.Kind.HasAnswers() || q.Kind == Interlude || q.Kind == Consent {
		c.refuse("limits", p, "a-question-of-the-kind", q.Kind)
		return
	}
	for name, b := range map[string]*Bound{"low": l.Low, "high": l.High} {
		if b == nil {
			continue
		}
		switch {
		case q.Kind == Date && !b.IsDay():
			c.refuse("limits", p.Join(name), "must-be-a-date")
		case q.Kind != Date && b.IsDay():
			c.refuse("limits", p.Join(name), "must-be-a-number")
		case !b.IsDay():
			c.amount(p.Join(name), b.Value())
		}
	}
	low, high := q.Bounds()
	if low != nil && high != nil && *low > *high {
		c.refuse("limits", p, "the-lowest-is-above", *low, *high)
	}
	for name, days := range map[string]*int{"soonest": l.Soonest, "latest": l.Latest} {
		switch {
		case days == nil:
		case q.Kind != Date:
			c.refuse("limits", p.Join(name), "only-a-date-is-bounded")
		case *days < -mostDays || *days > mostDays:
			c.refuse("limits", p.Join(name), "so-many-days-from", mostDays)
		}
	}
	if l.Soonest != nil && l.Latest != nil && *l.Soonest > *l.Latest {
		c.refuse("limits", p, "the-lowest-is-above", *l.Soonest, *l.Latest)
	}
	if l.Step != nil && *l.Step <= 0 {
		c.refuse("limits", p+"/step", "a-step-is-more")
	}
	if q.Kind == Rating || q.Kind == Stars {
		if *low%decimal.One != 0 || *high%decimal.One != 0 || *high-*low > 100*decimal.One {
			c.refuse("limits", p, "a-rating-goes-in")
		}
	}
	c.text(p+"/unit", l.Unit, MaxTitle)
	c.text(p+"/lowWords", l.LowWords, MaxTitle)
	c.text(p+"/highWords", l.HighWords, MaxTitle)
}

func (c *checker) weighings(p Pointer, q *Question) {
	for _, scale := range slices.Sorted(maps.Keys(q.Weigh)) {
		w, wp := q.Weigh[scale], p.Join("weigh", scale)
		if w == nil {
			continue
		}
		c.feeds(wp, scale)
		if !q.Kind.Numeric() && q.Kind != Date {
			c.refuse("weigh", wp, "a-question-of-the-kind-does", q.Kind)
			continue
		}
		low, high := q.Bounds()
		open := low == nil || high == nil
		if w.Reversed && open {
			c.note("limits", wp, "a-reversed-value-needs")
		}
		if s := c.q.Scales[scale]; s != nil && s.Method == Percent && w.Brackets == nil && open {
			c.note("limits", wp, "a-share-of-what")
		}
		if w.Factor != nil {
			c.amount(wp+"/factor", *w.Factor)
			if q.Kind == Date {
				c.refuse("weigh", wp+"/factor", "a-date-weighs-by")
			}
		}
		if (w.Factor == nil) == (w.Brackets == nil) {
			c.note("weigh", wp, "needs-a-factor-or")
		}
		c.brackets(wp+"/brackets", q.Kind == Date, w.Brackets)
	}
}

func (c *checker) brackets(p Pointer, days bool, brackets map[string]*Bracket) {
	starts := map[string]bool{}
	for _, k := range slices.Sorted(maps.Keys(brackets)) {
		b, bp := brackets[k], p.Join(k)
		if b == nil {
			continue
		}
		c.key(bp, k, false)
		c.amount(bp+"/adds", b.Adds)
		start := "open"
		if b.From != nil {
			start = b.From.String()
			switch {
			case days && !b.From.IsDay():
				c.refuse("bracket", bp+"/from", "a-bracket-starts-at")
			case !days && b.From.IsDay():
				c.refuse("bracket", bp+"/from", "a-bracket-starts-at-a")
			}
		}
		if starts[start] {
			c.refuse("bracket", bp, "two-brackets-start-at")
		}
		starts[start] = true
	}
}

// then checks where a passage goes on from the question at position here.
func (c *checker) then(p Pointer, t *Then, here int) {
	switch t.Go {
	case ToQuestion:
		to, known := c.position[t.To]
		if !known {
			c.note("unknown", p+"/to", "leads-to-the-question", clip(t.To))
		} else if to <= here {
			c.note("backwards", p+"/to", "leads-back-to-a", quoted(c.q.Questions[t.To].Label))
		}
	case ToSection:
		if c.q.Sections[t.To] == nil {
			c.note("unknown", p+"/to", "leads-to-the-section", clip(t.To))
		} else if c.sectionStart(t.To) <= here {
			c.note("backwards", p+"/to", "leads-back-to-the", t.To)
		}
	case ToOutcome, PartWays:
		c.named(p+"/to", t.To, "leads to")
	case Decide:
	default:
		c.oneOf(
			p+"/go",
			string(t.Go),
			string(ToQuestion),
			string(ToSection),
			string(Decide),
			string(ToOutcome),
			string(PartWays),
		)
	}
}

// sectionStart returns the position of the first question in the section or
// after it.
func (c *checker) sectionStart(key string) int {
	order := InOrder(c.q.Sections)
	rank := map[string]int{}
	for i, k := range order {
		rank[k] = i
	}
	for i, k := range c.questions {
		if rank[c.q.Questions[k].Section] >= rank[key] {
			return i
		}
	}
	return len(c.questions)
}

// named checks that an outcome that something names is there.
func (c *checker) named(p Pointer, outcome, how string) {
	switch {
	case outcome == "":
		c.note("outcome", p, "no-outcome-yet-choose", how)
	case c.q.Outcomes[outcome] == nil:
		c.note("unknown", p, "the-outcome-which-does", how, clip(outcome))
	}
}
