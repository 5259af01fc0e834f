package quiz

import (
	"slices"
	"strings"

	"omphalos/core/fillin"
)

func (c *checker) text(pointer Pointer, s string, most int) {
	if n := len([]rune(s)); n > most {
		c.refuse("long", pointer, "has-characters-at-most", n, most)
	}
}

func (c *checker) label(pointer Pointer, s string) {
	c.fillins(pointer, s, MaxLabel)
	if strings.TrimSpace(s) == "" {
		c.note("empty", pointer, "has-no-words-yet")
	}
}

// fillins checks a text and that each name it fills in is known.
func (c *checker) fillins(pointer Pointer, s string, most int) {
	c.text(pointer, s, most)
	for _, name := range fillin.Names(s) {
		if !c.q.Fills(name) {
			c.note("fillin", pointer, "stands-for-nothing-in", name)
		}
	}
}

// Fills tells whether a name can be filled in.
func (q *Quiz) Fills(name string) bool {
	if fact, found := strings.CutPrefix(name, "visitor."); found {
		return knownFact(fact)
	}
	switch name {
	case "outcome", "response", "passage", "score", "highest", "percent":
		return true
	}
	key, part, dotted := strings.Cut(name, ".")
	if q.Scales[name] != nil {
		return true
	}
	asked := q.Ask(key)
	if asked == nil {
		return false
	}
	return !dotted || part == "label" || asked.Rows[part] != nil
}

func knownFact(fact string) bool {
	return slices.Contains(Facts, fact) || (strings.HasPrefix(fact, "query.") && len(fact) > 6)
}
