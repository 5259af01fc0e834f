package quiz

import (
	"time"

	"golang.org/x/text/language"
)

// Zone returns the time zone of the quiz, UTC where it says none.
func (q *Quiz) Zone() *time.Location {
	if q.Settings != nil && q.Settings.TimeZone != "" {
		if zone, err := time.LoadLocation(q.Settings.TimeZone); err == nil {
			return zone
		}
	}
	return time.UTC
}

// Direction is that in which a language (BCP 47) is written: "rtl", or "" for from left to
// right.
func Direction(tag string) string {
	t, err := language.Parse(tag)
	if err != nil {
		return ""
	}
	script, _ := t.Script()
	switch script.String() {
	case "Arab", "Hebr", "Thaa", "Syrc", "Nkoo", "Adlm":
		return "rtl"
	}
	return ""
}
