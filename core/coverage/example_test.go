package coverage_test

import (
	"fmt"

	"omphalos/core/coverage"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/core/quiztest"
)

// A decision table tells which combinations none of its rules covers.
func ExampleOfTable() {
	m := quiztest.New("later", "fit")
	m.Ask("crop", quiz.Single, "apples", "pears", "none")
	m.Ask("size", quiz.Single, "small", "large")
	m.Decision.Steps["table"] = &quiz.Step{Kind: quiz.TableStep,
		Columns: map[string]*quiz.Column{
			"crop": {Order: 1, Subject: quiz.Subject{Answer: "crop"}},
			"size": {Order: 2, Subject: quiz.Subject{Answer: "size"}}},
		Rules: map[string]*quiz.TableRule{
			"large": {
				Order:   1,
				Outcome: "fit",
				Cells:   map[string]*quiz.Test{"size": {Op: quiz.Is, Value: quiz.Words("large")}},
			},
			"none": {
				Order:   2,
				Outcome: "later",
				Cells:   map[string]*quiz.Test{"crop": {Op: quiz.Is, Value: quiz.Words("none")}},
			}}}
	program, err := program.Compile(m.Quiz)
	if err != nil {
		fmt.Println(err)
		return
	}
	c, err := coverage.OfTable(program, "table", nil)
	if err != nil {
		fmt.Println(err)
		return
	}
	fmt.Printf("%v of %v are covered, %v of them twice; %d rows are left\n", c.Covered, c.All, c.Twice, len(c.Left))
	// Output:
	// 6 of 12 are covered, 1 of them twice; 4 rows are left
}
