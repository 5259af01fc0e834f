package edit

import (
	"encoding/json"
	"fmt"

	"github.com/wI2L/jsondiff"

	"omphalos/core/quiz"
)

// Become is the change of a document into another, but for its rehearsals, which stay. The
// error says that one of them can't be read, or is a *Refused.
func Become(document, other []byte) (*Change, error) {
	now, err := quiz.Read(document)
	if err != nil {
		return nil, fmt.Errorf("reading the document: %w", err)
	}
	then, err := quiz.Read(other)
	if err != nil {
		return nil, fmt.Errorf("reading the other document: %w", err)
	}
	then.Rehearsals = now.Rehearsals
	diff, err := jsondiff.CompareJSON(document, then.Write())
	if err != nil {
		return nil, fmt.Errorf("comparing two documents: %w", err)
	}
	if diff == nil {
		diff = jsondiff.Patch{}
	}
	patch, err := json.Marshal(diff)
	if err != nil {
		return nil, fmt.Errorf("writing the way there: %w", err)
	}
	return Apply(document, patch)
}
