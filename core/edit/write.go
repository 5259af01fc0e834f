package edit

import (
	"fmt"
	"strings"

	"omphalos/core/quiz"
)

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
