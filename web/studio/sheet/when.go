package sheet

import (
	"cmp"
	"fmt"
	"strings"

	"omphalos/core/excerpt"
	"omphalos/core/quiz"
)

// A whenPart is a condition on the sheet: a sentence that is edited in place.
type whenPart struct {
	Path quiz.Pointer
	Of   string // what it decides, for what is read out
	Root *whenGroup
}

// A whenGroup is all, any or none of its parts.
type whenGroup struct {
	Path   quiz.Pointer
	At     string // of the condition, and within it
	How    string
	Of     string
	Parts  []whenItem
	Inside bool
	Either bool // asks for two answers of one question at once, where only one can be chosen
}

// A whenItem of a group is a comparison or another group.
type whenItem struct {
	Group  *whenGroup
	Clause *whenClause
	First  bool
}

type optionGroup struct {
	Name    string
	Options []choice
}

// when builds the editor of a condition at a path; nil is none yet.
func (sh *Sheet) when(path quiz.Pointer, of string, c *quiz.Condition) whenPart {
	p := whenPart{Path: path, Of: of}
	if c == nil {
		return p
	}
	if how, _ := c.Group(); how == "" {
		c = &quiz.Condition{All: []*quiz.Condition{c}}
	}
	w := whenBuilder{sh: sh, path: path, of: of, subjects: sh.subjects(path)}
	p.Root = w.group(c, "")
	return p
}

type whenBuilder struct {
	sh       *Sheet
	path     quiz.Pointer
	of       string
	subjects []optionGroup
}

func (w *whenBuilder) group(c *quiz.Condition, at string) *whenGroup {
	how, parts := c.Group()
	g := &whenGroup{Path: w.path, At: at, How: how, Of: w.of, Inside: at != ""}
	asked := map[string]int{}
	for i, part := range parts {
		here := strings.TrimPrefix(fmt.Sprintf("%s/%s/%d", at, how, i), "/")
		item := whenItem{First: i == 0}
		if inner, _ := part.Group(); inner != "" {
			item.Group = w.group(part, here)
		} else {
			item.Clause = w.clause(part, here)
			if q := w.sh.Doc.Questions[part.Answer]; how == "all" && part.Op == quiz.Is && q != nil && q.Kind.Choice() {
				asked[part.Answer]++
				g.Either = g.Either || asked[part.Answer] > 1
			}
		}
		g.Parts = append(g.Parts, item)
	}
	return g
}

func subjectKey(s quiz.Subject) string {
	switch {
	case s.Row != "":
		return "row " + s.Answer + " " + s.Row
	case s.Answer != "":
		return "answer " + s.Answer
	case s.Scale != "":
		return "scale " + s.Scale
	case s.Visitor != "":
		return "visitor " + s.Visitor
	}
	if s.Standing {
		return "standing"
	}
	return "outcome"
}

// subjects lists what a condition at a path may ask for.
func (sh *Sheet) subjects(path quiz.Pointer) []optionGroup {
	var asked, contact, scales, facts []choice
	keys := sh.Doc.QuestionKeys()
	for i, k := range keys[:sh.Doc.AskedBefore(path)] {
		q := sh.Doc.Questions[k]
		name := fmt.Sprintf("%d · %s", i+1, short(cmp.Or(q.Label, k)))
		switch {
		case q.Kind == quiz.Interlude:
		case q.Kind == quiz.Grid:
			for _, r := range quiz.InOrder(q.Rows) {
				asked = append(
					asked,
					choice{Key: "row " + k + " " + r, Name: name + ": " + short(cmp.Or(q.Rows[r].Label, r))},
				)
			}
		default:
			asked = append(asked, choice{Key: "answer " + k, Name: name})
		}
	}
	for _, c := range sh.Columns {
		scales = append(scales, choice{Key: "scale " + c.Key, Name: c.Name})
	}
	for _, f := range quiz.Facts {
		facts = append(facts, choice{Key: "visitor " + f, Name: "the visitor’s " + f})
	}
	after := path.Fits("/outcomes/*/**") || path.Fits("/contact/**") || path.Fits("/followUps/**")
	if after && sh.Doc.Contact != nil {
		for _, k := range quiz.InOrder(sh.Doc.Contact.Fields) {
			contact = append(
				contact,
				choice{Key: "answer " + k, Name: short(cmp.Or(sh.Doc.Contact.Fields[k].Label, k))},
			)
		}
	}
	var groups []optionGroup
	for _, g := range []optionGroup{{"Answers", asked}, {"Scores", scales}, {"Contact", contact}, {"The visitor", facts}} {
		if len(g.Options) > 0 {
			groups = append(groups, g)
		}
	}
	switch outcome := (choice{Key: "outcome", Name: "the outcome"}); {
	case path.Fits("/contact/**"):
		groups = append(groups, optionGroup{"Result", []choice{outcome}})
	case path.Fits("/followUps/**"):
		groups = append([]optionGroup{{"Result",
			[]choice{outcome, {Key: "standing", Name: "the outcome’s standing"}}}}, groups...)
	}
	return groups
}

func short(s string) string { return excerpt.Line(s, 60) }

// Joint is what stands between the parts of a group.
func (g *whenGroup) Joint() string {
	switch g.How {
	case "any", "one":
		return "or"
	case "none":
		return "nor"
	}
	return "and"
}
