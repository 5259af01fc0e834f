package finding

import (
	"slices"
	"strconv"

	"omphalos/core/edit"
	"omphalos/core/quiz"
)

// A placed condition stands at a pointer; late ones are asked when all scores stand.
type placed struct {
	pointer quiz.Pointer
	c       *quiz.Condition
	late    bool
}

// placed returns all conditions of the document.
func (f *finder) placed() []placed {
	var list []placed
	add := func(pointer quiz.Pointer, c *quiz.Condition, late bool) {
		if c != nil {
			list = append(list, placed{pointer, c, late})
		}
	}
	for _, k := range quiz.InOrder(f.q.Sections) {
		add(quiz.At("sections", k, "showWhen"), f.q.Sections[k].ShowWhen, false)
	}
	for _, k := range f.q.QuestionKeys() {
		q := f.q.Questions[k]
		add(quiz.At("questions", k, "showWhen"), q.ShowWhen, false)
		for _, r := range quiz.InOrder(q.Then) {
			add(quiz.At("questions", k, "then", r, "when"), q.Then[r].When, false)
		}
	}
	for _, k := range quiz.InOrder(f.q.Decision.Steps) {
		add(quiz.At("decision", "steps", k, "when"), f.q.Decision.Steps[k].When, true)
	}
	for _, k := range quiz.InOrder(f.q.Outcomes) {
		for _, l := range quiz.InOrder(f.q.Outcomes[k].Landings) {
			landing := f.q.Outcomes[k].Landings[l]
			pointer := quiz.At("outcomes", k, "landings", l)
			add(pointer+"/when", landing.When, true)
			for _, b := range quiz.InOrder(landing.Blocks) {
				add(pointer.Join("blocks", b, "when"), landing.Blocks[b].When, true)
			}
		}
	}
	if f.q.Contact != nil {
		add(quiz.At("contact", "when"), f.q.Contact.When, true)
	}
	for _, k := range quiz.InOrder(f.q.FollowUps) {
		add(quiz.At("followUps", k, "when"), f.q.FollowUps[k].When, true)
		for _, b := range quiz.InOrder(f.q.FollowUps[k].Blocks) {
			add(quiz.At("followUps", k, "blocks", b, "when"), f.q.FollowUps[k].Blocks[b].When, true)
		}
	}
	return list
}

// each calls do with every part of a condition and its pointer, groups first.
func each(pointer quiz.Pointer, c *quiz.Condition, do func(pointer quiz.Pointer, c *quiz.Condition)) {
	do(pointer, c)
	how, parts := c.Group()
	for i, part := range parts {
		if part != nil {
			each(pointer.Join(how, strconv.Itoa(i)), part, do)
		}
	}
}

// conditions notes what can't be whatever is answered, and what is always so.
func (f *finder) conditions() {
	for _, p := range f.placed() {
		each(p.pointer, p.c, func(pointer quiz.Pointer, c *quiz.Condition) {
			f.contradiction(pointer, c)
			if p.late && f.o != nil {
				f.beyond(pointer, c)
			}
		})
	}
	if !f.exactPath() {
		return
	}
	for _, k := range f.q.QuestionKeys() {
		for _, r := range quiz.InOrder(f.q.Questions[k].Then) {
			then := f.q.Questions[k].Then[r]
			verdict, asked := f.o.Held[then.When]
			pointer := quiz.At("questions", k, "then", r)
			switch {
			case then.When == nil || !asked:
			case !verdict.Held:
				f.note(
					"never-holds",
					pointer+"/when",
					mend("remove-the-rule", remove(pointer)),
					"after-a-rule-leads",
					f.label(k),
					f.q.Sentence(then.When),
					f.why(then.When),
				)
			case !verdict.Failed:
				f.note("always-holds", pointer+"/when", mend("remove-the-condition", remove(pointer+"/when")),
					"after-a-rule-leads-on", f.label(k), f.q.Sentence(then.When))
			}
		}
	}
}

// contradiction notes a group that asks for two answers of one question at once.
func (f *finder) contradiction(pointer quiz.Pointer, c *quiz.Condition) {
	how, parts := c.Group()
	if how != "all" {
		return
	}
	for i, a := range parts {
		var same []*quiz.Condition
		for _, b := range parts[i+1:] {
			if f.excludes(a, b) {
				same = append(same, b)
			}
		}
		if len(same) == 0 {
			continue
		}
		same = append([]*quiz.Condition{a}, same...)
		var rest []*quiz.Condition
		for _, part := range parts {
			if !slices.Contains(same, part) {
				rest = append(rest, part)
			}
		}
		fixed := &quiz.Condition{Any: same}
		if len(rest) > 0 {
			fixed = &quiz.Condition{All: append(rest, fixed)}
		}
		f.note(
			"never-holds",
			pointer,
			mend("ask-for-any-of", edit.Op{Op: "replace", Path: pointer, Value: fixed}),
			"this-never-holds-takes",
			f.q.Sentence(c),
			f.label(a.Answer),
		)
		return
	}
}

// excludes tells whether two clauses ask for different answers of one choice.
func (f *finder) excludes(a, b *quiz.Condition) bool {
	if a == nil || b == nil || a.Answer == "" || a.Subject != b.Subject || a.Value == nil || b.Value == nil {
		return false
	}
	q := f.q.Questions[a.Answer]
	if q == nil || !(q.Kind.Choice() || q.Kind == quiz.Grid) {
		return false
	}
	picks := func(c *quiz.Condition) bool { return c.Op == quiz.Is || c.Op == quiz.IsOneOf }
	if !picks(a) || !picks(b) {
		return false
	}
	for _, item := range a.Value.Items {
		if slices.Contains(b.Value.Items, item) {
			return false
		}
	}
	return true
}

// why gives the reason why a condition never holds, if it can be read off a part
// that must hold: " …". Else it is empty.
func (f *finder) why(c *quiz.Condition) string {
	how, parts := c.Group()
	switch {
	case how == "all":
		for i, a := range parts {
			for _, b := range parts[i+1:] {
				if f.excludes(a, b) {
					return say("takes-one-answer-only", f.label(a.Answer))
				}
			}
			if reason := f.why(a); reason != "" {
				return reason
			}
		}
	case (how == "any" || how == "one") && len(parts) == 1:
		return f.why(parts[0])
	case how != "":
	case c.Scale != "" && len(f.scores(c.Scale)) > 0:
		if !slices.ContainsFunc(f.scores(c.Scale), func(p point) bool { return compares(c.Test, p.Score) }) {
			return say("at-the-end", f.ends(c.Scale))
		}
		return say("before-that-question-has", f.scale(c.Scale))
	case c.Answer != "":
		if _, seen := f.o.Seen[c.Answer]; !seen && f.q.Questions[c.Answer] != nil {
			return say("nobody-comes-before", f.label(c.Answer))
		}
		if f.q.Questions[c.Answer] != nil {
			return say("whoever-answers-so-is", f.label(c.Answer))
		}
	}
	return ""
}
