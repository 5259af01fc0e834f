package odds

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"math/rand/v2"
	"slices"

	"omphalos/core/expect"
	"omphalos/core/odds/explore"
	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/core/quiz"
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

// ErrNotFound says that no passage to a Target was met; there may be one.
var ErrNotFound = errors.New("among the passages that were drawn, none leads")

// Find returns a passage that gets to a target: by walking all passages, or, where that
// takes too many steps, by drawing some. The error is ErrUnreachable where it is proven
// that there is none, ErrNotFound where none was drawn.
func Find(p *program.Program, with Options, t Target) (passage.Input, error) {
	with = with.whole()
	w, err := Witness(with.Exact, p, with.Visitor, with.Steps)
	if err == nil {
		return w.To(t)
	}
	ctx := with.Context
	if i := slices.Index(quiz.InOrder(p.Quiz.Outcomes), t.Outcome); i >= 0 && !PossibleOutcomes(p)[i] {
		return passage.Input{}, ErrUnreachable
	}
	drawer := expect.NewDrawer(p, expect.Assume(p, with.Visitor, expect.Shares{}))
	walker := passage.NewWalker(p)
	r := rand.New(rand.NewPCG(with.Seed, 0))
	in := passage.Input{Answers: make(program.Answers, len(p.Questions)), Visitor: with.Visitor}
	if in.Visitor == nil {
		in.Visitor = &program.Visitor{}
	}
	for range cmp.Or(with.Sample, SampleSize) {
		if err := ctx.Err(); err != nil {
			return passage.Input{}, fmt.Errorf("drawing passages: %w", err)
		}
		drawer.Draw(r, in.Answers)
		got := walker.Walk(in)
		if (t.Question == "" || slices.ContainsFunc(got.Seen, func(i int) bool { return p.Key(i) == t.Question })) &&
			found(p, walker.Finish(), t) {
			for i := range in.Answers {
				if !slices.Contains(got.Seen, i) {
					in.Answers[i] = program.Value{}
				}
			}
			return in, nil
		}
	}
	return passage.Input{}, ErrNotFound
}

// Witnesses finds passages that get to something.
type Witnesses struct {
	p          *program.Program
	path, ends *walked
}

// Witness walks all passages so that ways can be found among them. The visitor may
// be nil; where only another visitor gets to a Target, the passage found is that
// visitor's. The error is ErrSteps where that takes more than a number of steps.
func Witness(ctx context.Context, p *program.Program, visitor *program.Visitor, steps int) (*Witnesses, error) {
	w := walks{context: ctx, p: p, assumed: expect.Assume(p, visitor, expect.Shares{}), most: steps}
	if w.most == 0 {
		w.most = MostSteps
	}
	found := Witnesses{p: p}
	if e, err := explore.Path(ctx, p, w.assumed, w.most); err == nil {
		found.path = w.run(&walked{traced: true}, e)
	}
	if e, err := explore.Ends(ctx, p, w.assumed, w.most); err == nil {
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
	end := &w.ends.places[len(w.p.Questions)]
	var facts map[string]string
	lands := false
	w.ends.e.Lands = func(outcome, landing int, other map[string]string) {
		if !lands && t.Step == "" && w.p.OutcomeAt(outcome) == t.Outcome &&
			w.p.LandingAt(outcome, landing) == t.Landing {
			lands, facts = true, other
		}
	}
	for _, c := range end.crowds {
		for k, v := range c.vectors {
			if found(w.p, w.ends.e.Finish(c.move, v), t) || lands {
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

// found tells whether a finish is what a target names; a question is looked for elsewhere.
func found(p *program.Program, f program.Finish, t Target) bool {
	switch {
	case t.Step != "":
		return f.End == program.Decided && f.Step >= 0 && p.StepKey(f.Step) == t.Step &&
			p.PartKey(f.Step, f.Part) == t.Part
	case t.Outcome == "":
		return true
	}
	return p.OutcomeAt(f.Outcome) == t.Outcome && (t.Landing == "" || p.LandingAt(f.Outcome, f.Landing) == t.Landing)
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
	in := passage.Input{Answers: make(program.Answers, len(r.p.Questions)), Visitor: &program.Visitor{}}
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
		r := passage.Walk(w.p, in)
		if r.End != program.Unfinished {
			in.Stop = false
			return in
		}
		in.Answers[r.Next] = w.path.e.Effects(r.Next)[0].Value
	}
}
