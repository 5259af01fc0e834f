// Package odds tells what scores and outcomes a quiz can give before anybody
// takes it.
//
// All passages are walked at once, question by question: passages that nothing
// later can tell apart are one state with a share, so that the work grows with the
// states and not with the passages. Three kinds of walk are made, each of which
// keeps only what it needs: one for the path, one for the outcomes, and one for
// each scale. Where a walk would need more states than are allowed, its part of the
// odds is a sample, and the odds say so.
package odds

import (
	"fmt"
	"math"
	"math/big"
	"runtime"
	"slices"
	"strings"

	"golang.org/x/sync/errgroup"

	"omphalos/core/coverage"
	"omphalos/core/decimal"
	"omphalos/core/expect"
	"omphalos/core/odds/explore"
	"omphalos/core/program"
	"omphalos/core/quiz"
)

// Odds are what a quiz gives. Shares are of all respondents, 0 to 1. Where they
// are exact, whatever can be reached has an entry, be its share 0 because somebody
// else's visitor or an answer that nobody is expected to give leads there; what
// can't be reached has none.
type Odds struct {
	Outcomes map[string]float64            `json:"outcomes"`
	Landings map[string]map[string]float64 `json:"landings"`          // by outcome
	Ends     map[program.End]float64       `json:"ends"`              // decided, named, parted
	Steps    map[string]map[string]float64 `json:"steps"`             // by step that decided, and its part: see PartKey
	Open     float64                       `json:"otherwise"`         // no step named an outcome
	Ties     map[string]float64            `json:"ties"`              // by leader step: tied, settled or not
	Scores   map[string]*Scale             `json:"scales"`            // of all passages, however they end
	Seen     map[string]float64            `json:"seen"`              // by question
	Answers  map[string]map[string]float64 `json:"answers"`           // by question and passage.Program.Names
	Threads  []Thread                      `json:"threads"`           // thens, in the order of the sheet
	Flows    []Flow                        `json:"flows"`             // from question to question
	Lengths  []float64                     `json:"lengths"`           // share by number of questions asked
	Passages *big.Int                      `json:"passages"`          // different ways through, by what is answered
	Answered *big.Int                      `json:"combinations"`      // different answers to all questions together
	States   int                           `json:"states"`            // most that were held for one question
	Sampled  *Sampled                      `json:"sample,omitzero"`   // nil where all is exact
	Assumed  []Assumed                     `json:"assumed"`           // what shares rest on that nobody has stated
	Partial  bool                          `json:"partial,omitzero"`  // some visitors were not followed
	Possible map[string]bool               `json:"possible"`          // by outcome: false is proven out of reach
	Observed int                           `json:"observed,omitzero"` // passages counted by Observe, 0 where worked out

	// Faults are the parts of exact odds that did not add up to everybody and were thrown
	// away for a sample, such as "outcomes come to 202.76 % of 100.00 %": a fault of this package.
	Faults []string `json:"faults,omitzero"`

	// Misfits are questions whose shares can't be had: they are told with the nearest.
	Misfits []expect.Misfit `json:"-"`

	// Held is by condition of the document; none for what was never asked. Of one that never
	// held, its parts are there, too.
	Held map[*quiz.Condition]explore.Verdict   `json:"-"`
	Rows map[string]map[string]explore.Verdict `json:"-"` // by step and row of a decision table
	// Arrived is what came of the conditions that are asked of those who have landed, and of
	// each part of one: of landings, of what they show, of contact, of what goes out. Nil
	// where nobody knows.
	Arrived map[*quiz.Condition]explore.Verdict `json:"-"`
	// Missing are the fill-ins of answers that some respondents have not given, by the
	// pointer to the question or the outcome whose text fills them in.
	Missing map[string][]string `json:"-"`
}

// Assumed is a question of whose answers nobody has said how often they are given, and
// that can't be counted: every way of answering it that conditions tell apart is taken
// to be as likely as the others.
type Assumed struct {
	Question string `json:"question"`
	Because  string `json:"because"` // "words" or "no limits"
}

// Range returns the range of the scores that come to the decision, for coverage; where
// they are not known exactly, what they are proven to lie in.
func (o *Odds) Range(scale string) coverage.Range {
	points := o.Scores[scale].Decided()
	if len(points) == 0 || !o.ExactScale(scale) || o.Partial {
		if s := o.Scores[scale]; s != nil {
			return coverage.Range{Low: s.Within.Low, High: s.Within.High}
		}
		return coverage.Range{}
	}
	low, high := lowest(points), highest(points)
	r := coverage.Range{Low: &low, High: &high, Unit: decimal.One}
	if slices.ContainsFunc(points, func(p Point) bool { return p.Score%decimal.One != 0 }) {
		r.Unit = 0
	}
	return r
}

// A Thread is the then of an answer, or a rule of a question.
type Thread struct {
	Question string  `json:"question"`
	Answer   string  `json:"answer,omitempty"`
	Rule     string  `json:"rule,omitempty"`
	Share    float64 `json:"share"`
}

