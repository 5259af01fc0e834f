package finding

import (
	"slices"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
)

// beyond notes a comparison that no score, or every score, of those who are asked meets.
func (f *finder) beyond(pointer quiz.Pointer, c *quiz.Condition, of asking) {
	if c.Scale == "" || f.q.Scales[c.Scale] == nil {
		return
	}
	if holds, fails := f.meets(c.Scale, c.Test, of); !holds && fails {
		f.note("never-holds", pointer, nil, "never-happens", f.q.Sentence(c), f.ends(c.Scale, of))
	} else if holds && !fails {
		f.note("always-holds", pointer, nil, "is-always-so", f.q.Sentence(c), f.ends(c.Scale, of))
	}
}

// scores returns the scores that come to the decision, or of all who land, where all of them
// are known.
func (f *finder) scores(scale string, of asking) []point {
	s := f.o.Scores[scale]
	if s == nil || !f.o.ExactScale(scale) || f.o.Partial {
		return nil
	}
	if of == landed {
		return s.Points
	}
	return s.Decided()
}

// meets tells whether some score of those who are asked meets a test, and whether some
// fails it; both where that is not known.
func (f *finder) meets(scale string, t quiz.Test, of asking) (holds, fails bool) {
	points := f.scores(scale, of)
	if len(points) == 0 {
		if s := f.o.Scores[scale]; s != nil {
			return s.Within.Meets(t)
		}
		return true, true
	}
	for _, p := range points {
		if compares(t, p.Score) {
			holds = true
		} else {
			fails = true
		}
	}
	return holds, fails || len(points) == 1
}

// ends says what a scale's scores go from and to for those who are asked.
func (f *finder) ends(scale string, of asking) string {
	points := f.scores(scale, of)
	if len(points) > 0 {
		return say(
			"goes-from-to",
			f.scale(scale),
			points[0].Score.Words(),
			points[len(points)-1].Score.Words(),
		)
	}
	switch b := f.o.Scores[scale].Within; {
	case b.Low != nil && b.High != nil:
		return say("cant-leave-to", f.scale(scale), b.Low.Words(), b.High.Words())
	case b.Low != nil:
		return say("is-never-below", f.scale(scale), b.Low.Words())
	case b.High != nil:
		return say("is-never-above", f.scale(scale), b.High.Words())
	}
	return say("knows-no-end", f.scale(scale))
}

// compares is how passages compare a score.
func compares(t quiz.Test, score decimal.Decimal) bool {
	if t.Value == nil || len(t.Value.Items) == 0 {
		return t.Op == quiz.IsAnswered
	}
	first, last := t.Value.Items[0].Number, t.Value.Items[len(t.Value.Items)-1].Number
	switch t.Op {
	case quiz.Is:
		return score == first
	case quiz.IsNot:
		return score != first
	case quiz.IsOneOf:
		return slices.ContainsFunc(t.Value.Items, func(i quiz.Item) bool { return i.Number == score })
	case quiz.AtLeast:
		return score >= first
	case quiz.AtMost:
		return score <= first
	case quiz.MoreThan:
		return score > first
	case quiz.LessThan:
		return score < first
	}
	return first <= score && score <= last
}
