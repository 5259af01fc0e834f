package program

import (
	"slices"
	"strings"
	"sync"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
)

// Wordings are the ways in which the conditions of a quiz tell the answers to one
// question in words apart. They are found when they are asked for first.
type Wordings struct {
	once    sync.Once
	clauses []*Condition
	list    []wordClass
	whole   bool // there are no others
}

type wordClass struct{ text, name, signature string }

// Get returns the ways, those of words that nothing tells apart being one.
func (w *Wordings) Get(q *Question) []wordClass {
	w.once.Do(func() {
		if !slices.ContainsFunc(w.clauses, Compares) {
			w.list, w.whole = []wordClass{{text: q.someWords()}}, true
			return
		}
		var texts []string
		texts, w.whole = q.StockOf(w.clauses).Classes(w.clauses, q.Kept)
		for _, text := range texts {
			w.list = append(w.list, wordClass{text, w.named(text), SignatureOf(w.clauses, text)})
		}
	})
	return w.list
}

// Known tells whether all ways in which conditions can tell words apart were found.
func (w *Wordings) Known(q *Question) bool {
	w.Get(q)
	return w.whole
}

// named says which comparisons hold of a text.
func (w *Wordings) named(text string) string {
	var names []string
	for _, c := range w.clauses {
		op, held := c.Op, c.Text(text)
		if op == quiz.IsNot {
			op, held = quiz.Is, !held
		}
		if name := string(op) + " " + strings.Join(c.Words, ", "); held && Compares(c) &&
			!slices.Contains(names, name) {
			names = append(names, name)
		}
	}
	if len(names) == 0 {
		return "else"
	}
	return strings.Join(names, " and ")
}

// name returns the name of the class that a text is of, "" where it is of none known.
func (w *Wordings) name(q *Question, text string) string {
	list := w.Get(q)
	if len(list) == 1 {
		return list[0].name
	}
	sig := SignatureOf(w.clauses, text)
	for _, c := range list {
		if c.signature == sig {
			return c.name
		}
	}
	return ""
}

// text returns a text of the class with a name.
func (w *Wordings) text(q *Question, name string) string {
	for _, c := range w.Get(q) {
		if c.name == name {
			return c.text
		}
	}
	return ""
}

// Kept returns a text as it is kept where it is given, and whether it can be.
func (q *Question) Kept(text string) (string, bool) {
	v, err := q.readTyped(text, func(why error, _ string, _ ...any) (Value, error) { return Value{}, why })
	return v.Text, err == nil && v.State == Given
}

// someWords returns an answer in words.
func (q *Question) someWords() string {
	switch q.Kind {
	case quiz.Consent:
		return "yes"
	case quiz.Email:
		return "name@example.org"
	case quiz.Phone:
		return "+35312345678"
	case quiz.Appointment:
		return "2026-04-30T09:30:00Z"
	case quiz.Country:
		return "IE"
	}
	least := 1
	if q.low != nil {
		least = min(max(least, int((*q.low+decimal.One-1)/decimal.One)), longestText)
	}
	return strings.Repeat("…", least)
}

// Variants returns words that comparisons name, and some beside them.
func Variants(clauses []*Condition) []string {
	var list []string
	for _, c := range clauses {
		for i := range c.Words {
			word := c.Source.Value.Items[i].String() // as it was written
			list = append(list, word)
			if Ordering(c.Op) {
				list = append(list, "!", word+"~")
				if c.numeric {
					list = append(list, c.Numbers[i].Sub(decimal.One).String(), c.Numbers[i].Add(decimal.One).String())
				}
			}
		}
	}
	return list
}
