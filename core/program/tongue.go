package program

import (
	"strings"
	"unicode"

	"omphalos/core/quiz"
)

// A tongue is what words of one kind can be: all texts that its steps lead through.
type tongue struct {
	step        func(state int, r rune) int // −1: no text goes on so
	ends        func(state int) bool
	others      string // runes that stand for any that no condition names, the first that is free
	least, most int    // characters
}

func mailStep(state int, r rune) int {
	label := r < unicode.MaxASCII && (unicode.IsLetter(r) || unicode.IsDigit(r)) || r == '-'
	switch {
	case state <= 1 && (label || strings.ContainsRune(".!#$%&'*+/=?^_{|}~", r)):
		return 1
	case state == 1 && r == '@':
		return 2
	case (state == 2 || state == 3) && label:
		return 3
	case (state == 3 || state == 5) && r == '.':
		return 4
	case state >= 4 && label:
		return 5
	}
	return -1
}

// mostTextStates bounds the search for texts.
const mostTextStates = 1 << 13

// texts finds the shortest text for each set of words that can be found in one, among
// them the texts that are just such a word. All words are looked for at once (Aho &
// Corasick, Efficient String Matching, CACM 1975), beginning and end of a text being
// characters of their own, so that a text that is a word is one that holds it whole.
func (t *tongue) texts(clauses []*Condition) (list []string, whole bool) {
	m := matcher{alphabet: map[rune]int{}}
	whole = true
	for _, c := range clauses {
		if Ordering(c.Op) {
			list, whole = append(list, Variants(clauses)...), false
		}
		for _, word := range c.Words {
			switch c.Op {
			case quiz.Is, quiz.IsNot, quiz.IsOneOf:
				whole = m.add("\x02"+word+"\x03") && whole
			case quiz.Contains, quiz.Includes:
				whole = m.add(word) && whole
			}
		}
	}
	if !whole { // too many words, or comparisons that no search answers
		for _, c := range clauses {
			for i := range c.Words {
				list = append(list, c.Source.Value.Items[i].String())
			}
		}
		return append(list, "…"), false
	}
	other := rune(0)
	for _, r := range t.others {
		if _, named := m.alphabet[r]; !named {
			other = r
			break
		}
	}
	if other == 0 {
		whole = false
	}
	for _, r := range "@.a" { // what a form may ask for
		m.letter(r)
	}
	found, all := m.search(t, other)
	return append(list, found...), whole && all
}

var (
	// plain is a text that begins and ends with something that is seen.
	plain = tongue{
		step: func(state int, r rune) int {
			switch {
			case !unicode.IsSpace(r):
				return 1
			case state == 0:
				return -1
			}
			return 2
		},
		ends:   func(state int) bool { return state == 1 },
		others: "…·¤§¶†‡", least: 1, most: 2000,
	}
	// mail is the form of an e-mail address that emailShape tells.
	mail = tongue{
		step:   mailStep,
		ends:   func(state int) bool { return state == 5 },
		others: "xyzwqvkjabcdefghilmnoprstu0123456789",
		least:  1,
		most:   254,
	}
	// subtag is a primary language subtag (BCP 47).
	subtag = tongue{
		step: func(state int, r rune) int {
			if r < 'a' || r > 'z' {
				return -1
			}
			return state + 1
		},
		ends:   func(state int) bool { return state == 2 || state == 3 },
		others: "xyzwqvkjabcdefghilmnoprstu", least: 2, most: 3,
	}
)
