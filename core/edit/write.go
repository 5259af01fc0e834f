package edit

import (
	"fmt"
	"regexp"
	"strings"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
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
	plain := strings.NewReplacer("−", "-", ",", ".").Replace(strings.TrimPrefix(strings.TrimSpace(cell), "+"))
	d, err := decimal.Parse(plain)
	if err != nil {
		return nil
	}
	return &d
}

func isWeight(cell string) bool { return cell != "" && weight(cell) != nil }

// Write makes questions of the lines of a text, as ReadQuestions reads them. Where there are
// more weights than scales, scales come along.
type Write struct {
	Beside
	Label string `json:"label"` // the text
}

func (a Write) do(t *plan) error {
	list := ReadQuestions(a.Label)
	siblings := t.object("/questions")
	if len(list) == 0 || len(list)+len(siblings) > quiz.Most {
		return fmt.Errorf("making %s of this %w: a quiz has from 1 to %d", quiz.Count(len(list), "question"),
			ErrAct, quiz.Most)
	}
	scales := t.scalesFor(list)
	section, from := t.lastSection(), a.Beside
	if s, ok := siblings[a.neighbour()].(map[string]any); ok && s["section"] != "" {
		section, _ = s["section"].(string)
	}
	first := t.place("/questions", from, "")
	step := t.room("/questions", first) / float64(len(list)+1)
	taken := t.names()
	for i, w := range list {
		if len(w.Answers) > quiz.Most {
			return fmt.Errorf("%d answers to %q %w: at most %d fit", len(w.Answers), clip(w.Label), ErrAct, quiz.Most)
		}
		key := wordsKey(w.Label, taken)
		if key == "" {
			key = freeKey(taken, "question")
		}
		fresh := w.question(scales)
		fresh["section"], fresh["order"] = section, first+step*float64(i)
		taken[key] = fresh
		t.put(quiz.At("questions", key), fresh)
		t.made = quiz.At("questions", key)
	}
	for key := range siblings { // one that nobody has begun makes room
		if (key == a.neighbour() || len(siblings) == 1) && t.unbegun(key) {
			return Remove{Path: quiz.At("questions", key)}.do(t)
		}
	}
	return nil
}

// unbegun tells whether a question has no words, and none of its answers has.
func (t *plan) unbegun(key string) bool {
	worded := func(thing map[string]any) bool {
		label, _ := thing["label"].(string)
		return strings.TrimSpace(label) != ""
	}
	for _, answer := range t.each(quiz.At("questions", key, "answers")) {
		if worded(answer) {
			return false
		}
	}
	return !worded(t.object(quiz.At("questions", key)))
}

// room returns how far it is from an order to the next one in a list.
func (t *plan) room(list quiz.Pointer, from float64) float64 {
	room := 0.0
	for _, thing := range t.object(list) {
		if d := orderOf(thing) - from; d > 0 && (room == 0 || d < room) {
			room = d
		}
	}
	if room == 0 {
		return 1e6
	}
	return room
}

// scalesFor returns the keys of the scales that weights stand for, in order, making those that
// are missing.
func (t *plan) scalesFor(list []Asked) []string {
	most := 0
	for _, w := range list {
		for _, a := range w.Answers {
			most = max(most, len(a.Adds))
		}
	}
	scales := t.object("/scales")
	keys := ordered(scales)
	taken, last := t.names(), 0.0
	for _, k := range keys {
		last = max(last, orderOf(scales[k]))
	}
	for len(keys) < most {
		key := keyNear(taken, "points")
		name := "Points"
		if key != "points" {
			name = "Points " + strings.TrimPrefix(key, "points_")
		}
		last++
		fresh := map[string]any{"order": last, "name": name, "kind": string(quiz.Points)}
		taken[key] = fresh
		t.put(quiz.At("scales", key), fresh)
		keys = append(keys, key)
	}
	return keys
}

// question returns the document of a question.
func (w Asked) question(scales []string) map[string]any {
	fresh := map[string]any{"kind": string(quiz.Single), "label": w.Label, "required": true}
	if len(w.Answers) == 0 {
		fresh["answers"] = blankAnswers(quiz.Single)
		return fresh
	}
	if len(w.Answers) == 2 && strings.EqualFold(w.Answers[0].Label, "yes") && strings.EqualFold(w.Answers[1].Label, "no") {
		fresh["kind"] = string(quiz.YesNo)
	}
	answers := map[string]any{}
	for i, a := range w.Answers {
		answer := map[string]any{"order": i + 1, "label": a.Label}
		adds := map[string]any{}
		for j, n := range a.Adds {
			if n != nil && j < len(scales) {
				adds[scales[j]] = number(*n)
			}
		}
		if len(adds) > 0 {
			answer["adds"] = adds
		}
		key := quiz.KeyOf(a.Label)
		if !quiz.IsKey(key) || len(key) > 24 || answers[key] != nil {
			key = freeKey(answers, "answer")
		}
		answers[key] = answer
	}
	fresh["answers"] = answers
	return fresh
}
