package desk

import (
	"errors"

	"omphalos/core/edit"
	"omphalos/store"
)

// Unkept says why a change of the draft was not kept that a form asked for, and what to do; ""
// where nobody can help it.
func Unkept(err error) string {
	var refused *edit.Refused
	switch {
	case errors.Is(err, store.ErrStale):
		return "The draft was changed meanwhile. Look at it, then do it again."
	case errors.As(err, &refused):
		return "This can’t be kept: " + SentenceOf(refused.Problems[0].Message)
	case errors.Is(err, edit.ErrTarget), errors.Is(err, edit.ErrPatch), errors.Is(err, store.ErrChanged):
		return "Later changes are in the way: change it on the sheet."
	}
	return ""
}
