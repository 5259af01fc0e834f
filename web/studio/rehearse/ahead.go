package rehearse

import (
	"context"
	"strconv"
	"time"

	"omphalos/core/odds"
	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/web/studio/desk"
	"omphalos/web/ui"
)

// What is told of the way from here takes this long at the most; beyond it is a sample.
const (
	aheadTime   = 400 * time.Millisecond
	aheadSteps  = 1 << 17
	aheadSample = 1 << 13
)

// ahead tells what can still come of it: how the scores can lie, and who gets what.
func (h *happens) ahead(ctx context.Context, d *draft, in passage.Input, given program.Answers, scores []scoreNow) {
	exact, stop := context.WithTimeout(ctx, aheadTime)
	defer stop()
	o, err := odds.Of(d.today, odds.Options{Visitor: in.Visitor, Given: given, Steps: aheadSteps,
		Sample: aheadSample, Exact: exact, Context: ctx})
	if err != nil {
		return
	}
	h.Told, h.Sampled = true, o.Sampled != nil
	x := 0.0
	for i, key := range quiz.InOrder(d.program.Quiz.Outcomes) {
		end, share := endOf(d.doc, key), o.Outcomes[key]
		one := desk.Share{Outcome: key, Name: end.Name, Letter: end.Letter, Class: desk.Hue(i), Part: share,
			X: x, Width: 100 * share}
		if share > 0 {
			one.Count = 1
		}
		x += one.Width
		h.Shares = append(h.Shares, one)
	}
	desk.Divide(h.Shares)
	seen := 0.0
	for i, key := range d.program.Quiz.QuestionKeys() {
		if d.program.Asks(i) {
			seen += o.Seen[key]
		}
	}
	behind := 0
	for i := range given {
		if given[i].State != program.Absent && d.program.Asks(i) {
			behind++
		}
	}
	h.More = max(seen-float64(behind), 0)
	h.Minutes = minutes(d.doc, seen)
	whole := o
	if behind > 0 { // behind what is still possible stands what was possible at the beginning
		if whole, err = odds.Of(d.today, odds.Options{Visitor: in.Visitor, Steps: aheadSteps,
			Sample: aheadSample, Exact: exact, Context: ctx}); err != nil {
			whole = o
		}
	}
	h.scales(d, o, whole, scores)
}

// minutes says how long so many questions take, or so.
func minutes(q *quiz.Quiz, questions float64) string {
	seconds := secondsPerQuestion
	if q.Settings != nil && q.Settings.AskFor > 0 {
		seconds = q.Settings.AskFor.Float64()
	}
	whole := questions * seconds
	if whole < 55 {
		return "about " + strconv.Itoa(max(5, 5*int(whole/5+0.5))) + " seconds"
	}
	return "about " + ui.Plural(int(whole/60+0.5), "minute", "minutes")
}

// secondsPerQuestion is how long a question takes: common practice, no source.
const secondsPerQuestion = 10.0
