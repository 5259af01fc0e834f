package edit

import (
	"encoding/json"
	"fmt"
	"slices"
	"strings"

	"github.com/wI2L/jsondiff"

	"omphalos/core/quiz"
)

// A Changed is a place in which a document is another than before.
type Changed struct {
	Pointer  quiz.Pointer `json:"pointer"`
	Sentence string       `json:"sentence"`
	Before   string       `json:"before,omitempty"` // what stood there, in words, where it is a text or a number
	After    string       `json:"after,omitempty"`  // what stands there
	Back     []Op         `json:"back"`             // takes it back
}

// Changes tells how a document differs from what it was, in the order in which a respondent
// meets it: from comparing the two, however they came about. Rehearsals are left out: they
// are not for respondents.
func Changes(before, after *quiz.Quiz) ([]Changed, error) {
	a, b := *before, *after
	a.Rehearsals, b.Rehearsals = nil, nil
	diff, err := jsondiff.CompareJSON(a.Write(), b.Write())
	if err != nil {
		return nil, fmt.Errorf("comparing two documents: %w", err)
	}
	var list []Changed
	for _, d := range diff {
		op := Op{Op: d.Type, Path: quiz.Pointer(d.Path), Value: d.Value}
		c := Changed{Pointer: op.Path, Before: worded(d.OldValue), After: worded(d.Value)}
		c.Sentence = tellOf(before, after, op, naming{after, before}) // what it was called: the words say what it is
		switch d.Type {
		case "add":
			c.Back = []Op{{Op: "remove", Path: op.Path}}
		default:
			c.Back = []Op{{Op: "add", Path: op.Path, Value: d.OldValue}}
		}
		list = append(list, c)
	}
	rank := ranksOf(before, after)
	slices.SortStableFunc(list, func(a, b Changed) int {
		if by := rank(a.Pointer) - rank(b.Pointer); by != 0 {
			return by
		}
		return strings.Compare(string(a.Pointer), string(b.Pointer))
	})
	return list, nil
}

// worded writes a value that is a text or a number.
func worded(v any) string {
	switch v := v.(type) {
	case string:
		return v
	case float64, json.Number, bool:
		return fmt.Sprint(v)
	}
	return ""
}

// ranksOf orders places as a respondent travels the quiz; what is gone comes where it was.
func ranksOf(before, after *quiz.Quiz) func(quiz.Pointer) int {
	rooms := []string{"title", "opening", "sections", "questions", "scales", "decision", "outcomes", "contact",
		"followUps", "pace", "look", "settings"}
	place := map[quiz.Pointer]int{}
	for _, q := range []*quiz.Quiz{before, after} { // the newer order counts
		for i, k := range q.QuestionKeys() {
			place[quiz.At("questions", k)] = i + 1
		}
		for i, k := range quiz.InOrder(q.Outcomes) {
			place[quiz.At("outcomes", k)] = i + 1
		}
		for i, k := range quiz.InOrder(q.FollowUps) {
			place[quiz.At("followUps", k)] = i + 1
		}
	}
	return func(at quiz.Pointer) int {
		keys := append(at.Keys(), "", "")
		room := slices.Index(rooms, keys[0])
		if room < 0 {
			room = len(rooms)
		}
		return room*10000 + place[quiz.At(keys[0], keys[1])]
	}
}
