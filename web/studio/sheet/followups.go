package sheet

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"

	"omphalos/core/edit"
	"omphalos/core/quiz"
	"omphalos/store"
	"omphalos/web/studio/desk"
	"omphalos/web/ui"
)

// A beyond is what the workspace has for follow-ups to go to.
type beyond struct {
	receivers []store.Receiver
	lists     []store.List
	states    []store.LeadState
	mail      bool // a mail server is named
	figures   map[string]store.Figures
}

// A followUpsPart is the head of the follow-ups on the sheet.
type followUpsPart struct {
	Kinds []choice
	Any   bool
}

// A followUpPart is a follow-up on the sheet: a sentence, and what it says.
type followUpPart struct {
	*quiz.FollowUp
	Path     quiz.Pointer
	Key      string
	Number   int
	Of       string // what it is, for what is read out
	Kinds    []choice
	When     whenPart
	Consents []choice
	Needs    bool // a consent
	Waits    []patchChoice
	Unless   []productChoice // states of the lead
	Blocks   []blockPart
	Whom     []choice
	Digests  []choice
	Copies   string // the addresses, in one line
	Chosen   string // the receiver or the list
	Goals    []choice
	Worths   []choice
	Scale    string
	Currency string
	Amounts  []amount // by outcome
	Figures  []figure
	Preview  string // address of how it looks, "" where it is no mail
	Mind     *mind
	First    bool
	Last     bool
}

// An amount is what a conversion is worth with an outcome.
type amount struct {
	Path               quiz.Pointer
	Letter, Name, Text string
}

// A figure of a follow-up is how many deliveries stand so, and where they are seen.
type figure struct {
	Words, Address string
	Bad            bool
}

// kindsOfFollowUp are what can go out, as it is read in the sentence.
var kindsOfFollowUp = []choice{
	{Key: string(quiz.MailFollowUp), Name: "mail them"},
	{Key: string(quiz.NoticeFollowUp), Name: "tell colleagues"},
	{Key: string(quiz.ListFollowUp), Name: "sign them up"},
	{Key: string(quiz.CallFollowUp), Name: "call another system"},
	{Key: string(quiz.ConversionFollowUp), Name: "tell an ad account"},
}

// waits are how long a follow-up may wait, in minutes.
var waits = []struct {
	minutes int
	words   string
}{{0, "at once"}, {10, "after ten minutes"}, {60, "after an hour"}, {24 * 60, "after a day"},
	{2 * 24 * 60, "after two days"},
	{3 * 24 * 60, "after three days"}, {7 * 24 * 60, "after a week"}, {14 * 24 * 60, "after two weeks"},
	{30 * 24 * 60, "after a month"}}

func (sh *Sheet) followUpsHead() followUpsPart {
	return followUpsPart{Kinds: kindsOfFollowUp, Any: len(sh.Doc.FollowUps) > 0}
}

func (sh *Sheet) followUp(key string) followUpPart {
	f := sh.Doc.FollowUps[key]
	keys := quiz.InOrder(sh.Doc.FollowUps)
	i := slices.Index(keys, key)
	p := followUpPart{FollowUp: f, Key: key, Path: quiz.At("followUps", key), Number: i + 1,
		Of:    fmt.Sprintf("follow-up %d", i+1),
		Kinds: kindsOfFollowUp, First: i == 0, Last: i == len(keys)-1, Mind: sh.mind(quiz.At("followUps", key))}
	p.When = sh.when(p.Path+"/when", p.Of, f.When)
	p.Needs = f.Kind == quiz.ListFollowUp || f.Kind == quiz.ConversionFollowUp
	for _, k := range sh.Doc.Consents() {
		p.Consents = append(p.Consents, choice{Key: k, Name: short(cmp.Or(sh.Doc.Ask(k).Label, k))})
	}
	p.Waits = waitsOf(f, p.Path)
	if f.Wait > 0 {
		p.Unless = sh.unless(f, p.Path)
	}
	switch f.Kind {
	case quiz.MailFollowUp, quiz.NoticeFollowUp:
		p.Blocks = sh.blocks(f.Blocks, p.Path, p.Of)
		p.Preview = fmt.Sprintf("/studio/quizzes/%d/follow-ups/%s", sh.Quiz.ID, key)
		p.Whom = []choice{{Key: string(quiz.ToOwner), Name: "in whose hands the lead is, else"}}
		p.Digests = []choice{{Key: string(quiz.Daily), Name: "gathered, each morning"},
			{Key: string(quiz.Weekly), Name: "gathered, on Mondays"}}
		p.Copies = strings.Join(f.Addresses, ", ")
	case quiz.ListFollowUp:
		p.Chosen = f.List
		for _, l := range sh.beyond.lists {
			p.Goals = append(p.Goals, choice{Key: l.Key, Name: l.Name})
		}
	default:
		p.Chosen = f.Receiver
		for _, r := range sh.beyond.receivers {
			if r.Kind == f.Kind {
				p.Goals = append(p.Goals, choice{Key: r.Key, Name: r.Name})
			}
		}
	}
	if f.Kind == quiz.ConversionFollowUp {
		for _, c := range sh.Columns {
			p.Worths = append(p.Worths, choice{Key: c.Key, Name: "what " + c.Name + " comes to"})
		}
		worth := quiz.Worth{}
		if f.Worth != nil {
			worth = *f.Worth
		}
		p.Scale, p.Currency = worth.Scale, worth.Currency
		for _, k := range quiz.InOrder(sh.Doc.Outcomes) {
			one := amount{Path: p.Path.Join("worth", "outcomes", k), Name: cmp.Or(sh.Doc.Outcomes[k].Name, k),
				Letter: sh.Doc.Letter(k)}
			if is, has := worth.Outcomes[k]; has {
				one.Text = is.Words()
			}
			p.Amounts = append(p.Amounts, one)
		}
	}
	p.Figures = figuresOf(sh.Quiz.ID, key, sh.beyond.figures[key])
	return p
}

