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
	answers := tally.Part{Of: answeredOf(asked.Kind, key), Values: []string{""}}
	f.Answered = r.in.And(answers).Count()
	if r.versus != nil {
		f.Other = r.there(answers)
	}
	f.Versions = r.versions(key, r.in.And(answers))
	r.asked(&f, asked)
	if f.Answered+f.Other == 0 {
		if f.Nothing = "Nobody of them has answered this."; asked.Kind.Personal() && r.quiz.IsAnonymous() {
			f.Nothing = "The quiz is anonymous: answers to this are not kept."
		}
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
			row := r.answer(&f, answer, asked.Answers[answer].Label)
			if row.Gone = r.isGone(key + "/" + answer); row.Count > 0 || !row.Gone {
				f.Rows = append(f.Rows, row)
			}
		}
		f.divide()
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
	row.Versions = r.versions(key+"/"+answer, those)
	r.expect(&row, key, answer)
	return row
}

// answeredOf is what responses have in which a question is answered: what somebody says of
// themselves is kept apart from answers.
func answeredOf(kind quiz.Kind, key string) tally.Property {
	if kind.Personal() {
		return tally.Property{Kind: tally.Said, Key: key}
	}
	return tally.Property{Kind: tally.Answered, Key: key}
}

// isGone tells whether an answer, or a row, is not offered any more.
func (r *reading) isGone(place string) bool { return r.shown != nil && r.pool.Gone[place] }

// divide writes the percents of rows that are all who answered, so that they add up.
func (f *questionFigure) divide() {
	rows := make([]*rowFigure, len(f.Rows))
	for i := range f.Rows {
		rows[i] = &f.Rows[i]
	}
	divide(rows, f.Answered)
}

// divide writes the percents of rows so that they add up, where together they are all: of
// several answers they are more.
func divide(rows []*rowFigure, everybody int) {
	counts, all := make([]int, len(rows)), 0
	for i, row := range rows {
		counts[i] = row.Count
		all += row.Count
	}
	if all != everybody {
		return
	}
	for i, percent := range inference.PercentsOf(counts...) {
		rows[i].Percent = percent
	}
}

// says names an answer to the question.
func (f *questionFigure) says(label string) string {
	return "“" + label + "” to “" + f.Label + "”"
}

// rowOf is a row of so many, with what they got.
func (r *reading) rowOf(label string, count int, split []tally.Count, answered int) rowFigure {
	row := rowFigure{Label: label, Count: count, Mark: -1, Part: part(count, answered)}
	if row.Percent = inference.Percent(row.Part); answered == 0 {
		row.Percent = "–"
	}
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

// expect marks where a row was expected, of those who answer: where one answer is given, of
// those whom theirs doesn't screen out, who are no responses.
func (r *reading) expect(row *rowFigure, key, name string) {
	if r.odds == nil {
		return
	}
	shares := r.odds.Answers[key] // of all respondents
	part, known := shares[name]
	answer := r.odds.Seen[key] - shares[program.SkippedName]
	if asked := r.quiz.Questions[key]; asked != nil && asked.Kind != quiz.Several {
		for other, a := range asked.Answers {
			if a.Then != nil && a.Then.Go == quiz.PartWays {
				answer -= shares[other]
				row.Parts = row.Parts || other == name
			}
		}
	}
	if known && answer > 0 && !row.Parts {
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
	f.divide()
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
		row := gridRow{Label: asked.Rows[k].Label, Gone: r.isGone(key + "/" + k + "/"),
			Versions: r.versions(key+"/"+k+"/", r.in)}
		if row.Gone && all+others == 0 {
			continue
		}
		each := make([]int, len(columns))
		for i, c := range columns {
			each[i] = counts[c]
		}
		percents := inference.PercentsOf(each...)
		for i, c := range columns {
			cell := gridCell{
				Count: counts[c], Part: part(counts[c], all), Percent: percents[i],
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
