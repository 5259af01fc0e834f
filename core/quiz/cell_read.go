package quiz

import (
	"errors"
	"fmt"
	"regexp"
	"strings"

	"omphalos/core/atlas"
	"omphalos/core/decimal"
)

// ErrCell says that the text of a cell of a decision table can't be read.
var ErrCell = errors.New("can't be read as a cell")

// ReadCell reads what CellText writes; "any", "-" and "*" are any, too, and ">=" is "≥".
// Answers are named by their words or their keys. The error wraps ErrCell and says
// what would be understood.
func (q *Quiz) ReadCell(s Subject, text string) (*Test, error) {
	text = strings.Join(strings.Fields(text), " ")
	switch strings.ToLower(text) {
	case "", "any", "-", "–", "*":
		return nil, nil
	case "answered", "is answered":
		return &Test{Op: IsAnswered}, nil
	case "skipped", "is skipped":
		return &Test{Op: IsSkipped}, nil
	}
	asked := q.Ask(s.Answer)
	for _, sign := range []struct {
		text string
		op   Op
	}{{"≥", AtLeast}, {">=", AtLeast}, {"at least ", AtLeast}, {"≤", AtMost}, {"<=", AtMost},
		{"at most ", AtMost}, {">", MoreThan}, {"<", LessThan}} {
		if rest, found := strings.CutPrefix(text, sign.text); found && !(asked != nil && asked.Kind.HasAnswers()) {
			item, err := q.readItem(s, strings.TrimSpace(rest))
			return &Test{Op: sign.op, Value: &Value{Items: []Item{item}}}, err
		}
	}
	if rest, found := strings.CutPrefix(text, "contains "); found {
		return &Test{Op: Contains, Value: Words(rest)}, nil
	}
	op := Is
	if rest, found := strings.CutPrefix(text, "not "); found {
		op, text = IsNot, rest
	}
	if s.Visitor != "" && s.Visitor != "date" && op == Is && eitherOr.MatchString(text) {
		return q.readList(s, IsOneOf, eitherOr.Split(text, -1)...)
	}
	item, err := q.readItem(s, text)
	if err == nil {
		return &Test{Op: op, Value: &Value{Items: []Item{item}}}, nil
	}
	if asked == nil || !asked.Kind.HasAnswers() {
		if from, to, found := strings.Cut(text, " to "); found && op == Is {
			return q.readList(s, Between, from, to)
		}
	}
	if lists := asked != nil && asked.Kind.HasAnswers(); op == Is && eitherOr.MatchString(text) &&
		(lists || strings.Contains(text, " or ")) {
		if v, err := q.readEither(s, text, mostEither); err == nil {
			return &Test{Op: IsOneOf, Value: v}, nil
		}
		return q.readList(s, IsOneOf, eitherOr.Split(text, -1)...) // for what it says is wrong
	}
	if asked != nil && asked.Kind == Several && strings.Contains(text, " and ") {
		if op == Is {
			op = Includes
		}
		return q.readList(s, op, strings.Split(text, " and ")...)
	}
	return nil, err
}

// eitherOr stands between things of which one is meant: "A or B", "A, B", "A, B, or C".
var eitherOr = regexp.MustCompile(`\s*,\s*(?:or\s+)?|\s+or\s+`)

const mostEither = 60 // things in one cell

// readEither reads things of which one is meant; a name may have commas and an "or" in it.
func (q *Quiz) readEither(s Subject, text string, most int) (*Value, error) {
	if item, err := q.readItem(s, text); err == nil {
		return &Value{List: true, Items: []Item{item}}, nil
	}
	err := fmt.Errorf("%q %w", clip(text), ErrCell)
	if most == 0 {
		return nil, err
	}
	for _, between := range eitherOr.FindAllStringIndex(text, -1) {
		first, wrong := q.readItem(s, strings.TrimSpace(text[:between[0]]))
		if wrong != nil {
			continue
		}
		rest, wrong := q.readEither(s, strings.TrimSpace(text[between[1]:]), most-1)
		if wrong == nil {
			return &Value{List: true, Items: append([]Item{first}, rest.Items...)}, nil
		}
	}
	return nil, err
}

func (q *Quiz) readList(s Subject, op Op, words ...string) (*Test, error) {
	v := &Value{List: true}
	for _, w := range words {
		item, err := q.readItem(s, strings.TrimSpace(w))
		if err != nil {
			return nil, err
		}
		v.Items = append(v.Items, item)
	}
	return &Test{Op: op, Value: v}, nil
}

func (q *Quiz) readItem(s Subject, text string) (Item, error) {
	asked := q.Ask(s.Answer)
	switch {
	case asked != nil && asked.Kind.HasAnswers():
		var labels []string
		for _, k := range InOrder(asked.Answers) {
			if k == text {
				return Item{Text: k, IsText: true}, nil
			}
			labels = append(labels, quoted(asked.Answers[k].Label))
		}
		for _, k := range InOrder(asked.Answers) {
			if strings.EqualFold(strings.Join(strings.Fields(asked.Answers[k].Label), " "), text) {
				return Item{Text: k, IsText: true}, nil
			}
		}
		return Item{}, fmt.Errorf(
			"%q %w: the answers to %s are %s",
			clip(text),
			ErrCell,
			quoted(asked.Label),
			clip(strings.Join(labels, ", ")),
		)
	case s.Scale != "" || asked != nil && asked.Kind.Numeric():
		d, err := decimal.Parse(strings.NewReplacer("−", "-", "+", "").Replace(text))
		if err != nil {
			return Item{}, fmt.Errorf("%q %w: numbers are written as 8, ≥ 8, < 8 or 8 to 14", clip(text), ErrCell)
		}
		return Item{Number: d}, nil
	case q.OfCountry(s):
		code, known := atlas.Code(text)
		if !known {
			return Item{}, fmt.Errorf("%q %w: it is no country; countries are named such as Ireland, or IE", clip(text), ErrCell)
		}
		return Item{Text: code, IsText: true}, nil
	case asked != nil && asked.Kind == Date, s.Visitor == "date":
		if _, err := ParseDay(text); err != nil {
			return Item{}, fmt.Errorf("%q %w: days are written as 2027-05-01", clip(text), ErrCell)
		}
	}
	return Item{Text: text, IsText: true}, nil
}
