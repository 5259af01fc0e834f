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
		if op.Path.Key() == "order" && len(ops) > 1 && said == "" {
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
		switch {
		case op.Path.Fits("/questions/*") && op.Op == "add":
			added++
		case op.Path.Fits("/questions/*") && op.Op == "remove":
			removed++
		case op.Path.FitsAny("/questions/*/order", "/questions/*/section"):
			moved[op.Path.Keys()[1]] = true
		case op.Op == "remove" && op.Path.Key() == "then": // led to one that goes
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
		keys := op.Path.Keys()
		if len(keys) < 5 || !op.Path.FitsAny("/questions/*/*/*/adds/**", "/questions/*/weigh/**") {
			return ""
		}
		questions[keys[1]] = true
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

// A saying tells what one operation did at a place of a form; keys are those on the way.
type saying struct {
	form string
	say  func(n naming, op Op, keys []string) string
}

// sayings are looked through in order: the first that fits tells.
var sayings = []saying{
	{"/questions/*", func(n naming, op Op, k []string) string { return made(op, "question", n.question(k[1])) }},
	{"/outcomes/*", func(n naming, op Op, k []string) string { return made(op, "outcome", n.outcome(k[1])) }},
	{"/scales/*", func(n naming, op Op, k []string) string { return made(op, "scale", n.scale(k[1])) }},
	{"/sections/*", func(n naming, op Op, k []string) string { return made(op, "section", n.section(k[1])) }},
	{"/questions/*/kind", func(n naming, op Op, k []string) string {
		return fmt.Sprintf("%s is of the kind “%v” now", n.question(k[1]), op.Value)
	}},
	{"/questions/*/rows/*", func(n naming, op Op, k []string) string { return made(op, "row", n.row(k[1], k[3])) }},
	{"/questions/*/weigh/*/**", func(n naming, _ Op, k []string) string {
		return fmt.Sprintf("Changed how %s weighs on %s", n.question(k[1]), n.scale(k[3]))
	}},
	{
		"/questions/*/expect/**",
		func(n naming, _ Op, k []string) string { return "Changed what is expected of " + n.question(k[1]) },
	},
	{
		"/questions/*/answers/*",
		func(n naming, op Op, k []string) string { return made(op, "answer", n.answer(k[1], k[3])) },
	},
	{
		"/outcomes/*/landings/*/blocks/*",
		func(n naming, op Op, k []string) string { return made(op, "block", n.outcome(k[1])) },
	},
	{"/questions/*/*/*/adds/*", func(n naming, _ Op, k []string) string { return n.weight(k[1], k[3], k[5]) }},
	{"/decision/steps/*/cuts/*/at", func(n naming, op Op, k []string) string { return n.cut(k[2], k[4], op) }},
	{"/contact", func(_ naming, op Op, _ []string) string { return made(op, "contact section", "") }},
	{"/contact/fields/*", func(n naming, op Op, k []string) string { return made(op, "field", n.question(k[2])) }},
}

// tell says what one operation did. The names of things are taken from where
// they still are.
func tell(before, after *quiz.Quiz, op Op) string {
	n, keys := naming{before, after}, op.Path.Keys()
	for _, s := range sayings {
		if op.Path.Fits(s.form) {
			return s.say(n, op, keys)
		}
	}
	parent, field := op.Path.Split()
	switch {
	case field == "order" && len(keys) >= 3:
		return "Moved " + n.thing(parent)
	case op.Path.Within("/decision"):
		return "Changed the decision"
	}
	words, text := op.Value.(string)
	switch {
	case text && parent != "":
		return fmt.Sprintf("%s of %s is now “%s”", fieldName(field), n.thing(parent), shorten(words))
	case text:
		return fmt.Sprintf("%s is now “%s”", fieldName(field), shorten(words))
	case parent != "":
		return fmt.Sprintf("Changed %s of %s", strings.ToLower(fieldName(field)), n.thing(parent))
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

var fieldNames = map[string]string{
	"label":     "Words",
	"help":      "Help",
	"heading":   "Heading",
	"text":      "Text",
	"button":    "Button",
	"title":     "Title",
	"name":      "Name",
	"headline":  "Headline",
	"address":   "Address",
	"standing":  "Standing",
	"kind":      "Kind",
	"required":  "Required",
	"lowest":    "Lowest band",
	"outcome":   "Outcome",
	"otherwise": "Otherwise",
	"after":     "Delay",
	"landings":  "Landing",
	"pace":      "Pace",
	"typeface":  "Typeface",
}

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

// thing names what a place belongs to.
func (n naming) thing(place quiz.Pointer) string {
	keys := place.Keys()
	switch {
	case place.Fits("/questions/*/answers/*/**"):
		return n.answer(keys[1], keys[3])
	case len(keys) < 2:
	case keys[0] == "questions":
		return n.question(keys[1])
	case keys[0] == "outcomes":
		return n.outcome(keys[1])
	case keys[0] == "scales":
		return "“" + n.scale(keys[1]) + "”"
	}
	return "the " + keys[0]
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
	return fmt.Sprintf(
		"%s of %s %s → %s",
		n.scale(scale),
		n.answer(question, answer),
		amount(n.before),
		amount(n.after),
	)
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
