package store

import (
	"context"
	"crypto/hmac"
	"crypto/rand"
	"crypto/sha256"
	"encoding/base64"
	"errors"
	"fmt"
	"strings"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"

	"omphalos/core/quiz"
)

// MailSettings say by which server a workspace's mail goes out, and from whom. Without a host
// no mail goes out: it waits.
type MailSettings struct {
	Host     string
	Port     int
	Security Security
	User     string
	Password string
	From     string // the address
	Name     string // beside it
	Reply    string // to whom answers go, "" for From
	Footer   string // below each mail to respondents: whoever sends it
}

// Security is how a connection to a mail server is kept from others.
type Security string

// The kinds of security.
const (
	StartTLS Security = "starttls"
	TLS      Security = "tls"
	NoTLS    Security = "none"
)

// ErrMail says why settings of mail can't be kept.
var ErrMail = errors.New("the settings of mail can't be kept")

const mailSetting = "mail"

// Check returns what is wrong, with ErrMail, or nil.
func (m *MailSettings) Check() error {
	wrong := func(words string) error { return fmt.Errorf("%w: %s", ErrMail, words) }
	m.Host = strings.TrimSpace(m.Host)
	switch {
	case m.Host == "" && m.From == "":
		return nil
	case m.Host == "" || strings.ContainsAny(m.Host, " /:@"):
		return wrong("the server is a name such as mail.example.org")
	case m.Port < 1 || m.Port > 65535:
		return wrong("the port is a number, usually 587")
	case m.Security != StartTLS && m.Security != TLS && m.Security != NoTLS:
		return wrong("choose how the connection is kept from others")
	case m.Security == NoTLS && m.Password != "":
		return wrong("a password is not sent over a connection that others can read")
	case !quiz.IsEmail(m.From):
		return wrong("mail comes from an address such as hello@example.org")
	case m.Reply != "" && !quiz.IsEmail(m.Reply):
		return wrong("answers go to an address such as hello@example.org")
	case strings.ContainsAny(m.Name, "\r\n"):
		return wrong("the name is one line")
	case len(m.Footer) > quiz.MaxText:
		return wrong("what stands below each mail is too long")
	}
	return nil
}

// Ready tells whether mail can go out.
func (m *MailSettings) Ready() bool { return m.Host != "" }

// MailSettings returns how mail goes out.
func (o *Outbox) MailSettings(ctx context.Context) (*MailSettings, error) {
	m := &MailSettings{Port: 587, Security: StartTLS}
	return m, setting(o.db(ctx), mailSetting, m)
}

// KeepMailSettings keeps how mail goes out. The error wraps ErrMail.
func (o *Outbox) KeepMailSettings(ctx context.Context, m *MailSettings) error {
	if err := m.Check(); err != nil {
		return err
	}
	return keepSetting(o.db(ctx), mailSetting, m)
}

// hashOf tells an address of a workspace again without saying it.
func hashOf(in WorkspaceID, address string) string {
	sum := sha256.Sum256(fmt.Appendf(nil, "address of workspace %d: %s", in, Fold(address)))
	return base64.RawURLEncoding.EncodeToString(sum[:18])
}

// unsubscribed tells whether whoever has an address wants no mail.
func unsubscribed(tx *gorm.DB, hash string) (bool, error) {
	var n int64
	err := tx.Model(&Unsubscribed{}).Where("hash = ?", hash).Count(&n).Error
	return n > 0, err
}

// Unsubscribed tells whether whoever has an address wants no mail of follow-ups.
func (o *Outbox) Unsubscribed(ctx context.Context, address string) (bool, error) {
	gone, err := unsubscribed(o.db(ctx), o.hash(address))
	return gone, found(err, "asking who wants no mail")
}

const secretSetting = "secret"

// secret is what signs addresses that others must not make up.
func (o *Outbox) secret(ctx context.Context) ([]byte, error) {
	var secret []byte
	err := o.db(ctx).Transaction(func(tx *gorm.DB) error {
		if err := setting(tx, secretSetting, &secret); err != nil || secret != nil {
			return err
		}
		secret = make([]byte, 32)
		_, _ = rand.Read(secret) // never fails
		return keepSetting(tx, secretSetting, secret)
	})
	return secret, err
}

// Seal returns what shows that a text is ours, wherever it was meanwhile.
func (o *Outbox) Seal(ctx context.Context, text string) (string, error) {
	secret, err := o.secret(ctx)
	if err != nil {
		return "", found(err, "sealing")
	}
	seal := hmac.New(sha256.New, secret)
	seal.Write([]byte(text))
	return base64.RawURLEncoding.EncodeToString(seal.Sum(nil)[:18]), nil
}

// Sealed tells whether a seal is that of a text.
func (o *Outbox) Sealed(ctx context.Context, text, seal string) (bool, error) {
	ours, err := o.Seal(ctx, text)
	return err == nil && hmac.Equal([]byte(ours), []byte(seal)), err
}

// Pass returns what opens the page on which whoever has an address says that they want no mail
// any more. It says the address to nobody, and works when nothing else is known of it.
func (o *Outbox) Pass(ctx context.Context, address string) (string, error) {
	hash := o.hash(address)
	seal, err := o.Seal(ctx, hash)
	return hash + "." + seal, err
}

// Opens tells whether a pass is ours.
func (o *Outbox) Opens(ctx context.Context, pass string) (bool, error) {
	hash, seal, _ := strings.Cut(pass, ".")
	return o.Sealed(ctx, hash, seal)
}

// Unsubscribe takes whoever a pass belongs to off all lists, for ever, and tells others of it;
// what still waits to be mailed to them is cancelled. A pass that is not ours is ErrNotFound.
func (o *Outbox) Unsubscribe(ctx context.Context, pass string) error {
	if ours, err := o.Opens(ctx, pass); err != nil || !ours {
		return errors.Join(err, ErrNotFound)
	}
	hash, _, _ := strings.Cut(pass, ".")
	return found(o.rs().alone(ctx, func(tx *gorm.DB) error {
		at := now()
		if err := tx.Clauses(clause.OnConflict{DoNothing: true}).
			Create(&Unsubscribed{Hash: hash, Made: at}).Error; err != nil {
			return err
		}
		var theirs []Subscription
		if err := tx.Where("hash = ? AND state <> ?", hash, Left).Find(&theirs).Error; err != nil {
			return err
		}
		for i := range theirs {
			s := &theirs[i]
			was := s.State
			s.State, s.Ended = Left, &at
			if err := tx.Save(s).Error; err != nil {
				return err
			}
			if was == Joined {
				if err := o.toldOf(tx, s, LeaveStep); err != nil {
					return err
				}
			}
		}
		return nil
	}), "unsubscribing")
}
