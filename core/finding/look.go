package finding

import (
	"fmt"
	"math"
	"strconv"

	"omphalos/core/edit"
	"omphalos/core/quiz"
)

// Contrast ratios that WCAG 2.2 asks for: of text (1.4.3) and of what is not text (1.4.11).
const (
	textContrast  = 4.5
	shapeContrast = 3
)

// Contrast returns the contrast ratio of two colours "#rrggbb", 1 to 21: W3C, WCAG
// 2.2, definitions of relative luminance and contrast ratio. It is 0 for what is no colour.
func Contrast(a, b string) float64 {
	x, okA := luminance(a)
	y, okB := luminance(b)
	if !okA || !okB {
		return 0
	}
	return (max(x, y) + 0.05) / (min(x, y) + 0.05)
}

func luminance(colour string) (float64, bool) {
	r, g, b, ok := channels(colour)
	if !ok {
		return 0, false
	}
	return 0.2126*linear(r) + 0.7152*linear(g) + 0.0722*linear(b), true
}

func channels(colour string) (r, g, b float64, ok bool) {
	if len(colour) != 7 || colour[0] != '#' {
		return 0, 0, 0, false
	}
	n, err := strconv.ParseUint(colour[1:], 16, 32)
	return float64(n>>16) / 255, float64(n>>8&255) / 255, float64(n&255) / 255, err == nil
}

func linear(c float64) float64 {
	if c <= 0.04045 {
		return c / 12.92
	}
	return math.Pow((c+0.055)/1.055, 2.4)
}

// readable moves a colour toward black or white, whichever is farther from the
// other, until the contrast is enough.
func readable(colour, on string, enough float64) string {
	r, g, b, _ := channels(colour)
	to := 0.0
	if Contrast("#000000", on) < Contrast("#ffffff", on) {
		to = 1
	}
	for step := 0.0; step <= 1; step += 0.01 {
		mix := func(c float64) int { return int(math.Round(255 * (c + (to-c)*step))) }
		if mixed := fmt.Sprintf("#%02x%02x%02x", mix(r), mix(g), mix(b)); Contrast(mixed, on) >= enough {
			return mixed
		}
	}
	return fmt.Sprintf("#%02x%02x%02x", int(255*to), int(255*to), int(255*to))
}

func (f *finder) look() {
	l := f.q.Look
	if l == nil || l.Paper == "" {
		return
	}
	check := func(field, colour, name string, enough float64) {
		ratio := Contrast(colour, l.Paper)
		if colour == "" || ratio == 0 || ratio >= enough {
			return
		}
		better := readable(colour, l.Paper, enough)
		f.note(
			"contrast",
			quiz.At("look", field),
			mendWith(say("take-instead", better), put(quiz.At("look", field), better)),
			"is-hard-to-see",
			name,
			colour,
			l.Paper,
			math.Floor(ratio*10)/10,
			enough,
		)
	}
	check("ink", l.Ink, say("text-in"), textContrast)
	check("accent", l.Accent, say("a-button-in"), shapeContrast)
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
