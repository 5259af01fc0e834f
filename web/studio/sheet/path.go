package sheet

import (
	"cmp"
	"fmt"
	"slices"

	"omphalos/core/quiz"
	"omphalos/web/studio/desk"
)

// A wayPart is a then on the sheet: a button that says where it leads, and opens the
// list of where it may.
type wayPart struct {
	Path  quiz.Pointer
	From  int    // position of the question that it leads from
	Now   string // "question hive", "" for the next one
	Words string
	Label string // what it belongs to, for what is read out
	Leads bool   // elsewhere than to the next question
	Parts bool   // parts ways
}

// A destination is a place that a then may lead to.
type destination struct {
	Go    quiz.Way `json:"go"`
	To    string   `json:"to,omitempty"`
	Name  string   `json:"name"`
	Group string   `json:"group"`
	At    int      `json:"at"` // position of the question, or of the section's first
}

// targets lists every place that a then may lead to, as JSON, in the sheet's order.
func (sh *Sheet) targets() string {
	var list []destination
	keys := sh.Doc.QuestionKeys()
	for i, k := range keys {
		list = append(
			list,
			destination{
				quiz.ToQuestion,
				k,
				fmt.Sprintf("%d · %s", i+1, short(cmp.Or(sh.Doc.Questions[k].Label, "No words yet"))),
				"On to a question",
				i,
			},
		)
	}
	if sh.headed() {
		for n, s := range quiz.InOrder(sh.Doc.Sections) {
			at := slices.IndexFunc(keys, func(k string) bool { return sh.Doc.Questions[k].Section == s })
			list = append(
				list,
				destination{
					quiz.ToSection,
					s,
					fmt.Sprintf("Section %d · %s", n+1, short(cmp.Or(sh.Doc.Sections[s].Heading, "no heading"))),
					"On to a section",
					at,
				},
			)
		}
	}
	end := len(keys)
	list = append(list, destination{quiz.Decide, "", "The decision", "To the end", end})
	for _, c := range sh.choices() {
		list = append(
			list,
			destination{quiz.ToOutcome, c.Key, c.Letter + " · " + c.Name, "Straight to an outcome", end},
		)
	}
	list = append(list, destination{quiz.ToOutcome, "+", "A new outcome", "Straight to an outcome", end})
	for _, c := range sh.choices() {
		list = append(
			list,
			destination{
				quiz.PartWays,
				c.Key,
				c.Letter + " · " + c.Name,
				"Part ways: show this and keep nothing but a count",
				end,
			},
		)
	}
	return desk.JSONText(list)
}

func (sh *Sheet) wayOf(t *quiz.Then, path quiz.Pointer, from int, label string) wayPart {
	w := wayPart{Path: path, From: from, Words: "leads on", Label: label}
	if t == nil {
		return w
	}
	w.Leads, w.Parts, w.Words, w.Now = true, t.Go == quiz.PartWays, sh.way(t), string(t.Go)+" "+t.To
	return w
}

// way says where a then leads.
func (sh *Sheet) way(t *quiz.Then) string {
	switch t.Go {
	case quiz.ToQuestion:
		if q := sh.Doc.Questions[t.To]; q != nil {
			return fmt.Sprintf(
				"then on to question %d, “%s”",
				slices.Index(sh.Doc.QuestionKeys(), t.To)+1,
				short(q.Label),
			)
		}
	case quiz.ToSection:
		if s := sh.Doc.Sections[t.To]; s != nil {
			return fmt.Sprintf(
				"then on to section %d, “%s”",
				slices.Index(quiz.InOrder(sh.Doc.Sections), t.To)+1,
				short(s.Heading),
			)
		}
	case quiz.ToOutcome:
		if o := sh.Doc.Outcomes[t.To]; o != nil {
			return fmt.Sprintf("then straight to %s · %s", sh.Doc.Letter(t.To), o.Name)
		}
	case quiz.PartWays:
		if o := sh.Doc.Outcomes[t.To]; o != nil {
			return fmt.Sprintf("parts ways with %s · %s: nothing is kept but a count", sh.Doc.Letter(t.To), o.Name)
		}
	case quiz.Decide:
		return "then to the decision"
	}
	return "leads nowhere yet"
}

// A thenRule of a question leads on where its condition holds.
type thenRule struct {
	Path   quiz.Pointer
	Number int
	When   whenPart
	Way    wayPart
	First  bool
	Last   bool
}

func (sh *Sheet) thenRules(q *quiz.Question, path quiz.Pointer, at int) []thenRule {
	var rules []thenRule
	keys := quiz.InOrder(q.Then)
	for i, k := range keys {
		r := q.Then[k]
		here := path.Join("then", k)
		of := fmt.Sprintf("rule %d of question %d", i+1, at+1)
		rules = append(
			rules,
			thenRule{
				here,
				i + 1,
				sh.when(here+"/when", of, r.When),
				sh.wayOf(&r.Then, here, at, of),
				i == 0,
				i == len(keys)-1,
			},
		)
	}
	return rules
}
