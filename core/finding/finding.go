// Package finding tells what is noticed about a draft: what keeps it from being
// released, what will not work as it was meant, and what could be better. Each
// finding has a place, a sentence, and where a machine can mend it, the patch that
// does.
//
// Much of it is read off the exact odds: what no passage gets to can't be reached,
// whatever the conditions look like. Where odds are sampled, nothing is said to be
// out of reach.
package finding

import (
	"context"
	"slices"
	"time"

	"omphalos/core/decimal"
	"omphalos/core/edit"
	"omphalos/core/odds"
	"omphalos/core/program"
	"omphalos/core/quiz"
)

// Level is how much a finding matters.
type Level string

// The levels.
const (
	Error   Level = "error"   // the quiz can't be released
	Warning Level = "warning" // something will not work as it was meant
	Hint    Level = "hint"    // something could be better
)

// A Finding is one thing that was noticed.
type Finding struct {
	Code     string       `json:"code"` // of Codes, or of a quiz.Problem; stable
	Level    Level        `json:"level"`
	Pointer  quiz.Pointer `json:"pointer"`       // RFC 6901: the place in the document
	Key      string       `json:"key,omitempty"` // of the thing at the place
	Sentence string       `json:"sentence"`      // for a marketer
	Mend     *Mend        `json:"mend,omitempty"`
}

// A Mend makes a finding go away.
type Mend struct {
	Label string    `json:"label"` // of the button: "Remove the condition"
	Patch []edit.Op `json:"patch"` // RFC 6902
}

// Outside tells what lies outside the document. A nil function knows nothing, and
// nothing is found about it.
type Outside struct {
	Signpost func(table, row string) bool
	Product  func(key string) bool
	Unsaid   func(shown *quiz.Products, language string) int // how many of these have no words in it
	Places   func(table string) bool                         // the table offers a place
	Calendar func(name string) bool                          // there is one, and it has hours
	Receiver func(key string) bool                           // there is one
	List     func(key string) bool                           // there is one
	Mailless bool                                            // no mail goes out, since no server is named
	Lost     bool                                            // the server can't tell the country of a visitor
	Today    decimal.Decimal                                 // as quiz.ParseDay gives it, 0 where it is not known
}

// in returns what is noticed about a quiz, in the order of the sheet: opening,
// questions, ledger, decision, outcomes. The odds are those of the program that the
// quiz compiles to; both are nil where it can't be compiled, and then only what can
// be told without them is found. Where the context ends first, what has been found so far
// is returned, and that it is not all. The problems are those of what has been written.
func in(
	ctx context.Context,
	q *quiz.Quiz,
	problems []quiz.Problem,
	p *program.Program,
	o *odds.Odds,
	outside Outside,
) []Finding {
	f := finder{q: q, p: p, o: o, outside: outside}
	for _, problem := range problems {
		f.list = append(
			f.list,
			Finding{
				Code:     problem.Code,
				Level:    Error,
				Pointer:  problem.Pointer,
				Sentence: f.said(problem),
				Mend:     f.mendProblem(problem),
			},
		)
	}
	looks := []func(){f.look, f.pictures, f.questions, f.contact, f.conditions, f.anonymous, f.persons,
		f.countries, f.halfDone, f.followUps, f.languages}
	if p != nil {
		looks = append(looks, f.rangeEnds, f.rehearsals)
	}
	if p != nil && o != nil {
		looks = append(looks, f.misfits, f.decision, f.outcomes, f.lengths)
	}
	for _, look := range looks {
		if ctx.Err() != nil {
			f.list = append(f.list, untold)
			break
		}
		look()
	}
	rank := f.ranks()
	slices.SortStableFunc(f.list, func(a, b Finding) int { return rank(a.Pointer) - rank(b.Pointer) })
	for i := range f.list {
		f.list[i].Key = keyOf(f.list[i].Pointer)
	}
	return f.list
}

// Of compiles a quiz as far as it goes, works out its odds and returns them with
// what is found; both may be nil.
func Of(q *quiz.Quiz, with odds.Options, outside Outside) ([]Finding, *program.Program, *odds.Odds) {
	written := edit.Written(q) // what was never written is not released
	return of(q, written, written.Check(), with, outside)
}

// OfChecked is Of where it is known what Check finds in the quiz.
func OfChecked(
	q *quiz.Quiz,
	problems []quiz.Problem,
	with odds.Options,
	outside Outside,
) ([]Finding, *program.Program, *odds.Odds) {
	written := edit.Written(q)
	if written != q {
		problems = written.Check()
	}
	return of(q, written, problems, with, outside)
}

func of(
	q, written *quiz.Quiz,
	problems []quiz.Problem,
	with odds.Options,
	outside Outside,
) ([]Finding, *program.Program, *odds.Odds) {
	ctx := with.Context
	if ctx == nil {
		ctx = context.Background()
	}
	p, err := program.CompileDraft(written, problems)
	if err != nil {
		return in(ctx, q, problems, nil, nil, outside), nil, nil
	}
	asked := p
	if outside.Today != 0 {
		asked = p.On(outside.Today)
	}
	o, err := odds.Of(asked, with)
	if err != nil {
		ctx, stop := context.WithTimeout(context.WithoutCancel(ctx), plainTime)
		defer stop()
		list := in(ctx, q, problems, p, nil, outside)
		if ctx.Err() == nil {
			list = append(list, untold)
		}
		return list, p, nil
	}
	return in(ctx, q, problems, p, o, outside), p, o
}

// plainTime is how long it is looked for what can be told without odds, once their time is over.
const plainTime = 500 * time.Millisecond

// untold is found where there was no time to look for all.
var untold = Finding{Code: "odds-untold", Level: Codes["odds-untold"].Level,
	Sentence: say("odds-untold")}

type finder struct {
	q       *quiz.Quiz
	p       *program.Program
	o       *odds.Odds
	outside Outside
	list    []Finding
	asked   map[string]bool // questions that something asks for
}

// note adds a finding, whose sentence is one of words.go; mend may be nil.
func (f *finder) note(code string, pointer quiz.Pointer, mend *Mend, sentence string, parts ...any) {
	f.list = append(
		f.list,
		Finding{
			Code:     code,
			Level:    Codes[code].Level,
			Pointer:  pointer,
			Sentence: say(sentence, parts...),
			Mend:     mend,
		},
	)
}

// mend makes a Mend of operations; its label is one of words.go.
func mend(label string, ops ...edit.Op) *Mend { return mendWith(say(label), ops...) }

func mendWith(label string, ops ...edit.Op) *Mend { return &Mend{label, ops} }

func remove(path quiz.Pointer) edit.Op { return edit.Op{Op: "remove", Path: path} }

func put(path quiz.Pointer, value any) edit.Op { return edit.Op{Op: "add", Path: path, Value: value} }
