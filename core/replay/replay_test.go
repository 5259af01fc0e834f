package replay

import (
	"fmt"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"omphalos/core/decimal"
	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/core/quiztest"
)

// sized makes a quiz in which a size of 500 weighs some points, and the hot band begins at a cut.
func sized(t testing.TB, weight, cut int) *quiz.Quiz {
	t.Helper()
	m := quiztest.New("cold", "hot")
	m.Scale("need", quiz.Sum)
	m.Ask("crop", quiz.Single, "apples need=12", "pears need=10")
	m.Ask("size", quiz.Single, "none need=0", fmt.Sprintf("some need=%d", weight), "many need=5")
	m.Bands("need", "cold", fmt.Sprintf("%d=hot", cut))
	q, err := quiz.Read(m.Write())
	require.NoError(t, err)
	return q
}

// answered are the answers of everybody who could come.
func answered(r *Replay) (list []Response) {
	for _, crop := range []string{"apples", "pears"} {
		for _, size := range []string{"none", "some", "many"} {
			list = append(list, typed(r, len(list)+1, map[string]string{"crop": crop, "size": size}))
		}
	}
	return list
}

// typed is a response with single answers, which each version reads as far as it knows them.
func typed(r *Replay, number int, answers map[string]string) Response {
	return Response{Number: number, Input: func(version int) passage.Input {
		p := r.Programs()[version]
		in := passage.Input{Answers: make(program.Answers, len(p.Questions))}
		for key, answer := range answers {
			if i := p.Position(key); i >= 0 {
				in.Answers[i], _ = p.Read(i, program.Typed{Values: []string{answer}}) // an unknown one is none
			}
		}
		return in
	}}
}

func played(r *Replay, list []Response) *Sums {
	p := r.Player()
	for _, one := range list {
		p.Play(one, true)
	}
	return p.Take()
}

func TestWhoMovesAndWhy(t *testing.T) {
	after := sized(t, 3, 16)
	m := quiztest.Maker{Quiz: after}
	m.Ask("decides", quiz.Single, "me", "others")
	r, err := New(sized(t, 2, 14), after)
	require.NoError(t, err)
	require.Len(t, r.Changes, 3, "a weight, a cut, a question")
	s := played(r, answered(r))
	// Before 12, 14, 17, 10, 12, 15 with hot from 14; after 12, 15, 17, 10, 13, 15 with hot from 16.
	assert.Equal(t, map[Move]int{{"cold", "cold"}: 3, {"hot", "hot"}: 1, {"hot", "cold"}: 2}, s.Flow)
	assert.Equal(t, 6, s.Touched, "nobody was asked who decides")
	cut := -1
	for i, c := range r.Changes {
		if c.Pointer.Keys()[0] == "decision" {
			cut = i
		}
	}
	require.GreaterOrEqual(t, cut, 0)
	for i := range r.Changes {
		if i == cut {
			assert.Equal(t, []int{2, 2}, []int{s.Moves[i], s.Blamed[i]}, r.Changes[i].Sentence)
		} else {
			assert.Equal(t, []int{0, 0}, []int{s.Moves[i], s.Blamed[i]}, r.Changes[i].Sentence)
		}
	}
	assert.Equal(t, []Mover{{2, Move{"hot", "cold"}, cut}, {6, Move{"hot", "cold"}, cut}}, s.Movers)
}

// Two changes that move somebody only together are told as that.
func TestSeveralAreToBlame(t *testing.T) {
	r, err := New(sized(t, 2, 16), sized(t, 3, 15)) // 14 of 16 before, 15 of 15 after; one alone is not enough
	require.NoError(t, err)
	s := played(r, answered(r)[1:2])
	assert.Equal(t, map[Move]int{{"cold", "hot"}: 1}, s.Flow)
	assert.Equal(t, 1, s.Several)
	assert.Equal(t, []int{0, 0}, s.Moves)
	assert.Equal(t, 1, s.Moved())
}

