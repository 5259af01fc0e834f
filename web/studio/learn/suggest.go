package learn

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"omphalos/core/decimal"
	"omphalos/core/edit"
	"omphalos/core/inference"
	"omphalos/core/quiz"
	"omphalos/core/scorecard"
	"omphalos/web/studio/desk"
	"omphalos/web/ui"
)

// A spoken question is how much its answers say.
type spoken struct {
	Number       int
	Key, Label   string
	Value        string // information value
	Says         string
	Leaks        string // what is suspicious
	One, Ordered bool
	Turn         string // address where its points rise or fall, or need not
	Rows         []spokenRow
	Differs      bool
}

type spokenRow struct {
	Label, Answer string
	Won, All      int
	Share, Range  string // who were won of those who gave it
	Odds          string
	Evidence      string
	Left, Width   float64 // of the bar of evidence in 100, 50 is nothing
	Class         string
	Yours         string
	Suggested     string
	Off           string // by how much the suggestion may be off
	Patch         string // takes it over, "" where it is so already
}

// questions fills in what each answer says, and which points are suggested.
func (l *learner) questions(page *wonPage, in *sliced, q *quiz.Quiz, scale string, fit *scorecard.Fit, all scorecard.Tally) {
	var shapes []scorecard.Question
	var asked []int
	reach := 0.0
	for i := range l.program.Questions {
		if l.first[i] < 0 {
			continue
		}
		kind, key := l.program.Question(i).Kind, l.program.Key(i)
		if l.number(i) {
			if factor, is := factorOf(q.Questions[key], scale); is && l.given[l.first[i]].All() > 0 {
				column := l.first[i]
				reach += abs(factor) * (l.high[column] - l.low[column])
				shapes = append(shapes, scorecard.Question{Columns: []int{column}, Counts: []int{l.given[column].All()}})
				asked = append(asked, i)
			}
			continue
		}
		shape := scorecard.Question{One: kind != quiz.Several, Ordered: slices.Contains(l.ordered, key)}
		low, high, sum := 0.0, 0.0, [2]float64{}
		for k, answer := range l.keys[i] {
			column := l.first[i] + k
			shape.Columns, shape.Counts = append(shape.Columns, column), append(shape.Counts, l.given[column].All())
			adds := q.Questions[key].Answers[answer].Adds[scale].Float64()
			if k == 0 {
				low, high = adds, adds
			}
			low, high = min(low, adds), max(high, adds)
			sum[0], sum[1] = sum[0]+min(adds, 0), sum[1]+max(adds, 0)
		}
		if !shape.One {
			low, high = sum[0], sum[1]
		}
		reach += high - low
		shapes, asked = append(shapes, shape), append(asked, i)
	}
	var points []int
	per := 0.0
	if fit != nil && scale != "" {
		points = scorecard.Points(fit.Weights, shapes, reach)
		per = scorecard.PerWeight(fit.Weights, shapes, reach)
	}
	for n, i := range asked {
		if l.number(i) {
			one := l.amount(q, scale, i, fit, per)
			if one.Rows[0].Patch != "" {
				page.Draft, one.Differs = true, true
			}
			page.Questions = append(page.Questions, one)
			continue
		}
		one := l.question(in, q, scale, i, shapes[n], all)
		for k := range one.Rows {
			if points == nil {
				continue
			}
			row, column := &one.Rows[k], l.first[i]+k
			if all := l.given[column]; all.All() == 0 {
				continue // nobody says anything of it
			}
			row.Suggested, row.Off = minus(fmt.Sprint(points[column])), fmt.Sprintf("± %.0f", 1.96*fit.Errors[column]*per)
			if row.Suggested != row.Yours {
				row.Patch = desk.PatchText([]edit.Op{addsOp(one.Key, row.Answer, scale, points[column])})
				page.Draft, one.Differs = true, true
			}
		}
		page.Questions = append(page.Questions, one)
	}
}

// amount is what a question with a number says: how many points each one more stands for.
func (l *learner) amount(q *quiz.Quiz, scale string, i int, fit *scorecard.Fit, per float64) spoken {
	key, column := l.program.Key(i), l.first[i]
	one := spoken{Number: 1 + slices.Index(q.QuestionKeys(), key), Key: key, Label: q.Questions[key].Label,
		Says: fmt.Sprintf("answered with %g to %g", l.low[column], l.high[column])}
	factor, _ := factorOf(q.Questions[key], scale)
	row := spokenRow{Label: "each one more", Won: l.given[column].Won, All: 0, Yours: decimal.Decimal(math.Round(factor * float64(decimal.One))).Words()}
	if wide := l.high[column] - l.low[column]; fit != nil && wide > 0 && per > 0 {
		to := decimal.Decimal(math.Round(fit.Weights[column]*per/wide*100)) * (decimal.One / 100)
		row.Suggested, row.Off = to.Words(), fmt.Sprintf("± %.2f", 1.96*fit.Errors[column]*per/wide)
		if row.Suggested != row.Yours {
			row.Patch = desk.PatchText([]edit.Op{factorOp(key, scale, to)})
		}
	}
	one.Rows = []spokenRow{row}
	return one
}

