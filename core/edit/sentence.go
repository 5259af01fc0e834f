package edit

import (
	"encoding/json"
	"fmt"
	"strings"

	"omphalos/core/decimal"
	"omphalos/core/excerpt"
	"omphalos/core/quiz"
)

// sentence says what a patch did, by its first operation that can be told.
func sentence(before, after *quiz.Quiz, ops []Op) string {
	if said := weights(before, after, ops); said != "" {
		return said
	}
	if said := several(ops); said != "" {
		return said
	}
	said := ""
	for _, op := range ops {
		if strings.HasSuffix(op.Path, "/order") && len(ops) > 1 && said == "" {
			said = tell(before, after, op)
			continue
		}
		said = tell(before, after, op)
		break
	}
	if said == "" {
		return "Nothing changed"
	}
	return said
}

// several says what was done to more than one question as a block.
func several(ops []Op) string {
	added, removed, moved := 0, 0, map[string]bool{}
	for _, op := range ops {
		parts := strings.Split(op.Path, "/")
		switch {
		case len(parts) == 3 && parts[1] == "questions" && op.Op == "add":
			added++
		case len(parts) == 3 && parts[1] == "questions" && op.Op == "remove":
			removed++
		case len(parts) == 4 && parts[1] == "questions" && (parts[3] == "order" || parts[3] == "section"):
			moved[parts[2]] = true
		case op.Op == "remove" && parts[len(parts)-1] == "then": // led to one that goes
		default:
			return ""
		}
	}
	switch {
	case removed > 1 && added == 0:
		return fmt.Sprintf("Deleted %d questions", removed)
	case added > 1 && removed == 0:
		return fmt.Sprintf("Added %d questions", added)
	case len(moved) > 1 && added+removed == 0:
		return fmt.Sprintf("Moved %d questions", len(moved))
	}
	return ""
}

// weights says how many weights several operations changed, if they do nothing else.
func weights(before, after *quiz.Quiz, ops []Op) string {
	questions := map[string]bool{}
	for _, op := range ops {
		parts := strings.Split(op.Path, "/")
		if len(parts) < 6 || parts[1] != "questions" || parts[5] != "adds" && parts[3] != "weigh" {
			return ""
		}
		questions[parts[2]] = true
	}
	if len(ops) < 2 {
		return ""
	}
	if len(questions) == 1 {
		for key := range questions {
			return "Weights of " + naming{before, after}.question(key) + " changed"
		}
	}
	return fmt.Sprintf("%s of %s changed", quiz.Count(len(ops), "weight"), quiz.Count(len(questions), "question"))
}

// tell says what one operation did. The names of things are taken from where
// they still are.
func tell(before, after *quiz.Quiz, op Op) string {
	parts := strings.Split(strings.TrimPrefix(op.Path, "/"), "/")
	n := naming{before, after}
	field := parts[len(parts)-1]
	switch {
	case parts[0] == "questions" && len(parts) == 2:
		return made(op, "question", n.question(parts[1]))
	case parts[0] == "outcomes" && len(parts) == 2:
		return made(op, "outcome", n.outcome(parts[1]))
	case parts[0] == "questions" && len(parts) == 3 && field == "kind":
		return fmt.Sprintf("%s is of the kind “%v” now", n.question(parts[1]), op.Value)
	case parts[0] == "scales" && len(parts) == 2:
		return made(op, "scale", n.scale(parts[1]))
	case parts[0] == "sections" && len(parts) == 2:
		return made(op, "section", n.section(parts[1]))
	case parts[0] == "questions" && len(parts) == 4 && parts[2] == "rows":
		return made(op, "row", n.row(parts[1], parts[3]))
	case parts[0] == "questions" && len(parts) >= 4 && parts[2] == "weigh":
		return fmt.Sprintf("Changed how %s weighs on %s", n.question(parts[1]), n.scale(parts[3]))
	case parts[0] == "questions" && len(parts) >= 3 && parts[2] == "expect":
		return fmt.Sprintf("Changed what is expected of %s", n.question(parts[1]))
	case parts[0] == "questions" && len(parts) == 4 && parts[2] == "answers":
		return made(op, "answer", n.answer(parts[1], parts[3]))
	case parts[0] == "outcomes" && len(parts) == 6 && parts[4] == "blocks":
		return made(op, "block", n.outcome(parts[1]))
	case parts[0] == "questions" && len(parts) == 6 && parts[4] == "adds":
		return n.weight(parts[1], parts[3], parts[5])
	case field == "order" && len(parts) >= 3:
		return "Moved " + n.thing(parts[:len(parts)-1])
	case parts[0] == "decision" && len(parts) == 6 && field == "at":
		return n.cut(parts[2], parts[4], op)
	case parts[0] == "contact" && len(parts) == 1:
		return made(op, "contact section", "")
	case parts[0] == "contact" && len(parts) == 3:
		return made(op, "field", n.question(parts[2]))
	case parts[0] == "decision":
		return "Changed the decision"
	}
	if words, ok := op.Value.(string); ok && len(parts) > 1 {
		return fmt.Sprintf("%s of %s is now “%s”", fieldName(field), n.thing(parts[:len(parts)-1]), shorten(words))
	}
	if len(parts) > 1 {
		return fmt.Sprintf("Changed %s of %s", strings.ToLower(fieldName(field)), n.thing(parts[:len(parts)-1]))
	}
	if words, ok := op.Value.(string); ok {
		return fmt.Sprintf("%s is now “%s”", fieldName(field), shorten(words))
	}
	return "Changed " + strings.ToLower(fieldName(field))
}

