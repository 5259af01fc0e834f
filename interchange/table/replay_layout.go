package table

import (
	"fmt"
	"strings"

	"omphalos/core/quiz"
)

// A layout says what the cells of a row are for each version.
type layout struct {
	columns         [][]placed // by version
	outcome, number int        // -1 for none
	several         []int      // cells with several picks, as they are taken out
}

// ofVisitor are the columns of responses that tell of the visitor.
var ofVisitor = []string{"country", "language", "device", "source", "medium", "campaign"}

// plainName is the name by which Score knows a column of responses that were taken out.
func plainName(name string) string {
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
	plain := make([]string, len(names))
	for i, name := range names {
		name = strings.TrimSpace(name)
		plain[i] = plainName(name)
		switch name {
		case "outcome":
			l.outcome = i
		case "number", "id":
			l.number = i
		}
		before := r.of.Before
		if at := before.Position(plain[i]); at >= 0 && name != plain[i] && before.Question(at).Kind == quiz.Several {
			l.several = append(l.several, i)
		}
	}
	if r.o.Kept && l.outcome < 0 {
		return nil, fmt.Errorf("the table %w", ErrOutcome)
	}
	for _, p := range r.of.Programs() {
		columns, err := columnsOf(p, plain, true)
		if err != nil {
			return nil, err
		}
		l.columns = append(l.columns, columns)
	}
	return l, nil
}
