package outbox

import (
	"context"
	"errors"
	"fmt"
	"slices"

	"omphalos/core/fillin"
	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/core/saying"
	"omphalos/store"
)

// A Landed is somebody who has come to the end of a quiz, and what is told of them.
type Landed struct {
	Program *program.Program
	Walker  *passage.Walker
	In      passage.Input
	Result  *passage.Result
	Number  string // of the response, as other systems get it
	Base    string // address of the application
	Sign    func(table, row string) (string, error)
	Extra   map[string]string // what can be filled in beside answers and scores

	filler *passage.Filler
}

// Land walks a passage to its end.
func (l *Landed) Land() *Landed {
	l.Walker = passage.NewWalker(l.Program)
	l.Result = l.Walker.Walk(l.In)
	l.filler = passage.NewFiller(l.Program, l.In, l.Result, l.Number)
	return l
}

// Outcome returns the key and the definition of the outcome.
func (l *Landed) Outcome() (string, *quiz.Outcome) {
	key := passage.OutcomeKey(l.Program, l.Result)
	return key, l.Program.Quiz.Outcomes[key]
}

// plain returns what a name stands for, as it is.
func (l *Landed) plain(name string) (string, bool) {
	if value, is := l.Extra[name]; is {
		return value, true
	}
	return l.filler.Plainly("{" + name + "}"), l.Program.Quiz.Fills(name)
}

// goal returns where an address or a signpost leads, filled in; "" where it leads nowhere.
func (l *Landed) goal(address string, sign *quiz.Signpost) string {
	if sign != nil && l.Sign != nil {
		up, err := l.Sign(sign.Table, l.filler.Row(sign.Row))
		if err != nil || up == "" {
			return ""
		}
		address = up
	}
	template, err := fillin.ParseButton(address)
	if err != nil {
		return ""
	}
	filled, err := l.filler.Address(template)
	if err != nil {
		return ""
	}
	return filled
}

// landed returns who a delivery of a follow-up is because of, and their response. What does not
// hold any more is cancelled: whoever was erased, took a consent back or corrected their
// address, objected, or is in a state in which it shall not go out.
func (w *Worker) landed(ctx context.Context, in *store.Store, d *store.Delivery) (*Landed, *store.Response, error) {
	l, r, err := w.walked(ctx, in, d)
	if err != nil {
		return nil, nil, err
	}
	f := l.Program.Quiz.FollowUps[d.FollowUp]
	if f == nil || !slices.Contains(l.Walker.FollowUps(), d.FollowUp) {
		return nil, nil, fmt.Errorf("%w: what it asks for does not hold any more", errCancelled)
	}
	if r.Lead != nil && r.Lead.Objected && d.Kind != quiz.NoticeFollowUp && d.Kind != quiz.CallFollowUp {
		return nil, nil, fmt.Errorf("%w: they objected to being written to", errCancelled)
	}
	if r.Lead != nil && slices.Contains(f.Unless, r.Lead.State) {
		return nil, nil, fmt.Errorf("%w: the lead is in a state in which it does not go out", errCancelled)
	}
	return l, r, nil
}

// walked returns who a delivery is because of, walked through their release, and their response.
func (w *Worker) walked(ctx context.Context, in *store.Store, d *store.Delivery) (*Landed, *store.Response, error) {
	r, err := in.Outbox.ResponseOf(ctx, d)
	if errors.Is(err, store.ErrNotFound) {
		return nil, nil, fmt.Errorf("%w: the response was deleted", errCancelled)
	}
	if err != nil {
		return nil, nil, err
	}
	language := ""
	if d.Kind != quiz.NoticeFollowUp && !d.Kind.Calls() { // colleagues and other systems read what was written
		language = r.Language
	}
	p, err := w.program(ctx, in, d.ReleaseID, language)
	if err != nil {
		return nil, nil, err
	}
	given, err := r.Input(p)
	if err != nil {
		return nil, nil, fmt.Errorf("%w: %w", errDead, err)
	}
	given.Voice = w.voice(p.Quiz)
	given.Place = func(table, key string) string { return in.Definitions.PlaceName(ctx, table, key) }
	l := (&Landed{Program: p, In: given, Number: store.ResponseNumber(r.Passage), Base: w.with.Base,
		Sign: func(table, row string) (string, error) { return in.Definitions.SignpostAt(ctx, table, row) }}).Land()
	return l, r, nil
}

func (w *Worker) voice(q *quiz.Quiz) *saying.Voice {
	if w.with.Voice == nil {
		return nil
	}
	return w.with.Voice(q)
}

// An inLanguage names a release in a language, "" for that in which it was written.
type inLanguage struct {
	release  uint
	language string
}

// program returns a release in a language, compiled once.
func (w *Worker) program(ctx context.Context, in *store.Store, release uint,
	language string) (*program.Program, error) {
	as := inLanguage{release, language}
	if p, known := w.programs.Get(as); known {
		return p, nil
	}
	var q *quiz.Quiz
	if language == "" {
		r, err := in.Definitions.ReleaseByID(ctx, release)
		if err != nil {
			return nil, err
		}
		if q, err = r.Read(); err != nil {
			return nil, fmt.Errorf("reading the release %d: %w", release, err)
		}
	} else {
		written, err := w.program(ctx, in, release, "")
		if err != nil || written.Quiz.Translations[language] == nil {
			return written, err
		}
		q = written.Quiz.In(language)
	}
	p, err := program.CompileReleased(q)
	if err == nil {
		w.programs.Add(as, p)
	}
	return p, err
}
