package api

import (
	"context"
	"net/http"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/conditional"

	"omphalos/core/quiz"
	"omphalos/store"
)

// A Webhook is a receiver that is called when somebody lands, signed as Standard Webhooks has
// it. Follow-ups of quizzes say which.
type Webhook struct {
	Key     string    `json:"key" readOnly:"true" required:"false"`
	Kind    string    `json:"kind" enum:"call,conversion" doc:"It is told what somebody answered, or of conversions."`
	Name    string    `json:"name" minLength:"1" maxLength:"100"`
	Address string    `json:"address" doc:"http or https; may hold fill-ins (RFC 6570)."`
	Headers []string  `json:"headers,omitempty" doc:"Of its own, each as Name: value."`
	Type    string    `json:"type,omitempty" doc:"Media type of a body of its own."`
	Body    string    `json:"body,omitempty" doc:"With fill-ins; without, it is an event of CloudEvents 1.0."`
	Paused  bool      `json:"paused,omitempty" doc:"What goes to it waits."`
	Made    time.Time `json:"made" readOnly:"true" required:"false"`
}

// A Secret is what calls are signed with.
type Secret struct {
	Secret      string     `json:"secret"`
	FormerUntil *time.Time `json:"formerUntil,omitempty" doc:"Until then calls are signed with the former secret, too."`
}

// OfWebhook names a webhook.
type OfWebhook struct {
	Key string `path:"key" pattern:"^[a-z][a-z0-9_]{0,59}$"`
}

func (a *api) webhooks() {
	one := func(ctx context.Context, key string, kept *store.Receiver) find[Webhook] {
		return func() (Webhook, bool, error) {
			list, err := a.store.Outbox.Receivers(ctx)
			found, there, err := among(list, err, func(r store.Receiver) bool { return r.Key == key })
			*kept = found
			return webhookOf(&found), there, err
		}
	}
	huma.Register(a, path(http.MethodGet, "/webhooks", store.ManageCalls, "Webhooks", "listWebhooks",
		"All webhooks"), func(ctx context.Context, in *struct{ conditional.Params }) (*Got[List[Webhook]], error) {
		list, err := a.store.Outbox.Receivers(ctx)
		if err != nil {
			return nil, problem(err)
		}
		var told []Webhook
		for i := range list {
			told = append(told, webhookOf(&list[i]))
		}
		return all(told, &in.Params)
	})
	huma.Register(a, path(http.MethodPut, "/webhooks/{key}", store.ManageCalls, "Webhooks", "putWebhook",
		"Make a webhook, or change it", http.StatusPreconditionFailed), func(ctx context.Context, in *struct {
		OfWebhook
		conditional.Params
		Body Webhook
	}) (*Got[Webhook], error) {
		var kept store.Receiver
		return putting(one(ctx, in.Key, &kept), &in.Params, func(Webhook) error {
			b, next := in.Body, kept
			if next.Key == "" {
				next.Key, next.Made = in.Key, time.Now().UTC()
			}
			next.Kind, next.Name, next.Address, next.Headers = quiz.FollowUpKind(b.Kind), b.Name, b.Address,
				strings.Join(b.Headers, "\n")
			next.Type, next.Body, next.Paused = b.Type, b.Body, b.Paused
			return a.store.Outbox.PutReceiver(ctx, &next)
		}, store.ErrReceiver)
	})
	huma.Register(a, path(http.MethodDelete, "/webhooks/{key}", store.ManageCalls, "Webhooks", "deleteWebhook",
		"Take a webhook away", http.StatusNotFound, http.StatusPreconditionFailed), func(ctx context.Context, in *struct {
		OfWebhook
		conditional.Params
	}) (*struct{}, error) {
		var kept store.Receiver
		return removing(one(ctx, in.Key, &kept), &in.Params, func() error {
			return a.store.Outbox.RemoveReceiver(ctx, in.Key)
		})
	})
	huma.Register(a, path(http.MethodGet, "/webhooks/{key}/secret", store.ManageCalls, "Webhooks",
		"getWebhookSecret", "The secret that calls are signed with", http.StatusNotFound),
		func(ctx context.Context, in *struct {
			OfWebhook
			conditional.Params
		}) (*Got[Secret], error) {
			r, err := a.store.Outbox.Receiver(ctx, in.Key)
			if err != nil {
				return nil, problem(err)
			}
			return got(secretOf(r), &in.Params)
		})
	huma.Register(a, path(http.MethodPost, "/webhooks/{key}/secret", store.ManageCalls, "Webhooks",
		"turnWebhookSecret", "Give it another secret; the former one signs too for two days",
		http.StatusNotFound), func(ctx context.Context, in *struct{ OfWebhook }) (*Got[Secret], error) {
		if err := a.store.Outbox.TurnSecret(ctx, in.Key); err != nil {
			return nil, problem(err)
		}
		r, err := a.store.Outbox.Receiver(ctx, in.Key)
		if err != nil {
			return nil, problem(err)
		}
		return got(secretOf(r), &conditional.Params{})
	})
	huma.Register(a, path(http.MethodPost, "/webhooks/{key}/test", store.ManageCalls, "Webhooks", "testWebhook",
		"Call it at once with an event that tells of nobody", http.StatusNotFound, http.StatusBadGateway),
		func(ctx context.Context, in *struct{ OfWebhook }) (*struct{}, error) {
			r, err := a.store.Outbox.Receiver(ctx, in.Key)
			if err != nil {
				return nil, problem(err)
			}
			if a.Outbox == nil {
				return nil, huma.Error503ServiceUnavailable("Nothing goes out from here.")
			}
			ctx, stop := context.WithTimeout(ctx, testsWithin)
			defer stop()
			if err := a.Outbox.TestCall(ctx, r); err != nil {
				return nil, huma.Error502BadGateway("It was not taken: " + err.Error())
			}
			return nil, nil
		})
}

const testsWithin = 10 * time.Second

func webhookOf(r *store.Receiver) Webhook {
	w := Webhook{Key: r.Key, Kind: string(r.Kind), Name: r.Name, Address: r.Address, Type: r.Type, Body: r.Body,
		Paused: r.Paused, Made: r.Made.UTC()}
	for line := range strings.Lines(r.Headers) {
		if line = strings.TrimSpace(line); line != "" {
			w.Headers = append(w.Headers, line)
		}
	}
	return w
}

func secretOf(r *store.Receiver) Secret {
	s := Secret{Secret: r.Secret}
	if len(r.Secrets(time.Now())) > 1 {
		s.FormerUntil = r.FormerUntil
	}
	return s
}
