// Package look is how a quiz is dressed: the made looks that ship, what a quiz sets beside
// one, and colours that can be read.
//
// A made look is no more than a choice of each part: colours in light and dark, typefaces,
// how answers, buttons and progress look, where pictures stand, what is around the words.
// So every part of it can be changed by itself, and what is not changed belongs together.
package look

import (
	"cmp"

	"omphalos/core/quiz"
)

// A Dress is a look with all of it known.
type Dress struct {
	Made quiz.Made
	Parts
	Given       quiz.Colours // in the light
	GivenDark   quiz.Colours
	Light, Dark Palette
}

// Parts are what a look chooses beside colours.
type Parts struct {
	Scheme             quiz.Scheme
	Typeface, Headings quiz.Typeface
	Weight             quiz.Weight
	Corners            quiz.Corners
	Density            quiz.Density
	Width              quiz.Width
	Align              quiz.Align
	Answers            quiz.AnswerForm
	Buttons            quiz.ButtonForm
	Progress           quiz.Progress
	Ornament           quiz.Ornament
	Layout             quiz.Layout
}

// Of returns the dress of a look; nil is the made look Almanac. A look that brings a paper or
// an ink of its own, and none for the dark, stays light unless it says otherwise.
func Of(l *quiz.Look) Dress {
	if l == nil {
		l = &quiz.Look{}
	}
	made := cmp.Or(l.Made, quiz.Almanac)
	m, known := mades[made]
	if !known {
		made, m = quiz.Almanac, mades[quiz.Almanac]
	}
	d := Dress{Made: made, Given: filled(l.Colours, m.Light), GivenDark: m.Dark, Parts: Parts{
		Scheme:   cmp.Or(l.Scheme, m.Scheme),
		Typeface: cmp.Or(l.Typeface, m.Typeface),
		Headings: cmp.Or(l.Headings, l.Typeface, m.Headings),
		Weight:   cmp.Or(l.Weight, m.Weight),
		Corners:  cmp.Or(l.Corners, m.Corners),
		Density:  cmp.Or(l.Density, m.Density),
		Width:    cmp.Or(l.Width, m.Width),
		Align:    cmp.Or(l.Align, m.Align),
		Answers:  cmp.Or(l.Answers, m.Answers),
		Buttons:  cmp.Or(l.Buttons, m.Buttons),
		Progress: cmp.Or(l.Progress, m.Progress),
		Ornament: cmp.Or(l.Ornament, m.Ornament),
		Layout:   cmp.Or(l.Layout, m.Layout),
	}}
	if l.Colours != (quiz.Colours{}) {
		d.GivenDark = Darkened(d.Given)
		if l.Scheme == "" && l.Dark == nil && (l.Paper != "" || l.Ink != "") {
			d.Scheme = quiz.LightOnly
		}
	}
	if l.Dark != nil {
		d.GivenDark = filled(*l.Dark, d.GivenDark)
	}
	d.Light, d.Dark = derive(d.Given), derive(d.GivenDark)
	return d
}

// Shown are the palettes that respondents may see, by the place of their colours in the
// document.
func (d Dress) Shown() map[quiz.Pointer]Palette {
	shown := map[quiz.Pointer]Palette{}
	if d.Scheme != quiz.DarkOnly {
		shown["/look"] = d.Light
	}
	if d.Scheme != quiz.LightOnly {
		shown["/look/dark"] = d.Dark
	}
	return shown
}
