package outbox

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"time"

	"omphalos/core/quiz"
	"omphalos/interchange/markdown"
	"omphalos/store"
)

// join puts somebody on a list, with the proof that they agreed.
func (w *Worker) join(ctx context.Context, in *store.Store, d *store.Delivery) error {
	l, r, err := w.landed(ctx, in, d)
	if err != nil {
		return err
	}
	f := l.Program.Quiz.FollowUps[d.FollowUp]
	list, err := in.Outbox.List(ctx, f.List)
	if errors.Is(err, store.ErrNotFound) {
		return fmt.Errorf("%w: the list “%s” is not there any more", errDead, f.List)
	}
	if err != nil {
		return err
	}
	s := store.Subscription{Address: l.Walker.Email()}
	if r.Lead != nil {
		s.Name = r.Lead.Name
	}
	for _, c := range r.Consents {
		if c.Field == f.Consent {
			s.Words, s.Privacy, s.Given = c.Words, c.Privacy, c.Given
		}
	}
	if s.Given.IsZero() {
		return fmt.Errorf("%w: there is no proof of consent", errCancelled)
	}
	d.Recipient, d.About = s.Address, list.Name
	err = in.Outbox.Join(ctx, list, *d, s)
	if errors.Is(err, store.ErrUnsubscribed) {
		return fmt.Errorf("%w: they want no mail", errCancelled)
	}
	return err
}

// ofList sends what follows from a sign-up: the mail that asks to confirm it, or what tells
// others of it.
func (w *Worker) ofList(ctx context.Context, in *store.Store, d *store.Delivery) error {
	r, err := in.Outbox.ResponseOf(ctx, d)
	if errors.Is(err, store.ErrNotFound) {
		return fmt.Errorf("%w: the response was deleted", errCancelled)
	}
	if err != nil {
		return err
	}
	p, err := w.program(ctx, in, r.ReleaseID, r.Language)
	if err != nil {
		return err
	}
	f := p.Quiz.FollowUps[d.FollowUp]
	if f == nil {
		return fmt.Errorf("%w: the follow-up is not there any more", errCancelled)
	}
	list, err := in.Outbox.List(ctx, f.List)
	if err == nil {
		var s *store.Subscription
		if s, err = in.Outbox.SubscriptionOf(ctx, f.List, r.ID); err == nil {
			d.About = list.Name
			if d.Step == store.ConfirmStep {
				return w.confirm(ctx, in, p.Quiz, list, s, d)
			}
			return w.tellOf(ctx, in, list, s, d)
		}
	}
	if errors.Is(err, store.ErrNotFound) {
		return fmt.Errorf("%w: the list or the sign-up is not there any more", errCancelled)
	}
	return err
}

// confirm asks whoever signed up whether it was them.
func (w *Worker) confirm(ctx context.Context, in *store.Store, q *quiz.Quiz, list *store.List,
	s *store.Subscription, d *store.Delivery) error {
	if s.State != store.Asked {
		return fmt.Errorf("%w: it is answered already", errCancelled)
	}
	voice := w.voice(q)
	page := sheetOf(q, w.with.Base, cmp.Or(list.Subject, voice.Say(confirmTitle, list.Name)))
	words := cmp.Or(list.Text, voice.Say(confirmWords, list.Name))
	at := w.with.Base + ConfirmPlace + s.Token + spoken(q)
	page.Blocks = []part{
		{HTML: markdown.HTML(words), Words: readable(words)},
		{Button: voice.Say(confirmYes), Address: at},
	}
	letter := page.letter()
	letter.To = []string{s.Address}
	d.Recipient = s.Address
	return w.toRespondent(ctx, in, q, d, letter)
}

// A subscriptionTold is what others are told of a subscription.
type subscriptionTold struct {
	List      string     `json:"list"`
	Address   string     `json:"address"`
	Name      string     `json:"name"`
	Words     string     `json:"words"`
	Privacy   string     `json:"privacy,omitempty"`
	Given     time.Time  `json:"given"`
	Confirmed *time.Time `json:"confirmed,omitempty"`
	Left      *time.Time `json:"left,omitempty"`
}

// tellOf tells another system, or somebody by mail, who joined or left a list.
func (w *Worker) tellOf(ctx context.Context, in *store.Store, list *store.List, s *store.Subscription,
	d *store.Delivery) error {
	told := subscriptionTold{list.Key, s.Address, s.Name, s.Words, s.Privacy, s.Given, s.Confirmed, s.Ended}
	kind, verb := joinedEvent, "joined"
	if d.Step == store.LeaveStep {
		kind, verb = leftEvent, "left"
	}
	if list.Receiver != "" {
		to, err := receiver(ctx, in, list.Receiver)
		if err != nil {
			return err
		}
		extra := map[string]string{"event": verb, "event_id": d.Key, "list": list.Key, "address": s.Address,
			"name": s.Name, "words": s.Words, "given": s.Given.UTC().Format(time.RFC3339)}
		return w.tell(ctx, to, d, extra, nil, func() ([]byte, string, error) {
			return enveloped(kind, d, w.with.Base, list.Key, time.Now(), told)
		})
	}
	if list.Address == "" {
		return fmt.Errorf("%w: nobody is told of the list any more", errCancelled)
	}
	settings, err := in.Outbox.MailSettings(ctx)
	if err != nil {
		return err
	}
	page := sheetOf(&quiz.Quiz{}, w.with.Base, fmt.Sprintf("%s %s %s", s.Address, verb, list.Name))
	page.Facts = []fact{{"List", list.Name}, {"Address", s.Address}, {"Name", s.Name}, {"Agreed to", s.Words},
		{"On", s.Given.UTC().Format(time.RFC1123)}}
	letter := page.letter()
	letter.To = []string{list.Address}
	d.Recipient = list.Address
	return w.post(ctx, settings, d.Key, letter)
}
