package table

import (
	"fmt"
	"slices"
	"strings"
)

// A layout says what the cells of a row are for each version.
type layout struct {
	columns         [][]placed // by version
	outcome, number int        // -1 for none
}

// ofVisitor are the columns of responses that tell of the visitor.
var ofVisitor = []string{"country", "language", "device", "source", "medium", "campaign"}

// ofExport tells whether a column is one that responses have when they are taken out, and
// answers have not.
func ofExport(name string) bool {
	for _, prefix := range []string{"answer.", "contact.", "words.", "score."} {
		if strings.HasPrefix(strings.TrimSpace(name), prefix) {
			return true
		}
	}
	return false
}

// told are the columns of responses that say what came of them.
var told = []string{"finished", "seconds", "release", "end", "outcome", "landing", "address"}

// plainName is the name by which answers have a column of responses that were taken out, ""
// where they have none.
func plainName(name string) string {
	switch {
	case name == "number":
		return "id"
	case slices.Contains(told, name), strings.HasPrefix(name, "score."):
		return ""
	}
	for _, fact := range ofVisitor {
		if name == fact {
			return "visitor." + name
		}
	}
	if words, is := strings.CutPrefix(name, "words."); is {
		return words + ".text"
	}
	for _, prefix := range []string{"answer.", "contact."} {
		if key, is := strings.CutPrefix(name, prefix); is {
			return key
		}
	}
	return name
}

func (r *replayer) layOut(names []string) (*layout, error) {
	l := &layout{outcome: -1, number: -1}
	for i, name := range names {
		switch strings.TrimSpace(name) {
		case "outcome":
			l.outcome = i
		case "number", "id":
			l.number = i
		}
	}
	if r.o.Kept && l.outcome < 0 {
		return nil, fmt.Errorf("the table %w", ErrOutcome)
	}
	for _, p := range r.of.Programs() {
		columns, _, err := columnsOf(p, names, true)
		if err != nil {
			return nil, err
		}
		l.columns = append(l.columns, columns)
	}
	return l, nil
}
