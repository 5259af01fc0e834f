// Package odds tells what scores and outcomes a quiz can give before anybody
// takes it.
//
// The distribution of a score is computed exactly, place by place: at each
// question the scores that respondents can have come with are spread over its
// answers, and equal scores are merged. Passages are never listed one by one.
package odds

import (
	"maps"
	"slices"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
)

// A Point is a score and the share (0 to 1) of passages that reach it.
type Point struct {
	Score decimal.Decimal
	Share float64
}

// Odds are what a quiz gives when every answer of a question is as likely as
// the others.
type Odds struct {
	// Scores holds, per sum scale, the distribution at the decision, rising.
	// Shares add up to the share of passages that come to the decision.
	Scores map[string][]Point
	// Outcomes holds the share of each outcome. It is nil where the decision has
	// other steps than bands that are all closed.
	Outcomes map[string]float64
}

// Lowest returns the lowest score of the scale at the decision, 0 where no
// passage gets there.
func (o *Odds) Lowest(scale string) decimal.Decimal { return edge(o.Scores[scale], 0) }

// Highest returns the highest, as Lowest does.
func (o *Odds) Highest(scale string) decimal.Decimal {
	return edge(o.Scores[scale], len(o.Scores[scale])-1)
}

func edge(points []Point, i int) decimal.Decimal {
	if len(points) == 0 {
		return 0
	}
	return points[i].Score
}

// Of computes the odds of a quiz of choices. It returns false for quizzes that
// it can't tell exactly: with conditions on the path, or with questions of
// other kinds that weigh.
func Of(q *quiz.Quiz) (*Odds, bool) {
	keys := q.QuestionKeys()
	if !plain(q, keys) {
		return nil, false
	}
	o := &Odds{Scores: map[string][]Point{}}
	for _, scale := range quiz.InOrder(q.Scales) {
		if s := q.Scales[scale]; s.Method == "" || s.Method == quiz.Sum {
			w := spread(q, keys, scale)
			o.Scores[scale] = w.atDecision()
			if o.Outcomes == nil {
				o.Outcomes = w.outcomes(scale)
			}
		}
	}
	return o, true
}

func plain(q *quiz.Quiz, keys []string) bool {
	for _, s := range q.Sections {
		if s.ShowWhen != nil {
			return false
		}
	}
	for _, k := range keys {
		asked := q.Questions[k]
		if asked.ShowWhen != nil || len(asked.Then) > 0 || len(asked.Weigh) > 0 {
			return false
		}
		if asked.Kind.HasAnswers() && !asked.Kind.Choice() {
			return false
		}
	}
	return true
}

// A way holds the scores that passages have at each place.
type way struct {
	q      *quiz.Quiz
	at     []map[decimal.Decimal]float64 // per question, then the decision
	thens  map[string]float64            // outcomes that an answer led to
	places map[string]int
}

func spread(q *quiz.Quiz, keys []string, scale string) *way {
	w := &way{q: q, at: make([]map[decimal.Decimal]float64, len(keys)+1), thens: map[string]float64{}, places: map[string]int{}}
	for i := range w.at {
		w.at[i] = map[decimal.Decimal]float64{}
	}
	for i, k := range keys {
		w.places[k] = i
	}
	w.at[0][q.Scales[scale].Start] = 1
	for i, k := range keys {
		w.step(i, q.Questions[k], scale)
	}
	return w
}

// step spreads the scores at question i over its answers. A question that asks
// nothing, or without answers yet, passes them on.
func (w *way) step(i int, asked *quiz.Question, scale string) {
	answers := quiz.InOrder(asked.Answers)
	if len(answers) == 0 || !asked.Kind.Choice() {
		w.carry(w.at[i+1], w.at[i], 0, 1)
		return
	}
	ways := float64(len(answers))
	if !asked.Required { // passing by is as likely as each answer
		ways++
		w.carry(w.at[i+1], w.at[i], 0, 1/ways)
	}
	for _, k := range answers {
		a := asked.Answers[k]
		to := i + 1
		if t := a.Then; t != nil {
			switch t.Go {
			case quiz.ToOutcome, quiz.PartWays:
				for _, share := range w.at[i] {
					w.thens[t.To] += share / ways
				}
				continue
			case quiz.Decide:
				to = len(w.at) - 1
			case quiz.ToQuestion:
				to = max(to, w.places[t.To])
			case quiz.ToSection:
				to = max(to, w.sectionStart(t.To))
			}
		}
		w.carry(w.at[to], w.at[i], a.Adds[scale], 1/ways)
	}
}

func (w *way) sectionStart(section string) int {
	start := len(w.at) - 1
	for k, i := range w.places {
		if w.q.Questions[k].Section == section {
			start = min(start, i)
		}
	}
	return start
}

func (w *way) carry(to, from map[decimal.Decimal]float64, adds decimal.Decimal, share float64) {
	for score, p := range from {
		to[score.Add(adds)] += p * share
	}
}

func (w *way) atDecision() []Point {
	end := w.at[len(w.at)-1]
	points := make([]Point, 0, len(end))
	for _, score := range slices.Sorted(maps.Keys(end)) {
		points = append(points, Point{score, end[score]})
	}
	return points
}

// outcomes gives each outcome its share where the first step that is on is of
// closed bands of this scale; otherwise nil.
func (w *way) outcomes(scale string) map[string]float64 {
	steps := slices.DeleteFunc(quiz.InOrder(w.q.Decision.Steps), func(k string) bool { return w.q.Decision.Steps[k].Off })
	shares := maps.Clone(w.thens)
	if len(steps) == 0 {
		for _, p := range w.atDecision() {
			shares[w.q.Decision.Otherwise] += p.Share
		}
		return shares
	}
	s := w.q.Decision.Steps[steps[0]]
	if s.Kind != quiz.BandsStep || s.Scale != scale {
		return nil
	}
	for _, p := range w.atDecision() {
		outcome := Band(s, p.Score)
		if outcome == "" {
			if len(steps) > 1 {
				return nil
			}
			outcome = w.q.Decision.Otherwise
		}
		shares[outcome] += p.Share
	}
	return shares
}

// Band returns the outcome of the band that a score lies in, "" in an open one.
func Band(s *quiz.Step, score decimal.Decimal) string {
	outcome := s.Lowest
	for _, k := range s.CutKeys() {
		if score < s.Cuts[k].At {
			break
		}
		outcome = s.Cuts[k].Outcome
	}
	return outcome
}
