package quiz

import (
	"maps"
	"slices"

	"omphalos/core/decimal"
)

// after is the position after the last question: everything can be asked for.
const after = 1 << 30

func (c *checker) decision() {
	d := c.q.Decision
	for _, k := range InOrder(d.Steps) {
		s, p := d.Steps[k], At("decision", "steps", k)
		c.key(p, k, false)
		switch s.Kind {
		case RuleStep:
			c.condition(p+"/when", s.When, after, false)
			c.named(p+"/outcome", s.Outcome, "names")
		case TableStep:
			c.table(p, s)
		case BandsStep:
			c.bands(p, s)
		case LeaderStep:
			c.leader(p, s)
		default:
			c.oneOf(
				p+"/kind",
				string(s.Kind),
				string(RuleStep),
				string(TableStep),
				string(BandsStep),
				string(LeaderStep),
			)
		}
	}
	if d.Otherwise == "" {
		c.note("otherwise", "/decision/otherwise", "say-which-outcome-it")
	} else {
		c.named("/decision/otherwise", d.Otherwise, "names")
	}
}

func (c *checker) table(p Pointer, s *Step) {
	c.many(p+"/columns", len(s.Columns), "a table")
	c.many(p+"/rules", len(s.Rules), "a table")
	for _, k := range InOrder(s.Columns) {
		c.key(p.Join("columns", k), k, false)
		c.subject(p.Join("columns", k), s.Columns[k].Subject, after, false)
	}
	for _, k := range InOrder(s.Rules) {
		r, rp := s.Rules[k], p.Join("rules", k)
		c.key(rp, k, false)
		for _, column := range slices.Sorted(maps.Keys(r.Cells)) {
			if col := s.Columns[column]; col == nil {
				c.note("unknown", rp.Join("cells", column), "the-table-has-no", clip(column))
			} else if r.Cells[column] != nil {
				c.test(rp.Join("cells", column), col.Subject, *r.Cells[column])
			}
		}
		c.named(rp+"/outcome", r.Outcome, "names")
	}
}

func (c *checker) bands(p Pointer, s *Step) {
	c.many(p+"/cuts", len(s.Cuts), "a step")
	if c.q.Scales[s.Scale] == nil {
		c.note("unknown", p+"/scale", "measures-the-scale-which", clip(s.Scale))
	}
	if s.Lowest != "" {
		c.named(p+"/lowest", s.Lowest, "names")
	}
	seen := map[decimal.Decimal]bool{}
	for _, k := range s.CutKeys() {
		cut, cp := s.Cuts[k], p.Join("cuts", k)
		c.key(cp, k, false)
		c.amount(cp+"/at", cut.At)
		if seen[cut.At] {
			c.refuse("cut", cp+"/at", "two-cuts-at-leave", cut.At)
		}
		seen[cut.At] = true
		if cut.Outcome != "" {
			c.named(cp+"/outcome", cut.Outcome, "names")
		}
	}
}

func (c *checker) leader(p Pointer, s *Step) {
	if len(s.Contenders) < 2 {
		c.note("leader", p+"/contenders", "a-leader-needs-at")
	}
	for _, k := range InOrder(s.Contenders) {
		cp := p.Join("contenders", k)
		scale, outcome := c.q.Scales[k], s.Contenders[k].Outcome
		if scale == nil {
			c.note("unknown", cp, "measures-the-scale-which", clip(k))
			continue
		}
		if outcome == "" {
			outcome = scale.Outcome
		}
		c.named(cp+"/outcome", outcome, "stands for")
	}
	for name, d := range map[string]*decimal.Decimal{"lead": s.Lead, "least": s.Least} {
		if d != nil {
			c.amount(p.Join(name), *d)
		}
	}
	if s.Lead != nil && *s.Lead < 0 {
		c.refuse("lead", p+"/lead", "the-least-lead-is")
	}
	if t := s.Ties; t != nil {
		switch t.By {
		case TieQuestion:
			if c.q.Questions[t.Question] == nil {
				c.note("unknown", p+"/ties/question", "asks-the-question-which", clip(t.Question))
			}
		case TieOutcome:
			c.named(p+"/ties/outcome", t.Outcome, "names")
		default:
			c.oneOf(
				p+"/ties/by",
				string(t.By),
				string(TieOrder),
				string(TieQuestion),
				string(TieOutcome),
				string(TieNext),
			)
		}
	}
}

func (c *checker) contact() {
	contact := c.q.Contact
	if contact == nil {
		return
	}
	c.oneOf("/contact/place", string(contact.Place), string(BeforeResult), string(AfterResult))
	c.condition("/contact/when", contact.When, after, true)
	c.fillins("/contact/heading", contact.Heading, MaxLabel)
	c.fillins("/contact/text", contact.Text, MaxText)
	c.text("/contact/button", contact.Button, MaxTitle)
	if contact.Privacy != "" {
		c.address("/contact/privacy", contact.Privacy)
	}
	for _, k := range InOrder(contact.Fields) {
		f := contact.Fields[k]
		if !f.Kind.Contact() {
			c.refuse(
				"word",
				At("contact", "fields", k, "kind"),
				"is-and-must-be-name",
				clip(string(f.Kind)),
			)
			continue
		}
		if c.q.Questions[k] != nil {
			c.refuse("key", At("contact", "fields", k), "the-key-is-a", k)
		}
		c.question("/contact/fields", k, f)
	}
}
