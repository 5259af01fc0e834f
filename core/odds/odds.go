// Package odds tells what scores and outcomes a quiz can give before anybody
// takes it.
//
// The odds are exact. All passages are walked at once, question by question:
// passages that nothing later can tell apart are one state with a share, so
// that the work grows with the states and not with the passages. An earlier
// answer or score is part of a state only while a later condition, step or
// landing asks for it.
package odds

import (
	"errors"
	"maps"
	"math/big"
	"runtime"
	"slices"

	"golang.org/x/sync/errgroup"

	"omphalos/core/decimal"
	"omphalos/core/passage"
	"omphalos/core/quiz"
)

// ErrSteps says that exact odds would take more steps than are allowed.
var ErrSteps = errors.New("exact odds of this quiz take too many steps")

// MostSteps is a bound for a computation that nobody waits for: some seconds.
const MostSteps = 20_000_000

// A Point is a score and the share (0 to 1) of passages that come to it.
type Point struct {
	Score decimal.Decimal
	Share float64
}

// Odds are what a quiz gives when every answer of a question is as likely as
// the others, and passing a question by as likely as one of them.
type Odds struct {
	Scores    map[string][]Point            // by scale, rising, of the passages that come to the decision
	Outcomes  map[string]float64            // share of all passages
	Landings  map[string]map[string]float64 // by outcome
	Ends      map[passage.End]float64       // decided, named, parted
	Steps     map[int]float64               // by the deciding step, passage.Otherwise among them
	Seen      map[string]float64            // share of passages that come to a question
	Answers   map[string]map[string]float64 // by question: share of all passages that choose the answer
	Questions float64                       // expected number of questions on a passage
	Passages  *big.Int                      // different passages
	States    int                           // most that were held for one question
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

// Of computes the odds of a program for a visitor, who may be nil, in at most a
// number of steps from a state to the next for each scale. The error is ErrSteps.
func Of(p *passage.Program, visitor *passage.Visitor, most int) (*Odds, error) {
	if !p.Explorable() {
		return nil, ErrSteps
	}
	o := &Odds{Scores: map[string][]Point{}, Outcomes: map[string]float64{}, Landings: map[string]map[string]float64{}, Ends: map[passage.End]float64{},
		Steps: map[int]float64{}, Seen: map[string]float64{}, Answers: map[string]map[string]float64{}, Passages: new(big.Int)}
	first, err := walk(p, p.Explore(visitor), true, most)
	if err != nil {
		return nil, err
	}
	first.tell(o)
	// Each scale by itself: scales that no step needs together need no state together.
	scales := p.Scales()
	points := make([][]Point, len(scales))
	var runs errgroup.Group
	runs.SetLimit(runtime.GOMAXPROCS(0))
	for i := range scales {
		runs.Go(func() error {
			r := first
			if !first.e.Keeps(i) {
				var err error
				if r, err = walk(p, p.ExploreScale(visitor, i), false, most); err != nil {
					return err
				}
			}
			points[i] = r.points(i)
			return nil
		})
	}
	if err := runs.Wait(); err != nil {
		return nil, err
	}
	for i, key := range scales {
		o.Scores[key] = points[i]
	}
	return o, nil
}

// points returns the distribution of a scale at the decision, rising.
func (r *run) points(scale int) []Point {
	scores := map[decimal.Decimal]float64{}
	for _, f := range r.ends {
		if f.finish.End == passage.Decided {
			scores[f.finish.Scores[scale]] += f.share
		}
	}
	points := make([]Point, 0, len(scores))
	for _, score := range slices.Sorted(maps.Keys(scores)) {
		points = append(points, Point{score, scores[score]})
	}
	return points
}

// A crowd is the passages that are in one state.
type crowd struct {
	state passage.Stand
	share float64
	ways  *big.Int
}

type ended struct {
	finish *passage.Finish
	share  float64
	ways   *big.Int
}

// A run walks all passages once.
type run struct {
	p       *passage.Program
	e       *passage.Explorer
	at      []map[string]*crowd
	ends    []ended
	seen    []float64
	answers [][]float64
	states  int
	key     []byte
}

// walk runs through all questions; count tells whether passages are counted, and
// most is how many steps are left.
func walk(p *passage.Program, e *passage.Explorer, count bool, most int) (*run, error) {
	r := &run{p: p, e: e, at: make([]map[string]*crowd, p.Questions()), seen: make([]float64, p.Questions()), answers: make([][]float64, p.Questions())}
	question, state, end := r.e.Start()
	one := big.NewInt(1)
	if !count {
		one = nil
	}
	r.put(question, state, end, 1, one)
	for i := range r.at {
		r.states = max(r.states, len(r.at[i]))
		effects := r.e.Effects(i)
		if most -= len(r.at[i]) * len(effects); most < 0 {
			return nil, ErrSteps
		}
		for _, c := range r.at[i] {
			r.seen[i] += c.share
			for k := range effects {
				f := &effects[k]
				next, to, end := r.e.Step(i, c.state, f)
				r.put(next, to, end, c.share*f.Share, times(c.ways, f.Ways))
			}
		}
		r.at[i] = nil
		r.answers[i] = make([]float64, len(p.AnswerKeys(i)))
		for k := range effects {
			for a, share := range effects[k].Chosen {
				r.answers[i][a] += r.seen[i] * share
			}
		}
	}
	return r, nil
}

func (r *run) put(question int, s passage.Stand, end *passage.Finish, share float64, ways *big.Int) {
	if end != nil {
		r.ends = append(r.ends, ended{end, share, ways})
		return
	}
	if r.at[question] == nil {
		r.at[question] = map[string]*crowd{}
	}
	r.key = s.Key(r.key[:0])
	if c := r.at[question][string(r.key)]; c != nil {
		c.share += share
		if ways != nil {
			c.ways.Add(c.ways, ways)
		}
		return
	}
	if ways != nil {
		ways = new(big.Int).Set(ways)
	}
	r.at[question][string(r.key)] = &crowd{slices.Clone(s), share, ways}
}

// times returns a × b, nil where nothing is counted.
func times(a, b *big.Int) *big.Int {
	if a == nil || b.IsInt64() && b.Int64() == 1 {
		return a
	}
	return new(big.Int).Mul(a, b)
}

// tell writes what the run found into the odds.
func (r *run) tell(o *Odds) {
	q := r.p.Quiz()
	outcomes := quiz.InOrder(q.Outcomes)
	for _, f := range r.ends {
		outcome := outcomes[f.finish.Outcome]
		o.Outcomes[outcome] += f.share
		if o.Landings[outcome] == nil {
			o.Landings[outcome] = map[string]float64{}
		}
		o.Landings[outcome][quiz.InOrder(q.Outcomes[outcome].Landings)[f.finish.Landing]] += f.share
		o.Ends[f.finish.End] += f.share
		if f.finish.End == passage.Decided {
			o.Steps[f.finish.Step] += f.share
		}
		o.Passages.Add(o.Passages, f.ways)
	}
	for i, share := range r.seen {
		key := r.p.Key(i)
		o.Seen[key] = share
		o.Questions += share
		o.Answers[key] = map[string]float64{}
		for k, answer := range r.p.AnswerKeys(i) {
			o.Answers[key][answer] = r.answers[i][k]
		}
	}
	o.States = r.states
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
