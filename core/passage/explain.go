package passage

import (
	"strings"

	"omphalos/core/decimal"
	"omphalos/core/program"
	"omphalos/core/saying"
)

// An Explanation says why a passage ended where it did. It is data; Sentences
// writes it out.
type Explanation struct {
	Asked    []Asked      `json:"asked"`              // the questions on the passage
	Passed   []Passed     `json:"passed,omitempty"`   // what did not show
	Scales   []Reached    `json:"scales"`             // what the scales came to
	Steps    []Considered `json:"steps,omitempty"`    // the decision's steps up to the one that named the outcome
	Landings []Considered `json:"landings,omitempty"` // the landings up to the one taken
	End      program.End  `json:"end"`
	Outcome  string       `json:"outcome,omitempty"` // key
	Landing  string       `json:"landing,omitempty"` // key

	voice *saying.Voice
}

// Asked is a question on the passage, with its answer in words.
type Asked struct {
	Question string  `json:"question"`
	Label    string  `json:"label"`
	Answer   string  `json:"answer,omitempty"` // "" where it was skipped
	Adds     []Added `json:"adds,omitempty"`
	Then     string  `json:"then,omitempty"` // where the answer led, if not to the next question
}

// Added is an amount that an answer, or a row of a grid, put on a scale.
type Added struct {
	Scale  string          `json:"scale"`
	Name   string          `json:"name"`
	Row    string          `json:"row,omitempty"`
	Amount decimal.Decimal `json:"amount"`
}

// Passed is a question or a section that did not show, and why.
type Passed struct {
	Question string `json:"question,omitempty"`
	Section  string `json:"section,omitempty"`
	Because  string `json:"because"`
}

// Reached is what a scale came to.
type Reached struct {
	Scale string          `json:"scale"`
	Name  string          `json:"name"`
	Value decimal.Decimal `json:"value"`
	Text  string          `json:"text"`           // with decimals, unit or currency
	Note  string          `json:"note,omitempty"` // what had to be decided by rule
}

// Considered is a step of the decision or a landing, and why it was taken or not.
type Considered struct {
	Key     string `json:"key"`
	Taken   bool   `json:"taken"`
	Because string `json:"because"`
}

// Explain walks the passage and says why it ended as it did.
func Explain(p *program.Program, in Input) Explanation {
	t := &explainer{p: p, in: in}
	r := NewWalker(p).run(in, t)
	t.fillIn(NewFiller(p, in, r, ""))
	e := t.e
	e.End, e.voice = r.End, in.Voice
	switch r.End {
	case program.Unfinished:
		return e
	case program.Named, program.Parted:
		how := t.say("led-straight-to", t.outcome(r.Outcome))
		if r.End == program.Parted {
			how = t.say("parted-ways", t.outcome(r.Outcome))
		}
		e.Steps = []Considered{{Taken: true, Because: how}}
	case program.Decided:
		if r.Step == program.Otherwise {
			e.Steps = append(e.Steps, Considered{"otherwise", true, t.say("otherwise", t.outcome(r.Outcome))})
		}
	}
	e.Outcome = OutcomeKey(p, r)
	e.Landing = LandingKey(p, r)
	return e
}

// Sentences writes the explanation out, one sentence a line.
func (e *Explanation) Sentences() []string {
	var lines []string
	add := func(line string) { lines = append(lines, line+".") }
	for _, a := range e.Asked {
		line := sayIn(e.voice, "answered", a.Label, a.Answer)
		if a.Answer == "" {
			line = sayIn(e.voice, "unanswered", a.Label)
		}
		if len(a.Adds) > 0 {
			parts := make([]string, len(a.Adds))
			for i, add := range a.Adds {
				parts[i] = add.Name + " " + e.voice.Figures(add.Amount.Signed())
				if add.Row != "" {
					parts[i] += " (" + add.Row + ")"
				}
			}
			line += ": " + strings.Join(parts, ", ")
		}
		if a.Then != "" {
			line = sayIn(e.voice, "then", line, a.Then)
		}
		add(line)
	}
	for _, p := range e.Passed {
		add(p.Because)
	}
	for _, s := range e.Scales {
		line := sayIn(e.voice, "came-to", s.Name, s.Text)
		if s.Note != "" {
			line += " (" + s.Note + ")"
		}
		add(line)
	}
	for _, c := range append(append([]Considered(nil), e.Steps...), e.Landings...) {
		add(c.Because)
	}
	return lines
}
