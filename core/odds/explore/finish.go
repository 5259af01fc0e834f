package explore

import (
	"slices"

	"omphalos/core/decimal"
	"omphalos/core/program"
)

// Finish returns how the passages at the end with a Memory and a Vector finish.
func (e *Explorer) Finish(m Move, v Vector) program.Finish {
	e.recall(m.Memory)
	e.load(v)
	w := &e.w
	w.Outcome = m.Outcome
	f := program.Finish{End: m.End, Step: program.Otherwise, Outcome: m.Outcome}
	if !e.lands() {
		return f
	}
	if m.End == program.Decided {
		scores := e.scores()
		w.Ties = w.Ties[:0]
		f.Step = w.Decide(scores)
		if f.Step != program.Otherwise {
			f.Part = w.Part
		}
		f.Tied = program.Tied(w.Ties)
		e.judge()
	}
	f.Outcome = w.Outcome
	e.miss(e.filledAt[f.Outcome], f.Outcome)
	f.Landing = e.land(m.End)
	e.settle()
	return f
}

// scores returns the scores that the decision asks for; the others are 0.
func (e *Explorer) scores() []decimal.Decimal {
	scores := make([]decimal.Decimal, len(e.p.Scales))
	for i := range scores {
		if e.until[i] >= before(len(e.p.Questions)) {
			scores[i] = e.w.Score(i)
		}
	}
	return scores
}

// Scores calls f with the score at the end of each scale that is followed.
func (e *Explorer) Scores(m Move, v Vector, f func(scale int, score decimal.Decimal)) {
	e.recall(m.Memory)
	e.load(v)
	for _, scale := range e.tracks {
		f(scale, e.w.Score(scale))
	}
}

// Length returns how many questions passages with a Vector have been asked.
// Explorers of the path count them.
func (e *Explorer) Length(v Vector) int {
	i := slices.IndexFunc(e.fields, func(f field) bool { return f.of == asLength })
	return int(e.fields[i].get(v))
}
