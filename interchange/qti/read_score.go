package qti

import (
	"strings"

	"github.com/beevik/etree"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
)

// score reads what the answers to a question add: from its mapping, from which are right, and
// from conditions that ask for one value and add to a scale.
func (r *reader) score(root, ask *etree.Element, q *quiz.Question) {
	d := declarationOf(root, ask)
	if d == nil {
		return
	}
	if correct := d.SelectElement("qti-correct-response"); correct != nil {
		for _, v := range correct.SelectElements("qti-value") {
			if a := q.Answers[answerKey(v.Text())]; a != nil {
				a.Right = true
			}
		}
	}
	process := root.SelectElement("qti-response-processing")
	if process == nil {
		return
	}
	template := process.SelectAttrValue("template", "")
	mapped := strings.Contains(template, "map_response") || process.FindElement(".//qti-map-response") != nil
	switch mapping := d.SelectElement("qti-mapping"); {
	case mapped && mapping != nil:
		for _, entry := range mapping.SelectElements("qti-map-entry") {
			n, err := decimal.Parse(entry.SelectAttrValue("mapped-value", ""))
			if a := q.Answers[answerKey(entry.SelectAttrValue("map-key", ""))]; a != nil && err == nil {
				r.adds(root, &a.Adds, score, n)
			} else {
				r.lost.tell("A mapping of “%s” can't be said here.", q.Label)
			}
		}
	case strings.Contains(template, "match_correct") && q.Kind.Choice():
		for _, a := range q.Answers {
			if a.Right {
				r.adds(root, &a.Adds, score, decimal.One)
			}
		}
	case template != "":
		r.lost.tell("How “%s” is scored can't be said here: weigh it on the sheet.", q.Label)
	}
	for _, c := range process.SelectElements("qti-response-condition") {
		if !r.condition(root, ask, c, q) {
			r.lost.tell("How “%s” is scored can't be said here: weigh it on the sheet.", q.Label)
		}
	}
}

// answerKey is the key that an identifier was given.
func answerKey(id string) string { return quiz.KeyOf(strings.TrimSpace(id)) }

// adds puts down that a scale becomes more, declaring it here as the item does.
func (r *reader) adds(root *etree.Element, to *map[string]decimal.Decimal, id string, n decimal.Decimal) {
	if *to == nil {
		*to = map[string]decimal.Decimal{}
	}
	(*to)[r.scale(root, id)] = n
}

// scale returns the scale of an outcome variable, declared by the test or the item.
func (r *reader) scale(root *etree.Element, id string) string {
	key := quiz.KeyOf(id)
	if key == "" {
		key = "score"
	}
	if r.q.Scales[key] != nil {
		return key
	}
	s := &quiz.Scale{Order: float64(len(r.q.Scales) + 1), Name: id, Kind: quiz.Points}
	if id == score {
		s.Name = "Score"
	}
	declared := declares(root, id)
	if r.test != nil {
		if of := declares(r.test, id); of != nil {
			declared = of
			s.Order = float64(1 + before(r.test, of))
		}
	}
	if declared != nil {
		s.Name = clip(declared.SelectAttrValue("interpretation", s.Name), quiz.MaxTitle)
		if start, ok := numberOf(declared.FindElement("./qti-default-value/qti-value")); ok {
			s.Start = start
		}
	}
	r.q.Scales[key] = s
	return key
}

func declares(root *etree.Element, id string) *etree.Element {
	for _, d := range root.SelectElements("qti-outcome-declaration") {
		if d.SelectAttrValue("identifier", "") == id {
			return d
		}
	}
	return nil
}

// before counts how many of an element's like stand before it.
func before(root, e *etree.Element) int {
	for i, d := range root.SelectElements(e.Tag) {
		if d == e {
			return i
		}
	}
	return 0
}

// condition reads a condition of the response processing and tells whether it could be said.
func (r *reader) condition(root, ask, c *etree.Element, q *quiz.Question) bool {
	if other := c.FindElement(".//qti-variable"); other != nil &&
		!about(c, ask.SelectAttrValue("response-identifier", "")) {
		return true // it is about another question of the item
	}
	branches := c.ChildElements()
	if q.Kind.Numeric() {
		return r.numeric(root, branches, q)
	}
	if len(branches) != 1 {
		return false
	}
	b := branches[0]
	test := b.SelectElement("qti-match")
	if test == nil {
		test = b.SelectElement("qti-member")
	}
	if test == nil || test.SelectElement("qti-base-value") == nil {
		return false
	}
	value := strings.TrimSpace(test.SelectElement("qti-base-value").Text())
	more, ok := r.more(root, b)
	if !ok {
		return false
	}
	if row, column, pair := strings.Cut(value, " "); pair && q.Kind == quiz.Grid {
		return r.cell(q, answerKey(row), answerKey(column), more)
	}
	a := q.Answers[answerKey(value)]
	if a == nil {
		return false
	}
	a.Adds = more
	return true
}

// about tells whether a condition asks for a response.
func about(c *etree.Element, id string) bool {
	for _, v := range c.FindElements(".//qti-variable") {
		if v.SelectAttrValue("identifier", "") == id {
			return true
		}
	}
	return false
}

// cell puts down what a column adds in one row. What all rows add alike is made the column's
// by alike, when the last one is read.
func (r *reader) cell(q *quiz.Question, row, column string, adds map[string]decimal.Decimal) bool {
	if q.Rows[row] == nil || q.Answers[column] == nil {
		return false
	}
	if q.Rows[row].Adds == nil {
		q.Rows[row].Adds = map[string]map[string]decimal.Decimal{}
	}
	q.Rows[row].Adds[column] = adds
	alike(q, column)
	return true
}

// alike says of a column what it adds, where it adds the same in every row.
func alike(q *quiz.Question, column string) {
	var same map[string]decimal.Decimal
	for _, row := range q.Rows {
		adds := row.Adds[column]
		if adds == nil || same != nil && !equal(same, adds) {
			return
		}
		same = adds
	}
	q.Answers[column].Adds = same
	for _, row := range q.Rows {
		if delete(row.Adds, column); len(row.Adds) == 0 {
			row.Adds = nil
		}
	}
}

func equal(a, b map[string]decimal.Decimal) bool {
	for scale, n := range a {
		if b[scale] != n {
			return false
		}
	}
	return len(a) == len(b)
}
