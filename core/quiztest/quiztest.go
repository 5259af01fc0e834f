// Package quiztest makes quizzes and answers for tests in a line each.
package quiztest

import (
	"slices"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"omphalos/core/decimal"
	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/core/quiz"
)

// A Maker builds a quiz step by step. Its Quiz may be changed directly.
type Maker struct{ *quiz.Quiz }

// New begins a quiz with outcomes that land on a page each; the first is the
// one otherwise.
func New(outcomes ...string) Maker {
	m := Maker{&quiz.Quiz{Format: quiz.Format, Title: "Test", Sections: map[string]*quiz.Section{"main": {Order: 1}},
		Questions: map[string]*quiz.Question{}, Scales: map[string]*quiz.Scale{}, Outcomes: map[string]*quiz.Outcome{},
		Decision: quiz.Decision{Otherwise: outcomes[0], Steps: map[string]*quiz.Step{}}}}
	for i, k := range outcomes {
		m.Outcomes[k] = &quiz.Outcome{
			Order:    float64(i),
			Name:     k,
			Headline: k,
			Landings: map[string]*quiz.Landing{"page": {Kind: quiz.PageLanding}},
		}
	}
	return m
}

// Scale adds a scale of points.
func (m Maker) Scale(key string, method quiz.Method) *quiz.Scale {
	m.Scales[key] = &quiz.Scale{Order: float64(len(m.Scales)), Name: key, Kind: quiz.Points, Method: method}
	return m.Scales[key]
}

// Ask adds a question behind the others. An answer is its key and what it adds:
// "apples readiness=4 urgency=-1".
func (m Maker) Ask(key string, kind quiz.Kind, answers ...string) *quiz.Question {
	q := &quiz.Question{Order: float64(len(m.Questions)), Section: "main", Kind: kind, Label: key}
	for i, a := range answers {
		name, adds, _ := strings.Cut(a, " ")
		if q.Answers == nil {
			q.Answers = map[string]*quiz.Answer{}
		}
		q.Answers[name] = &quiz.Answer{Order: float64(i), Label: name, Adds: Amounts(adds)}
	}
	m.Questions[key] = q
	return q
}

// Amounts reads "readiness=4 urgency=-1".
func Amounts(s string) map[string]decimal.Decimal {
	var amounts map[string]decimal.Decimal
	for _, pair := range strings.Fields(s) {
		scale, amount, _ := strings.Cut(pair, "=")
		if amounts == nil {
			amounts = map[string]decimal.Decimal{}
		}
		amounts[scale] = decimal.Must(amount)
	}
	return amounts
}

// Decide adds a step to the decision.
func (m Maker) Decide(s quiz.Step) *quiz.Step {
	s.Order = float64(len(m.Decision.Steps))
	key := "step_" + string(rune('a'+len(m.Decision.Steps)))
	if len(m.Decision.Steps) > 25 {
		key = "step_" + strconv.Itoa(len(m.Decision.Steps))
	}
	m.Decision.Steps[key] = &s
	return &s
}

// Bands adds a step of bands: the outcome below the first cut, then
// "8=warm" for each cut.
func (m Maker) Bands(scale, lowest string, cuts ...string) *quiz.Step {
	s := quiz.Step{Kind: quiz.BandsStep, Scale: scale, Lowest: lowest, Cuts: map[string]*quiz.Cut{}}
	for i, c := range cuts {
		at, outcome, _ := strings.Cut(c, "=")
		s.Cuts["cut_"+string(rune('a'+i))] = &quiz.Cut{At: decimal.Must(at), Outcome: outcome}
	}
	return m.Decide(s)
}

// Compile compiles the quiz, after a walk through its written form.
func (m Maker) Compile(t testing.TB) *program.Program {
	t.Helper()
	read, err := quiz.Read(m.Write())
	require.NoError(t, err)
	p, err := program.Compile(read)
	require.NoError(t, err)
	return p
}

// Input reads answers such as "crop=apples", "topics=a|b", "grid.row=column",
// "visitor.country=IE". "crop=" is a question that is passed by.
func Input(t testing.TB, p *program.Program, answers ...string) passage.Input {
	t.Helper()
	in := passage.Input{Answers: make(program.Answers, len(p.Questions)), Visitor: &program.Visitor{}}
	typed := map[int]program.Typed{}
	for _, a := range answers {
		key, value, _ := strings.Cut(a, "=")
		if fact, found := strings.CutPrefix(key, "visitor."); found {
			require.True(t, in.Visitor.Set(fact, value), fact)
			continue
		}
		key, row, _ := strings.Cut(key, ".")
		i := p.Position(key)
		require.GreaterOrEqual(t, i, 0, key)
		read := typed[i]
		switch {
		case row != "":
			if read.Rows == nil {
				read.Rows = map[string]string{}
			}
			read.Rows[row] = value
		case p.Question(i).Kind == quiz.Several:
			read.Values = strings.Split(value, "|")
		default:
			read.Values = []string{value}
		}
		typed[i] = read
	}
	for i, read := range typed {
		v, err := p.Read(i, read)
		require.NoError(t, err)
		in.Answers[i] = v
	}
	return in
}

// A Got is what a passage came to, by keys.
type Got struct {
	Outcome, Landing string
	End              program.End
	Scores           map[string]string
	Seen             []string
}

// Walk walks a passage with these answers.
func Walk(t testing.TB, p *program.Program, answers ...string) Got {
	t.Helper()
	r := passage.Walk(p, Input(t, p, answers...))
	g := Got{Outcome: passage.OutcomeKey(p, r), Landing: passage.LandingKey(p, r), End: r.End, Scores: map[string]string{}}
	for i, key := range p.ScaleKeys() {
		g.Scores[key] = r.Scores[i].String()
	}
	for _, i := range r.Seen {
		g.Seen = append(g.Seen, p.Key(i))
	}
	return g
}

// Every calls f with each combination of one answer a question.
func Every(p *program.Program, f func(answers []string)) {
	var choose func(i int, chosen []string)
	choose = func(i int, chosen []string) {
		if i == len(p.Questions) {
			f(slices.Clone(chosen))
			return
		}
		for _, a := range p.AnswerKeys(i) {
			choose(i+1, append(chosen, p.Key(i)+"="+a))
		}
	}
	choose(0, nil)
}
