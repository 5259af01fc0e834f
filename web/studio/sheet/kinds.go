package sheet

import (
	"fmt"
	"net/url"

	"omphalos/core/quiz"
)

// A kindGroup is kinds that are alike, for the drop-down of kinds.
type kindGroup struct {
	Name  string
	Kinds []kindName
}

type kindName struct {
	Kind quiz.Kind
	Name string
}

var kindGroups = []kindGroup{
	{
		"Answers to choose",
		[]kindName{
			{quiz.Single, "one answer"},
			{quiz.Several, "several answers"},
			{quiz.YesNo, "yes or no"},
			{quiz.Dropdown, "one of a long list"},
			{quiz.Pictures, "one picture"},
			{quiz.Grid, "grid"},
		},
	},
	{
		"Numbers",
		[]kindName{{quiz.Rating, "rating"}, {quiz.Stars, "stars"}, {quiz.Number, "number"}, {quiz.Date, "date"}},
	},
	{
		"Words",
		[]kindName{
			{quiz.ShortText, "short text"},
			{quiz.LongText, "long text"},
			{quiz.Interlude, "nothing: an interlude"},
		},
	},
	{
		"Who they are",
		[]kindName{
			{quiz.Name, "name"},
			{quiz.Email, "e-mail"},
			{quiz.Phone, "phone"},
			{quiz.Company, "company"},
			{quiz.Country, "country"},
			{quiz.Consent, "consent"},
		},
	},
	{"From your tables", []kindName{{quiz.Location, "location"}, {quiz.Appointment, "appointment"}}},
}

// A setup is how a question of its kind is set up in place.
type setup struct {
	Laid     *lookPick // how its answers stand, nil where there is one way
	Picks    bool
	Min, Max string

	Limits         bool
	Date           bool
	Low, High      string
	Soonest        string // days from today
	Latest         string
	LowHint        string
	HighHint       string
	Step, Unit     string
	Steps          bool // has a step and a unit
	Ends           bool // has words at its ends
	LowWords       string
	HighWords      string
	Length         bool // is a text, of at most so many characters
	Table, Wanting string
	List           string // ID of what can be chosen
	Room           string // address where it is made
	RoomWords      string
}

func setupOf(q *quiz.Question) setup {
	s := setup{
		Picks:  q.Kind == quiz.Several,
		Date:   q.Kind == quiz.Date,
		Length: q.Kind == quiz.ShortText || q.Kind == quiz.LongText,
		Steps:  q.Kind == quiz.Number,
		Ends:   q.Kind == quiz.Rating,
		Limits: q.Kind.Numeric() || q.Kind == quiz.Date,
	}
	s.Laid = answersPick(q)
	if q.Picks != nil {
		s.Min, s.Max = positive(q.Picks.Min), positive(q.Picks.Max)
	}
	if l := q.Limits; l != nil {
		if l.Low != nil {
			s.Low = l.Low.String()
		}
		if l.High != nil {
			s.High = l.High.String()
		}
		if l.Step != nil {
			s.Step = l.Step.String()
		}
		s.Soonest, s.Latest = wholeOf(l.Soonest), wholeOf(l.Latest)
		s.Unit, s.LowWords, s.HighWords = l.Unit, l.LowWords, l.HighWords
	}
	s.LowHint, s.HighHint = "any", "any"
	if q.Kind == quiz.Rating || q.Kind == quiz.Stars {
		low, high := (&quiz.Question{Kind: q.Kind}).Range()
		s.LowHint, s.HighHint = low.String(), high.String()
	}
	switch q.Kind {
	case quiz.Location:
		s.Table, s.Wanting, s.List = q.Table, "Which table of places", "placetables"
		s.Room, s.RoomWords = "/studio/places?table="+url.QueryEscape(q.Table), "its places"
	case quiz.Appointment:
		s.Table, s.Wanting, s.List = q.Table, "Which calendar", "calendars"
		s.Room, s.RoomWords = "/studio/calendars?calendar="+url.QueryEscape(q.Table), "its hours"
	}
	return s
}

// wholeOf writes a whole number, "" for none.
func wholeOf(n *int) string {
	if n == nil {
		return ""
	}
	return fmt.Sprint(*n)
}

func positive(n int) string {
	if n == 0 {
		return ""
	}
	return fmt.Sprint(n)
}

// mostSlides is how many points of a rating can be told apart side by side.
const mostSlides = 21

const curveWidth, curveHeight = 132, 26
