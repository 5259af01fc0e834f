package edit

import (
	"cmp"
	"encoding/json"
	"maps"
	"slices"
	"strings"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
)

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

func (n naming) followUp(key string) string {
	for _, q := range []*quiz.Quiz{n.after, n.before} {
		if f := q.FollowUps[key]; f != nil {
			return n.quote(cmp.Or(f.Subject, f.Event), key)
		}
	}
	return "{" + key + "}"
}

func (n naming) rehearsal(key string) string {
	for _, q := range []*quiz.Quiz{n.after, n.before} {
		if r := q.Rehearsals[key]; r != nil {
			return n.quote(r.Name, key)
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
	case keys[0] == "followUps":
		return n.followUp(keys[1])
	case keys[0] == "scales":
		return "“" + n.scale(keys[1]) + "”"
	}
	return say("the", keys[0])
}

// languages names those that a quiz was put into, or that were taken away.
func (n naming) languages() string {
	of := n.after
	if len(of.Translations) == 0 {
		of = n.before
	}
	var names []string
	for _, in := range slices.Sorted(maps.Keys(of.Translations)) {
		names = append(names, quiz.LanguageName(in))
	}
	return strings.Join(names, ", ")
}

// text names the text at a place by what it says.
func (n naming) text(at quiz.Pointer) string {
	for _, q := range []*quiz.Quiz{n.after, n.before} {
		for _, t := range q.Texts() {
			if t.At == at {
				return n.quote(t.Words, string(at))
			}
		}
	}
	return say("a-text")
}

func (n naming) weight(question, answer, scale string) string {
	amount := func(q *quiz.Quiz) string {
		if asked := q.Ask(question); asked != nil && asked.Answers[answer] != nil {
			if d, set := asked.Answers[answer].Adds[scale]; set {
				return d.Signed()
			}
		}
		return say("no-weight")
	}
	return say(
		"of",
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
	return say("cut-of", scale, old, value)
}
