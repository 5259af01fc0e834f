package finding

import (
	"math"

	"omphalos/core/edit"
	"omphalos/core/look"
	"omphalos/core/quiz"
)

// look notes colours that can't be read, where respondents may see them: words, and what can
// be pressed. All others are made so that they can.
func (f *finder) look() {
	l := f.q.Look
	if l == nil {
		return
	}
	dress := look.Of(l)
	for _, at := range []quiz.Pointer{"/look", "/look/dark"} {
		p, shown := dress.Shown()[at]
		if !shown {
			continue
		}
		f.contrast(at+"/ink", p.Ink, say("text-in"), look.TextContrast, p.Paper, p.Sheet)
		f.contrast(at+"/accent", p.Accent, say("a-button-in"), look.ShapeContrast, p.Paper, p.Sheet)
	}
}

func (f *finder) contrast(at quiz.Pointer, colour string, name string, enough float64, paper, sheet string) {
	on := paper
	if look.Contrast(colour, sheet) < look.Contrast(colour, paper) {
		on = sheet
	}
	ratio := look.Contrast(colour, on)
	if ratio >= enough {
		return
	}
	better := look.Readable(colour, enough, paper, sheet)
	patch := []edit.Op{put(at, better)}
	if parent := at.Parent(); parent == "/look/dark" && f.q.Look.Dark == nil {
		patch = append([]edit.Op{{Op: "add", Path: parent, Value: map[string]any{}}}, patch...)
	}
	f.note(
		"contrast",
		at,
		mendWith(say("take-instead", better), patch...),
		"is-hard-to-see",
		name,
		colour,
		on,
		math.Floor(ratio*10)/10,
		enough,
	)
}

// pictures without a description are nothing to those who can't see them.
func (f *finder) pictures() {
	check := func(pointer quiz.Pointer, p *quiz.Picture, of string) {
		if p != nil && p.Elsewhere() {
			f.note(
				"picture-elsewhere",
				pointer,
				mend("take-the-picture-away", edit.Op{Op: "remove", Path: pointer}),
				"the-picture-is-on",
				of,
			)
		}
		if p != nil && p.Source != "" && p.Description == "" {
			f.note(
				"picture-undescribed",
				pointer+"/description",
				nil,
				"the-picture-has-no",
				of,
			)
		}
	}
	if f.q.Opening != nil {
		check("/opening/picture", f.q.Opening.Picture, say("of-the-opening"))
	}
	if l := f.q.Look; l != nil && l.Shared != nil {
		check("/look/shared/picture", l.Shared.Picture, say("as-it-is-shared"))
	}
	for _, k := range quiz.InOrder(f.q.Sections) {
		check(quiz.At("sections", k, "picture"), f.q.Sections[k].Picture,
			say("of-the-section", quote(f.q.Sections[k].Heading, k)))
	}
	for _, k := range f.q.QuestionKeys() {
		q := f.q.Questions[k]
		check(quiz.At("questions", k, "picture"), q.Picture, say("of", f.label(k)))
		for _, a := range quiz.InOrder(q.Answers) {
			check(
				quiz.At("questions", k, "answers", a, "picture"),
				q.Answers[a].Picture,
				say("of-the-answer", quote(q.Answers[a].Label, a)),
			)
		}
	}
	for _, k := range quiz.InOrder(f.q.Outcomes) {
		check(quiz.At("outcomes", k, "picture"), f.q.Outcomes[k].Picture, say("of", f.outcome(k)))
		for _, l := range quiz.InOrder(f.q.Outcomes[k].Landings) {
			for b, block := range f.q.Outcomes[k].Landings[l].Blocks {
				check(
					quiz.At("outcomes", k, "landings", l, "blocks", b, "picture"),
					block.Picture,
					say("on-a-landing", f.outcome(k)),
				)
			}
		}
	}
}
