package quiz

import (
	"omphalos/core/decimal"
)

// Kind is the way a question asks.
type Kind string

// The kinds.
const (
	Single      Kind = "single"   // one of the answers
	Dropdown    Kind = "dropdown" // one of many answers
	YesNo       Kind = "yesno"    // one of two answers
	Pictures    Kind = "pictures" // one of the answers, shown as pictures
	Several     Kind = "several"  // some of the answers
	Rating      Kind = "rating"   // a whole number of a range
	Stars       Kind = "stars"    // a whole number from 1
	Number      Kind = "number"
	Date        Kind = "date"
	ShortText   Kind = "shorttext"
	LongText    Kind = "longtext"
	Grid        Kind = "grid" // one of the answers (columns) per row
	Name        Kind = "name"
	Email       Kind = "email"
	Phone       Kind = "phone"
	Company     Kind = "company"
	Country     Kind = "country"
	Consent     Kind = "consent"
	Location    Kind = "location"    // a row of a table of places
	Appointment Kind = "appointment" // a start time
	Interlude   Kind = "interlude"   // asks nothing
)

// Kinds lists every kind, in the order of the documentation.
var Kinds = []Kind{Single, Dropdown, YesNo, Pictures, Several, Rating, Stars, Number, Date, ShortText, LongText,
	Grid, Name, Email, Phone, Company, Country, Consent, Location, Appointment, Interlude}

// Choice tells whether exactly one of the question's answers is chosen.
func (k Kind) Choice() bool { return k == Single || k == Dropdown || k == YesNo || k == Pictures }

// HasAnswers tells whether the question lists answers.
func (k Kind) HasAnswers() bool { return k.Choice() || k == Several || k == Grid }

// Numeric tells whether the value is a number; dates are not.
func (k Kind) Numeric() bool { return k == Rating || k == Stars || k == Number }

// Contact tells whether the kind says who or where somebody is: it never weighs.
func (k Kind) Contact() bool {
	switch k {
	case Name, Email, Phone, Company, Country, Consent:
		return true
	}
	return false
}

// Personal tells whether the answer says who somebody is, or how to reach them.
func (k Kind) Personal() bool { return k == Name || k == Email || k == Phone || k == Company }

// Text tells whether the value is free text.
func (k Kind) Text() bool {
	switch k {
	case ShortText, LongText, Name, Email, Phone, Company, Country, Location:
		return true
	}
	return false
}

func (k Kind) known() bool {
	for _, other := range Kinds {
		if k == other {
			return true
		}
	}
	return false
}

// A Question asks one thing. Which fields apply depends on its Kind.
type Question struct {
	Order    float64      `json:"order"`
	Section  string       `json:"section,omitempty"`
	Kind     Kind         `json:"kind"`
	Label    string       `json:"label"`
	Help     string       `json:"help,omitempty"`
	Picture  *Picture     `json:"picture,omitempty"`
	Layout   AnswerLayout `json:"layout,omitempty"` // of the answers, or of a rating
	Required bool         `json:"required,omitempty"`
	ShowWhen *Condition   `json:"showWhen,omitempty"`

	Answers map[string]*Answer `json:"answers,omitzero"` // choices; the columns of a grid
	Rows    map[string]*Row    `json:"rows,omitzero"`    // of a grid
	Picks   *Picks             `json:"picks,omitempty"`  // of several
	Limits  *Limits            `json:"limits,omitempty"` // of rating, stars, number, date, texts
	Table   string             `json:"table,omitempty"`  // of location and appointment: which table

	// Weigh says, per scale, how a number or a date weighs.
	Weigh map[string]*Weighing `json:"weigh,omitzero"`
	// Cap bounds, per scale, what several picks may add together, up or down.
	Cap map[string]decimal.Decimal `json:"cap,omitzero"`

	// Expect says how often the marketer expects answers, in percent of those who
	// see the question: by answer, by value ("7") of ratings and stars, by
	// "row.column" of a grid; "-" is passing by. What is not named shares the rest.
	Expect map[string]decimal.Decimal `json:"expect,omitzero"`

	Then   map[string]*ThenRule `json:"then,omitzero"`    // where to go next, first that holds
	Reason string               `json:"reason,omitempty"` // shown in the answer review
}

// An Answer can be chosen. In a grid it is a column.
type Answer struct {
	Order   float64  `json:"order"`
	Label   string   `json:"label"`
	Note    string   `json:"note,omitempty"` // a line below the label
	Picture *Picture `json:"picture,omitempty"`
	WriteIn bool     `json:"writeIn,omitempty"`     // the respondent may add words
	Needed  bool     `json:"wordsNeeded,omitempty"` // and has to
	// Adds says what the answer adds to each scale: its points, its count for a
	// keyword, its pull toward an outcome.
	Adds map[string]decimal.Decimal `json:"adds,omitzero"`
	Then *Then                      `json:"then,omitempty"` // where to go next
	// Right marks the right answers of a quiz that has them.
	Right bool `json:"right,omitempty"`
}

// A Row of a grid is answered by one column.
type Row struct {
	Order    float64 `json:"order"`
	Label    string  `json:"label"`
	Reversed bool    `json:"reversed,omitempty"` // lowest + highest column − the column's weight
	// Adds replaces, for the scales that it names, what the columns add:
	// column → scale → amount.
	Adds map[string]map[string]decimal.Decimal `json:"adds,omitzero"`
	// Scales, where given, are the only scales that the row feeds.
	Scales []string `json:"scales,omitzero"`
}

// Picks bounds how many answers are chosen. Max 0 means as many as there are.
type Picks struct {
	Min int `json:"min,omitempty"`
	Max int `json:"max,omitempty"`
}

// Limits bound what is typed: a number or a date lies between Low and High, a
// text has at least Low and at most High characters. Step is counted from Low
// (or 0).
type Limits struct {
	Low  *Bound           `json:"low,omitempty"`
	High *Bound           `json:"high,omitempty"`
	Step *decimal.Decimal `json:"step,omitempty"`
	Unit string           `json:"unit,omitempty"`
	// Soonest and Latest bound a date by the day on which it is given, in days from it:
	// 0 is that day, −1 the one before. Both limits hold where Low or High is set too.
	Soonest *int `json:"soonest,omitempty"`
	Latest  *int `json:"latest,omitempty"`
	// LowWords and HighWords stand at the ends of a rating.
	LowWords  string `json:"lowWords,omitempty"`
	HighWords string `json:"highWords,omitempty"`
}

// Range returns the ends of a rating (0 to 10 unless limited) or of stars (1 to 5).
func (q *Question) Range() (low, high decimal.Decimal) {
	low, high = 0, 10*decimal.One
	if q.Kind == Stars {
		low, high = decimal.One, 5*decimal.One
	}
	if q.Limits != nil {
		if q.Limits.Low != nil {
			low = q.Limits.Low.Value()
		}
		if q.Limits.High != nil {
			high = q.Limits.High.Value()
		}
	}
	return low, high
}

// Bounds returns the limits of a value in decimals (days for dates), nil where open.
func (q *Question) Bounds() (low, high *decimal.Decimal) {
	if q.Kind == Rating || q.Kind == Stars {
		l, h := q.Range()
		return &l, &h
	}
	if q.Limits == nil {
		return nil, nil
	}
	return q.Limits.Low.pointer(), q.Limits.High.pointer()
}
