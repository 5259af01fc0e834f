package main

import (
	"context"
	"fmt"
	"net"
	"strconv"

	"omphalos/core/quiz"
	"omphalos/store"
	"omphalos/web/standin"
)

// connect has what goes out of the demo go to its stand-ins: mail to the mailbox, which is at
// the port after theirs, calls and conversions to their desks.
func connect(ctx context.Context, s *store.Store, standIns string) error {
	host, port, err := net.SplitHostPort(standIns)
	if err != nil {
		return fmt.Errorf("the address of the stand-ins: %w", err)
	}
	n, err := strconv.Atoi(port)
	if err != nil {
		return fmt.Errorf("the port of the stand-ins: %w", err)
	}
	out := s.Outbox
	if err := out.KeepMailSettings(ctx, &store.MailSettings{Host: host, Port: n + 1, Security: store.NoTLS,
		From: "hello@quillbrook.example",
		Name: "Quillbrook Apiary Supply", Footer: "Quillbrook Apiary Supply\n2 Mill Lane, Tallow"}); err != nil {
		return err
	}
	at := "http://" + standIns + "/standin/desk/"
	for _, r := range []store.Receiver{
		{Kind: quiz.CallFollowUp, Name: "Orchard book", Address: at + "calls"},
		{Kind: quiz.CallFollowUp, Name: "List service", Address: at + "list"},
		{Kind: quiz.ConversionFollowUp, Name: "Ads", Address: at + "ads"},
	} {
		r.Secret = standin.DemoSecret
		if err := out.PutReceiver(ctx, &r); err != nil {
			return err
		}
	}
	return out.PutList(ctx, &store.List{Name: "Bee letter", Receiver: "list_service"})
}

// demoFollowed is of how many responses, the newest, follow-ups go out when the demo is served.
const demoFollowed = 160

// follow has follow-ups go out because of a response: those who left an address agreed, and
// half of them want the letter.
func (d *demoRespondents) follow(r *store.Response) error {
	if len(r.Contacts) > 0 {
		yes := func(field string) store.Contact { return store.Contact{Field: field, Kind: quiz.Consent, Value: "yes"} }
		r.Contacts = append(r.Contacts, yes("agree"))
		if d.chance.IntN(2) == 0 {
			r.Contacts = append(r.Contacts, yes("letters"))
			r.Consents = append(r.Consents, store.Consent{Field: "letters",
				Words: "Send me the bee letter, four times a year.", Privacy: "https://quillbrook.example/privacy"})
		}
	}
	in, err := r.Input(d.program)
	if err != nil {
		return err
	}
	d.walker.Walk(in)
	r.FollowUps = store.FollowUps(d.program, d.walker)
	return nil
}
