package store

import (
	"omphalos/core/passage"
	"omphalos/core/program"
)

// A Reader reads responses for a program that need not be their release's: what the program
// does not ask, or does not take as an answer, is left out. An answer that many have given
// is read once. It serves one goroutine at a time.
type Reader struct {
	program *program.Program
	contact map[string]bool
	known   map[single]program.Value
	last    program.Answers // see Next
	nobody  program.Visitor // of responses that were read without
}

// A single answer is one to a question that takes one.
type single struct {
	question        int
	answer, writeIn string
}

// mostKnown is how many answers are remembered.
const mostKnown = 1 << 14

// NewReader returns a Reader for a program.
func NewReader(p *program.Program) *Reader {
	rd := &Reader{program: p, contact: map[string]bool{}, known: map[single]program.Value{}}
	for _, key := range p.ContactKeys() {
		rd.contact[key] = true
	}
	return rd
}

// Input returns what a passage through the program is computed from. It must not be changed.
func (rd *Reader) Input(r *Response) passage.Input {
	return rd.input(r, make(program.Answers, len(rd.program.Questions)))
}

// Next is Input that is good until the next.
func (rd *Reader) Next(r *Response) passage.Input {
	if rd.last == nil {
		rd.last = make(program.Answers, len(rd.program.Questions))
	}
	clear(rd.last)
	return rd.input(r, rd.last)
}

// input reads a response into answers of which none is given yet.
func (rd *Reader) input(r *Response, into program.Answers) passage.Input {
	in := passage.Input{Answers: into, Visitor: &rd.nobody}
	if r.facts != nil || len(r.Visitor) > 0 {
		in.Visitor = r.Facts()
	}
	for _, c := range r.Contacts {
		if rd.contact[c.Field] {
			in.Contact = with(in.Contact, c.Field, c.Value)
		} else {
			rd.read(in.Answers, c.Field, program.Typed{Values: []string{c.Value}})
		}
	}
	for list := range r.byQuestion() {
		rd.answer(in.Answers, list)
	}
	return in
}

// answer reads what was answered to one question.
func (rd *Reader) answer(to program.Answers, list []ResponseAnswer) {
	first := list[0]
	if len(list) > 1 || first.Row != "" {
		rd.read(to, first.Question, typedOf(list))
		return
	}
	i := rd.program.Position(first.Question)
	if i < 0 {
		return
	}
	one := single{i, first.Answer, first.WriteIn}
	v, known := rd.known[one]
	if !known {
		var err error
		if v, err = rd.program.Read(i, typedOf(list)); err != nil {
			v = program.Value{}
		}
		if len(rd.known) < mostKnown {
			rd.known[one] = v
		}
	}
	to[i] = v
}

func (rd *Reader) read(to program.Answers, question string, t program.Typed) {
	if i := rd.program.Position(question); i >= 0 {
		if v, err := rd.program.Read(i, t); err == nil {
			to[i] = v
		}
	}
}
