package learn

import (
	"cmp"
	"context"
	"fmt"
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
	Width    float64 // of a bar of 100
	Mark     float64 // where it was expected, below 0 for nowhere
	Expected string
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
	Label string
	Cells []gridCell
}

type gridCell struct {
	Count   int
	Part    float64
	Address string
	Chosen  bool
	Beside  *beside
}

// A reading works figures out.
type reading struct {
	slice *sentence
	quiz  *quiz.Quiz // with what was asked before
	keys  []string   // of the questions, those that are not asked any more last
	odds  *odds.Odds // nil where they can't be told
	tally *tally.Tally
	in    tally.Slice
	count int
	place func(table, key string) string

	before []string   // questions that are not asked any more
	versus *comparing // nil where nothing is compared
	flow   flow
	stays  map[string]string // how long half of them stayed at most, by question
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
	f.Outcomes, f.Flow = r.outcomes(), r.flow
	r.stays = r.times()
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
	for _, share := range r.shares(append(r.in.Split(of), r.onlyThere(of)...)) {
		one := outcomeFigure{Share: share, Mark: -1, Address: r.slice.with("outcome", share.Outcome), Chosen: slices.Contains(r.slice.Asked["outcome"], share.Outcome)}
		low, high := inference.Wilson(share.Count, r.count)
		one.Range = fmt.Sprintf("%.0f–%.0f %%", low*100, high*100)
		if r.odds != nil {
			if part, known := r.odds.Outcomes[share.Outcome]; known {
				one.Expected, one.Mark = ui.Percent(part), 100*part
			}
		}
		if r.versus != nil {
			one.Beside = r.versus.share(one.Name, one.Count, r.count, r.there(tally.Part{Of: of, Values: []string{one.Outcome}}), r.versus.count)
		}
		list = append(list, one)
	}
	return list
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
	list := make([]desk.Counted, len(counts))
	for i, c := range counts {
		list[i] = desk.Counted{Outcome: c.Value, Count: c.Count}
	}
	return desk.SharesOf(r.quiz, list)
}

func (r *reading) question(i int, key string) questionFigure {
	asked := r.quiz.Questions[key]
	f := questionFigure{Key: key, Number: strconv.Itoa(i + 1), Label: asked.Label}
	if r.about("answer." + key); asked.Kind.Numeric() || asked.Kind == quiz.Date {
		r.about("amount." + key)
	}
	answers := tally.Part{Of: tally.Property{Kind: tally.Answered, Key: key}, Values: []string{""}}
	f.Answered = r.in.And(answers).Count()
	if r.versus != nil {
		f.Other = r.there(answers)
	}
	r.asked(&f, asked.Kind)
	if f.Answered+f.Other == 0 {
		f.Nothing = "Nobody of them has answered this."
		return f
	}
	f.Adopts, f.Chart = adoptable(asked), r.slice.charted("answer."+key)
	if asksWords(asked) {
		f.Words = r.slice.beside("words/" + key)
	}
	switch {
	case asked.Kind == quiz.Grid:
		f.Grid = r.grid(&f, asked)
	case asked.Kind.HasAnswers():
		for _, answer := range quiz.InOrder(asked.Answers) {
			f.Rows = append(f.Rows, r.answer(&f, answer, asked.Answers[answer].Label))
		}
	case asked.Kind == quiz.Country, asked.Kind == quiz.Location, asked.Kind == quiz.Consent:
		f.Rows = r.named(&f, asked)
	case asked.Kind.Numeric(), asked.Kind == quiz.Date:
		r.amounts(&f, asked)
	default:
		if f.Nothing = "What they said stands in each response."; f.Words != "" {
			f.Nothing = ""
		}
	}
	return f
}

// answer is how many chose an answer, and what they got.
func (r *reading) answer(f *questionFigure, answer, label string) rowFigure {
	key, field := f.Key, "answer."+f.Key
	gave := tally.Part{Of: tally.Property{Kind: tally.Answer, Key: key}, Values: []string{answer}}
	those := r.in.And(gave)
	row := r.rowOf(label, those.Count(), those.Split(tally.Property{Kind: tally.Outcome}), f.Answered)
	if r.versus != nil {
		row.Beside = r.versus.share(f.says(label), row.Count, f.Answered, r.there(gave), f.Other)
	}
	row.Address, row.Chosen = r.slice.with(field, answer), slices.Contains(r.slice.Asked[field], answer)
	r.expect(&row, key, answer)
	return row
}

