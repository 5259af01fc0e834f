package edit

import (
	"errors"
	"regexp"
	"strings"

	"omphalos/core/decimal"
)

// An Asked is a question as it is read from lines.
type Asked struct {
	Label   string
	Answers []AskedAnswer
}

// An AskedAnswer is an answer as it is read from a line: what stands behind tabs is what it
// adds to the scales, in their order; nil where nothing stands.
type AskedAnswer struct {
	Label string
	Adds  []*decimal.Decimal
}

// ReadQuestions reads questions from lines as people write them, or as a spreadsheet gives
// them:
//
//   - a line is a question; lines below it that are indented, or begin with a bullet, are its
//     answers;
//   - where nothing is indented, but lines stand together between blank ones, the first of
//     each group is a question and the others are its answers; a question that stands alone
//     has the group behind it as its answers, where none of that asks;
//   - cells of a row are a question and its answers, or a question, an answer and numbers;
//     the same question again, or an empty first cell, is one more answer;
//   - numbers behind an answer's tabs are its weights.
func ReadQuestions(text string) []Asked {
	lines := strings.Split(strings.ReplaceAll(text, "\r\n", "\n"), "\n")
	indents, blanks := false, false
	for i, l := range lines {
		lines[i] = strings.TrimRight(l, " \u00a0\r")
		indents = indents || indented(l)
		blanks = blanks || strings.TrimSpace(l) == "" && i > 0 && i < len(lines)-1
	}
	w := writing{}
	if indents || !blanks {
		for _, l := range lines {
			w.line(l, indented(l))
		}
		return w.list
	}
	for _, group := range groups(lines) {
		if n := len(w.list); n > 0 && len(w.list[n-1].Answers) == 0 && asks(w.list[n-1].Label) &&
			len(group) > 1 && !anyAsks(group) {
			for _, l := range group {
				w.line(l, true)
			}
			continue
		}
		for i, l := range group {
			w.line(l, i > 0)
		}
	}
	return w.list
}

// groups are the lines that stand together.
func groups(lines []string) (list [][]string) {
	var group []string
	for _, l := range append(lines, "") {
		switch {
		case strings.TrimSpace(l) != "":
			group = append(group, l)
		case group != nil:
			list, group = append(list, group), nil
		}
	}
	return list
}

var (
	bullet  = regexp.MustCompile(`^\s*(?:[-–—•*·]|\(?[a-z]\)|[a-z]\.)\s+`)
	counted = regexp.MustCompile(`^\s*(?:\(?\d{1,3}[.)]\)?)\s+`)
)

// indented tells whether a line is one of an answer.
func indented(l string) bool {
	return strings.TrimSpace(l) != "" && (strings.HasPrefix(l, "  ") || strings.HasPrefix(l, "\t") ||
		bullet.MatchString(l))
}

func asks(label string) bool { return strings.HasSuffix(label, "?") || strings.HasSuffix(label, ":") }

func anyAsks(group []string) bool {
	for _, l := range group {
		if strings.HasSuffix(strings.TrimSpace(strings.SplitN(l, "\t", 2)[0]), "?") {
			return true
		}
	}
	return false
}

type writing struct{ list []Asked }

// line takes a line as a question, or as an answer to the last one.
func (w *writing) line(l string, answer bool) {
	if strings.TrimSpace(l) == "" {
		return
	}
	cells := strings.Split(l, "\t")
	for i := range cells {
		cells[i] = strings.TrimSpace(cells[i])
	}
	for answer && len(cells) > 1 && cells[0] == "" {
		cells = cells[1:]
	}
	n := len(w.list)
	switch {
	case answer && n > 0:
		w.answer(&w.list[n-1], cells)
		return
	case n > 0 && len(cells) > 1 && cells[0] == w.list[n-1].Label && !isWeight(cells[1]):
		w.answer(&w.list[n-1], cells[1:])
		return
	}
	q := Asked{Label: counted.ReplaceAllString(bullet.ReplaceAllString(cells[0], ""), "")}
	rest := filledCells(cells[1:])
	switch {
	case len(rest) == 0:
	case len(rest) > 1 && isWeight(rest[1]): // an answer with its weights
		w.answer(&q, rest)
	default:
		for _, label := range rest {
			if !isWeight(label) {
				q.Answers = append(q.Answers, AskedAnswer{Label: label})
			}
		}
	}
	w.list = append(w.list, q)
}

// filledCells are cells without the empty ones at their end.
func filledCells(cells []string) []string {
	for len(cells) > 0 && cells[len(cells)-1] == "" {
		cells = cells[:len(cells)-1]
	}
	return cells
}

func (w *writing) answer(q *Asked, cells []string) {
	a := AskedAnswer{Label: counted.ReplaceAllString(bullet.ReplaceAllString(cells[0], ""), "")}
	for _, cell := range filledCells(cells[1:]) {
		a.Adds = append(a.Adds, weight(cell))
	}
	q.Answers = append(q.Answers, a)
}

// weight reads a number as people write it, nil for none.
func weight(cell string) *decimal.Decimal {
	d, _, err := decimal.Read(cell, false)
	if err != nil && !errors.Is(err, decimal.ErrDoubt) {
		return nil
	}
	return &d
}

func isWeight(cell string) bool { return cell != "" && weight(cell) != nil }
