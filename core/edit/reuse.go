package edit

import (
	"encoding/json"
	"fmt"

	"omphalos/core/quiz"
)

// Reuse returns the patch that adds a question of another quiz at the end of a
// document, and its path. Words, answers and limits come along; weights come along
// on the scales that this quiz has under the same key; conditions and thens, which
// lead elsewhere, stay behind.
func Reuse(document []byte, question *quiz.Quiz, key string) (patch []byte, path quiz.Pointer, err error) {
	q := question.Questions[key]
	if q == nil {
		return nil, "", fmt.Errorf("reusing the question %q %w: it is not there any more", key, ErrAct)
	}
	t, err := planned(document)
	if err != nil {
		return nil, "", err
	}
	scales, siblings := t.object("/scales"), t.object("/questions")
	var twin map[string]any
	written, err := json.Marshal(q)
	if err != nil {
		return nil, "", fmt.Errorf("writing the question: %w", err)
	}
	if err := readJSON(written, &twin); err != nil {
		return nil, "", fmt.Errorf("reading the question: %w", err)
	}
	for _, field := range []string{"showWhen", "then"} {
		delete(twin, field)
	}
	known := func(v any) {
		amounts, _ := v.(map[string]any)
		for scale := range amounts {
			if scales[scale] == nil {
				delete(amounts, scale)
			}
		}
	}
	known(twin["weigh"])
	known(twin["cap"])
	answers, _ := twin["answers"].(map[string]any)
	for _, a := range answers {
		answer := a.(map[string]any)
		delete(answer, "then")
		known(answer["adds"])
	}
	rows, _ := twin["rows"].(map[string]any)
	for _, r := range rows {
		row := r.(map[string]any)
		delete(row, "scales")
		columns, _ := row["adds"].(map[string]any)
		for _, adds := range columns {
			known(adds)
		}
	}
	twin["section"], twin["order"] = t.lastSection(), t.place("/questions", Beside{}, "")
	fresh := key
	if siblings[fresh] != nil || scales[fresh] != nil {
		fresh = freeKey(siblings, key)
	}
	t.put(quiz.At("questions", fresh), twin)
	patch, err = json.Marshal(t.ops)
	return patch, quiz.At("questions", fresh), err
}