// waitsOf are the waits of the list, with that which is set.
func waitsOf(f *quiz.FollowUp, path quiz.Pointer) []patchChoice {
	var list []patchChoice
	known := false
	put := func(minutes int, words string) {
		op := edit.Op{Op: "add", Path: path + "/wait", Value: minutes}
		list = append(list, patchChoice{words, desk.PatchText([]edit.Op{op}), f.Wait == minutes})
		known = known || f.Wait == minutes
	}
	for _, w := range waits {
		put(w.minutes, w.words)
	}
	if !known {
		put(f.Wait, "after "+quiz.Count(f.Wait, "minute"))
	}
	return list
}

// unless are the states of a lead in which something does not go out after waiting.
func (sh *Sheet) unless(f *quiz.FollowUp, path quiz.Pointer) []productChoice {
	var list []productChoice
	for _, s := range sh.beyond.states {
		next := slices.DeleteFunc(slices.Clone(f.Unless), func(key string) bool { return key == s.Key })
		chosen := len(next) < len(f.Unless)
		if !chosen {
			next = append(next, s.Key)
		}
		list = append(list, productChoice{Name: s.Name, Chosen: chosen,
			Patch: desk.PatchText([]edit.Op{{Op: "add", Path: path + "/unless", Value: next}})})
	}
	return list
}

func figuresOf(quizID uint, key string, f store.Figures) []figure {
	var list []figure
	for _, one := range []struct {
		n     int
		state string
		words string
		bad   bool
	}{{f.Delivered, store.Delivered, "delivered", false}, {f.Waiting, store.Waiting, "waiting", false},
		{f.Failing, store.Failing, "failing", true}, {f.Dead, store.Dead, "given up", true}} {
		if one.n > 0 {
			list = append(list, figure{ui.Count(one.n) + " " + one.words,
				fmt.Sprintf("/studio/outbox?quiz=%d&follow=%s&state=%s", quizID, key, one.state), one.bad})
		}
	}
	return list
}

// beyondOf reads what the workspace has for follow-ups to go to, where the quiz has any.
func (s *Room) beyondOf(ctx context.Context, sh *Sheet) (err error) {
	if len(sh.Doc.FollowUps) == 0 {
		return nil
	}
	b := &sh.beyond
	if b.receivers, err = s.Store.Outbox.Receivers(ctx); err != nil {
		return err
	}
	if b.lists, err = s.Store.Outbox.Lists(ctx); err != nil {
		return err
	}
	settings, err := s.Store.Responses.LeadSettings(ctx)
	if err != nil {
		return err
	}
	b.states = settings.States
	mail, err := s.Store.Outbox.MailSettings(ctx)
	if err != nil {
		return err
	}
	b.mail = mail.Ready()
	b.figures, err = s.Store.Outbox.Figures(ctx, sh.Quiz.ID)
	return err
}

func (sh *Sheet) receiverThere(key string) bool {
	return slices.ContainsFunc(sh.beyond.receivers, func(r store.Receiver) bool { return r.Key == key })
}

func (sh *Sheet) listThere(key string) bool {
	return slices.ContainsFunc(sh.beyond.lists, func(l store.List) bool { return l.Key == key })
}
