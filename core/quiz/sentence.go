package quiz

import (
	"fmt"
	"strings"

	"omphalos/core/atlas"
)

// Sentence writes the condition out in English, with the quiz's own labels:
// `“Crop” is “Apples or pears” and Readiness is at least 8`.
func (q *Quiz) Sentence(c *Condition) string {
	if c == nil {
		return "always"
	}
	return q.clauses(c, false)
}

var joints = map[string][2]string{"all": {"", " and "}, "any": {"", " or "}, "none": {"neither ", " nor "}, "one": {"exactly one of ", ", "}}

func (q *Quiz) clauses(c *Condition, inside bool) string {
	how, parts := c.Group()
	if how == "" {
		return q.subject(c.Subject) + " " + q.test(c.Subject, c.Test)
	}
	if len(parts) == 0 {
		return map[string]string{"all": "always", "any": "never", "none": "always", "one": "never"}[how]
	}
	words := make([]string, len(parts))
	for i, p := range parts {
		words[i] = q.clauses(p, len(parts) > 1 || how == "none")
	}
	if how == "none" && len(parts) == 1 {
		return "it is not so that " + words[0]
	}
	joined := joints[how][0] + strings.Join(words, joints[how][1])
	if last := len(words) - 1; how == "one" && last > 0 {
		joined = joints[how][0] + strings.Join(words[:last], ", ") + " and " + words[last]
	} else if how == "one" {
		return words[0]
	}
	if inside && len(parts) > 1 {
		return "(" + joined + ")"
	}
	return joined
}

func quoted(s string) string { return "“" + strings.Join(strings.Fields(s), " ") + "”" }

func (q *Quiz) subject(s Subject) string {
	switch {
	case s.Answer != "":
		asked := q.Ask(s.Answer)
		if asked == nil {
			return "{" + s.Answer + "}"
		}
		words := quoted(asked.Label)
		if row := asked.Rows[s.Row]; row != nil {
			words += " for " + quoted(row.Label)
		}
		return words
	case s.Scale != "":
		scale := q.Scales[s.Scale]
		if scale == nil {
			return "{" + s.Scale + "}"
		}
		return scale.Name
	case s.Visitor != "":
		if name, found := strings.CutPrefix(s.Visitor, "query."); found {
			return "the address's “" + name + "”"
		}
		return "the visitor's " + s.Visitor
	}
	return "the outcome"
}

var comparing = map[Op]string{AtLeast: "is at least", AtMost: "is at most", MoreThan: "is more than",
	LessThan: "is less than", Between: "is between", IsOneOf: "is one of"}

func (q *Quiz) test(s Subject, t Test) string {
	verb := string(t.Op)
	if w, found := comparing[t.Op]; found {
		verb = w
	}
	if t.Op == IsAnswered || t.Op == IsSkipped || t.Value == nil {
		return verb
	}
	words := make([]string, len(t.Value.Items))
	for i, item := range t.Value.Items {
		words[i] = q.item(s, item)
	}
	joint := ", "
	if t.Op == Between {
		joint = " and "
	}
	return fmt.Sprintf("%s %s", verb, strings.Join(words, joint))
}

// item names an answer or an outcome by its label, and quotes other words.
func (q *Quiz) item(s Subject, i Item) string {
	if asked := q.Ask(s.Answer); asked != nil && asked.Answers[i.String()] != nil {
		return quoted(asked.Answers[i.String()].Label)
	}
	if o := q.Outcomes[i.String()]; s.Outcome && o != nil {
		return quoted(o.Name)
	}
	if q.OfCountry(s) {
		return quoted(atlas.Name(i.String(), "en"))
	}
	if i.IsText {
		return quoted(i.Text)
	}
	return i.Number.Words()
}

// Count writes how many of something there are: "1 scale", "3 scales".
func Count(n int, what string) string {
	if n != 1 {
		what += "s"
	}
	return fmt.Sprintf("%d %s", n, what)
}

// TestSentence writes a cell of a decision table out, without its subject.
func (q *Quiz) TestSentence(s Subject, t *Test) string {
	if t == nil {
		return "any"
	}
	return q.test(s, *t)
}

// StepSentence writes a step of the decision out in English.
func (q *Quiz) StepSentence(key string) string {
	s := q.Decision.Steps[key]
	switch s.Kind {
	case RuleStep:
		return fmt.Sprintf("If %s, it is %s.", q.Sentence(s.When), q.outcomeName(s.Outcome))
	case TableStep:
		return fmt.Sprintf(
			"By a table of %s over %s: the first that fits.",
			Count(len(s.Rules), "rule"),
			Count(len(s.Columns), "column"),
		)
	case LeaderStep:
		names := make([]string, 0, len(s.Contenders))
		for _, k := range InOrder(s.Contenders) {
			names = append(names, q.subject(Subject{Scale: k}))
		}
		return fmt.Sprintf("By the highest of %s.", strings.Join(names, ", "))
	}
	return fmt.Sprintf("By %s, in %s.", q.subject(Subject{Scale: s.Scale}), Count(len(s.Cuts)+1, "band"))
}

func (q *Quiz) outcomeName(key string) string {
	if o := q.Outcomes[key]; o != nil {
		return quoted(o.Name)
	}
	return "no outcome yet"
}