func made(op Op, what, name string) string {
	verb := map[string]string{"remove": "Deleted", "copy": "Copied"}[op.Op]
	if verb == "" {
		verb = "Added"
	}
	return strings.TrimSpace(fmt.Sprintf("%s the %s %s", verb, what, name))
}

var fieldNames = map[string]string{"label": "Words", "help": "Help", "heading": "Heading", "text": "Text", "button": "Button",
	"title": "Title", "name": "Name", "headline": "Headline", "address": "Address", "standing": "Standing", "kind": "Kind",
	"required": "Required", "lowest": "Lowest band", "outcome": "Outcome", "otherwise": "Otherwise", "after": "Delay", "landings": "Landing", "pace": "Pace", "typeface": "Typeface"}

func fieldName(field string) string {
	if name, known := fieldNames[field]; known {
		return name
	}
	return field
}

func shorten(s string) string { return excerpt.Line(s, 41) }

type naming struct{ before, after *quiz.Quiz }

func (n naming) quote(s, key string) string {
	if s = shorten(s); s == "" {
		return "{" + key + "}"
	}
	return "“" + s + "”"
}

func (n naming) question(key string) string {
	for _, q := range []*quiz.Quiz{n.after, n.before} {
		if asked := q.Ask(key); asked != nil {
			return n.quote(asked.Label, key)
		}
	}
	return "{" + key + "}"
}

func (n naming) answer(question, key string) string {
	for _, q := range []*quiz.Quiz{n.after, n.before} {
		if asked := q.Ask(question); asked != nil && asked.Answers[key] != nil {
			return n.quote(asked.Answers[key].Label, key)
		}
	}
	return "{" + key + "}"
}

func (n naming) outcome(key string) string {
	for _, q := range []*quiz.Quiz{n.after, n.before} {
		if o := q.Outcomes[key]; o != nil {
			return n.quote(o.Name, key)
		}
	}
	return "{" + key + "}"
}

func (n naming) scale(key string) string {
	for _, q := range []*quiz.Quiz{n.after, n.before} {
		if s := q.Scales[key]; s != nil && s.Name != "" {
			return s.Name
		}
	}
	return "{" + key + "}"
}

func (n naming) section(key string) string {
	for _, q := range []*quiz.Quiz{n.after, n.before} {
		if s := q.Sections[key]; s != nil {
			return n.quote(s.Heading, key)
		}
	}
	return "{" + key + "}"
}

func (n naming) row(question, key string) string {
	for _, q := range []*quiz.Quiz{n.after, n.before} {
		if asked := q.Ask(question); asked != nil && asked.Rows[key] != nil {
			return n.quote(asked.Rows[key].Label, key)
		}
	}
	return "{" + key + "}"
}

// thing names what a path leads to.
func (n naming) thing(parts []string) string {
	switch parts[0] {
	case "questions":
		if len(parts) >= 4 && parts[2] == "answers" {
			return n.answer(parts[1], parts[3])
		}
		if len(parts) >= 2 {
			return n.question(parts[1])
		}
	case "outcomes":
		if len(parts) >= 2 {
			return n.outcome(parts[1])
		}
	case "scales":
		if len(parts) >= 2 {
			return "“" + n.scale(parts[1]) + "”"
		}
	}
	return "the " + parts[0]
}

func (n naming) weight(question, answer, scale string) string {
	amount := func(q *quiz.Quiz) string {
		if asked := q.Ask(question); asked != nil && asked.Answers[answer] != nil {
			if d, set := asked.Answers[answer].Adds[scale]; set {
				return d.Signed()
			}
		}
		return "none"
	}
	return fmt.Sprintf("%s of %s %s → %s", n.scale(scale), n.answer(question, answer), amount(n.before), amount(n.after))
}

func (n naming) cut(step, cut string, op Op) string {
	var old decimal.Decimal
	if s := n.before.Decision.Steps[step]; s != nil && s.Cuts[cut] != nil {
		old = s.Cuts[cut].At
	}
	value, _ := json.Marshal(op.Value)
	scale := ""
	if s := n.after.Decision.Steps[step]; s != nil {
		scale = n.scale(s.Scale)
	}
	return fmt.Sprintf("Cut of %s %s → %s", scale, old, value)
}
