package player

import (
	"context"
	"log/slog"
	"strconv"
	"time"

	"omphalos/core/quiz"
	"omphalos/store/tally"
)

// resultWays are what somebody can do with a result: "" and false what is not offered.
type resultWays struct {
	Again  string // address under which the quiz begins anew
	PassOn string // public address of the outcome
	Keep   bool   // print it
}

// Any tells whether there is one.
func (w resultWays) Any() bool { return w != resultWays{} }

func (j *journey) offered() quiz.Results {
	if s := j.program.Quiz.Settings; s != nil && s.Results != nil {
		return *s.Results
	}
	return quiz.Results{}
}

// ways are what the quiz offers for an outcome. Whoever may take the quiz only so often is not
// asked to take it again.
func (j *journey) ways(outcome string) resultWays {
	offered, slug := j.offered(), j.passage.Slug
	w := resultWays{Keep: offered.Keep}
	if j.rehearsal != nil {
		slug = "…"
	}
	if offered.Again && j.program.Quiz.Repeating() == nil {
		w.Again = j.outward("/q/" + slug)
	}
	if offered.PassOn {
		w.PassOn = j.outward(PassedPrefix + slug + "/" + outcome)
	}
	return w
}

// LeastGotten is how many responses there must be before it is told how many got an outcome.
const LeastGotten = 30

// gottenTime is how often that is counted.
const gottenTime = time.Minute

// shareOf tells how many of all who answered got an outcome, "" where that is not wanted or
// there are too few to tell.
func (p *player) shareOf(j *journey, outcome string) string {
	if !j.offered().Share || j.passage.QuizID == 0 {
		return ""
	}
	counts, known := p.gotten.Get(j.passage.QuizID)
	if !known {
		var err error
		if counts, err = p.countGotten(j.ctx, j.passage.QuizID); err != nil {
			slog.Error("counting outcomes", "error", err)
			return ""
		}
	}
	all := 0
	for _, n := range counts {
		all += n
	}
	if all < LeastGotten || counts[outcome] == 0 {
		return ""
	}
	if !known {
		p.gotten.Add(j.passage.QuizID, counts)
	}
	percent := (200*counts[outcome] + all) / (2 * all)
	return j.tongue().say("%s %% of all who answered got this result.", j.tongue().figures(strconv.Itoa(max(percent, 1))))
}

// countGotten counts the responses of a quiz by their outcomes.
func (p *player) countGotten(ctx context.Context, quizID uint) (map[string]int, error) {
	counts := map[string]int{}
	err := p.store.Responses.Tally(ctx, quizID, func(t *tally.Tally) {
		for _, count := range t.Slice().Split(tally.Property{Kind: tally.Outcome}) {
			counts[count.Value] = count.Count
		}
	})
	return counts, err
}
