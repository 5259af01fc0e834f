package edit

import (
	"strings"

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
	if said := translated(ops); said != "" {
		return said
	}
	if last := len(ops) - 1; last >= 0 && ops[last].Op == "move" {
		return say("renamed", ops[last].From.Key(), ops[last].Path.Key())
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
		return say("nothing-changed")
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
		case op.Op == "add" && op.Path.Fits("/scales/*"): // for the weights of those that come
		default:
			return ""
		}
	}
	switch {
	case removed > 1 && added == 0:
		return say("deleted-questions", removed)
	case added > 1 && removed <= 1:
		return say("added-questions", added)
	case len(moved) > 1 && added+removed == 0:
		return say("moved-questions", len(moved))
	}
	return ""
}

// translated says how many texts were put into another language, if nothing else was done.
func translated(ops []Op) string {
	language := ""
	for _, op := range ops {
		keys := op.Path.Keys()
		if !op.Path.Fits("/translations/*/*") || language != "" && language != keys[1] {
			return ""
		}
		language = keys[1]
	}
	if len(ops) < 2 {
		return ""
	}
	return say("translated", quiz.Count(len(ops), "text"), quiz.LanguageName(language))
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
			return say("weights-changed", naming{before, after}.question(key))
		}
	}
	return say("of-changed", quiz.Count(len(ops), "weight"), quiz.Count(len(questions), "question"))
}

// A teller tells what one operation did at a place of a form; keys are those on the way.
type teller struct {
	form string
	say  func(n naming, op Op, keys []string) string
}

// tellers are looked through in order: the first that fits tells.
var tellers = []teller{
	{"/questions/*", func(n naming, op Op, k []string) string { return made(op, say("question"), n.question(k[1])) }},
	{"/outcomes/*", func(n naming, op Op, k []string) string { return made(op, say("outcome"), n.outcome(k[1])) }},
	{"/scales/*", func(n naming, op Op, k []string) string { return made(op, say("scale"), n.scale(k[1])) }},
	{"/sections/*", func(n naming, op Op, k []string) string { return made(op, say("section"), n.section(k[1])) }},
	{"/questions/*/kind", func(n naming, op Op, k []string) string {
		return say("is-of-the-kind", n.question(k[1]), op.Value)
	}},
	{"/questions/*/required", func(n naming, op Op, k []string) string {
		if op.Value == true {
			return say("must-be-answered", n.question(k[1]))
		}
		return say("may-be-passed-by", n.question(k[1]))
	}},
	{"/look", func(n naming, op Op, _ []string) string {
		if op.Op != "remove" && n.after.Look != nil && n.after.Look.Made != "" {
			return say("dressed-as", string(n.after.Look.Made))
		}
		return say("changed", say("the", say("look")))
	}},
	{"/questions/*/rows/*", func(n naming, op Op, k []string) string { return made(op, say("row"), n.row(k[1], k[3])) }},
	{"/questions/*/weigh/*/**", func(n naming, _ Op, k []string) string {
		return say("changed-how-weighs-on", n.question(k[1]), n.scale(k[3]))
	}},
	{
		"/questions/*/expect/**",
		func(n naming, _ Op, k []string) string { return say("expected", n.question(k[1])) },
	},
	{
		"/questions/*/answers/*",
		func(n naming, op Op, k []string) string { return made(op, say("answer"), n.answer(k[1], k[3])) },
	},
	{
		"/outcomes/*/landings/*/blocks/*",
		func(n naming, op Op, k []string) string { return made(op, say("block"), n.outcome(k[1])) },
	},
	{"/questions/*/*/*/adds/*", func(n naming, _ Op, k []string) string { return n.weight(k[1], k[3], k[5]) }},
	{"/decision/steps/*/cuts/*/at", func(n naming, op Op, k []string) string { return n.cut(k[2], k[4], op) }},
	{"/rehearsals/*", func(n naming, op Op, k []string) string { return made(op, say("rehearsal"), n.rehearsal(k[1])) }},
	{"/rehearsals/*/**", func(n naming, _ Op, k []string) string { return say("rehearsal-changed", n.rehearsal(k[1])) }},
	{"/followUps/*", func(n naming, op Op, k []string) string { return made(op, say("follow-up"), n.followUp(k[1])) }},
	{"/followUps/*/blocks/*", func(n naming, op Op, k []string) string {
		return made(op, say("block"), n.followUp(k[1]))
	}},
	{"/translations", func(n naming, op Op, _ []string) string { return made(op, say("language"), n.languages()) }},
	{"/translations/*", func(_ naming, op Op, k []string) string {
		return made(op, say("language"), quiz.LanguageName(k[1]))
	}},
	{"/translations/*/**", func(n naming, _ Op, k []string) string {
		return say("translated", n.text(quiz.Pointer(k[2])), quiz.LanguageName(k[1]))
	}},
	{"/contact", func(_ naming, op Op, _ []string) string { return made(op, say("contact-section"), "") }},
	{"/contact/fields/*", func(n naming, op Op, k []string) string { return made(op, say("field"), n.question(k[2])) }},
}

// tell says what one operation did. The names of things are taken from where
// they still are.
func tell(before, after *quiz.Quiz, op Op) string {
	return tellOf(before, after, op, naming{before, after})
}

// tellOf is tell where what gets other words is named by a naming.
func tellOf(before, after *quiz.Quiz, op Op, by naming) string {
	n, keys := naming{before, after}, op.Path.Keys()
	for _, s := range tellers {
		if op.Path.Fits(s.form) {
			return s.say(n, op, keys)
		}
	}
	parent, field := op.Path.Split()
	switch {
	case field == "order" && len(keys) >= 3:
		return say("moved", n.thing(parent))
	case op.Path.Within("/decision"):
		return say("decision-changed")
	}
	words, text := op.Value.(string)
	switch {
	case text && parent != "" && plurals[field]:
		return say("of-are-now", fieldName(field), by.thing(parent), shorten(words))
	case text && parent != "":
		return say("of-is-now", fieldName(field), by.thing(parent), shorten(words))
	case text:
		return say("is-now", fieldName(field), shorten(words))
	case parent != "":
		return say("changed-of", strings.ToLower(fieldName(field)), n.thing(parent))
	}
	return say("changed", strings.ToLower(fieldName(field)))
}

// made says that a thing was made or taken away; what names its kind.
func made(op Op, what, name string) string {
	switch op.Op {
	case "remove":
		return strings.TrimSpace(say("deleted", what, name))
	case "copy":
		return strings.TrimSpace(say("copied", what, name))
	}
	return strings.TrimSpace(say("added", what, name))
}

func fieldName(field string) string {
	if name, known := fieldNames[field]; known {
		return name
	}
	return field
}

func shorten(s string) string { return excerpt.Line(s, 41) }
