package finding

import (
	"slices"
	"strings"

	"omphalos/core/fillin"
	"omphalos/core/quiz"
)

// A text stands at a place of the document.
type text struct {
	pointer quiz.Pointer
	text    string
}

func textsOf(pointer quiz.Pointer, q *quiz.Question) []text {
	list := []text{{pointer + "/label", q.Label}, {pointer + "/help", q.Help}}
	for _, k := range quiz.InOrder(q.Answers) {
		list = append(
			list,
			text{pointer.Join("answers", k, "label"), q.Answers[k].Label},
			text{pointer.Join("answers", k, "note"), q.Answers[k].Note},
		)
	}
	return list
}

func outcomeTexts(pointer quiz.Pointer, o *quiz.Outcome) []text {
	list := []text{{pointer + "/headline", o.Headline}, {pointer + "/text", o.Text}}
	for _, l := range quiz.InOrder(o.Landings) {
		landing := o.Landings[l]
		for _, b := range quiz.InOrder(landing.Blocks) {
			p := pointer.Join("landings", l, "blocks", b)
			list = append(
				list,
				text{p + "/text", landing.Blocks[b].Text},
				text{p + "/label", landing.Blocks[b].Label},
				text{p + "/address", landing.Blocks[b].Address},
			)
		}
		list = append(list, text{pointer.Join("landings", l, "address"), landing.Address})
	}
	return list
}

// texts returns all texts that fill something in.
func (f *finder) texts() []text {
	var list []text
	for k, s := range f.q.Sections {
		list = append(
			list,
			text{quiz.At("sections", k, "heading"), s.Heading},
			text{quiz.At("sections", k, "text"), s.Text},
		)
	}
	for k, q := range f.q.Questions {
		list = append(list, textsOf(quiz.At("questions", k), q)...)
	}
	for k, o := range f.q.Outcomes {
		list = append(list, outcomeTexts(quiz.At("outcomes", k), o)...)
	}
	return list
}

// missing notes fill-ins of answers that some of those who read them have not given.
func (f *finder) missing(place quiz.Pointer, name string, texts []text) {
	if f.o == nil {
		return
	}
	for _, key := range f.o.Missing[string(place)] {
		asked := f.q.Questions[key]
		pointer := place
		for _, t := range texts {
			if slices.ContainsFunc(
				fillin.Names(t.text),
				func(n string) bool { n, _, _ = strings.Cut(n, "."); return n == key },
			) {
				pointer = t.pointer
				break
			}
		}
		if f.o.Seen[key] > 1-1e-9 && !asked.Required {
			f.note(
				"fill-in-missing",
				pointer,
				mendWith(say("make-required", f.label(key)), put(quiz.At("questions", key, "required"), true)),
				"fills-in-the-answer",
				name,
				f.label(key),
			)
			continue
		}
		f.note(
			"fill-in-missing",
			pointer,
			nil,
			"fills-in-the-answer-to",
			name,
			f.label(key),
		)
	}
}
