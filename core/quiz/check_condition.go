package quiz

import (
	"slices"
	"strconv"
)

const deepest = 20

// condition checks a condition that is asked before the question at position
// here; outcomes tells whether it may ask for the outcome.
func (c *checker) condition(p Pointer, cond *Condition, here int, outcomes bool) {
	if cond != nil {
		c.part(p, cond, here, outcomes, 0)
	}
}

func (c *checker) part(p Pointer, cond *Condition, here int, outcomes bool, depth int) {
	if depth > deepest {
		c.refuse("condition", p, "conditions-are-nested-at", deepest)
		return
	}
	groups := 0
	for _, g := range [][]*Condition{cond.All, cond.Any, cond.None, cond.One} {
		if g != nil {
			groups++
		}
	}
	clause := cond.Subject != (Subject{}) || cond.Test != (Test{})
	switch {
	case groups > 1 || (groups == 1 && clause):
		c.refuse("condition", p, "is-all-any-none")
	case groups == 0:
		c.subject(p, cond.Subject, here, outcomes)
		c.test(p, cond.Subject, cond.Test)
	default:
		how, parts := cond.Group()
		if len(parts) == 0 {
			c.note("condition", p.Join(how), "has-nothing-in-it")
		}
		for i, inner := range parts {
			if inner == nil {
				c.refuse("condition", p.Join(how), "holds-null")
				continue
			}
			c.part(p.Join(how).Join(strconv.Itoa(i)), inner, here, outcomes, depth+1)
		}
	}
}

func (c *checker) subject(p Pointer, s Subject, here int, outcomes bool) {
	named := 0
	for _, set := range []bool{s.Answer != "", s.Scale != "", s.Visitor != "", s.Outcome, s.Standing} {
		if set {
			named++
		}
	}
	switch {
	case named != 1:
		c.refuse("condition", p, "asks-for-one-of")
	case s.Answer != "":
		c.asked(p+"/answer", s, here, outcomes)
	case s.Scale != "":
		if c.q.Scales[s.Scale] == nil {
			c.note("unknown", p+"/scale", "asks-for-the-scale", clip(s.Scale))
		}
	case s.Visitor != "":
		if !knownFact(s.Visitor) {
			c.refuse(
				"condition",
				p+"/visitor",
				"is-no-fact-of",
				clip(s.Visitor),
				Facts,
			)
		}
	case !outcomes:
		c.refuse("condition", p+"/outcome", "the-outcome-is-not")
	}
}

func (c *checker) asked(p Pointer, s Subject, here int, outcomes bool) {
	q := c.q.Ask(s.Answer)
	if q == nil {
		c.note("unknown", p, "asks-for-the-question", clip(s.Answer))
		return
	}
	position, isQuestion := c.position[s.Answer]
	if isQuestion && position >= here {
		c.note("early", p, "asks-for-which-is", quoted(q.Label))
	}
	if !isQuestion && !outcomes {
		c.note("early", p, "asks-for-which-is-part", quoted(q.Label))
	}
	if (q.Kind == Grid) != (s.Row != "") {
		c.note("row", p, "a-grid-is-asked")
	} else if s.Row != "" && q.Rows[s.Row] == nil {
		c.note("unknown", p, "the-grid-has-no", clip(s.Row))
	}
}

// test checks that the operator fits the subject and the value the operator.
func (c *checker) test(p Pointer, s Subject, t Test) {
	if !slices.Contains(Ops, t.Op) {
		c.refuse("word", p+"/op", "is-which-is-no", clip(string(t.Op)))
		return
	}
	if t.Op == IsAnswered || t.Op == IsSkipped {
		if t.Value != nil {
			c.refuse("condition", p+"/value", "compares-with-nothing", t.Op)
		}
		return
	}
	if t.Value == nil || (len(t.Value.Items) == 0 && !t.Value.List) {
		c.note("condition", p, "has-nothing-to-compare")
		return
	}
	items := t.Value.Items
	switch t.Op {
	case Between:
		if len(items) != 2 {
			c.refuse("condition", p+"/value", "between-needs-two-ends")
			return
		}
	case IsOneOf, Includes:
	default:
		q := c.q.Ask(s.Answer)
		set := q != nil && q.Kind == Several && (t.Op == Is || t.Op == IsNot)
		if len(items) != 1 && !set {
			c.refuse("condition", p+"/value", "compares-with-one-value", t.Op)
			return
		}
	}
	c.fitting(p, s, t)
}

func ordered(op Op) bool {
	return op == AtLeast || op == AtMost || op == MoreThan || op == LessThan || op == Between
}

func (c *checker) fitting(p Pointer, s Subject, t Test) {
	q := c.q.Ask(s.Answer)
	switch {
	case q != nil && q.Kind.HasAnswers():
		if ordered(t.Op) || t.Op == Contains {
			c.note("condition", p+"/op", "does-not-fit-answers", t.Op)
			return
		}
		for _, item := range t.Value.Items {
			if q.Answers[item.String()] == nil {
				c.note("unknown", p+"/value", "has-no-answer", quoted(q.Label), clip(item.String()))
			}
		}
	case s.Scale != "" || (q != nil && q.Kind.Numeric()):
		for _, item := range t.Value.Items {
			if item.IsText {
				c.refuse("condition", p+"/value", "is-not-a-number", clip(item.Text))
			}
		}
		if t.Op == Contains || t.Op == Includes {
			c.note("condition", p+"/op", "does-not-fit-numbers", t.Op)
		}
	case q != nil && q.Kind == Date, s.Visitor == "date":
		for _, item := range t.Value.Items {
			if _, err := ParseDay(item.String()); err != nil {
				c.refuse("condition", p+"/value", "told", err)
			}
		}
	case s.Standing:
		for _, item := range t.Value.Items {
			c.oneOf(p+"/value", item.String(), "", string(Fit), string(KeepWarm), string(NotAFit))
		}
	case s.Outcome:
		for _, item := range t.Value.Items {
			c.named(p+"/value", item.String(), "asks for")
		}
	}
}
