package passage

import (
	"strings"
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
