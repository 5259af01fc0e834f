package quiz

import (
	"encoding/json"
)

// Upgrade returns a document in today's words: one that was kept by an earlier version means
// the same and is written otherwise. What is no document is returned as it is, for Read to
// say what is wrong.
func Upgrade(data []byte) []byte {
	tree, err := Parse(data)
	if err != nil || !upgrade(tree) {
		return data
	}
	whole, err := json.Marshal(tree)
	if err != nil {
		return data
	}
	return whole
}

// upgrade brings a document's tree to today's words and tells whether anything has changed.
func upgrade(tree any) (changed bool) {
	for _, step := range upgrades {
		changed = step(tree) || changed
	}
	return changed
}

// upgrades are the steps from each earlier version to the next. They are not changed any
// more: kept documents are under test.
var upgrades = []func(tree any) (changed bool){statements, once}

// statements are called interludes since 2026-11-25.
func statements(tree any) (changed bool) {
	document, _ := tree.(map[string]any)
	questions, _ := document["questions"].(map[string]any)
	for _, q := range questions {
		if asked, ok := q.(map[string]any); ok && asked["kind"] == "statement" {
			asked["kind"] = string(Interlude)
			changed = true
		}
	}
	return changed
}

// What may be taken once is a repeat since 2026-11-26.
func once(tree any) (changed bool) {
	document, _ := tree.(map[string]any)
	settings, _ := document["settings"].(map[string]any)
	said, there := settings["once"].(bool)
	if !there {
		return false
	}
	delete(settings, "once")
	if _, more := settings["repeats"]; said && !more {
		settings["repeats"] = map[string]any{"most": json.Number("1")}
	}
	return true
}
