package player

import (
	"cmp"
	"fmt"
	"slices"

	"omphalos/core/decimal"
	"omphalos/core/fillin"
	"omphalos/core/odds"
	"omphalos/core/passage"
	"omphalos/core/quiz"
)

// A frame is what every page of the player has around its content.
type frame struct {
	Title    string
	Language string
	Owner    string
	Words    words
	Look     string // address of its colours, "" where they are ours
}

type words struct{ Next, Back, Start string }

func newFrame(p *passage.Program, release uint, title string) frame {
	f := frame{Title: title, Language: "en", Words: words{"Next", "Back", "Start"}}
	if p == nil {
		return f
	}
	q := p.Quiz()
	if q.Look != nil {
		f.Owner = q.Look.Owner
		if colours(q.Look) != "" {
			f.Look = fmt.Sprintf("/look/%d", release)
		}
	}
	if s := q.Settings; s != nil {
		f.Language = cmp.Or(s.Language, f.Language)
		f.Words.Next, f.Words.Back = cmp.Or(s.Next, f.Words.Next), cmp.Or(s.Back, f.Words.Back)
	}
	if q.Opening != nil {
		f.Words.Start = cmp.Or(q.Opening.Button, f.Words.Start)
	}
	return f
}

type openingPage struct {
	frame
	Opening *quiz.Opening
}

type problemPage struct {
	frame
	Heading, Text string
}

func newProblem(p *passage.Program, heading, text string) problemPage {
	return problemPage{newFrame(p, 0, heading), heading, text}
}

type questionPage struct {
	frame
	Key      string
	Question *quiz.Question
	Label    string // filled in
	Help     string
	Action   string
	First    bool
	Wrong    string
	Answers  []answerView
	Rows     []rowView
	Value    string
	WriteIn  string
	Input    string // type of the input field, "" for choices
	Fill     string // what the browser may fill in, in HTML's words
	Range    inputRange
	Picks    string // how many may be chosen
	Progress progress
}

// An inputRange is what an input field is told about what may be typed.
type inputRange struct{ Low, High, Step, Length, LowWords, HighWords, Unit string }

func rangeOf(q *quiz.Question) inputRange {
	var r inputRange
	if l := q.Limits; l != nil {
		r.LowWords, r.HighWords, r.Unit = l.LowWords, l.HighWords, l.Unit
		if l.Step != nil {
			r.Step = l.Step.String()
		}
		if l.High != nil && (q.Kind == quiz.ShortText || q.Kind == quiz.LongText) {
			r.Length = l.High.String()
		}
	}
	text := decimal.Decimal.String
	if q.Kind == quiz.Date {
		text = quiz.DayText
	}
	low, high := q.Bounds()
	if low != nil && r.Length == "" {
		r.Low = text(*low)
	}
	if high != nil && r.Length == "" {
		r.High = text(*high)
	}
	if r.Step == "" && q.Kind == quiz.Number {
		r.Step = "any"
	}
	return r
}

// picksOf says how many answers may be chosen, where that is not any number.
func picksOf(q *quiz.Question) string {
	if q.Kind != quiz.Several || q.Picks == nil {
		return ""
	}
	least, most := q.Picks.Min, q.Picks.Max
	switch {
	case least > 0 && most == least:
		return fmt.Sprintf("Choose %d.", least)
	case least > 0 && most > 0:
		return fmt.Sprintf("Choose %d to %d.", least, most)
	case most > 0:
		return fmt.Sprintf("Choose up to %d.", most)
	case least > 0:
		return fmt.Sprintf("Choose at least %d.", least)
	}
	return ""
}

type answerView struct {
	Key, Label string
	Picture    *quiz.Picture
	Number     int
	Chosen     bool
	WriteIn    bool
}

type rowView struct {
	Name, Label, Chosen string
}

// progress says how far a passage is: Done of All steps.
type progress struct {
	Done, All int
	Knots     []knot
	Line      float64 // length of what is done
}

type knot struct {
	X    float64
	Full bool
}

// width is the length that the progress line is drawn with.
const width = 326

func newProgress(done, all int) progress {
	p := progress{Done: done, All: all}
	if all < 2 {
		return p
	}
	step := float64(width-12) / float64(all-1)
	p.Line = 6 + step*float64(done-1)
	if all <= 15 {
		for i := range all {
			p.Knots = append(p.Knots, knot{6 + step*float64(i), i < done-1})
		}
	}
	return p
}

