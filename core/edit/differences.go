package edit

import (
	"reflect"

	"omphalos/core/quiz"
)

// Differences counts the places in which two documents differ for respondents: each value
// that is another, and each thing that only one of them has. Rehearsals are not for them.
// The error says that one can't be read.
func Differences(before, after []byte) (int, error) {
	a, err := quiz.Parse(before)
	if err != nil {
		return 0, err
	}
	b, err := quiz.Parse(after)
	if err != nil {
		return 0, err
	}
	for _, tree := range []any{a, b} {
		if document, ok := tree.(map[string]any); ok {
			delete(document, "rehearsals")
		}
	}
	return differences(a, b), nil
}

func differences(a, b any) int {
	before, ok1 := a.(map[string]any)
	after, ok2 := b.(map[string]any)
	if !ok1 || !ok2 {
		if reflect.DeepEqual(a, b) {
			return 0
		}
		return 1
	}
	n := 0
	for k, v := range before {
		if other, there := after[k]; there {
			n += differences(v, other)
		} else {
			n++
		}
	}
	for k := range after {
		if _, there := before[k]; !there {
			n++
		}
	}
	return n
}
