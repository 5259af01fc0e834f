package quiz_test

import (
	"fmt"

	"omphalos/core/quiz"
)

// A document is read strictly: what is wrong with it is told with its place.
func ExampleRead() {
	_, err := quiz.Read(
		[]byte(
			`{"format": "omphalos/quiz@1", "title": "Bees", "sections": {}, "questions": {}, "scales": {}, "outcomes": {}, "decision": {"otherwise": "fit"}, "colour": "blue"}`,
		),
	)
	fmt.Println(err)
	// Output:
	// /colour: is a field that the format does not know
}

func ExampleQuiz_Check() {
	q, err := quiz.Read([]byte(`{"format": "omphalos/quiz@1", "title": "Bees",
		"sections": {"main": {"order": 1}}, "questions": {}, "scales": {}, "outcomes": {}, "decision": {"otherwise": "fit"}}`))
	if err != nil {
		fmt.Println(err)
		return
	}
	for _, p := range q.Check() {
		fmt.Println(p)
	}
	// Output:
	// /questions: the quiz asks nothing yet; add a question
	// /decision/otherwise: names the outcome "fit", which does not exist
}
