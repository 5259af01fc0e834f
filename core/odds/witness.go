package odds

import (
	"errors"
	"fmt"

	"omphalos/core/passage"
)

// A Target is something that a passage can get to: an outcome, or one of its
// landings; a question, or one of its answers by name (see passage.Program.Names);
// a step of the decision that decides, or a part of it.
type Target struct {
	Outcome, Landing string
	Question, Answer string
	Step, Part       string
}

// ErrUnreachable says that no passage gets to a Target.
var ErrUnreachable = errors.New("no way through the quiz leads there")

// Witnesses finds passages that get to something.
type Witnesses struct {
	p          *passage.Program
	path, ends *walked
}

// Witness walks all passages so that ways can be found among them. The visitor may
// be nil; where only another visitor gets to a Target, the passage found is that
// visitor's. The error is ErrSteps where that takes more than a number of steps.
func Witness(p *passage.Program, visitor *passage.Visitor, steps int) (*Witnesses, error) {
	w := walks{p: p, assumed: p.Assume(visitor, passage.Shares{}), most: steps}
	if w.most == 0 {
		w.most = MostSteps
	}
	found := Witnesses{p: p}
	if e, err := p.ExplorePath(w.assumed); err == nil {
		found.path = w.run(&walked{traced: true}, e)
	}
	if e, err := p.ExploreEnds(w.assumed); err == nil {
		found.ends = w.run(&walked{traced: true}, e)
	}
	if found.path == nil || found.ends == nil {
		return nil, fmt.Errorf("looking for ways through the quiz: %w", ErrSteps)
	}
	return &found, nil
}

// To returns the answers, and the visitor, of a passage that gets to the target:
// every question on it is answered or passed by. The error is ErrUnreachable.
func (w *Witnesses) To(t Target) (passage.Input, error) {
	if t.Question != "" {
		return w.toQuestion(t)
	}
	end := &w.ends.places[w.p.Questions()]
	var facts map[string]string
	lands := false
	w.ends.e.Lands = func(outcome, landing int, other map[string]string) {
		if !lands && t.Step == "" && w.p.OutcomeAt(outcome) == t.Outcome && w.p.LandingAt(outcome, landing) == t.Landing {
			lands, facts = true, other
		}
	}
	for _, c := range end.crowds {
		for k, v := range c.vectors {
			if w.matches(w.ends.e.Finish(c.move, v), t) || lands {
				in := w.ends.back(c, k)
				for fact, value := range facts {
					in.Visitor.Set(fact, value)
				}
				return w.finish(in), nil
			}
		}
	}
	return passage.Input{}, ErrUnreachable
}

func (w *Witnesses) matches(f passage.Finish, t Target) bool {
	if t.Step != "" {
		return f.End == passage.Decided && f.Step >= 0 && w.p.StepKey(f.Step) == t.Step && w.p.PartKey(f.Step, f.Part) == t.Part
	}
	return w.p.OutcomeAt(f.Outcome) == t.Outcome && (t.Landing == "" || w.p.LandingAt(f.Outcome, f.Landing) == t.Landing)
}

func (w *Witnesses) toQuestion(t Target) (passage.Input, error) {
	i := w.p.Position(t.Question)
	if i < 0 {
		return passage.Input{}, ErrUnreachable
	}
	crowds := w.path.places[i].crowds
	if len(crowds) == 0 {
		return passage.Input{}, ErrUnreachable
	}
	in := w.path.back(crowds[0], 0)
	if t.Answer != "" {
		v, can := w.p.Giving(i, t.Answer)
		if !can {
			return passage.Input{}, ErrUnreachable
		}
		in.Answers[i] = v
	}
	return w.finish(in), nil
}

// back goes back from a state to the first question.
func (r *walked) back(c *crowd, at int) passage.Input {
	in := passage.Input{Answers: make(passage.Answers, r.p.Questions()), Visitor: &passage.Visitor{}}
	if v := r.e.Visitor(c.move.Memory); v != nil {
		*in.Visitor = *v
	}
	for s := c.steps[at]; s >= 0; s = r.trace[s].from {
		in.Answers[r.trace[s].question] = r.e.Effects(int(r.trace[s].question))[r.trace[s].effect].Value
	}
	return in
}

// finish answers what is still to be asked.
func (w *Witnesses) finish(in passage.Input) passage.Input {
	in.Stop = true
	for {
		r := w.p.Walk(in)
		if r.End != passage.Unfinished {
			in.Stop = false
			return in
		}
		in.Answers[r.Next] = w.path.e.Effects(r.Next)[0].Value
	}
}
