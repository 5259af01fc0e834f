// Package saying keeps words apart from the rules that choose them: a rule says something
// under a key, with its parts, and a table of one language has the words.
package saying

import "fmt"

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

// A Voice says English words in another language, and writes figures as it does. A nil Voice
// leaves both as they are.
type Voice struct {
	say     func(english string, parts ...any) string
	figures func(english string) string
}

// NewVoice returns a Voice: say is given words with verbs of package fmt where parts stand,
// figures a number as it is written in English.
func NewVoice(say func(english string, parts ...any) string, figures func(english string) string) *Voice {
	return &Voice{say, figures}
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

// Figures writes a number.
func (v *Voice) Figures(english string) string {
	if v == nil {
		return english
	}
	return v.figures(english)
}
