// Package quiz is the definition of a quiz: one document, from the opening to
// the landings, as a marketer designs it and as the format omphalos/quiz@1
// writes it.
//
// Everything that has a name in the document is kept in an object under a
// short, stable key and carries its place as a number, so that an edit can say
// what it touches by key ("/questions/crop/answers/apples/label") and two
// edits of different things never meet. The package reads and checks documents;
// what they compute is package passage's.
package quiz

import (
	"cmp"
	"slices"

	"omphalos/core/decimal"
)

// Format is the value of a document's "format".
const Format = "omphalos/quiz@1"

// A Quiz is a whole document.
type Quiz struct {
	Format    string               `json:"format"`
	Title     string               `json:"title"`
	Opening   *Opening             `json:"opening,omitempty"`
	Pace      Pace                 `json:"pace,omitempty"`
	Sections  map[string]*Section  `json:"sections"`
	Questions map[string]*Question `json:"questions"`
	Scales    map[string]*Scale    `json:"scales"`
	Decision  Decision             `json:"decision"`
	Outcomes  map[string]*Outcome  `json:"outcomes"`
	Contact   *Contact             `json:"contact,omitempty"`
	FollowUps map[string]*FollowUp `json:"followUps,omitzero"`
	Look      *Look                `json:"look,omitempty"`
	Settings  *Settings            `json:"settings,omitempty"`

	// Translations are by language: a primary subtag of BCP 47, such as "de".
	Translations map[string]Translations `json:"translations,omitzero"`

	Rehearsals map[string]*Rehearsal `json:"rehearsals,omitzero"`
}

// Pace says how much a respondent sees at a time.
type Pace string

// The paces; an empty Pace is ByQuestion.
const (
	ByQuestion Pace = "question"
	BySection  Pace = "section"
	OnePage    Pace = "page"
)

// An Opening is what a respondent sees before the first question. Text is Markdown.
type Opening struct {
	Heading string   `json:"heading"`
	Text    string   `json:"text,omitempty"`
	Picture *Picture `json:"picture,omitempty"`
	Layout  Layout   `json:"layout,omitempty"`
	Button  string   `json:"button,omitempty"` // words on the button
}

// A Picture is shown by its address within the application or under http(s).
type Picture struct {
	Source      string `json:"source"`
	Description string `json:"description,omitempty"`
	Focus       *Focus `json:"focus,omitempty"` // what no crop cuts off; nil: the middle
}

// A Focus is a point of a picture, in percent of its width from the left and of its
// height from the top.
type Focus struct {
	X int `json:"x"`
	Y int `json:"y"`
}

// A Section holds questions that belong together. Without heading, text and
// picture is not seen. Questions name the section that they are in.
type Section struct {
	Order    float64    `json:"order"`
	Heading  string     `json:"heading,omitempty"`
	Text     string     `json:"text,omitempty"`
	Picture  *Picture   `json:"picture,omitempty"`
	ShowWhen *Condition `json:"showWhen,omitempty"`
}

// Contact asks who the respondent is, before or after the result. Its fields
// are of the kinds name, email, phone, company, country and consent, and share
// the questions' keys.
type Contact struct {
	Place   ContactPlace         `json:"place"`
	When    *Condition           `json:"when,omitempty"` // may ask for the outcome
	Heading string               `json:"heading,omitempty"`
	Text    string               `json:"text,omitempty"`
	Button  string               `json:"button,omitempty"`
	Privacy string               `json:"privacy,omitempty"` // address of the privacy notice
	Fields  map[string]*Question `json:"fields"`
}

// ContactPlace says when contact is asked for.
type ContactPlace string

// The places of contact.
const (
	BeforeResult ContactPlace = "before"
	AfterResult  ContactPlace = "after"
)

// IsAnonymous tells whether nothing is kept that says who somebody is.
func (q *Quiz) IsAnonymous() bool { return q.Settings != nil && q.Settings.Anonymous }

