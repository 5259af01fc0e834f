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
}

type spokenRow struct {
	Label        string
	Won, All     int
	Share, Range string // who were won of those who gave it
	Odds         string
	Evidence     string
	Left, Width  float64 // of the bar of evidence in 100, 50 is nothing
	Class        string
	Yours        string
	Suggested    string
	Off          string // by how much the suggestion may be off
	Patch        string // takes it over
}

// told tells what the answers to a question say.
func (page *wonPage) told(in *sliced, l *scorecard.Learner, of scorecard.Said) spoken {
	key, asked := l.Program.Key(of.Question), l.Program.Question(of.Question)
	one := spoken{Number: 1 + slices.Index(l.Program.Quiz.QuestionKeys(), key), Key: key, Label: asked.Label,
		One: of.One && !of.Number, Ordered: of.Ordered,
		Turn: page.turn(in, key)}
	if of.Number {
		one.Says = fmt.Sprintf("answered with %g to %g", of.Low, of.High)
	} else {
		one.Value, one.Says = fmt.Sprintf("%.2f", of.Value), valueWords(of)
	}
	if of.Leaks {
		one.Leaks = "Only leads that were won were asked this: it says how they ended, and not who they were. Leave it out."
	}
	for _, a := range of.Answers {
		row := rowOfAnswer(a)
		if !of.Number {
			row.Label = asked.Answers[a.Key].Label
		}
		if a.Leaks && one.Leaks == "" {
			one.Leaks = "Everybody who answered “" + row.Label + "” was won. Is it known before the end?"
		}
		if a.Suggested && a.Points != a.Yours {
			take := pointsOp(key, a.Key, l.Scale, a.Points)
			row.Patch, page.ops = desk.PatchText([]edit.Op{take}), append(page.ops, take)
		}
		one.Rows = append(one.Rows, row)
	}
	return one
}

// rowOfAnswer tells what those say who gave an answer.
func rowOfAnswer(a scorecard.Answer) spokenRow {
	row := spokenRow{Won: a.Won, Yours: a.Yours.Words(), Class: "speaks", Left: 50}
	if a.Suggested {
		row.Suggested, row.Off = a.Points.Words(), fmt.Sprintf("± %.0f", a.Off)
	}
	if a.Key == "" {
		row.Label = "each one more"
		if a.Suggested {
			row.Off = fmt.Sprintf("± %.2f", a.Off)
		}
		return row
	}
	if row.All = a.All(); row.All == 0 {
		return row
	}
	low, high := inference.Wilson(a.Won, row.All)
	row.Share, row.Range = ui.Percent(float64(a.Won)/float64(row.All)), ui.Percent(low)+" to "+ui.Percent(high)
	row.Odds = fmt.Sprintf("%.1f (%.1f–%.1f)", a.Odds.Ratio, a.Odds.Low, a.Odds.High)
	row.Evidence = minus(fmt.Sprintf("%+.2f", a.Weight))
	row.Width = min(math.Abs(a.Weight), 2) * 25
	if a.Weight < 0 {
		row.Left, row.Class = 50-row.Width, "speaks against"
	}
	return row
}

// turn is the address where the points of a question rise or fall along its answers, or need not.
func (page *wonPage) turn(in *sliced, key string) string {
	turned := slices.DeleteFunc(slices.Clone(page.ordered), func(k string) bool { return k == key })
	if len(turned) == len(page.ordered) {
		turned = append(turned, key)
	}
	fields := in.slice.clone()
	fields["ordered"] = turned
	return in.slice.address + "/won?" + fields.Encode()
}

// pointsOp gives an answer points, or a number so many for each one more.
func pointsOp(question, answer, scale string, points decimal.Decimal) edit.Op {
	if answer == "" {
		return edit.Op{Op: "add", Path: quiz.At("questions", question, "weigh", scale, "factor"), Value: points}
	}
	return edit.Op{Op: "add", Path: quiz.At("questions", question, "answers", answer, "adds", scale), Value: points}
}

// minus writes a figure with a true minus.
func minus(text string) string { return strings.ReplaceAll(text, "-", "−") }

// valueWords says what an information value means (Siddiqi 2006).
func valueWords(of scorecard.Said) string {
	value := of.Value
	switch {
	case value <= of.Most:
		return fmt.Sprintf("no more than chance, which gives %.2f on average for so few leads", of.Chance)
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
