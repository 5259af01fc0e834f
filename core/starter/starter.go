// Package starter lays out quizzes to begin with: each is a whole quiz that can be
// released after its words have been made one's own.
package starter

import (
	"errors"
	"fmt"

	"omphalos/core/quiz"
)

// A Starter is a way to begin.
type Starter struct {
	Key   string
	Name  string
	About string // one line
	Lines string // what is asked for, a line each; "" where nothing is
	Hint  string // an example of the lines
	Least int    // how many lines it takes
}

// List is the starters in the order in which they are offered.
var List = []Starter{
	{Key: "blank", Name: "Blank", About: "One question and two outcomes; how answers decide, you choose on the sheet."},
	{
		Key:  "offers",
		Name: "From your offers",
		About: "Name what you sell, from the smallest help to the largest: questions, points and cuts " +
			"are laid out so that each is within reach.",
		Lines: "Your offers, one a line, the smallest help first, and after a colon whom each is for",
		Hint: "A guide to read: those who want to do it themselves\nA day with us: those who want to " +
			"learn\nEverything done: those who have no time",
		Least: 2,
	},
	{
		Key:   "keywords",
		Name:  "Keywords",
		About: "Each answer carries a word; the word that is met most often wins. For “what kind of … are you?”.",
		Lines: "The kinds, one a line, and after a colon what they are like",
		Hint:  "The watcher: patient, curious\nThe tinkerer: always building\nThe gatherer: proud of every jar",
		Least: 2,
	},
	{
		Key:  "gate",
		Name: "Lead gate",
		About: "Three questions tell who is worth a call: budget, need and time. The others are thanked, " +
			"and nothing of them is kept.",
	},
	{Key: "finder", Name: "Product finder", About: "A few questions pull toward the product that fits best.",
		Lines: "Your products, one a line, and after a colon whom each suits",
		Hint: "The small hive: balconies and first years\nThe long hive: those who would rather not " +
			"lift\nThe big hive: large gardens", Least: 2},
}

// ErrLines says that a starter needs other lines than it was given.
var ErrLines = errors.New("needs other lines")

// mostLines is how many offers, kinds or products a starter takes.
const mostLines = 8

// Make lays out the quiz of a starter. The error wraps ErrLines, or says that there
// is no such starter.
func Make(key, title, lines string) (*quiz.Quiz, error) {
	for _, s := range List {
		if s.Key != key {
			continue
		}
		things, err := read(s, lines)
		if err != nil {
			return nil, err
		}
		switch key {
		case "offers":
			return offers(title, things)
		case "keywords":
			return keywords(title, things), nil
		case "gate":
			return gate(title), nil
		case "finder":
			return finder(title, things), nil
		}
		return blank(title), nil
	}
	return nil, fmt.Errorf("there is no starter %q", key)
}
