// Package rehearsal walks the passages that are kept with a quiz for testing, and tells
// which of them still get what they must.
package rehearsal

import (
	"maps"
	"slices"
	"strconv"

	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/core/quiz"
)

// A Verdict is what came of a rehearsal.
type Verdict struct {
	Key     string            `json:"key"`
	Holds   bool              `json:"holds"` // it got what it must
	Ending                    // what it gets
	Wrong   map[string]string `json:"wrong,omitempty"`   // answers that can't be given any more, and why
	Missing []string          `json:"missing,omitempty"` // required questions that it does not answer
}

// An Ending is where a passage ends.
type Ending struct {
	Outcome string `json:"outcome"`
	Landing string `json:"landing,omitempty"`
	Parts   bool   `json:"partsWays,omitempty"` // nothing is kept
}

// Input returns the answers and the visitor of a rehearsal, and what is wrong with them: by
// question, or by name of a fact.
func Input(p *program.Program, r *quiz.Rehearsal) (passage.Input, map[string]string) {
	in := passage.Input{Answers: make(program.Answers, len(p.Questions)), Visitor: &program.Visitor{}}
	wrong := map[string]string{}
	for _, name := range slices.Sorted(maps.Keys(r.Visitor)) {
		if err := in.Visitor.Read(name, r.Visitor[name]); err != nil {
			wrong["visitor."+name] = err.Error()
		}
	}
	fields := p.ContactKeys()
	for key, given := range r.Answers {
		if given == nil {
			continue
		}
		typed := program.Typed{Values: given.Values, WriteIn: given.Words, Rows: given.Rows}
		if i := p.Position(key); i >= 0 {
			value, err := p.Read(i, typed)
			if err != nil {
				wrong[key] = err.Error()
			}
			in.Answers[i] = value
		} else if i := slices.Index(fields, key); i >= 0 {
			value, err := p.ReadContact(i, typed)
			if err != nil {
				wrong[key] = err.Error()
			} else if value.State == program.Given {
				if in.Contact == nil {
					in.Contact = map[string]string{}
				}
				in.Contact[key] = value.Text
			}
		}
	}
	return in, wrong
}

// Of returns the rehearsal of a passage: its answers as far as they lie on it, who the
// visitor is, and what it gets.
func Of(p *program.Program, in passage.Input) *quiz.Rehearsal {
	walked := passage.Walk(p, in)
	r := &quiz.Rehearsal{}
	for _, i := range walked.Seen {
		if in.Answers[i].State == program.Given {
			t := p.Typed(i, in.Answers[i])
			put(&r.Answers, p.Key(i), &quiz.Given{Values: t.Values, Words: t.WriteIn, Rows: t.Rows})
		}
	}
	for key, text := range in.Contact {
		put(&r.Answers, key, &quiz.Given{Values: []string{text}})
	}
	if in.Visitor != nil {
		for _, name := range quiz.Facts {
			if value := in.Visitor.Fact(name); value != "" {
				put(&r.Visitor, name, value)
			}
		}
		for name, value := range in.Visitor.Query {
			put(&r.Visitor, "query."+name, value)
		}
	}
	Accept(r, EndingOf(p, walked))
	return r
}

// Keep keeps a rehearsal with a quiz, behind those that are there, and returns its key.
func Keep(q *quiz.Quiz, name string, r *quiz.Rehearsal) string {
	key := FreeKey(q)
	r.Name, r.Order = name, Behind(q)
	put(&q.Rehearsals, key, r)
	return key
}

// FreeKey returns a key that no rehearsal of a quiz has.
func FreeKey(q *quiz.Quiz) string {
	for n := len(q.Rehearsals) + 1; ; n++ {
		if key := "rehearsal_" + strconv.Itoa(n); q.Rehearsals[key] == nil {
			return key
		}
	}
}

// Behind returns the order behind all that are kept with a quiz.
func Behind(q *quiz.Quiz) float64 {
	last := 0.0
	for _, r := range q.Rehearsals {
		last = max(last, r.Order)
	}
	return last + 1
}

func put[V any](m *map[string]V, key string, value V) {
	if *m == nil {
		*m = map[string]V{}
	}
	(*m)[key] = value
}

// Accept makes an ending the one that a rehearsal must come to.
func Accept(r *quiz.Rehearsal, e Ending) {
	r.Outcome, r.Landing, r.Parts = e.Outcome, e.Landing, e.Parts
}

// EndingOf returns where a passage that has come to its end has ended.
func EndingOf(p *program.Program, r *passage.Result) Ending {
	e := Ending{Outcome: passage.OutcomeKey(p, r), Parts: r.End == program.Parted}
	if !e.Parts {
		e.Landing = passage.LandingKey(p, r)
	}
	return e
}

// Run walks a rehearsal.
func Run(p *program.Program, key string, r *quiz.Rehearsal) Verdict {
	return run(passage.NewWalker(p), p, key, r)
}

func run(w *passage.Walker, p *program.Program, key string, r *quiz.Rehearsal) Verdict {
	in, wrong := Input(p, r)
	walked := w.Walk(in)
	v := Verdict{Key: key, Ending: EndingOf(p, walked)}
	for _, i := range walked.Seen { // what is wrong off the passage is no matter
		if said, is := wrong[p.Key(i)]; is {
			put(&v.Wrong, p.Key(i), said)
		}
	}
	for _, i := range walked.Missing {
		v.Missing = append(v.Missing, p.Key(i))
	}
	v.Holds = v.Outcome == r.Outcome && v.Parts == r.Parts && (r.Landing == "" || v.Landing == r.Landing)
	return v
}

// All walks the rehearsals that are kept with a quiz, in their order.
func All(p *program.Program) []Verdict {
	if len(p.Quiz.Rehearsals) == 0 {
		return nil
	}
	w := passage.NewWalker(p)
	var list []Verdict
	for _, key := range quiz.InOrder(p.Quiz.Rehearsals) {
		list = append(list, run(w, p, key, p.Quiz.Rehearsals[key]))
	}
	return list
}
