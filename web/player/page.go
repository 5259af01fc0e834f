package player

import (
	"cmp"
	"slices"
	"strings"

	"omphalos/core/atlas"
	"omphalos/core/decimal"
	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/web/ui"
)

// A frame is what every page of the player has around its content.
type frame struct {
	Title     string
	Language  string
	Owner     string
	Logo      *quiz.Picture
	Words     words
	Look      string // address of its style sheet
	Dress     dress
	Frames    string // origins of pages that may show this one, with blanks between
	Trap      string // name of a field that nobody sees
	Handed    *handedPart
	Shared    *shared      // of pages that a link leads to, nil of others
	Listed    bool         // search engines may list it
	Languages languageWays // to the same page in others, nil where there is no other
}

type words struct{ Next, Back, Start string }

// Say says a sentence of ours in the page's language.
func (f frame) Say(english string, parts ...any) string {
	return tongue(f.Language).say(english, parts...)
}

// Figures writes the numbers in a text as the page's language does.
func (f frame) Figures(text string) string { return tongue(f.Language).figures(text) }

// Direction is "rtl" where the page's language is written from right to left.
func (f frame) Direction() string { return tongue(f.Language).direction() }

// Script is what the script of the page says, in its language: JSON, "" for English.
func (f frame) Script() string { return tongue(f.Language).script() }

// tongue is the language of the quiz.
func (j *journey) tongue() tongue { return tongueOf(j.program) }

func tongueOf(p *program.Program) tongue {
	if p == nil || p.Quiz.Settings == nil {
		return ""
	}
	return tongue(p.Quiz.Settings.Language)
}

// frame returns the frame of a page of the passage that is about a place of the quiz.
func (j *journey) frame(title string, about quiz.Pointer) frame {
	f := newFrame(j.released, title)
	if j.handed != nil {
		f.Handed = j.handedOver(about)
	}
	return f
}