// says names an answer to the question.
func (f *questionFigure) says(label string) string {
	return "“" + label + "” to “" + f.Label + "”"
}

// rowOf is a row of so many, with what they got.
func (r *reading) rowOf(label string, count int, split []tally.Count, answered int) rowFigure {
	row := rowFigure{Label: label, Count: count, Mark: -1, Part: part(count, answered)}
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
	return binsOf(counts), got
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

func (r *reading) named(f *questionFigure, asked *quiz.Question) []rowFigure {
	var list []rowFigure
	of := tally.Property{Kind: tally.Answer, Key: f.Key}
	counts := append(r.in.Split(of), r.onlyThere(of)...)
	for _, c := range counts[:min(len(counts), mostNamed)] {
		label := c.Value
		switch asked.Kind {
		case quiz.Country:
			label = atlas.Name(c.Value, "en")
		case quiz.Location:
			label = cmp.Or(r.place(asked.Table, c.Value), c.Value)
		}
		list = append(list, r.answer(f, c.Value, label))
	}
	return list
}

// amounts shows numbers by ranges, ratings by points, dates by months.
func (r *reading) amounts(f *questionFigure, asked *quiz.Question) {
	key := f.Key
	of := tally.Property{Kind: tally.Amount, Key: key}
	bins, got := r.byOutcome(of)
	ranged, other := bins, []tally.Bin(nil)
	if r.versus != nil {
		other = r.versus.in.Values(of, 1)
		ranged = together(bins, other)
	}
	if len(ranged) == 0 {
		return
	}
	text := func(n decimal.Decimal) string { return n.Words() }
	if asked.Kind == quiz.Date {
		text = quiz.DayText
	}
	field := "amount." + key
	for _, span := range spansOf(asked, ranged) {
		value := plain(span.from, asked) + ".." + plain(span.to, asked)
		var split []tally.Count
		for outcome, numbers := range got {
			if n := within(numbers, span); n > 0 {
				split = append(split, tally.Count{Value: outcome, Count: n})
			}
		}
		row := r.rowOf(span.label, within(bins, span), split, f.Answered)
		row.Address, row.Chosen = r.slice.only(field, value), r.slice.Asked.Get(field) == value
		if span.from == span.to {
			r.expect(&row, key, span.from.String())
		}
		if r.versus != nil {
			row.Beside = r.versus.share(f.says(span.label), row.Count, f.Answered, within(other, span), f.Other)
		}
		f.Rows = append(f.Rows, row)
	}
	middle, known := inference.Median(bins)
	if !known {
		return
	}
	f.Note = "median " + text(decimal.Decimal(middle))
	if asked.Kind != quiz.Date {
		f.Note = "mean " + rounded(inference.Mean(bins)).Words() + ", " + f.Note
		if r.versus != nil {
			f.Beside = r.versus.mean("“"+f.Label+"”", bins, other)
		}
	}
	if low, high := asked.Range(); asked.Kind == quiz.Rating && low == 0 && high == 10*decimal.One {
		score := decimal.FromInt(int64(math.Round(inference.Promoters(bins, int64(decimal.One)))))
		f.Note += ", promoters less detractors " + score.Signed()
	}
}

// plain writes a number or a day as the address has it.
func plain(n decimal.Decimal, asked *quiz.Question) string {
	if asked.Kind == quiz.Date {
		return quiz.DayText(n)
	}
	return n.String()
}

func (r *reading) grid(f *questionFigure, asked *quiz.Question) *gridFigure {
	key, columns := f.Key, quiz.InOrder(asked.Answers)
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
		r.about(field)
		there, others := map[string]int{}, 0
		if r.versus != nil {
			for _, c := range r.versus.in.Split(of) {
				there[c.Value], others = c.Count, others+c.Count
			}
		}
		row := gridRow{Label: asked.Rows[k].Label}
		for _, c := range columns {
			cell := gridCell{
				Count: counts[c], Part: part(counts[c], all),
				Address: r.slice.with(field, c), Chosen: slices.Contains(r.slice.Asked[field], c),
			}
			if r.versus != nil {
				what := f.says(asked.Answers[c].Label) + " for “" + row.Label + "”"
				cell.Beside = r.versus.share(what, counts[c], all, there[c], others)
			}
			row.Cells = append(row.Cells, cell)
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
