package store

import (
	"context"
	"crypto/rand"
	"encoding/base64"
	"errors"
	"fmt"
	"mime"
	"net/http"
	"net/textproto"
	"slices"
	"strings"
	"time"
	"unicode/utf8"

	"golang.org/x/net/http/httpguts"
	"gorm.io/gorm/clause"

	"omphalos/core/fillin"
	"omphalos/core/quiz"
)

// A Receiver is another system that is called: with what somebody answered, or with the
// conversion of an ad.
type Receiver struct {
	WorkspaceID WorkspaceID `gorm:"primaryKey;autoIncrement:false"`
	Key         string      `gorm:"primaryKey"`
	Kind        quiz.FollowUpKind
	Name        string `gorm:"not null"`
	Address     string `gorm:"not null"` // http or https, may fill in what was answered
	Headers     string `gorm:"not null"` // a line each, "Name: value"
	Secret      string `gorm:"not null"` // whsec_…, by which it tells that a call is ours
	Former      string `gorm:"not null"` // the secret before, that signs too until FormerUntil
	FormerUntil *time.Time
	Type        string `gorm:"not null"` // media type of the body, where it is not ours
	Body        string `gorm:"not null"` // what is sent, with fill-ins; "" is our envelope
	Paused      bool   `gorm:"not null"` // what goes to it waits
	Made        time.Time
}

// ErrReceiver says why a receiver can't be kept.
var ErrReceiver = errors.New("the receiver can't be kept")

const (
	mostReceivers = 100
	mostHeaders   = 20
	longestBody   = 20_000
	formerFor     = 48 * time.Hour
)

// Receivers returns all receivers, by name.
func (o *Outbox) Receivers(ctx context.Context) ([]Receiver, error) {
	var list []Receiver
	return list, found(o.db(ctx).Order("name, key").Find(&list).Error, "listing the receivers")
}

// Receiver returns a receiver by its key.
func (o *Outbox) Receiver(ctx context.Context, key string) (*Receiver, error) {
	var r Receiver
	err := o.db(ctx).Where("key = ?", key).Take(&r).Error
	return &r, found(err, "the receiver %q", key)
}

// PutReceiver keeps a receiver, under the key that its name gives where it has none yet. A new
// one gets a secret. The error wraps ErrReceiver.
func (o *Outbox) PutReceiver(ctx context.Context, r *Receiver) error {
	r.Name, r.Address = strings.TrimSpace(r.Name), strings.TrimSpace(r.Address)
	if err := r.check(); err != nil {
		return err
	}
	list, err := o.Receivers(ctx)
	if err != nil {
		return err
	}
	there := slices.ContainsFunc(list, func(l Receiver) bool { return l.Key == r.Key })
	if !there && len(list) >= mostReceivers {
		return fmt.Errorf("%w: there are %d, take one away first", ErrReceiver, mostReceivers)
	}
	if r.Key == "" {
		r.Key = freeKey(r.Name, "receiver", func(key string) bool {
			return slices.ContainsFunc(list, func(l Receiver) bool { return l.Key == key })
		})
		r.Made = now()
	}
	if r.Secret == "" {
		r.Secret = newSecret()
	}
	return found(o.db(ctx).Clauses(clause.OnConflict{UpdateAll: true}).Create(r).Error, "keeping the receiver")
}

// TurnSecret gives a receiver another secret. The former one signs too for two days, so that
// nothing that it checks fails meanwhile.
func (o *Outbox) TurnSecret(ctx context.Context, key string) error {
	r, err := o.Receiver(ctx, key)
	if err != nil {
		return err
	}
	until := now().Add(formerFor)
	r.Former, r.FormerUntil, r.Secret = r.Secret, &until, newSecret()
	return found(o.db(ctx).Save(r).Error, "turning the secret over")
}

// RemoveReceiver takes a receiver away. What waits for it is given up when its turn comes.
func (o *Outbox) RemoveReceiver(ctx context.Context, key string) error {
	return found(o.db(ctx).Where("key = ?", key).Delete(&Receiver{}).Error, "taking the receiver %q away", key)
}

// Secrets returns the secrets that sign at a time: the newest first.
func (r *Receiver) Secrets(at time.Time) []string {
	if r.Former != "" && r.FormerUntil != nil && at.Before(*r.FormerUntil) {
		return []string{r.Secret, r.Former}
	}
	return []string{r.Secret}
}

// Header returns the headers of its own.
func (r *Receiver) Header() http.Header {
	h := http.Header{}
	for line := range strings.Lines(r.Headers) {
		if name, value, is := strings.Cut(line, ":"); is {
			h.Add(strings.TrimSpace(name), strings.TrimSpace(value))
		}
	}
	return h
}

// ours are the headers that say what is sent, and can't be said otherwise.
var ours = []string{"Content-Type", "Content-Length", "Host", "Connection", "Transfer-Encoding", "Trailer",
	"Upgrade", "Te",
	"Webhook-Id", "Webhook-Timestamp", "Webhook-Signature", "Idempotency-Key"}

func (r *Receiver) check() error {
	wrong := func(words string, parts ...any) error {
		return fmt.Errorf("%w: %s", ErrReceiver, fmt.Sprintf(words, parts...))
	}
	switch {
	case r.Name == "" || utf8.RuneCountInString(r.Name) > 100:
		return wrong("give it a name of 1 to 100 letters")
	case !r.Kind.Calls():
		return wrong("it is called with an answer or with a conversion")
	case len(r.Body) > longestBody:
		return wrong("what is sent has %d characters at the most", longestBody)
	}
	if _, err := fillin.ParseAddress(r.Address); err != nil || len(r.Address) > 2000 {
		return wrong("the address must begin with https:// or http://")
	}
	n := 0
	for line := range strings.Lines(r.Headers) {
		if strings.TrimSpace(line) == "" {
			continue
		}
		name, value, is := strings.Cut(strings.TrimSpace(line), ":")
		name, value = strings.TrimSpace(name), strings.TrimSpace(value)
		if n++; n > mostHeaders || len(line) > 2000 {
			return wrong("%d headers of 2,000 characters fit", mostHeaders)
		}
		if !is || !httpguts.ValidHeaderFieldName(name) || !httpguts.ValidHeaderFieldValue(value) {
			return wrong("“%s” is no header: write Name: value", strings.TrimSpace(line))
		}
		if slices.Contains(ours, textproto.CanonicalMIMEHeaderKey(name)) {
			return wrong("the header %s is set by the call itself", name)
		}
	}
	if _, _, err := mime.ParseMediaType(r.Type); r.Type != "" && err != nil {
		return wrong("“%s” is no type such as application/json", r.Type)
	}
	return nil
}

// newSecret returns a secret as Standard Webhooks has it: 32 random bytes behind a prefix.
func newSecret() string {
	var b [32]byte
	_, _ = rand.Read(b[:]) // never fails
	return "whsec_" + base64.StdEncoding.EncodeToString(b[:])
}

// freeKey returns the key that a name gives, with a number where it is taken.
func freeKey(name, otherwise string, taken func(string) bool) string {
	key := quiz.KeyOf(name)
	if key == "" {
		key = otherwise
	}
	for base, n := key, 2; taken(key); n++ {
		key = fmt.Sprintf("%s_%d", base, n)
	}
	return key
}
