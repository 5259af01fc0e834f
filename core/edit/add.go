package edit

import (
	"fmt"
	"slices"
	"strings"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
)

// Add adds a thing of its kind to a list of things, filled in as far as the quiz tells.
type Add struct {
	Path quiz.Pointer `json:"path"` // of the list
	Beside
	Kind  string       `json:"kind,omitempty"`  // of a question, a block, a step, …; "" is the usual one
	Label string       `json:"label,omitempty"` // its words
	Link  quiz.Pointer `json:"link,omitempty"`  // place of what is to name a new outcome
}

func (a Add) do(t *plan) error {
	what, ok := listed(a.Path)
	if !ok {
		return fmt.Errorf("adding to %q %w", a.Path, ErrAct)
	}
	if t.object(a.Path.Parent()) == nil {
		return fmt.Errorf("adding to %q %w: it is not there any more", a.Path, ErrAct)
	}
	siblings := t.object(a.Path)
	fresh := a.fresh(t, what, siblings)
	if what != "cuts" {
		fresh["order"] = t.place(a.Path, a.Beside, "")
	}
	key := freeKey(siblings, strings.ToLower(strings.TrimSuffix(what, "s")))
	t.made = a.Path.Join(key)
	t.put(t.made, fresh)
	if a.Link.Key() == "then" {
		t.put(a.Link, quiz.Then{Go: quiz.ToOutcome, To: key})
	} else if a.Link != "" {
		t.put(a.Link, key)
	}
	return nil
}

// fresh returns a new thing of its kind.
func (a Add) fresh(t *plan, what string, siblings map[string]any) map[string]any {
	switch what {
	case "questions":
		section := ""
		if s, ok := siblings[a.neighbour()].(map[string]any); ok {
			section, _ = s["section"].(string)
		}
		if section == "" {
			section = t.lastSection()
		}
		kind := a.Kind
		if kind == "" {
			kind = string(quiz.Single)
		}
		blank := map[string]any{"section": section, "label": a.Label, "required": true}
		return turnedInto(blank, quiz.Kind(kind), quiz.Kind(kind))
	case "sections":
		return map[string]any{"heading": a.Label}
	case "fields":
		kind := quiz.Kind(a.Kind)
		if !kind.Contact() {
			kind = quiz.Email
		}
		label := map[quiz.Kind]string{quiz.Name: "Name", quiz.Email: "E-mail", quiz.Phone: "Phone",
			quiz.Company: "Company", quiz.Country: "Country", quiz.Consent: "You may write to me about this."}[kind]
		return map[string]any{"kind": string(kind), "label": label}
	case "answers", "rows":
		return map[string]any{"label": a.Label}
	case "outcomes":
		name := a.Label
		if name == "" {
			name = "New outcome"
		}
		return map[string]any{"name": name, "headline": "", "landings": map[string]any{
			"page": map[string]any{"order": 1, "kind": string(quiz.PageLanding)}}}
	case "scales":
		kind := a.Kind
		if kind == "" {
			kind = string(quiz.Points)
		}
		fresh := map[string]any{"name": a.Label, "kind": kind}
		if kind == string(quiz.Money) {
			fresh["currency"] = "EUR"
		}
		return fresh
	case "blocks":
		kind := a.Kind
		if kind == "" {
			kind = string(quiz.ActionBlock)
		}
		return map[string]any{"kind": kind, "label": a.Label}
	case "followUps":
		return t.freshFollowUp(quiz.FollowUpKind(a.Kind))
	case "landings":
		return map[string]any{
			"kind": string(quiz.PageLanding),
			"when": map[string]any{"all": []any{map[string]any{"visitor": "country", "op": "is", "value": ""}}},
		}
	case "steps":
		return t.freshStep(quiz.StepKind(a.Kind))
	case "columns":
		return t.freshColumn(siblings)
	case "rules":
		return map[string]any{"outcome": ""}
	case "then":
		return map[string]any{"go": string(quiz.Decide), "when": t.freshWhen(a.Path + "/new/when")}
	case "cuts":
		return map[string]any{"at": t.freeCut(siblings)}
	}
	return map[string]any{}
}

// freeCut returns a score above all cuts.
func (t *plan) freeCut(cuts map[string]any) decimal.Decimal {
	at := decimal.Decimal(0)
	for _, c := range cuts {
		if score, ok := amountOf(c.(map[string]any)["at"]); ok && score >= at {
			at = score.Add(decimal.One)
		}
	}
	return at
}

func (t *plan) lastSection() string {
	sections, _ := t.tree["sections"].(map[string]any)
	if len(sections) == 0 {
		t.put("/sections/main", map[string]any{"order": 1})
		return "main"
	}
	keys := ordered(sections)
	return keys[len(keys)-1]
}

// place returns an order that puts a thing where it is to go, among the others of a list.
func (t *plan) place(list quiz.Pointer, beside Beside, moving string) float64 {
	siblings := t.object(list)
	keys := slices.DeleteFunc(ordered(siblings), func(k string) bool { return k == moving })
	at := len(keys)
	if i := slices.Index(keys, beside.After); beside.After != "" && i >= 0 {
		at = i + 1
	} else if i := slices.Index(keys, beside.Before); beside.Before != "" && i >= 0 {
		at = i
	}
	switch {
	case len(keys) == 0:
		return 1
	case at == 0:
		return orderOf(siblings[keys[0]]) - 1
	case at == len(keys):
		return orderOf(siblings[keys[at-1]]) + 1
	}
	low, high := orderOf(siblings[keys[at-1]]), orderOf(siblings[keys[at]])
	middle := low + (high-low)/2
	if middle > low && middle < high {
		return middle
	}
	// No room is left between the two: number all siblings anew.
	for i, k := range keys {
		t.put(list.Join(k, "order"), float64(i+1))
	}
	return float64(at) + 0.5
}
