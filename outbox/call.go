package outbox

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"mime"
	"net/http"
	"net/url"
	"strconv"
	"strings"
	"time"

	standardwebhooks "github.com/standard-webhooks/standard-webhooks/libraries/go"

	"omphalos/core/fillin"
	"omphalos/core/quiz"
	"omphalos/store"
)

// call calls another system: with what somebody answered, or with a conversion.
func (w *Worker) call(ctx context.Context, in *store.Store, d *store.Delivery) error {
	l, r, err := w.landed(ctx, in, d)
	if err != nil {
		return err
	}
	f := l.Program.Quiz.FollowUps[d.FollowUp]
	to, err := receiver(ctx, in, f.Receiver)
	if err != nil {
		return err
	}
	d.About = l.outcomeName()
	if d.Kind == quiz.ConversionFollowUp {
		l.Extra = l.conversion(f, d)
		d.About = l.Extra["event"]
	}
	return w.tell(ctx, to, d, l.Extra, l, func() ([]byte, string, error) {
		if d.Kind == quiz.ConversionFollowUp {
			return l.converted(f)
		}
		return l.envelope(r, d)
	})
}

// receiver returns a receiver; one that is not there any more gets nothing.
func receiver(ctx context.Context, in *store.Store, key string) (*store.Receiver, error) {
	to, err := in.Outbox.Receiver(ctx, key)
	if errors.Is(err, store.ErrNotFound) {
		return nil, fmt.Errorf("%w: the receiver “%s” is not there any more", errDead, key)
	}
	return to, err
}

// tell calls a receiver with its own body, or with ours.
func (w *Worker) tell(ctx context.Context, to *store.Receiver, d *store.Delivery, extra map[string]string,
	l *Landed, ours func() ([]byte, string, error)) error {
	address := to.Address
	body, kind, err := ours()
	if l != nil {
		if template, wrong := fillin.ParseAddress(to.Address); wrong == nil {
			if address, wrong = template.Expand(l.values); wrong != nil {
				return fmt.Errorf("%w: %w", errDead, wrong)
			}
		}
	}
	if err == nil && to.Body != "" {
		body, kind, err = filled(to, extra, l)
	}
	if err != nil {
		return fmt.Errorf("%w: %w", errDead, err)
	}
	d.Recipient = to.Name
	return w.ring(ctx, to, address, d.Key, kind, body)
}

// values returns what a name stands for in an address.
func (l *Landed) values(name string) []string {
	if value, is := l.Extra[name]; is {
		return []string{value}
	}
	return l.filler.Values(name)
}

// filled writes a receiver's own body: what is filled in is written as its type has it.
func filled(to *store.Receiver, extra map[string]string, l *Landed) ([]byte, string, error) {
	kind := to.Type
	if kind == "" {
		kind = "application/json"
	}
	media, _, err := mime.ParseMediaType(kind)
	if err != nil {
		return nil, "", err
	}
	body := fillin.Plain(to.Body, func(name string) (string, bool) {
		value, known := extra[name]
		if !known && l != nil {
			value, known = l.plain(name)
		}
		switch {
		case strings.HasSuffix(media, "json"):
			written, _ := json.Marshal(value) // words can always be written
			value = string(written[1 : len(written)-1])
		case media == "application/x-www-form-urlencoded":
			value = url.QueryEscape(value)
		case strings.HasSuffix(media, "xml"), strings.HasSuffix(media, "html"):
			value = escaped.Replace(value)
		}
		return value, known
	})
	if strings.HasSuffix(media, "json") && !json.Valid([]byte(body)) {
		return nil, "", errors.New("what is sent is no JSON once it is filled in: put fill-ins into quotation marks")
	}
	return []byte(body), kind, nil
}

var escaped = strings.NewReplacer("&", "&amp;", "<", "&lt;", ">", "&gt;", `"`, "&quot;", "'", "&#39;")

const mostOfAnswer = 4 << 10

// ring posts a body, signed as Standard Webhooks has it, and reads what comes back.
func (w *Worker) ring(ctx context.Context, to *store.Receiver, address, key, kind string, body []byte) error {
	asked, err := http.NewRequestWithContext(ctx, http.MethodPost, address, bytes.NewReader(body))
	if err != nil {
		return fmt.Errorf("%w: %w", errDead, err)
	}
	asked.Header = to.Header()
	asked.Header.Set("Content-Type", kind)
	asked.Header.Set("User-Agent", userAgent)
	asked.Header.Set("Idempotency-Key", key)
	if err := sign(asked.Header, to.Secrets(time.Now()), key, time.Now(), body); err != nil {
		return fmt.Errorf("%w: %w", errDead, err)
	}
	answer, err := w.http.Do(asked)
	if errors.Is(err, ErrReach) {
		return fmt.Errorf("%w: %w", errDead, err)
	}
	if err != nil {
		return err
	}
	defer answer.Body.Close()
	said, _ := io.ReadAll(io.LimitReader(answer.Body, mostOfAnswer))
	if answer.StatusCode >= 200 && answer.StatusCode < 300 {
		return nil
	}
	err = fmt.Errorf("it answers %d %s: %s", answer.StatusCode, http.StatusText(answer.StatusCode), said)
	if answer.StatusCode == http.StatusGone { // Standard Webhooks: it wants no more of them
		return fmt.Errorf("%w: %w", errDead, err)
	}
	if seconds, wrong := strconv.Atoi(answer.Header.Get("Retry-After")); wrong == nil && seconds > 0 {
		return later{err, time.Duration(seconds) * time.Second}
	}
	return err
}

// sign signs a call with one secret, or with two while one is turned over.
func sign(h http.Header, secrets []string, key string, at time.Time, body []byte) error {
	var signatures []string
	for _, secret := range secrets {
		hook, err := standardwebhooks.NewWebhook(secret)
		if err != nil {
			return err
		}
		signature, err := hook.Sign(key, at, body)
		if err != nil {
			return err
		}
		signatures = append(signatures, signature)
	}
	h.Set(standardwebhooks.HeaderWebhookID, key)
	h.Set(standardwebhooks.HeaderWebhookTimestamp, strconv.FormatInt(at.Unix(), 10))
	h.Set(standardwebhooks.HeaderWebhookSignature, strings.Join(signatures, " "))
	return nil
}

// TestCall calls a receiver at once with an event that tells of nobody.
func (w *Worker) TestCall(ctx context.Context, to *store.Receiver) error {
	d := &store.Delivery{Key: store.Token()}
	template, err := fillin.ParseAddress(to.Address)
	if err != nil {
		return err
	}
	address, err := template.Expand(func(string) []string { return nil })
	if err != nil {
		return err
	}
	body, kind, err := enveloped(testedEvent, d, w.with.Base, "test", time.Now(),
		map[string]string{"said": "This is a test call."})
	if err != nil {
		return err
	}
	return w.ring(ctx, to, address, d.Key, kind, body)
}
