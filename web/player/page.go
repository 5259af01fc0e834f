package player

import (
	"cmp"
	"fmt"
	"slices"

	"omphalos/core/decimal"
	"omphalos/core/passage"
	"omphalos/core/quiz"
)

// A frame is what every page of the player has around its content.
type frame struct {
	Title    string
	Language string
	Owner    string
	Logo     *quiz.Picture
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
		f.Owner, f.Logo = q.Look.Owner, q.Look.Logo
		if dress(q.Look) != "" {
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

// A questionPage asks the questions of one page: one, those of a section, or all.
type questionPage struct {
	frame
	Heading  string // of the page, "" where its one question is the heading
	Action   string
	Wrong    string
	Sections []sectionView
	Progress progress
}

// A sectionView is the questions of a section that are on a page, with its words
// where the first of them begins it.
type sectionView struct {
	Heading, Text string
	Questions     []questionView
}

type questionView struct {
	Key      string
	Question *quiz.Question
	Label    string // filled in
	Help     string
	Wrong    string
	Answers  []answerView
	Rows     []rowView
	Value    string
	WriteIn  string
	Input    string // type of the input field, "" for choices
	Fill     string // what the browser may fill in, in HTML's words
	Range    inputRange
	Picks    string // how many may be chosen
	Alone    bool   // on its page
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

// page builds the page that asks questions, with what has been typed for them and
// what is wrong with it, by question.
func (j *journey) page(asked []int, action string, wrongs map[int]string) questionPage {
	q := j.program.Quiz()
	filler := j.filler()
	page := questionPage{frame: newFrame(j.program, j.release, q.Title), Action: action, Progress: j.progress(asked[0])}
	alone := q.Pace == quiz.ByQuestion || q.Pace == ""
	if alone {
		page.Title = j.program.Question(asked[0]).Label
	} else {
		page.Heading = q.Title
	}
	path, inside := j.path(), ""
	for _, at := range asked {
		question := j.program.Question(at)
		if len(page.Sections) == 0 || question.Section != inside {
			inside = question.Section
			section := sectionView{}
			if i := slices.Index(path, at); i < 1 || j.program.Question(path[i-1]).Section != inside {
				section.Heading, section.Text = filler.Text(q.Sections[inside].Heading), filler.Text(q.Sections[inside].Text)
			}
			page.Sections = append(page.Sections, section)
		}
		last := &page.Sections[len(page.Sections)-1]
		last.Questions = append(last.Questions, j.view(at, filler, wrongs[at], alone))
	}
	if first := &page.Sections[0]; q.Pace == quiz.BySection && first.Heading != "" {
		page.Heading, first.Heading = first.Heading, ""
	}
	if len(wrongs) > 0 && !alone {
		page.Wrong = "Some of this can't be taken yet: see below."
	}
	return page
}

func (j *journey) filler() *passage.Filler {
	in := j.input()
	in.Stop = true
	return j.program.Filler(in, j.program.Walk(in), j.number())
}

// progress tells how many pages are behind, of those that are to come as things stand.
func (j *journey) progress(at int) progress {
	q := j.program.Quiz()
	if q.Pace == quiz.BySection {
		seen := j.ahead()
		pages, here := 0, 0
		for i := 0; i < len(seen); {
			together := j.program.Together(seen, seen[i])
			pages++
			if slices.Contains(together, at) {
				here = pages
			}
			i += len(together)
		}
		return newProgress(max(here, 1), pages)
	}
	if q.Pace == quiz.OnePage {
		return progress{}
	}
	done := max(slices.Index(j.path(), at)+1, 1)
	return newProgress(done, done+j.program.Questions()-at-1)
}

func (j *journey) view(at int, filler *passage.Filler, wrong string, alone bool) questionView {
	q, key := j.program.Question(at), j.program.Key(at)
	typed := j.typed[key]
	view := questionView{Key: key, Question: q, Label: filler.Text(q.Label), Help: filler.Text(q.Help), Wrong: wrong, WriteIn: typed.WriteIn, Alone: alone,
		Input: inputs[q.Kind], Fill: fillings[q.Kind], Range: rangeOf(q), Picks: picksOf(q)}
	if len(typed.Values) > 0 {
		view.Value = typed.Values[0]
	}
	for i, k := range j.program.AnswerKeys(at) {
		a := q.Answers[k]
		view.Answers = append(view.Answers, answerView{k, filler.Text(a.Label), a.Picture, i + 1, slices.Contains(typed.Values, k), a.WriteIn})
	}
	for _, k := range j.program.RowKeys(at) {
		view.Rows = append(view.Rows, rowView{rowField(key, k), filler.Text(q.Rows[k].Label), typed.Rows[k]})
	}
	return view
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