// A Flow is those who go from a question ("" is the opening) to the next that
// shows, or to an end.
type Flow struct {
	From    string      `json:"from"`
	To      string      `json:"to,omitempty"`
	End     program.End `json:"end,omitempty"`
	Outcome string      `json:"outcome,omitempty"` // that a then named
	Share   float64     `json:"share"`
}

// Sampled says what is known from a sample only.
type Sampled struct {
	Size     int             `json:"size"`
	Seed     uint64          `json:"seed"`
	Path     bool            `json:"path"`     // what is seen and answered
	Outcomes bool            `json:"outcomes"` // outcomes, landings, steps, ties
	Scales   map[string]bool `json:"scales"`
}

// Error returns the standard error of a share that was sampled.
func (s *Sampled) Error(share float64) float64 {
	return math.Sqrt(share * (1 - share) / float64(s.Size))
}

// ExactPath, ExactOutcomes and ExactScale tell which parts are exact.
func (o *Odds) ExactPath() bool { return o.Sampled == nil || !o.Sampled.Path }

// ExactOutcomes tells whether outcomes, landings, steps and ties are exact.
func (o *Odds) ExactOutcomes() bool { return o.Sampled == nil || !o.Sampled.Outcomes }

// ExactScale tells whether the distribution of a scale is exact.
func (o *Odds) ExactScale(key string) bool { return o.Sampled == nil || !o.Sampled.Scales[key] }

// Of computes the odds of a program. The error is ErrSteps where they would take
// too many steps and no sample is wanted, ErrSums where they don't add up and none is, or
// the context's.
func Of(p *program.Program, with Options) (*Odds, error) {
	with = with.whole()
	o, err := of(p, with)
	if err != nil {
		return nil, err
	}
	astray := o.Astray()
	if len(astray) == 0 {
		return o, nil
	}
	if with.Sample < 0 {
		return nil, fmt.Errorf("%w: %s", ErrSums, strings.Join(astray, ", "))
	}
	with.Steps = 1
	if o, err = of(p, with); err != nil {
		return nil, err
	}
	o.Faults = astray
	return o, nil
}

func of(p *program.Program, with Options) (*Odds, error) {
	if with.Shares == nil {
		with.Shares = expect.Expected(p)
	}
	o := empty()
	assumed := expect.Assume(p, with.Visitor, with.Shares)
	assumed.Given = with.Given
	w := walks{p: p, assumed: assumed, most: with.Steps, context: with.Exact}
	scales := p.ScaleKeys()
	found := make([]*Scale, len(scales))
	var path, ends *walked
	var group errgroup.Group
	group.SetLimit(runtime.GOMAXPROCS(0))
	group.Go(func() error { ends = w.ends(); return nil })
	group.Go(func() error { path = w.path(); return nil })
	if p.AsksArrivals() {
		group.Go(func() error { o.Arrived = w.arrivals(); return nil })
	}
	for _, alike := range explore.Alike(p) {
		group.Go(func() error { w.scales(alike, found); return nil })
	}
	_ = group.Wait()
	if err := with.Context.Err(); err != nil {
		return nil, fmt.Errorf("working out the odds: %w", err)
	}
	s := Sampled{Path: path == nil, Outcomes: ends == nil, Scales: map[string]bool{}, Seed: with.Seed}
	if path != nil {
		path.tellPath(o)
		o.Partial = path.e.Partial()
	}
	if ends != nil {
		ends.tellEnds(o)
		o.Partial = o.Partial || ends.e.Partial()
	}
	for i, key := range scales {
		if o.Scores[key] = found[i]; found[i] == nil {
			s.Scales[key] = true
		}
	}
	o.Possible = map[string]bool{}
	for i, may := range PossibleOutcomes(p) {
		key := p.OutcomeAt(i)
		_, reached := o.Outcomes[key]
		o.Possible[key] = reached || may && (ends == nil || o.Partial)
	}
	o.Misfits = w.assumed.Misfits(p)
	for _, a := range expect.UnstatedOf(p, with.Shares) {
		o.Assumed = append(o.Assumed, Assumed{p.Key(a.Question), a.Because})
	}
	o.Answered = w.combinations()
	if !s.Path && !s.Outcomes && len(s.Scales) == 0 {
		return o, nil
	}
	if with.Sample < 0 {
		return nil, ErrSteps
	}
	if s.Size = with.Sample; s.Size == 0 {
		s.Size = SampleSize
	}
	o.Sampled = &s
	s.Size = min(s.Size, max(fewest, s.Size*affordable/Cost(p)), max(fewest, mostPoints/max(len(s.Scales), 1)))
	if o.sample(with.Context, w); with.Context.Err() != nil {
		return nil, fmt.Errorf("drawing a sample: %w", with.Context.Err())
	}
	return o, nil
}

func empty() *Odds {
	return &Odds{
		Outcomes: map[string]float64{},
		Landings: map[string]map[string]float64{},
		Ends:     map[program.End]float64{},
		Steps:    map[string]map[string]float64{},
		Ties:     map[string]float64{},
		Scores:   map[string]*Scale{},
		Seen:     map[string]float64{},
		Answers:  map[string]map[string]float64{},
		Held:     map[*quiz.Condition]explore.Verdict{},
		Rows:     map[string]map[string]explore.Verdict{},
		Missing:  map[string][]string{},
	}
}
