package passage

import (
	"slices"

	"omphalos/core/program"
	"omphalos/core/quiz"
)

// A Review shows what is right of one question, and what was answered.
type Review struct {
	Question int
	Right    bool // it was answered rightly
	Answers  []Reviewed
	Reason   string // why, in Markdown
}

// A Reviewed answer of a question that has right ones.
type Reviewed struct {
	Label  string
	Right  bool
	Chosen bool
}

// ReviewOf returns what is right of question i beside what was answered; ok is false for
// a question without right answers.
func ReviewOf(p *program.Program, i int, v program.Value) (r Review, ok bool) {
	if !p.HasRight(i) {
		return Review{}, false
	}
	asked := p.Question(i)
	r = Review{Question: i, Right: p.IsRight(i, v), Reason: asked.Reason}
	chosen := p.Typed(i, v).Values
	for _, k := range quiz.InOrder(asked.Answers) {
		a := asked.Answers[k]
		r.Answers = append(r.Answers, Reviewed{Label: a.Label, Right: a.Right, Chosen: slices.Contains(chosen, k)})
	}
	return r, true
}

// Reviews returns the reviews of a passage, in its order.
func Reviews(p *program.Program, in Input, r *Result) []Review {
	var list []Review
	for _, i := range r.Seen {
		var v program.Value
		if i < len(in.Answers) {
			v = in.Answers[i]
		}
		if one, ok := ReviewOf(p, i, v); ok {
			list = append(list, one)
		}
	}
	return list
}

// Right counts the questions on the passage that have right answers (all), and
// those of them that were answered rightly: by a right answer, and for several
// picks by all right ones and no other.
func Right(p *program.Program, in Input, r *Result) (right, all int) {
	for _, i := range r.Seen {
		if !p.HasRight(i) {
			continue
		}
		all++
		if i < len(in.Answers) && p.IsRight(i, in.Answers[i]) {
			right++
		}
	}
	return right, all
}
