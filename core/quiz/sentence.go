package quiz

import (
	"fmt"
	"maps"
	"slices"
	"strings"

	"omphalos/core/atlas"
	"omphalos/core/saying"
)

// clauses are the words of conditions, each by what it says in English; tests have theirs by
// the operator.
var clauses = map[string]string{
	"always": "always", "never": "never", "not so": "it is not so that %s",
	"all": " and ", "any": " or ", "none": " nor ", "neither": "neither %s", "one": "exactly one of %s", ", ": ", ",
	"for row": "%s for %s", "address": "the address's “%s”", "outcome": "the outcome",
	"standing": "the standing", "quoted": "“%s”",

	"visitor country": "the visitor's country", "visitor language": "the visitor's language",
	"visitor device":   "the visitor's device",
	"visitor referrer": "the visitor's referrer", "visitor source": "the visitor's source",
	"visitor medium":   "the visitor's medium",
	"visitor campaign": "the visitor's campaign", "visitor term": "the visitor's term",
	"visitor content": "the visitor's content",
	"visitor date":    "the visitor's date", "visitor time": "the visitor's time",
	"visitor weekday": "the visitor's weekday",

	string(Is): "%s is %s", string(IsNot): "%s is not %s", string(IsOneOf): "%s is one of %s",
	string(Includes): "%s includes %s",
	string(AtLeast):  "%s is at least %s", string(AtMost): "%s is at most %s", string(MoreThan): "%s is more than %s",
	string(LessThan): "%s is less than %s", string(Between): "%s is between %s", string(Contains): "%s contains %s",
	string(IsAnswered): "%s is answered", string(IsSkipped): "%s is skipped",
}

// Clauses returns the words that conditions are said in, for those who put them into other
// languages.
func Clauses() []string { return slices.Sorted(maps.Values(clauses)) }

// Sentence writes the condition out in English, with the quiz's own labels:
// `“Crop” is “Apples or pears” and Readiness is at least 8`.
func (q *Quiz) Sentence(c *Condition) string { return q.SentenceIn(nil, c) }

// SentenceIn is Sentence in the words of a voice.
func (q *Quiz) SentenceIn(in *saying.Voice, c *Condition) string {
	said := sayer{q, in}
	if c == nil {
		return said.as("always")
	}
	return said.condition(c, false)
}

// A sayer says conditions of a quiz.
type sayer struct {
	*Quiz
	voice *saying.Voice
}

func (s sayer) as(clause string, parts ...any) string { return s.voice.Say(clauses[clause], parts...) }

func (s sayer) condition(c *Condition, inside bool) string {
	how, parts := c.Group()
	if how == "" {
		return s.test(s.subject(c.Subject), c.Subject, c.Test)
	}
	if len(parts) == 0 {
		return s.as(map[string]string{"all": "always", "any": "never", "none": "always", "one": "never"}[how])
	}
	words := make([]string, len(parts))
	for i, p := range parts {
		words[i] = s.condition(p, len(parts) > 1 || how == "none")
	}
	last := len(words) - 1
	var joined string
	switch {
	case how == "none" && last == 0:
		return s.as("not so", words[0])
	case how == "one" && last == 0:
		return words[0]
	case how == "none":
		joined = s.as("neither", strings.Join(words, s.as("none")))
	case how == "one":
		joined = s.as("one", strings.Join(words[:last], s.as(", "))+s.as("all")+words[last])
	default:
		joined = strings.Join(words, s.as(how))
	}
	if inside && last > 0 {
		return "(" + joined + ")"
	}
	return joined
}

func quoted(s string) string { return "“" + strings.Join(strings.Fields(s), " ") + "”" }

func (s sayer) quote(words string) string {
	return s.as("quoted", strings.Join(strings.Fields(words), " "))
}

func (q *Quiz) subject(s Subject) string { return sayer{q, nil}.subject(s) }

func (s sayer) subject(of Subject) string {
	switch {
	case of.Answer != "":
		asked := s.Ask(of.Answer)
		if asked == nil {
			return "{" + of.Answer + "}"
		}
		if row := asked.Rows[of.Row]; row != nil {
			return s.as("for row", s.quote(asked.Label), s.quote(row.Label))
		}
		return s.quote(asked.Label)
	case of.Scale != "":
		scale := s.Scales[of.Scale]
		if scale == nil {
			return "{" + of.Scale + "}"
		}
		return scale.Name
	case of.Visitor != "":
		if name, found := strings.CutPrefix(of.Visitor, "query."); found {
			return s.as("address", name)
		}
		return s.as("visitor " + of.Visitor)
	}
	if of.Standing {
		return s.as("standing")
	}
	return s.as("outcome")
}

// test says what is asked of a subject.
func (s sayer) test(subject string, of Subject, t Test) string {
	if t.Op == IsAnswered || t.Op == IsSkipped {
		return s.as(string(t.Op), subject)
	}
	var words []string
	if t.Value != nil {
		for _, item := range t.Value.Items {
			words = append(words, s.item(of, item))
		}
	}
	joint := ", "
	if t.Op == Between {
		joint = "all"
	}
	return s.as(string(t.Op), subject, strings.Join(words, s.as(joint)))
}

// item names an answer or an outcome by its label, and quotes other words.
func (s sayer) item(of Subject, i Item) string {
	if asked := s.Ask(of.Answer); asked != nil && asked.Answers[i.String()] != nil {
		return s.quote(asked.Answers[i.String()].Label)
	}
	if o := s.Outcomes[i.String()]; of.Outcome && o != nil {
		return s.quote(o.Name)
	}
	if s.OfCountry(of) {
		return s.quote(atlas.Name(i.String(), s.language()))
	}
	if i.IsText {
		return s.quote(i.Text)
	}
	return s.voice.Figures(i.Number.Words())
}

// language is that of the words: English, or the quiz's own.
func (s sayer) language() string {
	if s.voice == nil || s.Settings == nil || s.Settings.Language == "" {
		return "en"
	}
	return s.Settings.Language
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
	return strings.TrimSpace(sayer{q, nil}.test("", s, *t))
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
