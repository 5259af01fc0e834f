package desk

import (
	"encoding/json"
	"fmt"

	"omphalos/core/edit"
	"omphalos/core/quiz"
)

// PatchText writes a patch for an attribute of a button.
func PatchText(ops []edit.Op) string { return JSONText(ops) }

// JSONText writes a value as JSON.
func JSONText(v any) string {
	b, err := json.Marshal(v)
	if err != nil {
		panic(fmt.Sprintf("studio: %v can't be written: %v", v, err)) // no type of it can fail
	}
	return string(b)
}

// Removal is the patch that takes away what stands at a place.
func Removal(path quiz.Pointer) string { return PatchText([]edit.Op{{Op: "remove", Path: path}}) }
