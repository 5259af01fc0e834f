package edit

import (
	"fmt"
	"maps"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"omphalos/core/quiz"
)

// Rename gives a question, a field of the contact section or a scale another key, and every
// use of it follows: conditions, thens, fill-ins, formulas, weights, rehearsals. Without a key
// it takes that of its words, where that is another.
type Rename struct {
	Path quiz.Pointer `json:"path"`
	Key  string       `json:"key"`
}

func (a Rename) do(t *plan) error {
	list, key, thing, err := t.thing(a.Path, "renaming")
	if err != nil {
		return err
	}
	if list != "/questions" && list != "/contact/fields" && list != "/scales" {
		return fmt.Errorf("renaming %q %w", a.Path, ErrAct)
	}
	taken := t.names()
	delete(taken, key)
	to := strings.Trim(strings.TrimSpace(a.Key), "{}")
	if to == "" {
		label, _ := thing["label"].(string)
		to = wordsKey(label, taken)
	}
	switch {
	case a.Key == "" && (to == "" || to == key):
		t.made = a.Path // it has it already
		return nil
	case to == "" || to == key:
		return fmt.Errorf("renaming {%s}: its words say no other name; it %w", key, ErrAct)
	case taken[to] != nil:
		return fmt.Errorf("renaming {%s}: {%s} is the name of something else; that %w", key, clip(to), ErrAct)
	}
	r := renaming{plan: t, renamed: list, from: key, to: to, scale: list == "/scales"}
	r.walk("", t.tree)
	t.ops = append(t.ops, Op{Op: "move", From: a.Path, Path: list.Join(to)})
	t.made = list.Join(to)
	return nil
}

// names are the keys that fill-ins tell apart: of questions, contact fields and scales.
func (t *plan) names() map[string]any {
	taken := map[string]any{}
	for _, list := range []quiz.Pointer{"/questions", "/contact/fields", "/scales"} {
		maps.Copy(taken, t.object(list))
	}
	return taken
}

// renaming is a walk over a document for what names something.
type renaming struct {
	*plan
	renamed  quiz.Pointer // the list in which it stands
	from, to string
	scale    bool // otherwise a question
}

// place is where what is renamed stands.
func (r renaming) place() quiz.Pointer { return r.renamed.Join(r.from) }

func (r renaming) walk(at quiz.Pointer, v any) {
	switch v := v.(type) {
	case map[string]any:
		for _, key := range slices.Sorted(maps.Keys(v)) {
			r.field(at, key, v)
		}
	case []any:
		for i, one := range v {
			r.walk(at.Join(strconv.Itoa(i)), one)
		}
	}
}

// field looks at one field of an object: whether it names what is renamed, is named by it, or
// holds a text that fills it in.
func (r renaming) field(at quiz.Pointer, key string, in map[string]any) {
	here, v := at.Join(key), in[key]
	switch {
	case key == r.from && r.byKey(at):
		r.ops = append(r.ops, Op{Op: "move", From: here, Path: at.Join(r.to)})
		return
	case v == r.from && r.refers(key, in):
		r.put(here, r.to)
		return
	case at.Fits("/translations/*"): // by place
		r.walk(here, v)
		if rest, of := strings.CutPrefix(key, string(r.place())+"/"); of {
			r.ops = append(r.ops, Op{Op: "move", From: here, Path: at.Join(string(r.renamed.Join(r.to)) + "/" + rest)})
		}
		return
	case key == "scales" && r.scale && at.Fits("/questions/*/rows/*"):
		list, _ := v.([]any)
		for i, one := range list {
			if one == r.from {
				list = slices.Clone(list)
				list[i] = r.to
				r.put(here, list)
			}
		}
		return
	}
	text, isText := v.(string)
	if !isText {
		r.walk(here, v)
		return
	}
	now := r.filled(text)
	if key == "formula" && at.Fits("/scales/*") {
		now = r.calculated(text)
	}
	if now != text {
		r.put(here, now)
	}
}

// byKey tells whether the keys of an object at a place are those of what is renamed.
func (r renaming) byKey(at quiz.Pointer) bool {
	if !r.scale {
		return at.Fits("/rehearsals/*/answers")
	}
	return at.FitsAny("/questions/*/weigh", "/questions/*/cap", "/questions/*/answers/*/adds",
		"/questions/*/rows/*/adds/*", "/decision/steps/*/contenders")
}

// refers tells whether a field names what is renamed.
func (r renaming) refers(field string, in map[string]any) bool {
	if r.scale {
		return field == "scale" || field == "showScore"
	}
	return field == "answer" || field == "question" || field == "consent" ||
		field == "to" && in["go"] == string(quiz.ToQuestion)
}

var (
	braced     = regexp.MustCompile(`\{[^{}\s]*\}`)
	identifier = regexp.MustCompile(`[A-Za-z0-9_]+(?:\.[A-Za-z0-9_]+)*`)
)

// filled renames what a text or an address fills in: {crop}, {days.monday}, {?crop,size}.
func (r renaming) filled(text string) string {
	return braced.ReplaceAllStringFunc(text, r.calculated)
}

// calculated renames what a formula names.
func (r renaming) calculated(text string) string {
	return identifier.ReplaceAllStringFunc(text, func(name string) string {
		first, rest, row := strings.Cut(name, ".")
		if first != r.from {
			return name
		}
		if row {
			return r.to + "." + rest
		}
		return r.to
	})
}

// telling are words that say nothing of what a question is about.
var telling = strings.Fields(`a about after all also an and any are as at be been before but by
	can could did do does down for from get go going had has have how i if in into is it its like many may me
	more most much must my no not of on one or our out over please should so some such than that the their them
	then there these they this those to too up us very want was we were what when where which who whom whose why
	will with would you your`)

// WordsKey returns the key that words give: "How many hives?" is "hives". It is "" where they
// give none, and another where that one is taken.
func wordsKey(label string, taken map[string]any) string {
	var words []string
	for _, w := range strings.Split(quiz.KeyOf(label), "_") {
		if !slices.Contains(telling, w) && w != "" {
			words = append(words, w)
		}
	}
	free := func(key string) bool { return quiz.IsKey(key) && taken[key] == nil }
	for n := 1; n <= min(len(words), 3); n++ {
		key := strings.Join(words[:n], "_")
		if len(key) >= 4 && free(key) {
			return key
		}
	}
	if len(words) == 0 {
		return ""
	}
	if key := strings.Join(words[:min(len(words), 3)], "_"); quiz.IsKey(key) {
		return keyNear(taken, key)
	}
	return ""
}

// Follows tells whether the key of a question is one that its words gave, or none that says
// anything, so that it may follow them: nothing that is filled in names it yet.
func Follows(q *quiz.Quiz, key string, filled map[string]bool) bool {
	question := q.Questions[key]
	if question == nil || filled[key] {
		return false
	}
	base, n, _ := cutLast(key, "_")
	made := base == "question" && isNumber(n)
	said := wordsKey(question.Label, nil)
	return (made || said == key || isNumber(n) && said == base)
}

func cutLast(s, sep string) (before, after string, found bool) {
	i := strings.LastIndex(s, sep)
	if i < 0 {
		return s, "", false
	}
	return s[:i], s[i+len(sep):], true
}

func isNumber(s string) bool {
	_, err := strconv.Atoi(s)
	return err == nil
}
