package player

import (
	"slices"

	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/core/quiz"
)

type openingPage struct {
	frame
	Opening *quiz.Opening
	Picture *shownPicture
	Layout  quiz.Layout
	Ahead   []string // pictures of the first page
	Resume  string   // address of where this device's passage has come to
	Number  string   // of the passage that begins here
}

type problemPage struct {
	frame
	Heading, Text     string
	Link, LinkWords   string // where one can go instead, "" for nowhere
	Other, OtherWords string // and elsewhere
}

func newProblem(r *released, heading, text string) problemPage {
	in := tongue("")
	if r != nil {
		in = tongueOf(r.program)
	}
	heading = in.say(heading)
	return problemPage{frame: newFrame(r, heading), Heading: heading, Text: in.say(text)}
}

// A questionPage asks the questions of one page: one, those of a section, or all.
type questionPage struct {
	frame
	Heading  string // of the page, "" where its one question is the heading
	Action   string
	Number   string // of a passage that is not on disk yet
	Wrong    string
	Wrongs   []wrongPlace // what of it is wrong, on a page of several questions
	Grows    bool         // answers may bring up questions on this page
	Taps     bool         // a tap on an answer goes on
	Back     bool         // there is something to go back to
	Sections []sectionView
	Progress progress
	Ahead    []string // pictures of the page that comes next, as far as one can tell
}

// A wrongPlace is a question whose answer can't be taken yet.
type wrongPlace struct{ Key, Label, Wrong string }

// A sectionView is the questions of a section that are on a page, with its words
// where the first of them begins it.
type sectionView struct {
	Heading, Text string
	Picture       *shownPicture
	Questions     []questionView
}

// page builds the page that asks questions, with what has been typed for them and
// what is wrong with it, by question.
func (j *journey) page(asked []int, wrongs map[int]string) questionPage {
	q := j.program.Quiz
	filler := j.filler()
	alone := q.Pace == quiz.ByQuestion || q.Pace == ""
	page := questionPage{
		frame:    j.frame(q.Title, quiz.At("questions", j.program.Key(asked[0]))),
		Action:   j.action(asked[0]),
		Progress: j.progress(asked[0]),
		Grows:    !alone,
		Taps: alone && (q.Settings == nil || !q.Settings.TapStays) &&
			tapped(j.program.Question(asked[0])),
		Back: q.Opening != nil || j.path()[0] != asked[0],
	}
	if j.fresh {
		page.Number = j.passage.ID
	}
	if last := j.program.Key(asked[len(asked)-1]); q.Settings != nil && q.Settings.Finish != "" &&
		j.remaining()[last] == 0 {
		page.Words.Next = q.Settings.Finish
	} else if q.Pace == quiz.OnePage && !j.asksContact() {
		page.Words.Next = page.Say("See your result")
	}
	if alone {
		page.Title = filler.Plainly(j.program.Question(asked[0]).Label)
	} else {
		page.Heading = q.Title
	}
	page.Ahead = picturesAhead(j.program, asked[len(asked)-1]+1)
	path, inside := j.path(), ""
	for _, at := range asked {
		question := j.program.Question(at)
		if len(page.Sections) == 0 || question.Section != inside {
			inside = question.Section
			section := sectionView{}
			if i := slices.Index(path, at); i < 1 || j.program.Question(path[i-1]).Section != inside {
				section.Heading = filler.Text(q.Sections[inside].Heading)
				section.Text = filler.Text(q.Sections[inside].Text)
				section.Picture = j.player.sizes.of(j.ctx, q.Sections[inside].Picture)
			}
			page.Sections = append(page.Sections, section)
		}
		last := &page.Sections[len(page.Sections)-1]
		last.Questions = append(last.Questions, j.view(at, filler, wrongs[at], alone))
	}
	if first := &page.Sections[0]; q.Pace == quiz.BySection && first.Heading != "" {
		page.Heading, first.Heading = first.Heading, ""
	}
	if len(wrongs) > 0 && len(asked) > 1 {
		page.Wrong = page.Say("Some of this can't be taken yet: see below.")
		for _, at := range asked {
			if wrongs[at] != "" {
				page.Wrongs = append(page.Wrongs, wrongPlace{j.program.Key(at),
					filler.Text(j.program.Question(at).Label), wrongs[at]})
			}
		}
	}
	return page
}

// tapped tells whether a question is answered by one tap.
func tapped(q *quiz.Question) bool {
	switch q.Kind {
	case quiz.Rating, quiz.Stars:
		return points(q, "") != nil
	case quiz.Dropdown, quiz.Several:
		return false
	case quiz.Location, quiz.Appointment:
		return true
	}
	return q.Kind.Choice()
}

// mostAhead is how many pictures are fetched before anybody sees them.
const mostAhead = 8

// picturesAhead are the addresses of the pictures of the next question from a place on.
func picturesAhead(p *program.Program, from int) (list []string) {
	if from >= len(p.Questions) {
		return nil
	}
	q := p.Question(from)
	add := func(picture *quiz.Picture) {
		if picture != nil && !picture.Elsewhere() && len(list) < mostAhead {
			list = append(list, picture.Source)
		}
	}
	add(q.Picture)
	for _, k := range p.AnswerKeys(from) {
		add(q.Answers[k].Picture)
	}
	return list
}

func (j *journey) filler() *passage.Filler {
	in := j.input()
	in.Stop = true
	return passage.NewFiller(j.program, in, j.walk(), j.response())
}