// newFrame returns the frame of a page of a quiz, nil for a page of none.
func newFrame(r *released, title string) frame {
	if r == nil {
		r = undressed
	}
	in := tongueOf(r.program)
	f := frame{
		Title: title, Language: "en", Trap: trap, Look: r.looks, Dress: r.dress,
		Words: words{in.say("Next"), in.say("Back"), in.say("Start")},
	}
	if r.program == nil {
		return f
	}
	q := r.program.Quiz
	if q.Look != nil {
		f.Owner, f.Logo = q.Look.Owner, q.Look.Logo
	}
	if s := q.Settings; s != nil {
		f.Language = cmp.Or(s.Language, f.Language)
		f.Frames = strings.Join(s.Frames, " ")
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
	Picture *shownPicture
	Layout  quiz.Layout
	Ahead   []string // pictures of the first page
	Resume  string   // address of where this device's passage has come to
}

type problemPage struct {
	frame
	Heading, Text   string
	Link, LinkWords string // where one can go instead, "" for nowhere
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
	Next     string   // address of that page but for the stamp, "" where one can't tell
	Stamp    string   // of the passage
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

type questionView struct {
	Key      string
	Tongue   tongue
	Question *quiz.Question
	Label    string // filled in
	Picture  *shownPicture
	Help     string
	Wrong    string
	Answers  []answerView
	Rows     []rowView
	Value    string
	WriteIn  string
	Input    string // type of the input field, "" for choices
	Fill     string // what the browser may fill in, in HTML's words
	Range    inputRange
	Picks    string      // how many may be chosen
	Most     int         // how many may be chosen, 0 for any number
	Alone    bool        // on its page
	Scale    []pointView // of a rating that is answered by choosing a point
	Places   *placesView
	Slots    []slotDay
	Lands    []atlas.Country // that can be chosen, named in the quiz's language
	Day      string          // how the time that was chosen reads
	Clocks   string          // where clocks show the times
}

// Say says a sentence of ours in the question's language.
func (q questionView) Say(english string, parts ...any) string {
	return q.Tongue.say(english, parts...)
}

// Described names the elements that say more of the question, for aria-describedby.
func (q questionView) Described() string {
	var ids []string
	for _, part := range [][2]string{{"help", q.Help}, {"picks", q.Picks}, {"wrong", q.Wrong}} {
		if part[1] != "" {
			ids = append(ids, part[0]+"-"+q.Key)
		}
	}
	return strings.Join(ids, " ")
}

// A pointView is a point of a rating.
type pointView struct {
	Value  string
	Chosen bool
}

// mostPoints is how long a rating may be to show all its points.
const mostPoints = 11

// longList is how many answers a drop-down has at least to be searched in.
const longList = 13

// Searched tells whether the answers are so many that one looks for words among them.
func (v questionView) Searched() bool {
	return v.Question.Kind == quiz.Dropdown && len(v.Answers) >= longList
}

// Laid is how the answers stand to each other, as styles name it; "" for rows.
func (q questionView) Laid() quiz.AnswerLayout {
	switch {
	case q.Question.Layout == quiz.InRows || q.Question.Layout == quiz.AsSlider:
		return ""
	case q.Question.Layout == "" && q.Question.Kind == quiz.Pictures:
		return quiz.TwoAcross
	}
	return q.Question.Layout
}

// Slides tells whether a rating is drawn along, where scripts run.
func (q questionView) Slides() bool {
	return q.Question.Layout == quiz.AsSlider && q.Question.Kind == quiz.Rating
}

// An inputRange is what an input field is told about what may be typed.
type inputRange struct{ Low, High, Step, Length, LowWords, HighWords, Unit string }

// rangeOf are the limits of what is typed on a day.
func rangeOf(q *quiz.Question, today decimal.Decimal) inputRange {
	q, _ = q.On(today)
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

// picksOf says how many answers may be chosen, where that is not any number: a least
// number is of those who choose any, and only a question that is required must be answered.
func picksOf(q *quiz.Question, in tongue) string {
	if q.Kind != quiz.Several || q.Picks == nil {
		return ""
	}
	least, most := q.Picks.Min, q.Picks.Max
	var parts []any
	words := ""
	switch {
	case least > 0 && most == least:
		words, parts = "Choose %d", []any{least}
	case least > 1 && most > 0:
		words, parts = "Choose %d to %d", []any{least, most}
	case most > 0:
		return in.say("Choose up to %d.", most)
	case least > 1:
		words, parts = "Choose at least %d", []any{least}
	default:
		return ""
	}
	if !q.Required {
		return in.say(words+", or none.", parts...)
	}
	return in.say(words+".", parts...)
}

type answerView struct {
	Key, Label string
	Note       string // a line below the label
	Picture    *shownPicture
	Number     int
	Chosen     bool
	WriteIn    bool
}

type rowView struct {
	Name, Label, Chosen string
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
		Taps:     alone && (q.Settings == nil || !q.Settings.TapStays),
		Back:     q.Opening != nil || j.path()[0] != asked[0],
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
	if alone && len(wrongs) == 0 {
		page.Next, page.Stamp = j.aheadOf(asked[0]), j.stamp()
	}
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

func (j *journey) view(at int, filler *passage.Filler, wrong string, alone bool) questionView {
	q, key := j.program.Question(at), j.program.Key(at)
	typed := j.typed[key]
	view := questionView{
		Picture:  j.player.sizes.of(j.ctx, q.Picture),
		Key:      key,
		Question: q,
		Label:    filler.Text(q.Label),
		Help:     filler.Text(q.Help),
		Wrong:    wrong,
		WriteIn:  typed.WriteIn,
		Alone:    alone,
		Input:    inputs[q.Kind],
		Fill:     fillings[q.Kind],
		Range:    rangeOf(q, ui.Today(j.program.Quiz)),
		Picks:    picksOf(q, j.tongue()),
		Tongue:   j.tongue(),
	}
	if len(typed.Values) > 0 {
		view.Value = typed.Values[0]
	}
	if q.Picks != nil {
		view.Most = q.Picks.Max
	}
	for i, k := range j.program.AnswerKeys(at) {
		a := q.Answers[k]
		view.Answers = append(
			view.Answers,
			answerView{k, filler.Text(a.Label), filler.Text(a.Note), j.player.sizes.of(j.ctx, a.Picture), i + 1,
				slices.Contains(typed.Values, k), a.WriteIn},
		)
	}
	for _, k := range j.program.RowKeys(at) {
		view.Rows = append(view.Rows, rowView{rowField(key, k), filler.Text(q.Rows[k].Label), typed.Rows[k]})
	}
	switch q.Kind {
	case quiz.Rating, quiz.Stars:
		view.Scale = points(q, view.Value)
	case quiz.Country:
		view.Lands = j.lands()
	case quiz.Location:
		view.Places = j.places(q, view.Value)
	case quiz.Appointment:
		view.Slots, view.Day, view.Clocks = j.slots(q, view.Value)
	}
	return view
}

// lands are the countries that can be chosen, named in the quiz's language.
func (j *journey) lands() []atlas.Country {
	language := ""
	if s := j.program.Quiz.Settings; s != nil {
		language = s.Language
	}
	return atlas.Countries(language)
}

// points lists the points of a rating, nil where they are too many to show.
func points(q *quiz.Question, chosen string) (list []pointView) {
	values := q.Lattice()
	if values.Count() > mostPoints {
		return nil
	}
	for i := range values.Count() {
		n := values.At(i).String()
		list = append(list, pointView{n, n == chosen})
	}
	return list
}

// inputs are the types of HTML input that the kinds in words are asked with.
var inputs = map[quiz.Kind]string{
	quiz.Rating: "text", quiz.Stars: "text", quiz.Number: "text", quiz.Date: "date",
	quiz.ShortText: "text", quiz.Name: "text", quiz.Company: "text", quiz.Country: "text",
	quiz.Email: "email", quiz.Phone: "tel",
}

// fillings are the words of HTML for what a browser may know.
var fillings = map[quiz.Kind]string{
	quiz.Name:    "name",
	quiz.Email:   "email",
	quiz.Phone:   "tel",
	quiz.Company: "organization",
	quiz.Country: "country",
}
