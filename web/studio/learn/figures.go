package learn

import (
	"context"
	"fmt"
	"math"
	"slices"
	"time"

	"omphalos/core/decimal"
	"omphalos/core/inference"
	"omphalos/core/odds"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/store/slice"
	"omphalos/store/tally"
	"omphalos/web/studio/desk"
	"omphalos/web/ui"
)

// figures are what the responses of a slice come to, at the places of the sheet.
type figures struct {
	Count, All int
	Few        bool // too few to believe a percent
	Outcomes   []outcomeFigure
	Questions  []questionFigure
	Came       []scaleFigure // to what scales came
	Minutes    string        // that half of them took at most, "" where it is not known
	Flow       flow
	Landings   []landingFigure
	Contact    rowFigure // who said who they are
	Went       rowFigure // who pressed anything at the end
}

// fewest is how many responses there have to be before a percent is believed: with fewer, the
// interval of a share of a half is wider than ±18 percent.
const fewest = 30

// An outcomeFigure is how many got an outcome.
type outcomeFigure struct {
	desk.Share
	Range    string // the interval of its share
	Expected string // "" where it is not known
	Mark     float64
	Out      int // of Count, who were screened out
	Address  string
	Chosen   bool
	Beside   *beside
}

// A questionFigure is what was answered to a question.
type questionFigure struct {
	Key, Number, Label string
	Answered           int
	Rows               []rowFigure
	Grid               *gridFigure
	Note               string // a figure of all: a mean, the score of a rating
	Nothing            string // why nothing is shown
	Adopts             bool   // the draft can be made to expect it
	Other              int    // how many of the other slice answered
	Asked, Skipped     int
	Stay               string // half of them stayed at most so long, "" where that is not known
	Reach              *reach // nil where nobody is
	Out                int    // who were screened out here
	Versions           []version
	Past               bool   // it is not asked any more
	Words              string // address of what was written, "" where nothing is
	Chart              pair
	Beside             *beside
}

// A rowFigure is an answer, or a range of them.
type rowFigure struct {
	Label    string
	Count    int
	Part     float64
	Percent  string
	Gone     bool      // it is not offered any more
	Versions []version // who met it otherwise than it is today
	Width    float64   // of a bar of 100
	Mark     float64   // where it was expected, below 0 for nowhere
	Expected string
	Parts    bool // whoever gives it is screened out, and no response
	Address  string
	Chosen   bool
	Split    []desk.Share // over the outcomes
	Beside   *beside
}

// A gridFigure is a grid in full.
type gridFigure struct {
	Columns []string
	Rows    []gridRow
}

type gridRow struct {
	Label    string
	Gone     bool
	Versions []version
	Cells    []gridCell
}

type gridCell struct {
	Count   int
	Part    float64
	Percent string
	Address string
	Chosen  bool
	Beside  *beside
}

// A reading works figures out.
type reading struct {
	*shown
	slice *sentence
	quiz  *quiz.Quiz // with what was asked before
	keys  []string   // of the questions, those that are not asked any more last
	odds  *odds.Odds // nil where they can't be told
	tally *tally.Tally
	in    tally.Slice
	count int

	scoredIn tally.Slice // of in, those whose scores come from the weights that are shown
	before   []string    // questions that are not asked any more
	versus   *comparing  // nil where nothing is compared
	flow     flow
	out      map[string]int // who were screened out, by outcome
	outAll   int
	stays    map[string]string // how long half of them stayed at most, by question
}

// expectedTime is how long it is worked out what was to be expected.
const expectedTime = 60 * time.Millisecond

// expected works out the odds of what is asked today, nil where that takes too long.
func expected(ctx context.Context, p *program.Program) *odds.Odds {
	exact, stop := context.WithTimeout(ctx, expectedTime)
	defer stop()
	o, err := odds.Of(p.On(ui.Today(p.Quiz)), odds.Options{Steps: 1 << 20, Sample: 1 << 13, Exact: exact, Context: ctx})
	if err != nil {
		return nil
	}
	return o
}