// Settings are about taking the quiz rather than about its content.
type Settings struct {
	Language  string          `json:"language,omitempty"` // BCP 47, of the texts
	TimeZone  string          `json:"timeZone,omitempty"` // IANA name, for dates and weekdays
	Country   string          `json:"country,omitempty"`  // ISO 3166-1 alpha-2: whose telephone numbers need no code
	Repeats   *Repeats        `json:"repeats,omitempty"`  // how often somebody may take it
	Anonymous bool            `json:"anonymous,omitempty"`
	Review    Review          `json:"review,omitempty"`
	TapStays  bool            `json:"tapStays,omitempty"` // a tap on an answer does not go on by itself
	Frames    []string        `json:"frames,omitzero"`    // origins of pages that may show the quiz inside them
	Results   *Results        `json:"results,omitempty"`  // what can be done with a result
	Unlisted  bool            `json:"unlisted,omitempty"` // search engines are asked not to list it
	Next      string          `json:"next,omitempty"`     // words on the buttons
	Back      string          `json:"back,omitempty"`
	Finish    string          `json:"finish,omitempty"`
	AskFor    decimal.Decimal `json:"secondsPerQuestion,omitempty"` // for expected time; 0: a default
}

// Results is what respondents can do with a result of theirs.
type Results struct {
	Again  bool `json:"again,omitempty"`  // take the quiz again, where that is allowed
	Keep   bool `json:"keep,omitempty"`   // print it, or keep it as a PDF or a picture
	Mail   bool `json:"mail,omitempty"`   // have it sent to the address that they gave
	PassOn bool `json:"passOn,omitempty"` // show the outcome to somebody
	Score  bool `json:"score,omitempty"`  // with the score that it shows
	Share  bool `json:"share,omitempty"`  // read how many of all got it
}

// Review says when right answers are shown.
type Review string

// The times of review; an empty Review is never.
const (
	ReviewEach Review = "each"
	ReviewEnd  Review = "end"
)

// placed is anything that has a place among its like.
type placed interface{ place() float64 }

func (s *Section) place() float64 { return s.Order }

func (q *Question) place() float64 { return q.Order }

func (a *Answer) place() float64 { return a.Order }

func (r *Row) place() float64 { return r.Order }

func (r *ThenRule) place() float64 { return r.Order }

func (s *Scale) place() float64 { return s.Order }

func (f *Fee) place() float64 { return f.Order }

func (s *Step) place() float64 { return s.Order }

func (c *Column) place() float64 { return c.Order }

func (r *TableRule) place() float64 { return r.Order }

func (c *Contender) place() float64 { return c.Order }

func (o *Outcome) place() float64 { return o.Order }

func (l *Landing) place() float64 { return l.Order }

func (b *Block) place() float64 { return b.Order }

// InOrder returns the keys of things by their order, and by key where two have
// the same. Nil things are left out.
func InOrder[T interface {
	placed
	comparable
}](things map[string]T) []string {
	var none T
	keys := make([]string, 0, len(things))
	for k, t := range things {
		if t != none {
			keys = append(keys, k)
		}
	}
	slices.SortFunc(keys, func(a, b string) int {
		return cmp.Or(cmp.Compare(things[a].place(), things[b].place()), cmp.Compare(a, b))
	})
	return keys
}

// QuestionKeys returns the keys of all questions as a respondent meets them:
// by section, then by place. Questions of an unknown section come last.
func (q *Quiz) QuestionKeys() []string {
	keys := InOrder(q.Questions)
	sections := make(map[string]int, len(q.Sections))
	for i, s := range InOrder(q.Sections) {
		sections[s] = i
	}
	rank := func(k string) int {
		if i, known := sections[q.Questions[k].Section]; known {
			return i
		}
		return len(sections)
	}
	slices.SortStableFunc(keys, func(a, b string) int { return cmp.Compare(rank(a), rank(b)) })
	return keys
}

// Ask returns the question or contact field under key, or nil.
func (q *Quiz) Ask(key string) *Question {
	if found := q.Questions[key]; found != nil || q.Contact == nil {
		return found
	}
	return q.Contact.Fields[key]
}

// Letter returns the letter knot of the outcome under key: A for the first,
// B for the second, and AA after Z; "?" for an unknown outcome.
func (q *Quiz) Letter(outcome string) string {
	i := slices.Index(InOrder(q.Outcomes), outcome)
	if i < 0 {
		return "?"
	}
	letters := ""
	for ; i >= 0; i = i/26 - 1 {
		letters = string(rune('A'+i%26)) + letters
	}
	return letters
}
