package edit

import (
	"slices"

	"omphalos/core/quiz"
)

// Remove takes a thing away, or several of one list, with what refers to it.
type Remove struct {
	Path  quiz.Pointer   `json:"path"`
	Paths []quiz.Pointer `json:"paths,omitempty"` // instead
}

func (a Remove) do(t *plan) error {
	if len(a.Paths) > 0 {
		return t.inTurn(a.Paths, Beside{}, func(path quiz.Pointer, _ Beside) Act { return Remove{Path: path} })
	}
	list, key, _, err := t.thing(a.Path, "remove")
	if err != nil {
		return err
	}
	t.ops = append(t.ops, Op{Op: "remove", Path: a.Path})
	switch list {
	case "/sections":
		return t.forgetSection(key, t.object(list))
	case "/outcomes":
		t.forgetOutcome(key)
		t.forgetThens(string(quiz.ToOutcome), string(quiz.PartWays), key)
	case "/questions":
		t.forgetThens(string(quiz.ToQuestion), "", key)
	case "/scales":
		t.forgetScale(key)
	}
	return nil
}

// forgetOutcome opens the bands of an outcome that goes, and empties what else names it.
func (t *plan) forgetOutcome(key string) {
	decision, _ := t.tree["decision"].(map[string]any)
	if decision["otherwise"] == key {
		t.put("/decision/otherwise", "")
	}
	for k, step := range t.each("/decision/steps") {
		path := quiz.At("decision", "steps", k)
		if step["lowest"] == key {
			t.put(path+"/lowest", "")
		}
		if step["outcome"] == key {
			t.put(path+"/outcome", "")
		}
		for c, cut := range t.each(path + "/cuts") {
			if cut["outcome"] == key {
				t.put(path.Join("cuts", c, "outcome"), "")
			}
		}
		for _, list := range []string{"rules", "contenders"} {
			for r, thing := range t.each(path.Join(list)) {
				if thing["outcome"] == key {
					t.put(path.Join(list, r, "outcome"), "")
				}
			}
		}
	}
}

// forgetScale takes away what answers add to a scale that goes.
func (t *plan) forgetScale(key string) {
	gone := func(path quiz.Pointer, adds map[string]any) {
		if _, has := adds[key]; has {
			t.ops = append(t.ops, Op{Op: "remove", Path: path.Join(key)})
		}
	}
	for q, question := range t.each("/questions") {
		path := quiz.At("questions", q)
		for a, answer := range t.each(path + "/answers") {
			adds, _ := answer["adds"].(map[string]any)
			gone(path.Join("answers", a, "adds"), adds)
		}
		for r := range t.each(path + "/rows") {
			for column, adds := range t.each(path.Join("rows", r, "adds")) {
				gone(path.Join("rows", r, "adds", column), adds)
			}
		}
		for _, field := range []string{"weigh", "cap"} {
			things, _ := question[field].(map[string]any)
			gone(path.Join(field), things)
		}
	}
}

// forgetThens takes away the thens that lead one of two ways to what goes.
func (t *plan) forgetThens(way, other, key string) {
	leads := func(then map[string]any) bool {
		return then != nil && then["to"] == key && (then["go"] == way || then["go"] == other)
	}
	for q := range t.each("/questions") {
		path := quiz.At("questions", q)
		if t.gone(path) {
			continue
		}
		for a, answer := range t.each(path + "/answers") {
			if then, _ := answer["then"].(map[string]any); leads(then) {
				t.ops = append(t.ops, Op{Op: "remove", Path: path.Join("answers", a, "then")})
			}
		}
		for r, rule := range t.each(path + "/then") {
			if leads(rule) {
				t.ops = append(t.ops, Op{Op: "remove", Path: path.Join("then", r)})
			}
		}
	}
}

// gone tells whether the plan takes a thing away.
func (t *plan) gone(path quiz.Pointer) bool {
	return slices.ContainsFunc(t.ops, func(op Op) bool { return op.Op == "remove" && op.Path == path })
}
