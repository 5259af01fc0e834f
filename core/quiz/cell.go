package quiz

import (
	"slices"
	"strings"

	"omphalos/core/atlas"
)

// CellText writes a test of a subject as the short text of a cell of a decision table,
// which ReadCell reads back: "Apples", "Apples or Pears", "not Apples", "≥ 8", "8 to 14",
// "answered"; "" for any.
func (q *Quiz) CellText(s Subject, t *Test) string {
	if t == nil {
		return ""
	}
	words := func(joint string) string {
		var list []string
		for _, i := range t.Value.Items {
			list = append(list, q.cellItem(s, i))
		}
		return strings.Join(list, joint)
	}
	if t.Op == IsAnswered || t.Op == IsSkipped {
		return strings.TrimPrefix(string(t.Op), "is ")
	}
	if t.Value == nil {
		return ""
	}
	switch t.Op {
	case IsNot:
		return "not " + words(" and ")
	case IsOneOf:
		return words(" or ")
	case Between:
		return words(" to ")
	case Contains:
		return "contains " + words(" ")
	case Is, Includes:
		return words(" and ")
	}
	return cellSigns[t.Op] + " " + words(" ")
}

var cellSigns = map[Op]string{AtLeast: "≥", AtMost: "≤", MoreThan: ">", LessThan: "<"}

// cellItem names an answer by its label where that reads back as the same answer.
func (q *Quiz) cellItem(s Subject, i Item) string {
	label := i.String()
	if q.OfCountry(s) {
		return atlas.Name(label, "en")
	}
	if asked := q.Ask(s.Answer); asked != nil && asked.Answers[label] != nil {
		label = strings.Join(strings.Fields(asked.Answers[label].Label), " ")
	}
	for _, part := range []string{" or ", " and ", " to "} {
		if strings.Contains(label, part) {
			return i.String()
		}
	}
	if back, err := q.readItem(s, label); err != nil || back != i || strings.HasPrefix(label, "not ") ||
		label == "any" ||
		label == "answered" ||
		label == "skipped" {
		return i.String()
	}
	return label
}

// CellTakes says what a cell of a column takes, in words.
func (q *Quiz) CellTakes(s Subject) string {
	asked := q.Ask(s.Answer)
	switch {
	case asked != nil && asked.Kind.HasAnswers():
		var labels []string
		for _, k := range InOrder(asked.Answers) {
			labels = append(labels, strings.Join(strings.Fields(asked.Answers[k].Label), " "))
		}
		return "Takes " + strings.Join(labels, "; ") + "; several as “A, B” or “A or B”; “not " +
			"A”; “answered” or “skipped”; nothing for any."
	case s.Scale != "" || asked != nil && asked.Kind.Numeric():
		return "Takes 8; ≥ 8; < 8; 8 to 14; nothing for any."
	case asked != nil && asked.Kind == Date, s.Visitor == "date":
		return "Takes 2027-05-01; ≥ 2027-05-01; 2027-05-01 to 2027-06-01; nothing for any."
	}
	return "Takes words; several as “A, B” or “A or B”; “not A”; “contains A”; nothing for any."
}

// OutcomeNamed returns the key of the outcome that a text names by its private name,
// its letter or its key.
func (q *Quiz) OutcomeNamed(text string) (string, bool) {
	text = strings.TrimSpace(text)
	keys := InOrder(q.Outcomes)
	if slices.Contains(keys, text) {
		return text, true
	}
	for _, k := range keys {
		if strings.EqualFold(q.Outcomes[k].Name, text) {
			return k, true
		}
	}
	for _, k := range keys {
		if q.Letter(k) == strings.ToUpper(text) {
			return k, true
		}
	}
	return "", false
}
