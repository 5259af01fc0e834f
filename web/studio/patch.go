package studio

import (
	"encoding/json"
	"fmt"

	"omphalos/core/edit"
	"omphalos/core/quiz"
)

func patchText(ops []edit.Op) string { return jsonText(ops) }

func jsonText(v any) string {
	b, err := json.Marshal(v)
	if err != nil {
		panic(fmt.Sprintf("studio: %v can't be written: %v", v, err)) // no type of it can fail
	}
	return string(b)
}

// removal is the patch that takes away what stands at a place.
func removal(path quiz.Pointer) string { return patchText([]edit.Op{{Op: "remove", Path: path}}) }
