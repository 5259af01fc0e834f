// Package saying keeps words apart from the rules that choose them: a rule says something
// under a key, with its parts, and a table of one language has the words.
package saying

import (
	"fmt"
	"time"
)

// A Table has the words of one language by key, with verbs of package fmt where parts
// stand; where a language wants them in another order, as %[2]s.
type Table map[string]string

// Say writes what is said under a key. A key without words is a mistake of the program.
func (t Table) Say(key string, parts ...any) string {
	words, known := t[key]
	if !known {
		panic("saying: there are no words for " + key)
	}
	return fmt.Sprintf(words, parts...)
}

// A Voice says English words in a language, and writes figures and days as it does. A nil
// Voice leaves all as they are.
type Voice struct {
	say     func(english string, parts ...any) string
	figures func(english string) string
	day     func(day time.Time, weekday bool) string
}

// NewVoice returns a Voice: say is given words with verbs of package fmt where parts stand,
// figures a number as it is written in English, day a date that is written with its weekday
// or without.
func NewVoice(
	say func(english string, parts ...any) string,
	figures func(english string) string,
	day func(day time.Time, weekday bool) string,
) *Voice {
	return &Voice{say, figures, day}
}

// Say says words.
func (v *Voice) Say(english string, parts ...any) string {
	switch {
	case v != nil:
		return v.say(english, parts...)
	case len(parts) == 0:
		return english
	}
	return fmt.Sprintf(english, parts...)
}

// Day writes a date: as "2026-04-30" where nobody says it otherwise, and with its weekday as
// "Thursday 30 April 2026".
func (v *Voice) Day(day time.Time, weekday bool) string {
	switch {
	case v != nil:
		return v.day(day, weekday)
	case weekday:
		return day.Format("Monday 2 January 2006")
	}
	return day.Format(time.DateOnly)
}

// Figures writes a number.
func (v *Voice) Figures(english string) string {
	if v == nil {
		return english
	}
	return v.figures(english)
}
