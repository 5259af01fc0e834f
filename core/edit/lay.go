package edit

import (
	"fmt"
	"strings"

	"omphalos/core/atlas"
	"omphalos/core/quiz"
)

// The ways in which answers decide.
const (
	ByPoints    = "points"    // a score, and bands of it
	ByKeywords  = "keywords"  // the word met most often
	ByCloseness = "closeness" // the outcome that answers pull toward
	ByRight     = "right"     // how many answers were right
)

// rightScale is the key of the scale that counts right answers.
const rightScale = "right"

// Lay lays out how answers decide: the columns of the ledger, the step of the decision and,
// where they count, the marks of right answers. Of another way nothing stays; where answers
// weigh already, closeness alone comes beside it.
type Lay struct {
	Kind string `json:"kind"`
}

func (a Lay) do(t *plan) error {
	outcomes := t.object("/outcomes")
	keys := ordered(outcomes)
	if t.weighs() && a.Kind != ByCloseness {
		return fmt.Errorf("laying out %q %w: answers weigh already; take their weights away first", a.Kind, ErrAct)
	}
	if a.Kind == ByCloseness || a.Kind == ByKeywords {
		return t.layEach(a.Kind, keys, outcomes)
	}
	scale, name := "points", "Points"
	switch a.Kind {
	case ByRight:
		scale, name = rightScale, "Right answers"
		t.put("/settings/review", string(quiz.ReviewEnd))
	case ByPoints:
	default:
		return fmt.Errorf("laying out %q %w", a.Kind, ErrAct)
	}
	t.put("/scales", map[string]any{scale: map[string]any{"order": 1, "name": name, "kind": string(quiz.Points)}})
	step := map[string]any{"order": 1, "kind": string(quiz.BandsStep), "scale": scale}
	cuts := map[string]any{}
	for i, key := range keys { // the first outcome is the best one
		if last := len(keys) - 1; i == last {
			step["lowest"] = key
		} else {
			cuts[fmt.Sprintf("cut_%d", last-i)] = map[string]any{"at": last - i, "outcome": key}
		}
	}
	step["cuts"] = cuts
	t.put("/decision/steps", map[string]any{"bands": step})
	t.otherwise(keys)
	t.made = quiz.At("scales", scale)
	return nil
}

// layEach gives each outcome that has none a column of its own, named after it, and lets them
// contend.
func (t *plan) layEach(way string, keys []string, outcomes map[string]any) error {
	if len(keys) == 0 {
		return fmt.Errorf("laying out %q %w: there is no outcome yet", way, ErrAct)
	}
	kind, beside := quiz.Pull, t.weighs()
	if way == ByKeywords {
		kind = quiz.Keyword
	}
	has, taken, last := map[any]bool{}, map[string]any{}, 0.0
	if beside {
		for k, s := range t.each("/scales") {
			taken[k], last = s, max(last, orderOf(s))
			if s["kind"] == string(quiz.Pull) {
				has[s["outcome"]] = true
			}
		}
	} else {
		t.put("/scales", map[string]any{})
		t.put("/decision/steps", map[string]any{})
	}
	step, at := t.leader(beside)
	for i, key := range keys {
		if has[key] {
			continue
		}
		name, _ := outcomes[key].(map[string]any)["name"].(string)
		scale := keyNear(taken, "to_"+key)
		fresh := map[string]any{"order": last + float64(i) + 1, "name": strings.TrimSpace(name), "kind": string(kind)}
		contender := map[string]any{"order": float64(i + 1)}
		if kind == quiz.Pull {
			fresh["outcome"] = key
		} else {
			contender["outcome"] = key
		}
		taken[scale] = fresh
		t.put(quiz.At("scales", scale), fresh)
		if step == "" {
			at[scale] = contender
		} else {
			t.put(step.Join("contenders", scale), contender)
		}
		t.made = quiz.At("scales", scale)
	}
	if step == "" {
		order := 1.0
		for _, s := range t.each("/decision/steps") {
			if beside {
				order = max(order, orderOf(s)+1)
			}
		}
		t.put("/decision/steps/leader", map[string]any{"order": order, "kind": string(quiz.LeaderStep), "contenders": at,
			"ties": map[string]any{"by": string(quiz.TieOrder)}})
	}
	t.otherwise(keys)
	return nil
}

// leader returns the step in which columns contend, or the contenders of one that is to come.
func (t *plan) leader(beside bool) (quiz.Pointer, map[string]any) {
	if beside {
		for key, s := range t.each("/decision/steps") {
			if s["kind"] == string(quiz.LeaderStep) {
				return quiz.At("decision", "steps", key), nil
			}
		}
	}
	return "", map[string]any{}
}

// otherwise names the last outcome where no step does.
func (t *plan) otherwise(keys []string) {
	if decision := t.object("/decision"); len(keys) > 0 && (decision["otherwise"] == nil || decision["otherwise"] == "") {
		t.put("/decision/otherwise", keys[len(keys)-1])
	}
}

// weighs tells whether any answer, row or number adds something.
func (t *plan) weighs() bool {
	for _, question := range t.each("/questions") {
		if weigh, _ := question["weigh"].(map[string]any); len(weigh) > 0 {
			return true
		}
		for _, list := range []string{"answers", "rows"} {
			things, _ := question[list].(map[string]any)
			for _, thing := range things {
				answer, _ := thing.(map[string]any)
				if adds, _ := answer["adds"].(map[string]any); len(adds) > 0 {
					return true
				}
			}
		}
	}
	return false
}

// keyNear returns a key, or with the first number behind it that is not taken.
func keyNear(taken map[string]any, key string) string {
	if taken[key] == nil {
		return key
	}
	for n := 2; ; n++ {
		if next := fmt.Sprintf("%s_%d", key, n); taken[next] == nil {
			return next
		}
	}
}

// Mark marks an answer as right, or not any more; where right answers are counted, it counts.
type Mark struct {
	Path quiz.Pointer `json:"path"`
}

func (a Mark) do(t *plan) error {
	answer := t.object(a.Path)
	if answer == nil || !a.Path.Fits("/questions/*/answers/*") {
		return fmt.Errorf("marking %q %w", a.Path, ErrAct)
	}
	right, _ := answer["right"].(bool)
	t.put(a.Path+"/right", !right)
	scale, adds := t.object(quiz.At("scales", rightScale)), a.Path.Join("adds", rightScale)
	if scale == nil || scale["kind"] != string(quiz.Points) {
		return nil
	}
	if !right && t.object(a.Path + "/adds")[rightScale] == nil {
		t.put(adds, 1)
	}
	return nil
}

// Home puts a country at a place, named in words or by its code; without one it takes it away.
type Home struct {
	Path  quiz.Pointer `json:"path"`
	Label string       `json:"label"`
}

func (a Home) do(t *plan) error {
	if a.Path != "/settings/country" {
		return fmt.Errorf("a country at %q %w", a.Path, ErrAct)
	}
	if strings.TrimSpace(a.Label) == "" {
		if settings := t.object("/settings"); settings["country"] != nil {
			t.ops = append(t.ops, Op{Op: "remove", Path: a.Path})
		}
		return nil
	}
	code, known := atlas.Code(a.Label)
	if !known {
		return fmt.Errorf("%q is no country that is known; it %w. Countries are named such as Ireland, or IE",
			clip(a.Label), ErrAct)
	}
	t.put(a.Path, code)
	return nil
}
