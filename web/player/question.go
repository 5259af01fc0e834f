package player

import (
	"slices"
	"strings"

	"omphalos/core/atlas"
	"omphalos/core/decimal"
	"omphalos/core/passage"
	"omphalos/core/quiz"
	"omphalos/web/ui"
)

type questionView struct {
	Key      string
	Tongue   tongue
	Question *quiz.Question
	Label    string // filled in
	Picture  *shownPicture
	Help     string
	Wrong    string
	Needed   bool
	Need     string // says whether it is, "" of what asks nothing
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
	for _, part := range [][2]string{{"help", q.Help}, {"need", q.Need}, {"picks", q.Picks},
		{"unit", q.unit()}, {"ends", q.ends()}, {"wrong", q.Wrong}} {
		if part[1] != "" {
			ids = append(ids, part[0]+"-"+q.Key)
		}
	}
	return strings.Join(ids, " ")
}

// unit and ends are what stands beside the field and below it, "" for nothing.
func (q questionView) unit() string {
	if q.Input == "" {
		return ""
	}
	return q.Range.Unit
}

func (q questionView) ends() string {
	r := q.Range
	switch {
	case q.Question.Kind == quiz.Date || q.Input == "" && len(q.Scale) == 0:
		return ""
	case r.LowWords+r.HighWords == "" && (r.Low == "" || r.High == "" || len(q.Scale) > 0):
		return ""
	}
	return "ends"
}

// Stars is how many there are.
func (q questionView) Stars() string { return q.Range.High }

// A pointView is a point of a rating.
type pointView struct {
	Value  string
	Chosen bool
}

// mostPoints is how long a rating may be to show all its points.
const mostPoints = 21

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
	if q.Kind != quiz.Several {
		return ""
	}
	if q.Picks == nil {
		return in.say("Choose all that apply.")
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
		return in.say("Choose all that apply.")
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
	if view.Needed = j.program.Needs(at); view.Needed {
		view.Need = view.Say("Required")
	} else if q.Kind != quiz.Interlude {
		view.Need = view.Say("Optional")
	}
	if len(typed.Values) > 0 {
		view.Value = typed.Values[0]
		if n, err := decimal.Parse(view.Value); err == nil && q.Kind == quiz.Number && wrong == "" {
			view.Value = j.tongue().figures(n.String())
		}
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