// Who came by an earlier version and got something else than the version before gives is told apart:
// no change between the two is to blame.
func TestEarlierVersions(t *testing.T) {
	r, err := New(sized(t, 2, 14), sized(t, 2, 16))
	require.NoError(t, err)
	list := answered(r) // 12, 14, 17, 10, 12, 15: before hot from 14, after from 16
	list[0].Was = "hot" // by an earlier one, whose cut was lower
	list[1].Was = "cold"
	s := played(r, list)
	assert.Equal(t, map[Move]int{{"hot", "cold"}: 2, {"cold", "cold"}: 3, {"hot", "hot"}: 1}, s.Flow)
	assert.Equal(t, []int{1, 1, 0}, []int{s.Earlier, s.Blamed[0], s.Several})
	assert.Equal(t, 2, s.Moves[0], "of those that the version before has as hot")
	assert.Equal(t, Earlier, s.Movers[0].Blame)
	assert.Equal(t, 2, s.Moved())
}

// What changes words alone moves nobody, and is no change here.
func TestWordsMoveNobody(t *testing.T) {
	after := sized(t, 2, 14)
	after.Title, after.Questions["crop"].Label, after.Outcomes["hot"].Name = "x", "What grows?", "Warm"
	r, err := New(sized(t, 2, 14), after)
	require.NoError(t, err)
	assert.Empty(t, r.Changes)
	assert.Empty(t, played(r, answered(r)).Movers)
}

func TestVersionsThatCannotBeWalked(t *testing.T) {
	bad := sized(t, 2, 14)
	bad.Decision.Steps["step_a"].Scale = "nothing"
	_, err := New(sized(t, 2, 14), bad)
	assert.ErrorContains(t, err, "the version after")
}

// For any quiz and any changes of its weights, a replay is what walking each response twice gives;
// one change alone is to blame for everybody it moves; and parts add up to the whole.
func TestReplayIsWalkingTwice(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		m := quiztest.Draw(t, quiztest.Limits{Questions: 4, Answers: 3})
		text := m.Write()
		before, err := quiz.Read(text)
		require.NoError(t, err)
		after, err := quiz.Read(text)
		require.NoError(t, err)
		changed := 0
		for _, key := range after.QuestionKeys() {
			for _, answer := range quiz.InOrder(after.Questions[key].Answers) {
				adds := after.Questions[key].Answers[answer].Adds
				for scale := range adds {
					if rapid.IntRange(0, 3).Draw(t, "change") == 0 {
						adds[scale] += decimal.FromInt(rapid.Int64Range(1, 4).Draw(t, "by"))
						changed++
					}
				}
			}
		}
		r, err := New(before, after)
		require.NoError(t, err)
		assert.Len(t, r.Changes, changed)
		chance := rand.New(rand.NewPCG(rapid.Uint64().Draw(t, "seed"), 1))
		want, sums := map[Move]int{}, r.Sums()
		whole, parts := r.Player(), r.Player()
		for n := range 20 {
			in := quiztest.RandomAnswers(chance, r.Before)
			one := Response{Number: n, Input: func(int) passage.Input { return in }} // both ask the same
			a, b := passage.OutcomeKey(r.Before, passage.Walk(r.Before, in)), passage.OutcomeKey(r.After,
				passage.Walk(r.After, in))
			want[Move{a, b}]++
			whole.Play(one, true)
			parts.Play(one, true)
			sums.Add(parts.Take(), 50)
		}
		s := whole.Take()
		assert.Equal(t, want, s.Flow)
		moved := 0
		for move, n := range want {
			if move.Before != move.After {
				moved += n
			}
		}
		assert.Equal(t, moved, s.Moved())
		assert.Len(t, s.Movers, moved)
		if changed == 1 {
			assert.Equal(t, moved, s.Moves[0])
			assert.Equal(t, moved, s.Blamed[0])
		}
		assert.Equal(t, s.Flow, sums.Flow)
		assert.Equal(t, s.Moves, sums.Moves)
		assert.Equal(t, s.Blamed, sums.Blamed)
	})
}
