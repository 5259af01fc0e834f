package learn

import (
	"math"
	"slices"
	"strconv"

	"omphalos/core/decimal"
	"omphalos/core/inference"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/store/tally"
	"omphalos/web/ui"
)

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
		f.Rows = r.named(&f)
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

func (r *reading) named(f *questionFigure) []rowFigure {
	var list []rowFigure
	of := tally.Property{Kind: tally.Answer, Key: f.Key}
	counts := append(r.in.Split(of), r.onlyThere(of)...)
	for _, c := range counts[:min(len(counts), mostNamed)] {
		list = append(list, r.answer(f, c.Value, r.slice.answer(f.Key, c.Value)))
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
