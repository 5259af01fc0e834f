package program

import (
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"omphalos/core/atlas"
	"omphalos/core/quiz"
)

// A Visitor is what is known of a respondent beside the answers. All fields
// may be empty: then they are as if not answered.
type Visitor struct {
	Country  string `json:"country,omitempty"`  // ISO 3166-1 alpha-2
	Language string `json:"language,omitempty"` // BCP 47 primary subtag
	Device   string `json:"device,omitempty"`   // phone, tablet, desktop
	Referrer string `json:"referrer,omitempty"` // host

	Source   string `json:"source,omitempty"` // the UTM parameters
	Medium   string `json:"medium,omitempty"`
	Campaign string `json:"campaign,omitempty"`
	Term     string `json:"term,omitempty"`
	Content  string `json:"content,omitempty"`

	Query map[string]string `json:"query,omitempty"` // parameters that the address brought along

	Date    string `json:"date,omitempty"`    // "2026-04-30" in the quiz's time zone
	Time    string `json:"time,omitempty"`    // "09:30"
	Weekday string `json:"weekday,omitempty"` // "monday"
}

// Fact returns the fact under a name of quiz.Facts or "query.NAME", "" where
// it is not known. A nil Visitor knows nothing.
func (v *Visitor) Fact(name string) string {
	if v == nil {
		return ""
	}
	if f := v.field(name); f != nil {
		return *f
	}
	parameter, _ := strings.CutPrefix(name, "query.")
	return v.Query[parameter]
}

// Come makes a time the one at which the visitor comes; it is of the quiz's zone.
func (v *Visitor) Come(at time.Time) {
	v.Date, v.Time, v.Weekday = at.Format(time.DateOnly), at.Format("15:04"), strings.ToLower(at.Weekday().String())
}

// Set gives the fact under a name of quiz.Facts or "query.NAME" and tells
// whether there is such a fact.
func (v *Visitor) Set(name, value string) bool {
	if f := v.field(name); f != nil {
		*f = value
		return true
	}
	parameter, found := strings.CutPrefix(name, "query.")
	if !found || parameter == "" {
		return false
	}
	if v.Query == nil {
		v.Query = map[string]string{}
	}
	v.Query[parameter] = value
	return true
}

// ErrFact says that a fact of a visitor is not what it must be.
var ErrFact = errors.New("is not what it must be")

// Read is Set for what comes from outside: a country is one of ISO 3166-1 alpha-2, in
// capitals or not, a language a subtag of BCP 47, a date, a time and a weekday are
// written as Visitor has them; nothing is not known. The error wraps ErrFact.
func (v *Visitor) Read(name, value string) error {
	value = strings.TrimSpace(value)
	given := value
	wrong := func(such string) error {
		return fmt.Errorf("visitor.%s: %q %w: %s", name, clip(given), ErrFact, such)
	}
	if value == "" {
		return nil
	}
	switch name {
	case "country":
		code, known := atlas.Code(value)
		if !known {
			return wrong("a country, such as Ireland or IE (ISO 3166-1)")
		}
		value = code
	case "language":
		value = strings.ToLower(value)
		if len(value) < 2 || len(value) > 3 || strings.Trim(value, "abcdefghijklmnopqrstuvwxyz") != "" {
			return wrong("the first part of a language tag, such as en")
		}
	case "device":
		if value = strings.ToLower(value); value != "phone" && value != "tablet" && value != "desktop" {
			return wrong("phone, tablet or desktop")
		}
	case "date":
		if _, err := quiz.ParseDay(value); err != nil {
			return wrong("a date such as 2026-04-30")
		}
	case "time":
		if _, err := time.Parse("15:04", value); err != nil {
			return wrong("a time such as 09:30")
		}
	case "weekday":
		if value = strings.ToLower(value); !slices.Contains(weekdays, value) {
			return wrong("a day such as monday")
		}
	}
	if !v.Set(name, value) {
		return wrong("one of " + strings.Join(quiz.Facts, ", ") + " or query.NAME")
	}
	return nil
}

var weekdays = []string{"monday", "tuesday", "wednesday", "thursday", "friday", "saturday", "sunday"}

func (v *Visitor) field(name string) *string {
	switch name {
	case "country":
		return &v.Country
	case "language":
		return &v.Language
	case "device":
		return &v.Device
	case "referrer":
		return &v.Referrer
	case "source":
		return &v.Source
	case "medium":
		return &v.Medium
	case "campaign":
		return &v.Campaign
	case "term":
		return &v.Term
	case "content":
		return &v.Content
	case "date":
		return &v.Date
	case "time":
		return &v.Time
	case "weekday":
		return &v.Weekday
	}
	return nil
}
