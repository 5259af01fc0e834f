package qti

import (
	"fmt"
	"strings"

	"github.com/beevik/etree"

	"omphalos/core/quiz"
)

// item reads an item: a question for each interaction in it, or an interlude where it asks
// nothing.
func (r *reader) item(at place) error {
	root, err := r.parse(at.href)
	if err != nil {
		return err
	}
	if root.Tag != "qti-assessment-item" {
		return fmt.Errorf("the file %w: %s is no item of version 3.0 but <%s>", ErrQTI, at.href, clip(root.Tag, 60))
	}
	body := root.SelectElement("qti-item-body")
	if body == nil {
		return fmt.Errorf("the file %w: %s shows nothing", ErrQTI, at.href)
	}
	if r.q.Title == "" && r.test == nil && len(r.items) == 1 {
		r.q.Title = clip(root.SelectAttrValue("title", ""), quiz.MaxTitle)
	}
	id := root.SelectAttrValue("identifier", "")
	var asks []*etree.Element
	for _, e := range body.FindElements(".//*") {
		if strings.HasSuffix(e.Tag, "-interaction") {
			asks = append(asks, e)
		}
	}
	if len(asks) == 0 {
		q := &quiz.Question{Kind: quiz.Interlude, Picture: r.picture(at.href, body.FindElement(".//img"))}
		lines := linesOf(body)
		if len(lines) > 0 {
			q.Label, q.Help = clip(lines[0], quiz.MaxLabel), clip(strings.Join(lines[1:], "\n\n"), quiz.MaxText)
		}
		r.put(id, at, q)
		return nil
	}
	for _, ask := range asks {
		q := r.question(at, root, body, ask)
		if q == nil {
			continue
		}
		if q.Label == "" {
			q.Label = clip(root.SelectAttrValue("title", ""), quiz.MaxLabel)
		}
		r.put(id, at, q)
		r.score(root, ask, q)
	}
	if root.FindElement(".//qti-modal-feedback") != nil {
		r.lost.tell("What is said to single answers is left out.")
	}
	if root.FindElement(".//qti-template-processing") != nil {
		r.lost.tell("Items made by a template stand as the template does.")
	}
	return nil
}

// put gives a question its key and its place.
func (r *reader) put(id string, at place, q *quiz.Question) {
	q.Order = float64(len(r.q.Questions) + 1)
	q.Section = at.section
	if at.section == "" && len(r.q.Sections) > 0 {
		for key := range r.q.Sections {
			q.Section = key
		}
	} else if at.section == "" {
		r.q.Sections["main"] = &quiz.Section{Order: 1}
		q.Section = "main"
	}
	r.q.Questions[freeKey(r.q.Questions, id, "question")] = q
}

// question reads what an interaction asks, without what it adds; nil where there are no words
// for it here.
func (r *reader) question(at place, root, body, ask *etree.Element) *quiz.Question {
	q := &quiz.Question{Kind: quiz.Kind(ask.SelectAttrValue(kindOf, ""))}
	r.label(q, body, ask)
	q.Picture = r.picture(at.href, pictureOutside(body))
	d := declarationOf(root, ask)
	own := func(kinds ...quiz.Kind) { // the kind that a package of ours says, where it may be that
		for _, k := range kinds {
			if q.Kind == k {
				return
			}
		}
		q.Kind = kinds[0]
	}
	switch ask.Tag {
	case "qti-choice-interaction", "qti-inline-choice-interaction":
		several := d != nil && d.SelectAttrValue("cardinality", "") == "multiple" &&
			ask.SelectAttrValue("max-choices", "1") != "1"
		switch {
		case several:
			q.Kind = quiz.Several
			q.Picks = picksOf(ask)
		case ask.Tag == "qti-inline-choice-interaction":
			own(quiz.Dropdown)
		default:
			own(quiz.Single, quiz.Dropdown, quiz.YesNo, quiz.Pictures)
		}
		q.Required = atLeast(ask, "min-choices") > 0
		r.answers(at, q, append(ask.SelectElements("qti-simple-choice"), ask.SelectElements("qti-inline-choice")...))
		if ask.SelectAttrValue("shuffle", "false") == "true" {
			r.lost.tell("Answers that are shuffled stand in order.")
		}
	case "qti-match-interaction":
		sets := ask.SelectElements("qti-simple-match-set")
		if len(sets) != 2 {
			return r.cant(root, ask)
		}
		q.Kind, q.Rows = quiz.Grid, map[string]*quiz.Row{}
		for i, row := range sets[0].SelectElements("qti-simple-associable-choice") {
			q.Rows[freeKey(q.Rows, row.SelectAttrValue("identifier", ""), "row")] = &quiz.Row{Order: float64(i +
				1), Label: clip(plain(row), quiz.MaxLabel)}
			q.Required = q.Required || atLeast(row, "match-min") > 0
		}
		r.answers(at, q, sets[1].SelectElements("qti-simple-associable-choice"))
	case "qti-slider-interaction":
		own(quiz.Rating, quiz.Stars)
		low, okLow := boundOf(ask, "lower-bound")
		high, okHigh := boundOf(ask, "upper-bound")
		if okLow && okHigh {
			q.Limits = &quiz.Limits{Low: low, High: high}
		}
		if atLeast(ask, "step") > 1 {
			r.lost.tell("A slider in steps of more than 1 takes every whole number.")
		}
	case "qti-text-entry-interaction":
		own(quiz.ShortText, quiz.Number, quiz.Date, quiz.Name, quiz.Email, quiz.Phone, quiz.Company,
			quiz.Country, quiz.Consent)
		if base := baseOf(d); q.Kind == quiz.ShortText && (base == "float" || base == "integer") {
			q.Kind = quiz.Number
		}
	case "qti-extended-text-interaction":
		q.Kind = quiz.LongText
	default:
		return r.cant(root, ask)
	}
	return q
}

func (r *reader) cant(root, ask *etree.Element) *quiz.Question {
	r.lost.tell("“%s” is left out: it asks by a %s, which there is no kind of question for.",
		clip(root.SelectAttrValue("title", root.SelectAttrValue("identifier", "")), 80), strings.TrimPrefix(ask.Tag, "qti-"))
	return nil
}

// label reads the words of a question: its prompt, or what stands around a field.
func (r *reader) label(q *quiz.Question, body, ask *etree.Element) {
	from := ask.SelectElement("qti-prompt")
	if from == nil {
		from = body
	}
	lines := linesOf(from)
	if len(lines) == 0 && from != body {
		lines = linesOf(body)
	}
	if len(lines) > 0 {
		q.Label, q.Help = clip(lines[0], quiz.MaxLabel), clip(strings.Join(lines[1:], "\n\n"), quiz.MaxText)
	}
}

func (r *reader) answers(at place, q *quiz.Question, choices []*etree.Element) {
	q.Answers = map[string]*quiz.Answer{}
	for i, choice := range choices {
		a := &quiz.Answer{Order: float64(i + 1), Label: clip(plain(choice), quiz.MaxLabel),
			Picture: r.picture(at.href, choice.FindElement(".//img"))}
		q.Answers[freeKey(q.Answers, choice.SelectAttrValue("identifier", ""), "answer")] = a
	}
}
