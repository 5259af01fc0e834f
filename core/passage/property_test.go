package passage_test

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"omphalos/core/decimal"
	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/core/quiztest"
)

// compile compiles a drawn quiz after a walk through its written form.
func compile(t *rapid.T, m quiztest.Maker) *program.Program {
	read, err := quiz.Read(m.Write())
	if err != nil {
		t.Fatalf("%v", err)
	}
	p, err := program.Compile(read)
	if err != nil {
		t.Fatalf("%v\n%s", err, m.Write())
	}
	return p
}

// A snapshot of a result, which belongs to its walker.
type snapshot struct {
	End              program.End
	Seen             []int
	Scores           []decimal.Decimal
	Outcome, Landing int
	Step             int
}

func snap(r *passage.Result) snapshot {
	return snapshot{r.End, slices.Clone(r.Seen), slices.Clone(r.Scores), r.Outcome, r.Landing, r.Step}
}

var drawn = quiztest.Limits{Questions: 8, Answers: 4}

// Every valid quiz ends every passage with an outcome and a landing; evaluating
// it again, with a walker that has been used, gives the same.
func TestEveryPassageEnds(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		p := compile(t, quiztest.Draw(t, drawn))
		w := passage.NewWalker(p)
		in, other := quiztest.DrawAnswers(t, p), quiztest.DrawAnswers(t, p)
		first := snap(w.Walk(in))
		require.NotEqual(t, program.Unfinished, first.End)
		require.GreaterOrEqual(t, first.Outcome, 0)
		w.Walk(other)
		require.Equal(t, first, snap(w.Walk(in)))
		require.Equal(t, first, snap(passage.Walk(p, in)))
		e := passage.Explain(p, in)
		require.NotEmpty(t, e.Sentences())
		require.True(t, e.Steps[len(e.Steps)-1].Taken)
	})
}

// Answers off the passage never matter.
func TestAnswersOffThePassageDontMatter(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		p := compile(t, quiztest.Draw(t, drawn))
		in := quiztest.DrawAnswers(t, p)
		want := snap(passage.Walk(p, in))
		for i := range in.Answers {
			if !slices.Contains(want.Seen, i) {
				in.Answers[i] = quiztest.DrawAnswer(t, p, i)
			}
		}
		require.Equal(t, want, snap(passage.Walk(p, in)))
	})
}

// Asked step by step, each question being the next that is not answered, a
// respondent gets what the same answers give on one page, where every question
// is there from the beginning.
func TestOnePageIsAsStepByStep(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		p := compile(t, quiztest.Draw(t, drawn))
		page := quiztest.DrawAnswers(t, p)
		steps := passage.Input{Answers: make(program.Answers, len(p.Questions)), Visitor: page.Visitor, Stop: true}
		w := passage.NewWalker(p)
		r := w.Walk(steps)
		for asked := 0; r.End == program.Unfinished; asked++ {
			require.LessOrEqual(t, asked, len(p.Questions), "a passage goes forward")
			steps.Answers[r.Next] = page.Answers[r.Next]
			r = w.Walk(steps)
		}
		require.Equal(t, snap(passage.Walk(p, page)), snap(r))
	})
}

// The order of questions that don't look at one another changes no score.
func TestOrderChangesNoScore(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		m := quiztest.New("o0", "o1")
		for _, k := range []string{"s0", "s1"} {
			m.Scale(k, rapid.SampledFrom([]quiz.Method{quiz.Sum, quiz.Mean, quiz.Percent}).Draw(t, "method"))
		}
		n := rapid.IntRange(2, 6).Draw(t, "questions")
		keys := []string{"qa", "qb", "qc", "qd", "qe", "qf"}[:n]
		var chosen []string
		for _, k := range keys {
			q := m.Ask(k, quiz.Single, "x", "y", "z")
			for _, a := range q.Answers {
				a.Adds = map[string]decimal.Decimal{
					rapid.SampledFrom([]string{"s0", "s1"}).Draw(t, "scale"): decimal.Decimal(
						rapid.IntRange(-3_000_000, 3_000_000).Draw(t, "amount"),
					),
				}
			}
			chosen = append(chosen, k+"="+rapid.SampledFrom([]string{"x", "y", "z", ""}).Draw(t, "answer"))
		}
		scores := func() map[string]string {
			p := compile(t, m)
			r := passage.Walk(p, inputOf(t, p, chosen))
			byKey := map[string]string{}
			for i, k := range p.ScaleKeys() {
				byKey[k] = r.Scores[i].String()
			}
			return byKey
		}
		before := scores()
		for i, k := range rapid.Permutation(keys).Draw(t, "order") {
			m.Questions[k].Order = float64(i)
		}
		require.Equal(t, before, scores())
	})
}

func inputOf(t *rapid.T, p *program.Program, answers []string) passage.Input {
	in := passage.Input{Answers: make(program.Answers, len(p.Questions))}
	for _, a := range answers {
		i := p.Position(a[:2])
		if err := p.ReadCell(i, a[3:], &in.Answers[i]); err != nil {
			t.Fatalf("%v", err)
		}
	}
	return in
}

// In another language a quiz asks, weighs and decides the same; only what is read is other.
func TestALanguageChangesWordsAlone(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		m := quiztest.Draw(t, drawn)
		p := compile(t, m)
		q := p.Quiz
		words := quiz.Translations{}
		for _, text := range q.Texts() {
			words[text.At] = quiz.Translated{Text: "In other words: " + text.Words, Of: text.Words}
		}
		q.Translations = map[string]quiz.Translations{"de": words}
		require.Empty(t, quiz.Refused(q.Check()))
		other := q.In("de")
		require.Equal(t, "de", other.Language())
		require.Len(t, other.Texts(), len(q.Texts()))
		for i, text := range other.Texts() {
			require.Equal(t, "In other words: "+q.Texts()[i].Words, text.Words, text.At)
		}
		spoken, err := program.Compile(other)
		require.NoError(t, err)
		in := quiztest.DrawAnswers(t, p)
		require.Equal(t, snap(passage.Walk(p, in)), snap(passage.Walk(spoken, in)))
	})
}
