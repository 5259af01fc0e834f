package player

import (
	"cmp"
	"strings"

	"omphalos/core/program"
	"omphalos/core/quiz"
)

// A frame is what every page of the player has around its content.
type frame struct {
	Title     string
	Language  string
	Owner     string
	Logo      *quiz.Picture
	Words     words
	Look      string // address of its style sheet
	Dress     dress
	Frames    string // origins of pages that may show this one, with blanks between
	Trap      string // name of a field that nobody sees
	Token     string // of the passage that the page is of
	Handed    *handedPart
	Shared    *shared      // of pages that a link leads to, nil of others
	Shown     bool         // it is looked at, and leads nowhere
	Listed    bool         // search engines may list it
	Languages languageWays // to the same page in others, nil where there is no other
}

type words struct{ Next, Back, Start string }

// Say says a sentence of ours in the page's language.
func (f frame) Say(english string, parts ...any) string {
	return tongue(f.Language).say(english, parts...)
}

// Figures writes the numbers in a text as the page's language does.
func (f frame) Figures(text string) string { return tongue(f.Language).figures(text) }

// Direction is "rtl" where the page's language is written from right to left.
func (f frame) Direction() string { return tongue(f.Language).direction() }

// Script is what the script of the page says, in its language: JSON, "" for English.
func (f frame) Script() string { return tongue(f.Language).script() }

// tongue is the language of the quiz.
func (j *journey) tongue() tongue { return tongueOf(j.program) }

func tongueOf(p *program.Program) tongue {
	if p == nil || p.Quiz.Settings == nil {
		return ""
	}
	return tongue(p.Quiz.Settings.Language)
}

// frame returns the frame of a page of the passage that is about a place of the quiz.
func (j *journey) frame(title string, about quiz.Pointer) frame {
	f := newFrame(j.released, title)
	f.Token = j.token()
	if j.handed != nil {
		f.Handed = j.handedOver(about)
	}
	return f
}

// newFrame returns the frame of a page of a quiz, nil for a page of none.
func newFrame(r *released, title string) frame {
	if r == nil {
		r = undressed
	}
	in := tongueOf(r.program)
	f := frame{
		Title: title, Language: "en", Trap: trap, Look: r.looks, Dress: r.dress, Shown: r.shown,
		Words: words{in.say("Next"), in.say("Back"), in.say("Start")},
	}
	if r.program == nil {
		return f
	}
	q := r.program.Quiz
	if q.Look != nil {
		f.Owner, f.Logo = q.Look.Owner, q.Look.Logo
	}
	if s := q.Settings; s != nil {
		f.Language = cmp.Or(s.Language, f.Language)
		f.Frames = strings.Join(s.Frames, " ")
		f.Words.Next, f.Words.Back = cmp.Or(s.Next, f.Words.Next), cmp.Or(s.Back, f.Words.Back)
	}
	if q.Opening != nil {
		f.Words.Start = cmp.Or(q.Opening.Button, f.Words.Start)
	}
	return f
}
