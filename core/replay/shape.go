package replay

import (
	"encoding/json"

	"omphalos/core/program"
	"omphalos/core/quiz"
)

// shape tells how a version reads answers, and nothing of what comes of them: two versions of one
// shape take the same Input.
func shape(p *program.Program) string {
	var all []any
	for i := range p.Questions {
		q := *p.Question(i)
		q.Section, q.Order, q.Help, q.Picture, q.Reason, q.Layout = "", 0, "", nil, "", ""
		q.ShowWhen, q.Then, q.Weigh, q.Cap, q.Expect = nil, nil, nil, nil, nil
		answers, rows := map[string]*quiz.Answer{}, map[string]*quiz.Row{}
		for key, a := range q.Answers {
			plain := *a
			plain.Adds, plain.Then, plain.Picture, plain.Note = nil, nil, nil, ""
			answers[key] = &plain
		}
		for key, r := range q.Rows {
			plain := *r
			plain.Adds, plain.Scales, plain.Reversed = nil, nil, false
			rows[key] = &plain
		}
		q.Answers, q.Rows = answers, rows
		all = append(all, p.Key(i), &q)
	}
	text, err := json.Marshal(append(all, p.Quiz.Contact, p.Quiz.Settings))
	if err != nil {
		return "" // no type of it can fail
	}
	return string(text)
}

// shapeOf fills in which version stands for each that reads answers as it does: the first of them.
func (r *Replay) shapeOf() {
	first := map[string]int{}
	for i, p := range r.versions {
		of := shape(p)
		at, known := first[of]
		if !known {
			at, first[of] = i, i
		}
		r.shapes = append(r.shapes, at)
	}
}
