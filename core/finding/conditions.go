package finding

import (
	"slices"
	"strconv"

	"omphalos/core/edit"
	"omphalos/core/quiz"
)

// An asking is of whom a condition is asked.
type asking uint8

const (
	underWay asking = iota // those who come to a question or leave it
	deciding               // those who come to the decision
	landed                 // those who have landed, however they got there
)

// A placed condition stands at a pointer.
type placed struct {
	pointer quiz.Pointer
	c       *quiz.Condition
	of      asking
}

// placed returns all conditions of the document.
func (f *finder) placed() []placed {
	var list []placed
	add := func(pointer quiz.Pointer, c *quiz.Condition, of asking) {
		if c != nil {
			list = append(list, placed{pointer, c, of})
		}
	}
	for _, k := range quiz.InOrder(f.q.Sections) {
		add(quiz.At("sections", k, "showWhen"), f.q.Sections[k].ShowWhen, underWay)
	}
	for _, k := range f.q.QuestionKeys() {
		q := f.q.Questions[k]
		add(quiz.At("questions", k, "showWhen"), q.ShowWhen, underWay)
		for _, r := range quiz.InOrder(q.Then) {
			add(quiz.At("questions", k, "then", r, "when"), q.Then[r].When, underWay)
		}
	}
	for _, k := range quiz.InOrder(f.q.Decision.Steps) {
		add(quiz.At("decision", "steps", k, "when"), f.q.Decision.Steps[k].When, deciding)
	}
	for _, k := range quiz.InOrder(f.q.Outcomes) {
		for _, l := range quiz.InOrder(f.q.Outcomes[k].Landings) {
			landing := f.q.Outcomes[k].Landings[l]
			pointer := quiz.At("outcomes", k, "landings", l)
			add(pointer+"/when", landing.When, landed)
			for _, b := range quiz.InOrder(landing.Blocks) {
				add(pointer.Join("blocks", b, "when"), landing.Blocks[b].When, landed)
			}
			if landing.Products == nil {
				continue
			}
			for i, n := range landing.Products.Named {
				add(pointer.Join("products", "named", strconv.Itoa(i), "when"), n.When, landed)
			}
			for i, n := range landing.Products.Tags {
				add(pointer.Join("products", "tags", strconv.Itoa(i), "when"), n.When, landed)
			}
		}
	}
	if f.q.Contact != nil {
		add(quiz.At("contact", "when"), f.q.Contact.When, landed)
	}
	for _, k := range quiz.InOrder(f.q.FollowUps) {
		add(quiz.At("followUps", k, "when"), f.q.FollowUps[k].When, landed)
		for _, b := range quiz.InOrder(f.q.FollowUps[k].Blocks) {
			add(quiz.At("followUps", k, "blocks", b, "when"), f.q.FollowUps[k].Blocks[b].When, landed)
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
			if p.of != underWay && f.o != nil {
				f.beyond(pointer, c, p.of)
			}
		})
		if p.of == landed && f.o != nil {
			f.arrivals(p.pointer, p.c)
		}
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
					f.why(then.When, underWay),
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

// arrivals notes what never, or always, holds for those who have landed. What is said of a
// whole is not said of its parts. (That a landing itself is never or always taken is said
// where it stands.)
func (f *finder) arrivals(pointer quiz.Pointer, c *quiz.Condition) {
	v, asked := f.o.Arrived[c]
	landing := pointer.Parent().Parent().Key() == "landings"
	switch {
	case !asked || f.told(pointer):
	case landing && v.Held != v.Failed:
	case !v.Held:
		f.note("never-holds", pointer, nil, "never-happens-here", f.q.Sentence(c), f.why(c, landed))
	case !v.Failed:
		f.note("always-holds", pointer, nil, "is-always-so-here", f.q.Sentence(c))
	default:
		how, parts := c.Group()
		for i, part := range parts {
			if part != nil {
				f.arrivals(pointer.Join(how, strconv.Itoa(i)), part)
			}
		}
	}
}

// told tells whether it has been said of a place, or of one below it, that it never or always
// holds.
func (f *finder) told(pointer quiz.Pointer) bool {
	return f.noted("never-holds", pointer) || f.noted("always-holds", pointer) || f.noted("contact-unasked", pointer)
}

// verdict returns what came of a condition wherever it was asked, and whether it was.
func (f *finder) verdict(c *quiz.Condition) (held, asked bool) {
	if v, asked := f.o.Arrived[c]; asked {
		return v.Held, true
	}
	v, asked := f.o.Held[c]
	return v.Held, asked
}

// why gives the reason why a condition that was asked never holds, where one part of it is
// one: " …". Else it is empty.
func (f *finder) why(c *quiz.Condition, of asking) string {
	how, parts := c.Group()
	switch {
	case how == "all":
		for i, a := range parts {
			for _, b := range parts[i+1:] {
				if f.excludes(a, b) {
					return say("takes-one-answer-only", f.label(a.Answer))
				}
			}
		}
		for _, part := range parts {
			if held, asked := f.verdict(part); asked && !held {
				return f.why(part, of)
			}
		}
	case (how == "any" || how == "one") && len(parts) == 1:
		return f.why(parts[0], of)
	case how != "":
	case c.Scale != "":
		if holds, _ := f.meets(c.Scale, c.Test, of); !holds && of != underWay {
			return say("at-the-end", f.ends(c.Scale, of))
		}
		return say("no-such-score", f.scale(c.Scale))
	case f.q.Questions[c.Answer] != nil:
		if _, seen := f.o.Seen[c.Answer]; !seen && f.exactPath() {
			return say("nobody-comes-before", f.label(c.Answer))
		}
		return say("no-such-answer", f.label(c.Answer))
	}
	return ""
}
