package store

import (
	"cmp"
	"fmt"
	"iter"
	"maps"
	"slices"

	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/core/quiz"
)

// Record turns the outcome of a passage into a response that can be kept:
// only answers on the passage are in it.
func Record(p *program.Program, in passage.Input, r *passage.Result) *Response {
	to := &Response{End: string(r.End), Outcome: passage.OutcomeKey(p, r), Landing: passage.LandingKey(p, r)}
	for i, key := range p.ScaleKeys() {
		to.Scores = append(to.Scores, ResponseScore{Scale: key, Millionths: r.Scores[i]})
	}
	for _, i := range r.Seen {
		if i >= len(in.Answers) {
			continue
		}
		if p.Question(i).Kind != quiz.Interlude {
			to.Asked = append(to.Asked, Stop{p.Key(i), -1})
		}
		t := p.Typed(i, in.Answers[i])
		if p.Question(i).Kind.Personal() && len(t.Values) > 0 {
			to.Contacts = append(to.Contacts, Contact{Field: p.Key(i), Kind: p.Question(i).Kind, Value: t.Values[0]})
			continue
		}
		words := t.WriteIn // stand beside the answer that takes them, once
		for _, value := range t.Values {
			one := ResponseAnswer{Question: p.Key(i), Answer: value}
			if a := p.Question(i).Answers[value]; a != nil && a.WriteIn {
				one.WriteIn, words = words, ""
			}
			to.Answers = append(to.Answers, one)
		}
		for _, row := range slices.Sorted(maps.Keys(t.Rows)) {
			to.Answers = append(to.Answers, ResponseAnswer{Question: p.Key(i), Row: row, Answer: t.Rows[row]})
		}
	}
	return to
}

// typed returns the answers of a response by question or field, as they were typed.
func (r *Response) typed() map[string]program.Typed {
	typed := map[string]program.Typed{}
	for list := range r.byQuestion() {
		typed[list[0].Question] = typedOf(list)
	}
	for _, c := range r.Contacts {
		typed[c.Field] = program.Typed{Values: []string{c.Value}}
	}
	return typed
}

// byQuestion gives the answers question by question: those to one stand together.
func (r *Response) byQuestion() iter.Seq[[]ResponseAnswer] {
	return func(yield func([]ResponseAnswer) bool) {
		for rest := r.Answers; len(rest) > 0; {
			many := 1
			for many < len(rest) && rest[many].Question == rest[0].Question {
				many++
			}
			if !yield(rest[:many]) {
				return
			}
			rest = rest[many:]
		}
	}
}

// typedOf returns the answers to one question as they were typed.
func typedOf(list []ResponseAnswer) program.Typed {
	var t program.Typed
	for _, a := range list {
		if a.Row == "" {
			t.Values, t.WriteIn = append(t.Values, a.Answer), cmp.Or(t.WriteIn, a.WriteIn)
			continue
		}
		t.Rows = with(t.Rows, a.Row, a.Answer)
	}
	return t
}

func with(m map[string]string, key, value string) map[string]string {
	if m == nil {
		m = map[string]string{}
	}
	m[key] = value
	return m
}

// Input turns a response back into what its passage was computed from.
func (r *Response) Input(p *program.Program) (passage.Input, error) {
	in := passage.Input{Answers: make(program.Answers, len(p.Questions)), Visitor: r.Facts()}
	for key, t := range r.typed() {
		if slices.Contains(p.ContactKeys(), key) {
			in.Contact = with(in.Contact, key, t.Values[0])
			continue
		}
		i := p.Position(key)
		if i < 0 {
			return in, fmt.Errorf("the response %d answers %q, which its release does not ask", r.Number, key)
		}
		v, err := p.Read(i, t)
		if err != nil {
			return in, fmt.Errorf("the response %d: %w", r.Number, err)
		}
		in.Answers[i] = v
	}
	return in, nil
}
