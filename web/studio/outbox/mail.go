package outbox

import (
	"context"
	"errors"
	"net/http"
	"strconv"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"omphalos/core/quiz"
	"omphalos/store"
	"omphalos/web/studio/desk"
)

type mailPage struct {
	desk.Frame
	Tab   string
	Typed store.MailSettings
	Port  string
	Kept  bool // a password is
	Wrong string
	To    string // for the test
	Sent  string // what came of the test
	Ready bool
	Kinds []desk.Option
}

func (s *Room) mail(c *gin.Context) {
	settings, err := s.Store.Outbox.MailSettings(c.Request.Context())
	if err != nil {
		s.Fail(c, err)
		return
	}
	s.showMail(c, http.StatusOK, settings, "", "")
}

func (s *Room) showMail(c *gin.Context, status int, typed *store.MailSettings, wrong, sent string) {
	page := mailPage{Frame: s.Frame(c, "Mail", "outbox", nil), Tab: "mail", Typed: *typed, Wrong: wrong,
		Sent: sent, Kept: typed.Password != "", Ready: typed.Ready()}
	if typed.Port > 0 {
		page.Port = strconv.Itoa(typed.Port)
	}
	page.To = c.PostForm("to")
	for _, k := range []struct {
		security store.Security
		words    string
	}{{store.StartTLS, "encrypted from the greeting on (STARTTLS)"},
		{store.TLS, "encrypted from the beginning (TLS)"}, {store.NoTLS, "not encrypted: on this machine alone"}} {
		page.Kinds = append(page.Kinds, desk.Option{Value: string(k.security), Name: k.words,
			Chosen: k.security == typed.Security})
	}
	s.Show(c, status, "mail", page)
}

// mailOf reads the form. A password that is not typed stays that which is kept, as long as the
// server stays the same.
func mailOf(c *gin.Context, kept *store.MailSettings) *store.MailSettings {
	of := func(name string) string { return strings.TrimSpace(c.PostForm(name)) }
	port, _ := strconv.Atoi(of("port")) // what is no number is refused
	m := &store.MailSettings{Host: of("host"), Port: port, Security: store.Security(of("security")),
		User: of("user"), Password: c.PostForm("password"),
		From: of("from"), Name: of("name"), Reply: of("reply"), Footer: strings.ReplaceAll(c.PostForm("footer"),
			"\r\n", "\n")}
	if m.Password == "" && m.Host == kept.Host && m.User == kept.User && m.User != "" {
		m.Password = kept.Password
	}
	return m
}

func (s *Room) putMail(c *gin.Context) {
	kept, err := s.Store.Outbox.MailSettings(c.Request.Context())
	if err != nil {
		s.Fail(c, err)
		return
	}
	typed := mailOf(c, kept)
	err = s.Store.Outbox.KeepMailSettings(c.Request.Context(), typed)
	if errors.Is(err, store.ErrMail) {
		s.showMail(c, http.StatusUnprocessableEntity, typed, refused(err), "")
		return
	}
	if err != nil {
		s.Fail(c, err)
		return
	}
	s.Say(c, "Kept. Send a test message to see that it goes out.", "")
	c.Redirect(http.StatusSeeOther, "/studio/outbox/mail")
}

// refused says why something is not kept.
func refused(err error) string {
	_, why, _ := strings.Cut(err.Error(), ": ")
	return desk.SentenceOf(why) + " Nothing was changed."
}

const testsWithin = 4 * time.Second // less than a request is worked on

// testMail sends a message to an address at once, and tells what came of it.
func (s *Room) testMail(c *gin.Context) {
	kept, err := s.Store.Outbox.MailSettings(c.Request.Context())
	if err != nil {
		s.Fail(c, err)
		return
	}
	to := strings.TrimSpace(c.PostForm("to"))
	if !quiz.IsEmail(to) {
		s.showMail(c, http.StatusUnprocessableEntity, kept, "Type one e-mail address that the test message goes to.", "")
		return
	}
	if s.Outbox == nil || !kept.Ready() {
		s.showMail(c, http.StatusUnprocessableEntity, kept, "Name a mail server first.", "")
		return
	}
	ctx, stop := context.WithTimeout(c.Request.Context(), testsWithin)
	defer stop()
	if err := s.Outbox.Test(ctx, kept, to); err != nil {
		s.showMail(c, http.StatusOK, kept, "It did not go out: "+desk.SentenceOf(err.Error()), "")
		return
	}
	s.showMail(c, http.StatusOK, kept, "", "The server has taken it. Look whether it has arrived at "+to+".")
}
