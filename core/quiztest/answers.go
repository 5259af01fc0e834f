package quiztest

import (
	"math/rand/v2"

	"pgregory.net/rapid"

	"omphalos/core/decimal"
	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/core/quiz"
)

// DrawAnswers answers some of the questions of a program.
func DrawAnswers(t *rapid.T, p *program.Program) passage.Input {
	in := passage.Input{Answers: make(program.Answers, len(p.Questions)), Visitor: &program.Visitor{}}
	for i := range in.Answers {
		in.Answers[i] = DrawAnswer(t, p, i)
	}
	return in
}

// DrawAnswer answers one question, or passes it by.
func DrawAnswer(t *rapid.T, p *program.Program, i int) program.Value {
	var typed program.Typed
	keys := p.AnswerKeys(i)
	switch kind := p.Question(i).Kind; {
	case rapid.IntRange(0, 5).Draw(t, "skip") == 0:
	case kind.Choice():
		typed.Values = []string{rapid.SampledFrom(keys).Draw(t, "choice")}
	case kind == quiz.Several:
		least, most := limits(p.Question(i), len(keys))
		n := rapid.IntRange(least, most).Draw(t, "picks")
		typed.Values = rapid.Permutation(keys).Draw(t, "several")[:n]
	case kind == quiz.Grid:
		typed.Rows = map[string]string{}
		for _, row := range p.RowKeys(i) {
			typed.Rows[row] = rapid.SampledFrom(append([]string{""}, keys...)).Draw(t, "cell")
		}
	case kind == quiz.Rating || kind == quiz.Number:
		if values := p.Question(i).Lattice(); values.Open() {
			low := max(values.First, -decimal.FromInt(20))
			typed.Values = []string{
				(low + decimal.Decimal(rapid.IntRange(0, 60_000_000).Draw(t, "millionths"))).String(),
			}
		} else {
			typed.Values = []string{values.At(rapid.Int64Range(0, values.Count()-1).Draw(t, "value")).String()}
		}
	case kind == quiz.ShortText:
		typed.Values = []string{rapid.StringMatching("[abc]{1,3}").Draw(t, "text")}
	}
	v, err := p.Read(i, typed)
	if err != nil {
		t.Fatalf("reading an answer: %v", err)
	}
	return v
}

// RandomAnswers answers every question of a program at random, as a respondent may.
func RandomAnswers(r *rand.Rand, p *program.Program) passage.Input {
	in := passage.Input{Answers: make(program.Answers, len(p.Questions)), Visitor: &program.Visitor{}}
	for i := range in.Answers {
		for { // what is refused is answered again
			v, err := p.Read(i, randomly(r, p, i))
			if err == nil && (v.State == program.Given || !p.Needs(i)) {
				in.Answers[i] = v
				break
			}
		}
	}
	return in
}

func randomly(r *rand.Rand, p *program.Program, i int) (t program.Typed) {
	keys, q := p.AnswerKeys(i), p.Question(i)
	if r.IntN(6) == 0 {
		return t
	}
	switch kind := q.Kind; {
	case kind.Choice():
		t.Values = []string{keys[r.IntN(len(keys))]}
	case kind == quiz.Several:
		for _, o := range r.Perm(len(keys))[:r.IntN(len(keys)+1)] {
			t.Values = append(t.Values, keys[o])
		}
	case kind == quiz.Grid:
		t.Rows = map[string]string{}
		for _, row := range p.RowKeys(i) {
			if o := r.IntN(len(keys) + 1); o < len(keys) {
				t.Rows[row] = keys[o]
			} else if q.Required {
				t.Rows[row] = keys[0]
			}
		}
	case kind.Numeric():
		l := q.Lattice()
		low, high := max(l.First, -decimal.FromInt(30)), min(l.Last, decimal.FromInt(30))
		near := l.Within(low, high)
		t.Values = []string{near.At(r.Int64N(near.Count())).String()}
	case kind == quiz.ShortText:
		text := make([]byte, 1+r.IntN(3))
		for k := range text {
			text[k] = "abc"[r.IntN(3)]
		}
		t.Values = []string{string(text)}
	}
	return t
}
