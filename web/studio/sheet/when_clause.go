package sheet

import (
	"cmp"
	"slices"
	"strings"

	"omphalos/core/atlas"
	"omphalos/core/quiz"
)

type whenClause struct {
	Path     quiz.Pointer
	At       string
	Of       string
	Subjects []optionGroup
	Subject  string
	Ops      []quiz.Op
	Op       quiz.Op
	Choices  []choice // answers or outcomes to compare with
	Chosen   []string
	Several  bool // of them
	Between  bool
	Nothing  bool // the operator compares with nothing
	Value    string
	To       string
	Input    string // type of the field
	List     string // of what may be typed
}

func (w *whenBuilder) clause(c *quiz.Condition, at string) *whenClause {
	q := w.sh.Doc.Ask(c.Answer)
	v := &whenClause{
		Path:     w.path,
		At:       at,
		Of:       w.of,
		Subjects: w.subjects,
		Subject:  subjectKey(c.Subject),
		Ops:      w.sh.Doc.OpsFor(c.Subject),
		Op:       c.Op,
		Input:    "text",
		Between:  c.Op == quiz.Between,
		Nothing:  c.Op == quiz.IsAnswered || c.Op == quiz.IsSkipped,
		Several:  c.Op == quiz.IsOneOf || c.Op == quiz.Includes,
	}
	if !slices.Contains(v.Ops, c.Op) {
		v.Ops = append(v.Ops, c.Op)
	}
	known := func(o choice) bool { return o.Key == v.Subject }
	if !slices.ContainsFunc(w.subjects, func(g optionGroup) bool { return slices.ContainsFunc(g.Options, known) }) {
		v.Subjects = append(
			slices.Clone(v.Subjects),
			optionGroup{"Not known here", []choice{{Key: v.Subject, Name: v.Subject}}},
		)
	}
	switch {
	case q != nil && q.Kind.HasAnswers():
		for _, k := range quiz.InOrder(q.Answers) {
			v.Choices = append(v.Choices, choice{Key: k, Name: short(cmp.Or(q.Answers[k].Label, k))})
		}
	case c.Outcome:
		v.Choices = w.sh.choices()
	case c.Standing:
		for _, s := range []quiz.Standing{quiz.Fit, quiz.KeepWarm, quiz.NotAFit} {
			v.Choices = append(v.Choices, choice{Key: string(s), Name: string(s)})
		}
	case q != nil && q.Kind == quiz.Date, c.Visitor == "date":
		v.Input = "date"
	case c.Visitor == "device":
		for _, d := range []string{"phone", "tablet", "desktop"} {
			v.Choices = append(v.Choices, choice{Key: d, Name: d})
		}
	case w.sh.Doc.OfCountry(c.Subject):
		v.List = "countries"
	}
	if c.Value != nil {
		for _, item := range c.Value.Items {
			said := item.String()
			if w.sh.Doc.OfCountry(c.Subject) {
				said = atlas.Name(said, "en")
			}
			v.Chosen = append(v.Chosen, said)
		}
	}
	if len(v.Chosen) > 0 {
		v.Value = v.Chosen[0]
		v.To = v.Chosen[len(v.Chosen)-1]
	}
	if v.Several && v.Choices == nil {
		v.Value = strings.Join(v.Chosen, ", ")
	}
	return v
}

// Has tells whether a choice is compared with.
func (c *whenClause) Has(key string) bool { return slices.Contains(c.Chosen, key) }

// opWords are the operators as they are read in a sentence.
var opWords = map[quiz.Op]string{
	quiz.AtLeast:  "is at least",
	quiz.AtMost:   "is at most",
	quiz.MoreThan: "is more than",
	quiz.LessThan: "is less than",
	quiz.Between:  "is between",
	quiz.Includes: "includes all of",
}

// Word is an operator as it is read in a sentence.
func (c *whenClause) Word(op quiz.Op) string { return cmp.Or(opWords[op], string(op)) }