// factorOp has a question's number multiplied.
func factorOp(question, scale string, by decimal.Decimal) edit.Op {
	return edit.Op{Op: "add", Path: quiz.At("questions", question, "weigh", scale, "factor"), Value: by}
}

// addsOp gives an answer points.
func addsOp(question, answer, scale string, points int) edit.Op {
	return edit.Op{Op: "add", Path: quiz.At("questions", question, "answers", answer, "adds", scale), Value: points}
}

// question is what the answers to a question say.
func (l *learner) question(in *sliced, q *quiz.Quiz, scale string, i int, shape scorecard.Question, all scorecard.Tally) spoken {
	key := l.program.Key(i)
	one := spoken{Number: 1 + slices.Index(q.QuestionKeys(), key), Key: key, Label: q.Questions[key].Label, One: shape.One, Ordered: shape.Ordered}
	turned := slices.DeleteFunc(slices.Clone(l.ordered), func(k string) bool { return k == key })
	if !shape.Ordered {
		turned = append(turned, key)
	}
	fields := in.slice.clone()
	fields["ordered"] = turned
	one.Turn = in.slice.address + "/won?" + fields.Encode()
	var parts []scorecard.Tally
	for _, column := range shape.Columns {
		parts = append(parts, l.given[column])
	}
	evidence, value := scorecard.Weigh(parts)
	if !shape.One { // several can be given: each answer against not giving it
		value = 0
		for k, column := range shape.Columns {
			with := l.given[column]
			two, v := scorecard.Weigh([]scorecard.Tally{with, {Won: l.asked[i].Won - with.Won, Lost: l.asked[i].Lost - with.Lost}})
			evidence[k] = two[0]
			value = max(value, v)
		}
	}
	one.Value, one.Says = fmt.Sprintf("%.2f", value), valueWords(value)
	if scorecard.Leaks(l.asked[i], all) {
		one.Leaks = "Only leads that were won were asked this: it says how they ended, and not who they were. Leave it out."
	}
	for k, answer := range l.keys[i] {
		with := l.given[shape.Columns[k]]
		a := q.Questions[key].Answers[answer]
		row := spokenRow{Label: a.Label, Answer: answer, Won: with.Won, All: with.All(), Yours: a.Adds[scale].Words(), Class: "speaks"}
		if with.All() > 0 {
			low, high := inference.Wilson(with.Won, with.All())
			others := scorecard.Tally{Won: l.asked[i].Won - with.Won, Lost: l.asked[i].Lost - with.Lost}
			o := scorecard.Compare(with, others)
			row.Share, row.Range = ui.Percent(float64(with.Won)/float64(with.All())), ui.Percent(low)+" to "+ui.Percent(high)
			row.Odds = fmt.Sprintf("%.1f (%.1f–%.1f)", o.Ratio, o.Low, o.High)
			row.Evidence = minus(fmt.Sprintf("%+.2f", evidence[k].Weight))
			row.Width = min(abs(evidence[k].Weight), 2) * 25
			if row.Left = 50; evidence[k].Weight < 0 {
				row.Left, row.Class = 50-row.Width, "speaks against"
			}
			if scorecard.Leaks(with, all) && one.Leaks == "" && with.Won > 20 {
				one.Leaks = "Everybody who answered “" + a.Label + "” was won. Is it known before the end?"
			}
		}
		one.Rows = append(one.Rows, row)
	}
	return one
}

// minus writes a figure with a true minus.
func minus(text string) string { return strings.ReplaceAll(text, "-", "−") }

func abs(v float64) float64 { return max(v, -v) }

// valueWords says what an information value means (Siddiqi 2006).
func valueWords(value float64) string {
	switch {
	case value < 0.02:
		return "says nothing of winning"
	case value < 0.1:
		return "says a little"
	case value < 0.3:
		return "says something"
	case value < 0.5:
		return "says much"
	}
	return "says very much: make sure that it is known before the end"
}
