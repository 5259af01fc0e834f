package learn

import (
	"cmp"
	"context"
	"fmt"
	"maps"
	"math"
	"slices"
	"strconv"
	"time"

	"omphalos/core/atlas"
	"omphalos/core/decimal"
	"omphalos/core/inference"
	"omphalos/core/odds"
	"omphalos/core/program"
	"omphalos/core/quiz"
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
	Address  string
	Chosen   bool
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
}

// A rowFigure is an answer, or a range of them.
type rowFigure struct {
	Label    string
	Count    int
	Part     float64
	Width    float64 // of a bar of 100
	Mark     float64 // where it was expected, below 0 for nowhere
	Expected string
	Address  string
	Chosen   bool
	Split    []desk.Share // over the outcomes
}

// A gridFigure is a grid in full.
type gridFigure struct {
	Columns []string
	Rows    []gridRow
}

type gridRow struct {
	Label string
	Cells []gridCell
}

type gridCell struct {
	Count   int
	Part    float64
	Address string
	Chosen  bool
}

// A reading works figures out.
type reading struct {
	slice *sentence
	quiz  *quiz.Quiz
	odds  *odds.Odds // nil where they can't be told
	tally *tally.Tally
	in    tally.Slice
	count int
	place func(table, key string) string
}

// expectedTime is how long it is worked out what was to be expected.
const expectedTime = 60 * time.Millisecond

// expected works out the odds of what is shown, nil where that takes too long.
func expected(ctx context.Context, p *program.Program) *odds.Odds {
	exact, stop := context.WithTimeout(ctx, expectedTime)
	defer stop()
	o, err := odds.Of(p, odds.Options{Steps: 1 << 20, Sample: 1 << 13, Exact: exact, Context: ctx})
	if err != nil {
		return nil
	}
	return o
}

func (r *reading) figures() figures {
	f := figures{Count: r.count, All: r.tally.All(), Few: r.count < fewest}
	f.Outcomes = r.outcomes()
	for i, key := range r.quiz.QuestionKeys() {
		if r.quiz.Questions[key].Kind != quiz.Interlude {
			f.Questions = append(f.Questions, r.question(i, key))
		}
	}
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
	counts := r.in.Split(tally.Property{Kind: tally.Outcome})
	var list []outcomeFigure
	for _, share := range r.shares(counts) {
		one := outcomeFigure{Share: share, Mark: -1, Address: r.slice.with("outcome", share.Outcome), Chosen: slices.Contains(r.slice.Asked["outcome"], share.Outcome)}
		low, high := inference.Wilson(share.Count, r.count)
		one.Range = fmt.Sprintf("%.0f–%.0f %%", low*100, high*100)
		if r.odds != nil {
			if part, known := r.odds.Outcomes[share.Outcome]; known {
				one.Expected, one.Mark = ui.Percent(part), 100*part
			}
		}
		list = append(list, one)
	}
	return list
}

// shares puts counts of outcomes in their order.
func (r *reading) shares(counts []tally.Count) []desk.Share {
	list := make([]desk.Counted, len(counts))
	for i, c := range counts {
		list[i] = desk.Counted{Outcome: c.Value, Count: c.Count}
	}
	return desk.SharesOf(r.quiz, list)
}

func (r *reading) question(i int, key string) questionFigure {
	asked := r.quiz.Questions[key]
	f := questionFigure{Key: key, Number: strconv.Itoa(i + 1), Label: asked.Label}
	for _, c := range r.in.Split(tally.Property{Kind: tally.Answered, Key: key}) {
		f.Answered += c.Count
	}
	if f.Answered == 0 {
		f.Nothing = "Nobody of them has answered this."
		return f
	}
	f.Adopts = adoptable(asked)
	switch {
	case asked.Kind == quiz.Grid:
		f.Grid = r.grid(key, asked)
	case asked.Kind.HasAnswers():
		for _, answer := range quiz.InOrder(asked.Answers) {
			f.Rows = append(f.Rows, r.answer(key, answer, asked.Answers[answer].Label, f.Answered))
		}
	case asked.Kind == quiz.Country, asked.Kind == quiz.Location, asked.Kind == quiz.Consent:
		f.Rows = r.named(key, asked, f.Answered)
	case asked.Kind.Numeric(), asked.Kind == quiz.Date:
		f.Rows, f.Note = r.amounts(key, asked, f.Answered)
	default:
		f.Nothing = "What they wrote stands in each response."
	}
	return f
}

// answer is how many chose an answer, and what they got.
func (r *reading) answer(key, answer, label string, answered int) rowFigure {
	field := "answer." + key
	those := r.in.And(tally.Part{Of: tally.Property{Kind: tally.Answer, Key: key}, Values: []string{answer}})
	row := r.rowOf(label, those.Count(), those.Split(tally.Property{Kind: tally.Outcome}), answered)
	row.Address, row.Chosen = r.slice.with(field, answer), slices.Contains(r.slice.Asked[field], answer)
	r.expect(&row, key, answer)
	return row
}

