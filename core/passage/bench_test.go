package passage_test

import (
	"fmt"
	"math/rand/v2"
	"os"
	"testing"

	"github.com/stretchr/testify/require"

	"omphalos/core/decimal"
	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/core/quiztest"
)

// byHand is quiztest.Thirty written out as Go code.
func byHand(answers []int) (need, budget, haste int, outcome int) {
	var seen [30]bool
	for i := 0; i < 30; i++ {
		if i%6 == 5 && !(seen[i-1] && answers[i-1] == 2) {
			continue
		}
		seen[i] = true
		a := answers[i]
		need += a
		budget += (a * i) % 5
		haste += i % 3
		if i%5 == 0 && i+2 < 30 && a == 3 {
			i++
		}
	}
	switch {
	case haste >= 28 && seen[3] && answers[3] == 1:
		outcome = 2
	case need < 30:
		outcome = 0
	case need < 45:
		outcome = 1
	default:
		outcome = 2
	}
	return need, budget, haste, outcome
}

func thirtyAnswers(seed int) []int {
	chance := rand.New(rand.NewPCG(uint64(seed), 1))
	answers := make([]int, 30)
	for i := range answers {
		answers[i] = min(chance.IntN(4), chance.IntN(4)+seed%4)
	}
	return answers
}

func thirtyInput(t testing.TB, p *program.Program, answers []int) passage.Input {
	in := passage.Input{Answers: make(program.Answers, 30)}
	for i, a := range answers {
		require.NoError(
			t,
			p.ReadCell(
				p.Position(fmt.Sprintf("q%d", i)),
				fmt.Sprintf("a%d", a),
				&in.Answers[p.Position(fmt.Sprintf("q%d", i))],
			),
		)
	}
	return in
}

// The quiz and the code written by hand agree, so that their times compare.
func TestThirtyQuestionsAgreeWithCodeByHand(t *testing.T) {
	p := quiztest.Thirty().Compile(t)
	w := passage.NewWalker(p)
	outcomes := map[int]int{}
	for seed := range 500 {
		answers := thirtyAnswers(seed)
		need, budget, haste, outcome := byHand(answers)
		r := w.Walk(thirtyInput(t, p, answers))
		require.Equal(
			t,
			[]decimal.Decimal{
				decimal.FromInt(int64(need)),
				decimal.FromInt(int64(budget)),
				decimal.FromInt(int64(haste)),
			},
			r.Scores,
		)
		require.Equal(t, outcome, r.Outcome)
		outcomes[outcome]++
	}
	require.Len(t, outcomes, 3)
}

func BenchmarkPassage(b *testing.B) {
	p := quiztest.Thirty().Compile(b)
	w := passage.NewWalker(p)
	in := thirtyInput(b, p, thirtyAnswers(3))
	answers := thirtyAnswers(3)
	b.Run("thirty-questions", func(b *testing.B) {
		b.ReportAllocs()
		for b.Loop() {
			w.Walk(in)
		}
	})
	b.Run("thirty-questions-new-walker", func(b *testing.B) {
		b.ReportAllocs()
		for b.Loop() {
			passage.Walk(p, in)
		}
	})
	b.Run("thirty-by-hand", func(b *testing.B) {
		var sink int
		for b.Loop() {
			_, _, _, o := byHand(answers)
			sink += o
		}
		_ = sink
	})
	b.Run("orchard", func(b *testing.B) {
		data, err := os.ReadFile("../../cmd/omphalos/demo/orchard.json")
		require.NoError(b, err)
		q, err := quiz.Read(data)
		require.NoError(b, err)
		p, err := program.Compile(q)
		require.NoError(b, err)
		w := passage.NewWalker(p)
		in := quiztest.Input(b, p, "crop=apples", "size=large", "bloom=soon", "hives=some", "budget=good", "decides=us")
		b.ReportAllocs()
		for b.Loop() {
			w.Walk(in)
		}
	})
}