func (r *reading) figures() figures {
	f := figures{Count: r.count, All: r.tally.All(), Few: r.count < fewest}
	f.Outcomes = r.outcomes()
	r.stays = r.times()
	r.scoredIn = r.alike(r.in)
	for i, key := range r.keys {
		if r.quiz.Questions[key].Kind == quiz.Interlude {
			continue
		}
		one := r.question(i, key)
		if one.Past = slices.Contains(r.before, key); one.Past {
			if one.Answered+one.Other == 0 {
				continue
			}
			one.Number, one.Adopts = "–", false
		}
		f.Questions = append(f.Questions, one)
	}
	r.reaches(f.Questions)
	f.Flow = r.flow
	f.Landings = r.landings()
	f.Contact, f.Went = r.later()
	for _, key := range quiz.InOrder(r.quiz.Scales) {
		if one, any := r.scale(key); any {
			f.Came = append(f.Came, one)
		}
	}
	if at, known := inference.Median(r.in.Values(tally.Property{Kind: tally.Seconds}, 1)); known && at > 0 {
		f.Minutes = duration(at)
	}
	return f
}

func (r *reading) outcomes() []outcomeFigure {
	of := tally.Property{Kind: tally.Outcome}
	var list []outcomeFigure
	r.about("outcome")
	counts := slice.Together(append(r.in.Split(of), r.onlyThere(of)...), r.out)
	everybody := r.count + r.outAll
	for _, share := range r.shares(counts) {
		one := outcomeFigure{Share: share, Mark: -1, Out: r.out[share.Outcome],
			Address: r.slice.with("outcome", share.Outcome),
			Chosen:  slices.Contains(r.slice.Asked["outcome"], share.Outcome)}
		low, high := inference.Wilson(share.Count, everybody)
		one.Range = intervalWords(low, high)
		if r.odds != nil {
			if part, known := r.odds.Outcomes[share.Outcome]; known {
				one.Expected, one.Mark = ui.Percent(part), 100*part
			}
		}
		if r.versus != nil {
			one.Beside = r.versus.share(one.Name, one.Count, everybody,
				r.there(tally.Part{Of: of, Values: []string{one.Outcome}})+r.versus.out[one.Outcome],
				r.versus.count+r.versus.outAll)
		}
		list = append(list, one)
	}
	return list
}

// intervalWords says an interval of a share.
func intervalWords(low, high float64) string {
	return fmt.Sprintf("%.0f–%.0f %%", math.Round(low*100), math.Round(high*100))
}

// there counts those of the other slice of whom a part is true.
func (r *reading) there(p tally.Part) int { return r.versus.in.And(p).Count() }

// onlyThere lists the values that the other slice alone has, with none.
func (r *reading) onlyThere(of tally.Property) (list []tally.Count) {
	if r.versus == nil {
		return nil
	}
	here := r.in.Split(of)
	for _, c := range r.versus.in.Split(of) {
		if !slices.ContainsFunc(here, func(h tally.Count) bool { return h.Value == c.Value }) {
			list = append(list, tally.Count{Value: c.Value})
		}
	}
	return list
}

// shares puts counts of outcomes in their order.
func (r *reading) shares(counts []tally.Count) []desk.Share {
	by := map[string]int{}
	for _, c := range counts {
		by[c.Value] = c.Count
	}
	return desk.Shares(r.quiz, by)
}

// duration says seconds as people do.
func duration(seconds int64) string {
	if seconds < 120 {
		return fmt.Sprintf("%d s", seconds)
	}
	return fmt.Sprintf("%.0f min", math.Round(float64(seconds)/60))
}

// rounded rounds a number in millionths to a hundredth.
func rounded(n float64) decimal.Decimal {
	const hundredth = decimal.One / 100
	return decimal.Decimal(math.Round(n/float64(hundredth))) * hundredth
}
