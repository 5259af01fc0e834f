package odds

import (
	"maps"
	"slices"

	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/core/quiz"
)

// Screened counts those who were screened out at a question and landed with an outcome: no
// more is known of them.
type Screened struct {
	Place   string // the key of the question, "" where it is not known
	Outcome string
	Landing string
	Count   int
}

// Observe counts passages that respondents have walked, each as the program walks it:
// answers stay together as they were given together. Beside them stand those who were
// screened out, of whom it is taken that they came to their question as the others did, and
// gave an answer that leads where they ended. The odds have shares of all of them, 0 to 1, and
// in Observed how many passages there are; what can be reached and what always holds are no
// matter of counting and stay empty, as do Threads and Passages, and scores are of passages
// alone. The inputs are not kept.
func Observe(p *program.Program, passages []passage.Input, screened []Screened) *Odds {
	o := empty()
	o.Observed = len(passages)
	o.Lengths = make([]float64, len(p.Questions)+1)
	all := &Sampled{Path: true, Outcomes: true, Scales: map[string]bool{}}
	for _, key := range p.ScaleKeys() {
		all.Scales[key] = true
	}
	screened = slices.DeleteFunc(slices.Clone(screened), func(s Screened) bool {
		return p.Position(s.Place) < 0 || p.Quiz.Outcomes[s.Outcome] == nil
	})
	everybody := len(passages)
	for _, s := range screened {
		everybody += s.Count
	}
	each := 1 / float64(max(everybody, 1))
	t, w := newTally(p), passage.NewWalker(p)
	flows := map[Flow]float64{}
	for _, in := range passages {
		got := t.take(all, p, w, in)
		from := o.come(p, flows, got.Seen, each)
		end := Flow{From: from, End: got.End}
		if got.End != program.Decided {
			end.Outcome = passage.OutcomeKey(p, got)
		}
		flows[end] += each
	}
	o.count(all, p, &t, each)
	for i, key := range p.ScaleKeys() {
		shares := map[scored]float64{}
		for score, n := range t.scores[i] {
			shares[score] = float64(n) * each
		}
		o.Scores[key] = scaleOf(shares)
	}
	for _, s := range screened {
		o.screen(p, w, flows, passages, s, each)
	}
	o.Flows = slices.SortedFunc(maps.Keys(flows), func(a, b Flow) int { return compareFlows(p, a, b) })
	for i, f := range o.Flows {
		o.Flows[i].Share = flows[f]
	}
	return o
}

// come counts a share that comes along questions, and returns the last of them.
func (o *Odds) come(p *program.Program, flows map[Flow]float64, seen []int, share float64) string {
	from := ""
	for _, i := range seen {
		flows[Flow{From: from, To: p.Key(i)}] += share
		from = p.Key(i)
	}
	return from
}

// screen counts those who were screened out at a question.
func (o *Odds) screen(p *program.Program, w *passage.Walker, flows map[Flow]float64, passages []passage.Input,
	s Screened, each float64) {
	at, share := p.Position(s.Place), float64(s.Count)*each
	type way struct {
		seen    []int
		answers program.Answers
	}
	var ways []way
	for _, in := range passages {
		if seen := w.Walk(in).Seen; slices.Contains(seen, at) {
			ways = append(ways, way{slices.Clone(seen[:slices.Index(seen, at)+1]), in.Answers})
		}
	}
	if len(ways) == 0 { // nobody else came there
		ways = []way{{seen: []int{at}}}
	}
	part := share / float64(len(ways))
	for _, one := range ways {
		asked := 0
		for _, i := range one.seen {
			o.Seen[p.Key(i)] += part
			if p.Asks(i) {
				asked++
			}
			if i == at {
				break
			}
			for _, name := range p.NamesOf(i, one.answers[i]) {
				add(o.Answers, p.Key(i), name, part)
			}
		}
		o.Lengths[asked] += part
		o.come(p, flows, one.seen, part)
	}
	for name, of := range ScreenedBy(p.Question(at), s.Outcome) {
		add(o.Answers, s.Place, name, share*of)
	}
	flows[Flow{From: s.Place, End: program.Parted, Outcome: s.Outcome}] += share
	o.Ends[program.Parted] += share
	o.Outcomes[s.Outcome] += share
	add(o.Landings, s.Outcome, s.Landing, share)
}

// ScreenedBy divides those who are screened out at a question with an outcome among the
// answers that lead there: alike, since nobody knows. It is empty where no answer does.
func ScreenedBy(q *quiz.Question, outcome string) map[string]float64 {
	shares := map[string]float64{}
	for key, a := range q.Answers {
		if a.Then != nil && a.Then.Go == quiz.PartWays && a.Then.To == outcome {
			shares[key] = 1
		}
	}
	for key := range shares {
		shares[key] = 1 / float64(len(shares))
	}
	return shares
}
