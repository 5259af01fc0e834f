package qti

import (
	"slices"

	"github.com/beevik/etree"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
)

// weigh writes what answers add: a condition for each answer that adds something.
func (w *writer) weigh(root *etree.Element, key string, q *quiz.Question) {
	p := etree.NewElement("qti-response-processing")
	if q.Kind.HasAnswers() && q.Kind != quiz.Grid {
		for _, k := range quiz.InOrder(q.Answers) {
			w.adds(p, q, []string{"identifier", k}, q.Answers[k].Adds, q.Kind == quiz.Several)
		}
	}
	if q.Kind == quiz.Grid {
		w.weighGrid(p, key, q)
	}
	for _, scale := range w.feeds(q) {
		if weighing := q.Weigh[scale]; weighing != nil {
			w.weighNumber(p, key, q, scale, weighing)
		}
	}
	if len(p.ChildElements()) > 0 {
		root.AddChild(p)
	}
}

func (w *writer) weighGrid(p *etree.Element, key string, q *quiz.Question) {
	for _, row := range quiz.InOrder(q.Rows) {
		r := q.Rows[row]
		if r.Reversed {
			w.lost.tell("%s has reversed rows: there they weigh as the others do.", nameOf(key, q))
		}
		for _, column := range quiz.InOrder(q.Answers) {
			adds := map[string]decimal.Decimal{}
			for scale, n := range q.Answers[column].Adds {
				adds[scale] = n
			}
			for scale, n := range r.Adds[column] {
				adds[scale] = n
			}
			for scale := range adds {
				if r.Scales != nil && !slices.Contains(r.Scales, scale) {
					delete(adds, scale)
				}
			}
			w.adds(p, q, []string{"directedPair", row + " " + column}, adds, true)
		}
	}
}

// adds writes a condition: where the response is, or has, a value, scales become more.
func (w *writer) adds(p *etree.Element, q *quiz.Question, value []string, adds map[string]decimal.Decimal, among bool) {
	if len(adds) == 0 {
		return
	}
	b := add(add(p, "qti-response-condition"), "qti-response-if")
	test := "qti-match"
	if among {
		test = "qti-member"
	}
	t := add(b, test)
	words(t, "qti-base-value", value[1], "base-type", value[0])
	add(t, "qti-variable", "identifier", response)
	for _, scale := range quiz.InOrder(w.q.Scales) {
		if n, there := adds[scale]; there {
			more(b, scale, n)
		}
	}
}

// more adds an amount to a scale.
func more(to *etree.Element, scale string, n decimal.Decimal) {
	sum := add(add(to, "qti-set-outcome-value", "identifier", scale), "qti-sum")
	add(sum, "qti-variable", "identifier", scale)
	words(sum, "qti-base-value", n.String(), "base-type", "float")
}

// weighNumber writes what a number adds: itself by a factor, or by brackets.
func (w *writer) weighNumber(p *etree.Element, key string, q *quiz.Question, scale string, g *quiz.Weighing) {
	switch {
	case q.Kind == quiz.Date:
		w.lost.tell("%s weighs by the day: there it weighs nothing.", nameOf(key, q))
		return
	case g.Reversed:
		w.lost.tell("%s weighs the other way round: there it weighs nothing.", nameOf(key, q))
		return
	case g.Factor != nil:
		b := add(add(p, "qti-response-condition"), "qti-response-if")
		add(add(add(b, "qti-not"), "qti-is-null"), "qti-variable", "identifier", response)
		sum := add(add(b, "qti-set-outcome-value", "identifier", scale), "qti-sum")
		add(sum, "qti-variable", "identifier", scale)
		product := add(sum, "qti-product")
		add(product, "qti-variable", "identifier", response)
		words(product, "qti-base-value", g.Factor.String(), "base-type", "float")
	}
	brackets := quiz.InOrderOfBrackets(g.Brackets)
	slices.Reverse(brackets)
	if len(brackets) == 0 {
		return
	}
	c := add(p, "qti-response-condition")
	for i, k := range brackets {
		branch := "qti-response-else-if"
		if i == 0 {
			branch = "qti-response-if"
		}
		b := add(c, branch)
		if g.Brackets[k].From == nil {
			add(add(add(b, "qti-not"), "qti-is-null"), "qti-variable", "identifier", response)
		} else {
			at := add(b, "qti-gte")
			add(at, "qti-variable", "identifier", response)
			words(at, "qti-base-value", g.Brackets[k].From.Value().String(), "base-type", "float")
		}
		more(b, scale, g.Brackets[k].Adds)
	}
}
