package qti

import (
	"strconv"

	"github.com/beevik/etree"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
)

// more reads what a branch adds to scales, each by a sum of the scale and a number.
func (r *reader) more(root, b *etree.Element) (map[string]decimal.Decimal, bool) {
	adds := map[string]decimal.Decimal{}
	for _, set := range b.SelectElements("qti-set-outcome-value") {
		id := set.SelectAttrValue("identifier", "")
		value := set.SelectElement("qti-base-value") // set to a number, as where nothing was added before
		if sum := set.SelectElement("qti-sum"); sum != nil {
			value = sum.SelectElement("qti-base-value")
		}
		n, ok := numberOf(value)
		if !ok {
			return nil, false
		}
		adds[r.scale(root, id)] = n
	}
	return adds, len(adds) > 0
}

// numeric reads how a number weighs: by a factor, or by brackets from above.
func (r *reader) numeric(root *etree.Element, branches []*etree.Element, q *quiz.Question) bool {
	if q.Weigh == nil {
		q.Weigh = map[string]*quiz.Weighing{}
	}
	if len(branches) == 1 {
		if set := branches[0].SelectElement("qti-set-outcome-value"); set != nil {
			if factor, ok := numberOf(set.FindElement("./qti-sum/qti-product/qti-base-value")); ok {
				q.Weigh[r.scale(root, set.SelectAttrValue("identifier", ""))] = &quiz.Weighing{Factor: &factor}
				return true
			}
		}
	}
	brackets, of := map[string]*quiz.Bracket{}, ""
	for i, b := range branches {
		adds, ok := r.more(root, b)
		if !ok || len(adds) != 1 {
			return false
		}
		bracket := &quiz.Bracket{}
		for scale, n := range adds {
			if of != "" && of != scale {
				return false
			}
			of, bracket.Adds = scale, n
		}
		if at := b.SelectElement("qti-gte"); at != nil {
			from, ok := numberOf(at.SelectElement("qti-base-value"))
			if !ok {
				return false
			}
			bracket.From = quiz.NumberBound(from)
		} else if b.SelectElement("qti-not") == nil && b.Tag != "qti-response-else" {
			return false
		}
		brackets["bracket_"+strconv.Itoa(len(branches)-i)] = bracket
	}
	if of != "" {
		q.Weigh[of] = &quiz.Weighing{Brackets: brackets}
	}
	return of != ""
}