// page builds the page that asks a question, with what has been typed for it.
func (j *journey) page(at int, action string, typed passage.Typed, wrong string) questionPage {
	q := j.program.Question(at)
	in := j.input()
	in.Stop = true
	r := j.program.Walk(in)
	filler := j.program.Filler(in, r, j.number())
	done := slices.Index(j.path(), at) + 1
	page := questionPage{
		frame: newFrame(j.program, j.release, q.Label), Key: j.program.Key(at), Question: q,
		Label: filler.Text(q.Label), Help: filler.Text(q.Help),
		Action: action, First: done <= 1, Wrong: wrong, WriteIn: typed.WriteIn,
		Progress: newProgress(max(done, 1), max(done, 1)+j.program.Questions()-at-1),
	}
	if len(typed.Values) > 0 {
		page.Value = typed.Values[0]
	}
	for i, key := range j.program.AnswerKeys(at) {
		a := q.Answers[key]
		page.Answers = append(page.Answers, answerView{key, filler.Text(a.Label), a.Picture, i + 1, slices.Contains(typed.Values, key), a.WriteIn})
	}
	for _, key := range j.program.RowKeys(at) {
		page.Rows = append(page.Rows, rowView{j.program.Key(at) + "." + key, filler.Text(q.Rows[key].Label), typed.Rows[key]})
	}
	page.Input, page.Fill, page.Range, page.Picks = inputs[q.Kind], fillings[q.Kind], rangeOf(q), picksOf(q)
	return page
}

// inputs are the types of HTML input that the kinds in words are asked with.
var inputs = map[quiz.Kind]string{
	quiz.Rating: "number", quiz.Stars: "number", quiz.Number: "number", quiz.Date: "date",
	quiz.ShortText: "text", quiz.Name: "text", quiz.Company: "text", quiz.Country: "text", quiz.Location: "text",
	quiz.Email: "email", quiz.Phone: "tel", quiz.Appointment: "datetime-local",
}

// fillings are the words of HTML for what a browser may know.
var fillings = map[quiz.Kind]string{quiz.Name: "name", quiz.Email: "email", quiz.Phone: "tel", quiz.Company: "organization", quiz.Country: "country-name"}

func (j *journey) number() string {
	if j.passage == nil {
		return ""
	}
	return j.passage.ID
}

type resultPage struct {
	frame
	Headline string
	Text     string
	Picture  *quiz.Picture
	Blocks   []blockView
	Score    *score
	Why      []string
	Parted   bool
	Redirect string // filled-in address, for a delayed redirect
	After    int
	Contact  *contactForm // asked for below
	Thanks   bool         // contact has just been given
}

type blockView struct {
	Kind    quiz.BlockKind
	Text    string
	Label   string
	Address string
	Picture *quiz.Picture
	First   bool // the first call to action
	Bill    []passage.BillLine
	Total   string
}

// A score is drawn as a strip from the lowest to the highest.
type score struct {
	Name, Text string
	X          float64 // of 326
	Of         string  // the highest
}

// resultPage builds the page of a walked passage's outcome.
func (j *journey) resultPage(w *passage.Walker, parted bool) resultPage {
	in := j.input()
	r := w.Walk(in)
	o := j.program.Quiz().Outcomes[j.program.OutcomeKey(r)]
	filler := j.program.Filler(in, r, j.number())
	page := resultPage{
		frame:    newFrame(j.program, j.release, cmp.Or(o.Headline, j.program.Quiz().Title)),
		Headline: filler.Text(cmp.Or(o.Headline, "Thank you")), Text: filler.Text(o.Text), Picture: o.Picture,
		Parted: parted, After: j.program.LandingOf(r).After,
	}
	if o.ShowWhy {
		e := j.program.Explain(in)
		page.Why = e.Sentences()
	}
	if o.ShowScore != "" {
		page.Score = j.score(o.ShowScore, r)
	}
	l := j.program.LandingOf(r)
	first := true
	for _, key := range w.Blocks() {
		b := l.Blocks[key]
		view := blockView{Kind: b.Kind, Text: filler.Text(b.Text), Label: filler.Text(b.Label), Picture: b.Picture}
		if b.Address != "" {
			if template, err := fillin.ParseAddress(b.Address); err == nil {
				view.Address, _ = filler.Address(template)
			}
		}
		if b.Kind == quiz.BillBlock {
			var total decimal.Decimal
			view.Bill, total = w.Bill(b.Scale)
			view.Total = j.program.ScoreText(slices.Index(j.program.Scales(), b.Scale), total)
		}
		if b.Kind == quiz.ActionBlock {
			view.First, first = first, false
		}
		page.Blocks = append(page.Blocks, view)
	}
	return page
}

// mostSteps bounds the odds that a result's score is shown among, to some milliseconds.
const mostSteps = 50_000

func (j *journey) score(scale string, r *passage.Result) *score {
	i := slices.Index(j.program.Scales(), scale)
	s := &score{Name: j.program.Quiz().Scales[scale].Name, Text: j.program.ScoreText(i, r.Scores[i]), X: -1}
	o, err := odds.Of(j.program, odds.Options{Steps: mostSteps, Sample: -1})
	if err != nil || len(o.Scores[scale].Points) < 2 {
		return s
	}
	low, high := o.Scores[scale].Lowest(), o.Scores[scale].Highest()
	s.Of = high.String()
	s.X = 8 + 310*(r.Scores[i]-low).Float64()/(high-low).Float64()
	return s
}
