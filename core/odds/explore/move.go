package explore

import (
	"omphalos/core/program"
)

// A Move says where passages go from a question.
type Move struct {
	Next    int // position of the question they come to, −1 at the end
	Memory  Memory
	End     program.End
	Outcome int // named by a then, or −1
	Rule    int // position of the question's then rule that led on, or −1
}

// Start calls f for each kind of visitor that the path or the decision tells
// apart, with the share that the assumed visitor has: 1 for one of them, and 0 for
// the others, whose passages can happen all the same.
func (e *Explorer) Start(f func(m Move, v Vector, share float64)) {
	for i := range e.strangers {
		clear(e.w.Seen)
		clear(e.fed)
		e.stranger, e.w.Visitor = i, e.strangers[i]
		share := 0.0
		if i == 0 {
			share = 1
		}
		e.load(e.start)
		first := program.Turn{Next: e.w.Ahead(0, program.None), End: program.Unfinished, Outcome: program.None}
		if first.Next == len(e.p.Questions) {
			first.End = program.Decided
		}
		m := e.arrive(first)
		e.settle()
		m.Rule = program.None
		f(m, e.Narrow(e.at(m), e.start), share)
	}
}

// Step returns where an effect leads from a question for all Vectors beside a
// Memory, or false where that depends on scores: then StepAt tells.
func (e *Explorer) Step(question int, m Memory, f *Effect) (Move, bool) {
	e.recall(m)
	e.w.Scored = false
	to := e.move(question, f)
	if e.w.Scored {
		e.pending, e.missed = e.pending[:0], e.missed[:0]
		return Move{}, false
	}
	e.settle()
	return to, true
}

// StepAt returns where an effect leads from a question for one Vector, which has
// the effect added to it.
func (e *Explorer) StepAt(question int, m Memory, f *Effect, v Vector) Move {
	e.recall(m)
	e.load(v)
	to := e.move(question, f)
	e.settle()
	return to
}

func (e *Explorer) at(m Move) int {
	if m.Next < 0 {
		return len(e.p.Questions)
	}
	return m.Next
}

func (e *Explorer) move(question int, f *Effect) Move {
	w := &e.w
	w.Seen[question], w.Answers[question], e.class[question] = true, f.Value, f.class
	w.Moved()
	for i := range e.fed {
		e.fed[i] = e.fed[i] || f.fed>>i&1 == 1
	}
	t := w.Leave(question, &f.Value)
	to := e.arrive(t)
	to.Rule = t.Rule
	return to
}

// arrive takes down where passages have come to.
func (e *Explorer) arrive(t program.Turn) Move {
	if t.End == program.Unfinished {
		e.miss(e.filled[t.Next], t.Next)
		return Move{Next: t.Next, Memory: e.memorize(t.Next), Outcome: program.None}
	}
	return Move{Next: -1, Memory: e.memorize(len(e.p.Questions)), End: t.End, Outcome: t.Outcome}
}
