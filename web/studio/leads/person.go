package leads

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strconv"
	"time"

	"omphalos/core/atlas"
	"omphalos/store"
	"omphalos/web/studio/desk"
)

// A person is a lead that is open, with all that is known of them.
type person struct {
	row
	Country   string
	States    []stateChoice
	Owners    []desk.Option
	Responses []given
	History   []event
	Consents  []store.Consent
	Out       []went // what went out, or is to
	Address   string // where it is changed, erased, taken out
	Others    []desk.Option
	Weekday   string // of the next step
}

// A given response of the person, with why it came to what it did.
type given struct {
	Quiz, Title string // where the response is looked at, and what its quiz is called
	Number      int
	QuizID      uint
	Finished    time.Time
	Release     int
	Outcome     desk.Share
	Asked       []reply
	Why         []string
	Went        string // the address of a redirect
	Unread      bool   // its release can't be read any more
}

// A went is a delivery because of one of the person's responses.
type went struct {
	Words, Stands string
	Bad           bool
	When          time.Time
	Address       string // where it is looked after
}

// A reply is an answer with what it adds to the scale by which respondents are sorted, or to
// whichever it adds.
type reply struct {
	Number          int
	Question, Words string
	Adds            string
}

// An event of the history, as it is told.
type event struct {
	Words, Note string
	By          string
	Made        time.Time
}

// mostTold is how many responses of a lead are told with their answers.
const mostTold = 20

func (s *Room) open(ctx context.Context, in *sentence, id uint) (*person, error) {
	l, err := s.Store.Responses.Lead(ctx, id)
	if errors.Is(err, store.ErrNotFound) {
		return nil, nil // who is gone is not open
	}
	if err != nil {
		return nil, err
	}
	p := &person{Address: "/studio/leads/person/" + strconv.FormatUint(uint64(id), 10),
		Country: atlas.Name(l.Country, "en")}
	if l.Country == "" {
		p.Country = ""
	}
	if p.row, err = s.row(ctx, in, l, 0); err != nil {
		return nil, err
	}
	p.States, p.Owners = in.states(l.State), in.owners(l.OwnerID)
	if day, err := time.Parse(time.DateOnly, l.Next); err == nil {
		p.Weekday = day.Weekday().String()
	}
	responses, err := s.Store.Responses.ResponsesOf(ctx, id)
	if err != nil {
		return nil, err
	}
	if p.Out, err = s.went(ctx, responses); err != nil {
		return nil, err
	}
	for i := range responses {
		p.Consents = append(p.Consents, responses[i].Consents...)
		if i < mostTold {
			p.Responses = append(p.Responses, s.given(ctx, in, &responses[i]))
		}
	}
	history, err := s.Store.Responses.History(ctx, id)
	if err != nil {
		return nil, err
	}
	for _, e := range history {
		p.History = append(p.History, in.told(e))
	}
	return p, s.alike(ctx, p)
}

// went tells what went out because of some responses.
func (s *Room) went(ctx context.Context, responses []store.Response) ([]went, error) {
	ids := make([]uint, len(responses))
	for i := range responses {
		ids[i] = responses[i].ID
	}
	list, err := s.Store.Outbox.DeliveriesOf(ctx, ids...)
	var out []went
	for i := range list {
		d := &list[i]
		one := went{Words: desk.DeliveryWords(d),
			Address: fmt.Sprintf("/studio/outbox?quiz=%d&number=%d&open=%d", d.QuizID, d.Number, d.ID)}
		if d.About != "" {
			one.Words += ": " + d.About
		}
		one.Stands, one.Bad, one.When = desk.Stands(d)
		out = append(out, one)
	}
	return out, err
}

// given tells a response of a lead.
func (s *Room) given(ctx context.Context, in *sentence, r *store.Response) given {
	g := given{Quiz: fmt.Sprintf("/studio/quizzes/%d/learn/%d", r.QuizID, r.Number), Title: in.quizzes[r.QuizID],
		Number: r.Number, QuizID: r.QuizID, Finished: r.Finished, Went: r.Address}
	w, err := s.Walked(ctx, r)
	if err != nil {
		g.Unread = true
		return g
	}
	g.Release, g.Outcome = w.Release, w.Outcome
	for _, a := range w.Explanation.Asked {
		if a.Answer == "" {
			continue
		}
		one := reply{Number: 1 + slices.Index(w.Quiz.QuestionKeys(), a.Question), Question: a.Label, Words: a.Answer}
		for i, add := range a.Adds {
			if i > 0 {
				one.Adds += ", "
			}
			one.Adds += add.Amount.Signed()
			if len(w.Quiz.Scales) > 1 {
				one.Adds += " " + add.Name
			}
		}
		g.Asked = append(g.Asked, one)
	}
	for _, step := range w.Explanation.Steps {
		g.Why = append(g.Why, step.Because)
	}
	for _, landing := range w.Explanation.Landings {
		g.Why = append(g.Why, landing.Because)
	}
	return g
}

// told tells an event of the history.
func (in *sentence) told(e store.LeadEvent) event {
	to := event{Made: e.Made, By: in.nameOf(e.UserID)}
	if e.UserID == 0 {
		to.By = "by rule"
	}
	id := func(text string) uint { n, _ := strconv.ParseUint(text, 10, 64); return uint(n) }
	switch e.Kind {
	case store.Stated:
		to.Words = in.settings.State(e.After).Name + ", was " + in.settings.State(e.Before).Name
	case store.Owned:
		to.Words = "in the hands of " + in.nameOf(id(e.After))
	case store.Dated:
		if to.Words = "next on " + e.After; e.After == "" {
			to.Words = "no next day any more"
		}
	case store.Noted:
		to.Note = e.After
	case store.Merged:
		to.Words = "put together with " + e.After
	case store.Parted:
		to.Words = "parted from " + e.After
	case store.Objecting:
		if to.Words = "objects to being written to or called"; e.After != "true" {
			to.Words = "objects no more"
		}
	}
	return to
}

// mostAlike is how many leads of the same name are offered to be put together.
const mostAlike = 8

// alike finds leads that may be the same person.
func (s *Room) alike(ctx context.Context, p *person) error {
	list, err := s.Store.Responses.Namesakes(ctx, p.Lead, mostAlike)
	for _, l := range list {
		words := l.Called()
		for _, more := range []string{l.Company, l.Email, l.Phone} {
			if more != "" && more != words {
				words += " · " + more
			}
		}
		p.Others = append(p.Others, desk.Option{Value: strconv.FormatUint(uint64(l.ID), 10), Name: words})
	}
	return err
}
