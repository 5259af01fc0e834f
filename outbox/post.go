package outbox

import (
	"context"
	"crypto/tls"
	"errors"
	"fmt"
	"net/url"
	"strings"
	"time"

	"github.com/wneessen/go-mail"

	"omphalos/core/quiz"
	"omphalos/store"
)

// mail sends a follow-up to the respondent.
func (w *Worker) mail(ctx context.Context, in *store.Store, d *store.Delivery) error {
	l, _, err := w.landed(ctx, in, d)
	if err != nil {
		return err
	}
	d.Recipient = l.Walker.Email()
	letter := l.Letter(d.FollowUp)
	letter.To = []string{d.Recipient}
	d.About = letter.Subject
	return w.toRespondent(ctx, in, l.Program.Quiz, d, letter)
}

// toRespondent sends a letter to somebody who can say that they want no more.
func (w *Worker) toRespondent(ctx context.Context, in *store.Store, q *quiz.Quiz, d *store.Delivery,
	letter *Letter) error {
	gone, err := in.Outbox.Unsubscribed(ctx, letter.To[0])
	if err != nil {
		return err
	}
	if gone {
		return fmt.Errorf("%w: they want no mail", errCancelled)
	}
	settings, err := in.Outbox.MailSettings(ctx)
	if err != nil {
		return err
	}
	leave, err := w.leave(ctx, in, q, letter.To[0])
	if err != nil {
		return err
	}
	letter.End(settings.Footer, leave, LeaveWords(w.voice(q)))
	return w.post(ctx, settings, d.Key, letter)
}

// leave returns the page on which whoever has an address says that they want no more mail.
func (w *Worker) leave(ctx context.Context, in *store.Store, q *quiz.Quiz, address string) (string, error) {
	pass, err := in.Outbox.Pass(ctx, address)
	return w.with.Base + LeavePlace + pass + spoken(q), err
}

// spoken says at the end of an address in which language its page speaks.
func spoken(q *quiz.Quiz) string {
	if q.Settings == nil || q.Settings.Language == "" {
		return ""
	}
	return "?in=" + url.QueryEscape(q.Settings.Language)
}

// Places of pages that letters lead to, each with what opens it behind.
const (
	LeavePlace   = "/no-more-mail/"
	ConfirmPlace = "/sign-up/"
)

// post hands a letter to the mail server.
func (w *Worker) post(ctx context.Context, settings *store.MailSettings, key string, letter *Letter) error {
	m, err := message(settings, key, letter, w.with.Base)
	if err != nil {
		return fmt.Errorf("%w: %w", errDead, err)
	}
	client, err := dialled(settings, w.with.Reaches)
	if err != nil {
		return err
	}
	err = client.DialAndSendWithContext(ctx, m)
	var refused *mail.SendError
	if errors.As(err, &refused) && !refused.IsTemp() && refused.ErrorCode() >= 500 {
		return fmt.Errorf("%w: the mail server refuses it: %w", errDead, err)
	}
	return err
}

// message writes a letter as it is sent (RFC 5322), with what takes its reader off (RFC 8058).
// It has the same number in each try.
func message(settings *store.MailSettings, key string, letter *Letter, base string) (*mail.Msg, error) {
	m := mail.NewMsg()
	if err := m.FromFormat(settings.Name, settings.From); err != nil {
		return nil, err
	}
	if err := m.To(letter.To...); err != nil {
		return nil, err
	}
	if settings.Reply != "" {
		if err := m.ReplyTo(settings.Reply); err != nil {
			return nil, err
		}
	}
	_, domain, _ := strings.Cut(settings.From, "@")
	m.Subject(letter.Subject)
	m.SetDate()
	m.SetMessageIDWithValue(key + "@" + domain)
	m.SetGenHeader("Idempotency-Key", key)
	m.SetGenHeader("Auto-Submitted", "auto-generated") // RFC 3834
	if letter.Leave != "" {
		m.SetListUnsubscribe("<" + letter.Leave + ">")
		m.SetListUnsubscribePost()
	}
	m.SetBodyString(mail.TypeTextPlain, letter.Plain())
	m.AddAlternativeString(mail.TypeTextHTML, letter.HTML())
	return m, nil
}

const postsWithin = 30 * time.Second

// dialled returns what connects to the mail server, where it may.
func dialled(settings *store.MailSettings, reaches Reach) (*mail.Client, error) {
	policy := mail.TLSMandatory
	if settings.Security == store.NoTLS {
		policy = mail.NoTLS
	}
	with := []mail.Option{mail.WithPort(settings.Port), mail.WithTimeout(postsWithin),
		mail.WithTLSPolicy(policy), mail.WithDialContextFunc(reaches.Dial)}
	if settings.Security == store.TLS {
		secure := &tls.Dialer{NetDialer: reaches.dialer(), Config: &tls.Config{ServerName: settings.Host,
			MinVersion: tls.VersionTLS12}}
		with = append(with, mail.WithSSL(), mail.WithDialContextFunc(secure.DialContext))
	}
	if settings.User != "" {
		with = append(with, mail.WithSMTPAuth(mail.SMTPAuthAutoDiscover), mail.WithUsername(settings.User),
			mail.WithPassword(settings.Password))
	}
	return mail.NewClient(settings.Host, with...)
}

// Test sends a letter that says that mail goes out, at once.
func (w *Worker) Test(ctx context.Context, settings *store.MailSettings, to string) error {
	s := sheetOf(&quiz.Quiz{}, w.with.Base, "Mail goes out")
	s.Blocks = []part{{HTML: "<p>This is how mail of yours goes out.</p>", Words: "This is how mail of yours goes out."}}
	s.Footer = settings.Footer
	letter := s.letter()
	letter.To = []string{to}
	return w.post(ctx, settings, store.Token(), letter)
}

// userAgent is how calls say whose they are.
const userAgent = "Omphalos"
