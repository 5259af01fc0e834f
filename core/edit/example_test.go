package edit_test

import (
	"fmt"

	"omphalos/core/edit"
	"omphalos/core/quiz"
	"omphalos/core/quiztest"
)

// orchard is a quiz with one question.
func orchard() []byte {
	m := quiztest.New("fit")
	m.Scale("readiness", quiz.Sum).Name = "Readiness"
	crop := m.Ask("crop", quiz.Single, "apples readiness=4", "none")
	crop.Label, crop.Answers["apples"].Label = "What do you grow?", "Apples"
	return m.Write()
}

// A change says what it did, and how it is taken back.
func ExampleApply() {
	change, err := edit.Apply(
		orchard(),
		[]byte(`[{"op": "replace", "path": "/questions/crop/answers/apples/adds/readiness", "value": 6}]`),
	)
	fmt.Println(err)
	fmt.Println(change.Sentence)
	fmt.Println(string(change.Inverse))
	// Output:
	// <nil>
	// Readiness of “Apples” +4 → +6
	// [{"value":4,"op":"replace","path":"/questions/crop/answers/apples/adds/readiness"}]
}

// An act finds the key and the place of what is new, and what else has to change.
func ExampleAct() {
	patch, path, err := edit.Patch(edit.Copy{Path: "/questions/crop"}, orchard())
	fmt.Println(path, err)
	change, _ := edit.Apply(orchard(), patch)
	fmt.Println(change.Sentence)
	// Output:
	// /questions/crop_2 <nil>
	// Added the question “What do you grow?”
}
