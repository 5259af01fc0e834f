package quiz

import (
	"regexp"
	"slices"
	"strconv"
	"strings"
)

// EachCondition calls f with every condition of the quiz and its JSON Pointer.
func (q *Quiz) EachCondition(f func(pointer Pointer, c *Condition)) {
	visit := func(pointer Pointer, c *Condition) {
		if c != nil {
			f(pointer, c)
		}
	}
	for k, s := range q.Sections {
		visit(At("sections", k, "showWhen"), s.ShowWhen)
	}
	for k, asked := range q.Questions {
		visit(At("questions", k, "showWhen"), asked.ShowWhen)
		for r, rule := range asked.Then {
			visit(At("questions", k, "then", r, "when"), rule.When)
		}
	}
	for k, s := range q.Decision.Steps {
		visit(At("decision", "steps", k, "when"), s.When)
	}
	for k, o := range q.Outcomes {
		for l, landing := range o.Landings {
			at := At("outcomes", k, "landings", l)
			visit(at+"/when", landing.When)
			for b, block := range landing.Blocks {
				visit(at.Join("blocks", b, "when"), block.When)
			}
			if p := landing.Products; p != nil {
				for name, list := range map[string][]Named{"named": p.Named, "tags": p.Tags} {
					for i, one := range list {
						visit(at.Join("products", name, strconv.Itoa(i), "when"), one.When)
					}
				}
			}
		}
	}
	if q.Contact != nil {
		visit("/contact/when", q.Contact.When)
	}
	for k, f := range q.FollowUps {
		visit(At("followUps", k, "when"), f.When)
		for b, block := range f.Blocks {
			visit(At("followUps", k, "blocks", b, "when"), block.When)
		}
	}
}

// AskedBefore returns how many questions, in the order of QuestionKeys, are asked
// before a condition at a pointer is looked at.
func (q *Quiz) AskedBefore(pointer Pointer) int {
	keys := q.QuestionKeys()
	for i, k := range keys {
		question := At("questions", k)
		switch {
		case pointer.Within(question + "/showWhen"):
			return i
		case pointer.Within(question) && pointer != question:
			return i + 1 // a then is looked at when the question has been answered
		case pointer.Within(At("sections", q.Questions[k].Section) + "/showWhen"):
			return i
		}
	}
	return len(keys)
}

// OpsFor lists the operators that fit a subject, the likeliest first.
func (q *Quiz) OpsFor(s Subject) []Op {
	asked := q.Ask(s.Answer)
	switch {
	case s.Outcome, s.Standing:
		return []Op{Is, IsNot, IsOneOf}
	case s.Visitor == "date":
		return []Op{AtLeast, AtMost, MoreThan, LessThan, Between, Is, IsNot}
	case s.Visitor != "":
		return []Op{Is, IsNot, IsOneOf, Contains, IsAnswered, IsSkipped}
	case s.Scale != "":
		return []Op{AtLeast, AtMost, MoreThan, LessThan, Between, Is, IsNot}
	case asked == nil:
		return []Op{Is, IsNot, IsAnswered, IsSkipped}
	case asked.Kind == Several:
		return []Op{IsOneOf, Includes, Is, IsNot, IsAnswered, IsSkipped}
	case asked.Kind.HasAnswers():
		return []Op{Is, IsNot, IsOneOf, IsAnswered, IsSkipped}
	case asked.Kind.Numeric(), asked.Kind == Date:
		return []Op{AtLeast, AtMost, MoreThan, LessThan, Between, Is, IsNot, IsAnswered, IsSkipped}
	case asked.Kind == Consent:
		return []Op{Is, IsSkipped}
	}
	return []Op{IsAnswered, IsSkipped, Is, IsNot, Contains}
}

// ReadSubject reads "answer crop", "row hours monday", "scale points", "visitor country"
// "outcome" or "standing", and false of anything else.
func ReadSubject(words string) (Subject, bool) {
	switch parts := strings.Fields(words); {
	case words == "outcome":
		return Subject{Outcome: true}, true
	case words == "standing":
		return Subject{Standing: true}, true
	case len(parts) == 3 && parts[0] == "row":
		return Subject{Answer: parts[1], Row: parts[2]}, true
	case len(parts) != 2:
	case parts[0] == "answer":
		return Subject{Answer: parts[1]}, true
	case parts[0] == "scale":
		return Subject{Scale: parts[1]}, true
	case parts[0] == "visitor":
		return Subject{Visitor: parts[1]}, true
	}
	return Subject{}, false
}

// KeyOf makes a key of words: "Starter hive, small" is "starter_hive_small". It is ""
// where they hold no letter that a key may begin with.
func KeyOf(words string) string {
	key := strings.Map(func(r rune) rune {
		switch {
		case r >= 'a' && r <= 'z', r >= '0' && r <= '9':
			return r
		}
		return ' '
	}, strings.ToLower(words))
	key = strings.TrimLeft(strings.Join(strings.Fields(key), "_"), "0123456789_")
	return strings.TrimRight(key[:min(len(key), 60)], "_")
}

// Name returns the name of a subject as files have it: "crop", "hours.monday" for a row
// of a grid, "readiness" for a scale, "visitor.country".
func (s Subject) Name() string {
	switch {
	case s.Row != "":
		return s.Answer + "." + s.Row
	case s.Visitor != "":
		return "visitor." + s.Visitor
	case s.Outcome:
		return "outcome"
	case s.Standing:
		return "standing"
	}
	return s.Answer + s.Scale // one of them
}

// SubjectNamed returns the subject of the quiz that Name gives a name to.
func (q *Quiz) SubjectNamed(name string) (Subject, bool) {
	key, part, dotted := strings.Cut(name, ".")
	switch {
	case key == "visitor" && knownFact(part):
		return Subject{Visitor: part}, true
	case dotted:
		asked := q.Questions[key]
		return Subject{Answer: key, Row: part}, asked != nil && asked.Rows[part] != nil
	case q.Questions[key] != nil:
		return Subject{Answer: key}, true
	}
	return Subject{Scale: key}, q.Scales[key] != nil
}

// IsKey tells whether a text can be the key of a question or a scale.
func IsKey(s string) bool { return keyShape.MatchString(s) && !slices.Contains(reserved, s) }

// Filled returns what texts, addresses and formulas of a quiz name: keys of questions and
// scales, rows of grids, and facts. Written is the quiz as it is written.
func (q *Quiz) Filled(written []byte) map[string]bool {
	names := map[string]bool{}
	take := func(text string) {
		for _, name := range wordsOf.FindAllString(text, -1) {
			names[name] = true
		}
	}
	for _, s := range q.Scales {
		take(s.Formula)
	}
	for _, braced := range bracedIn.FindAll(written, -1) {
		take(string(braced))
	}
	return names
}

// What is filled in stands in braces: {crop}, {days.monday}, {?crop,size}. Objects of JSON have
// quotes in theirs.
var (
	bracedIn = regexp.MustCompile(`\{[?&#+./;]?[A-Za-z0-9_.,*:]+\}`)
	wordsOf  = regexp.MustCompile(`[A-Za-z0-9_]+`)
)