// rowOf is a row of so many, with what they got.
func (r *reading) rowOf(label string, count int, split []tally.Count, answered int) rowFigure {
	row := rowFigure{Label: label, Count: count, Mark: -1, Part: float64(count) / float64(max(answered, 1))}
	row.Width = 100 * row.Part
	if count > 0 {
		row.Split = r.shares(split)
	}
	return row
}

// byOutcome counts the numbers of a column once, of all and of those who got each outcome: a
// pass for each range would be many over a million.
func (r *reading) byOutcome(of tally.Property) (all []tally.Bin, got map[string][]tally.Bin) {
	got, counts := map[string][]tally.Bin{}, map[int64]int{}
	for _, o := range r.in.Split(tally.Property{Kind: tally.Outcome}) {
		those := r.in.And(tally.Part{Of: tally.Property{Kind: tally.Outcome}, Values: []string{o.Value}})
		got[o.Value] = those.Values(of, 1)
		for _, b := range got[o.Value] {
			counts[b.Value] += b.Count
		}
	}
	for _, value := range slices.Sorted(maps.Keys(counts)) {
		all = append(all, tally.Bin{Value: value, Count: counts[value]})
	}
	return all, got
}

// expect marks where a row was expected, of those who answer.
func (r *reading) expect(row *rowFigure, key, name string) {
	if r.odds == nil {
		return
	}
	shares := r.odds.Answers[key] // of all respondents
	part, known := shares[name]
	if answer := r.odds.Seen[key] - shares[program.SkippedName]; known && answer > 0 {
		row.Mark, row.Expected = 100*part/answer, ui.Percent(part/answer)
	}
}

// mostNamed is how many places or countries are shown of those that were chosen.
const mostNamed = 12

func (r *reading) named(key string, asked *quiz.Question, answered int) []rowFigure {
	var list []rowFigure
	counts := r.in.Split(tally.Property{Kind: tally.Answer, Key: key})
	for _, c := range counts[:min(len(counts), mostNamed)] {
		label := c.Value
		switch asked.Kind {
		case quiz.Country:
			label = atlas.Name(c.Value, "en")
		case quiz.Location:
			label = cmp.Or(r.place(asked.Table, c.Value), c.Value)
		}
		list = append(list, r.answer(key, c.Value, label, answered))
	}
	return list
}

// amounts shows numbers by ranges, ratings by points, dates by months.
func (r *reading) amounts(key string, asked *quiz.Question, answered int) (list []rowFigure, note string) {
	of := tally.Property{Kind: tally.Amount, Key: key}
	bins, got := r.byOutcome(of)
	if len(bins) == 0 {
		return nil, ""
	}
	text := func(n decimal.Decimal) string { return n.Words() }
	if asked.Kind == quiz.Date {
		text = quiz.DayText
	}
	field := "amount." + key
	for _, span := range spansOf(asked, bins) {
		value := plain(span.from, asked) + ".." + plain(span.to, asked)
		var split []tally.Count
		for outcome, numbers := range got {
			if n := within(numbers, span); n > 0 {
				split = append(split, tally.Count{Value: outcome, Count: n})
			}
		}
		row := r.rowOf(span.label, within(bins, span), split, answered)
		row.Address, row.Chosen = r.slice.only(field, value), r.slice.Asked.Get(field) == value
		if span.from == span.to {
			r.expect(&row, key, span.from.String())
		}
		list = append(list, row)
	}
	middle, _ := inference.Median(bins)
	note = "median " + text(decimal.Decimal(middle))
	if asked.Kind != quiz.Date {
		note = "mean " + rounded(inference.Mean(bins)).Words() + ", " + note
	}
	if low, high := asked.Range(); asked.Kind == quiz.Rating && low == 0 && high == 10*decimal.One {
		score := decimal.FromInt(int64(math.Round(inference.Promoters(bins, int64(decimal.One)))))
		note += ", promoters less detractors " + score.Signed()
	}
	return list, note
}

// plain writes a number or a day as the address has it.
func plain(n decimal.Decimal, asked *quiz.Question) string {
	if asked.Kind == quiz.Date {
		return quiz.DayText(n)
	}
	return n.String()
}

func (r *reading) grid(key string, asked *quiz.Question) *gridFigure {
	columns := quiz.InOrder(asked.Answers)
	g := &gridFigure{}
	for _, c := range columns {
		g.Columns = append(g.Columns, asked.Answers[c].Label)
	}
	for _, k := range quiz.InOrder(asked.Rows) {
		of := tally.Property{Kind: tally.Answer, Key: key, Row: k}
		field, counts, all := "answer."+key+"."+k, map[string]int{}, 0
		for _, c := range r.in.Split(of) {
			counts[c.Value], all = c.Count, all+c.Count
		}
		row := gridRow{Label: asked.Rows[k].Label}
		for _, c := range columns {
			row.Cells = append(row.Cells, gridCell{counts[c], float64(counts[c]) / float64(max(all, 1)), r.slice.with(field, c), slices.Contains(r.slice.Asked[field], c)})
		}
		g.Rows = append(g.Rows, row)
	}
	return g
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
