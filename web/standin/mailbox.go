package standin

import (
	"bytes"
	"errors"
	"io"
	"log/slog"
	"net"
	"net/http"
	"net/url"
	"slices"
	"strconv"
	"strings"
	"sync"
	"time"

	"github.com/emersion/go-message/mail"
	"github.com/emersion/go-smtp"
	"github.com/gin-gonic/gin"
)

// A Mailbox takes mail by SMTP for whomever it is, and keeps the newest until it ends.
type Mailbox struct {
	server *smtp.Server

	mu      sync.Mutex
	letters []Letter // the newest first
	count   int
	refuses bool
}

// A Letter that arrived.
type Letter struct {
	ID          int
	At          time.Time
	From        string
	To          []string
	Subject     string
	HTML, Plain string
	Header      mail.Header
	Key         string // the same in each try of one delivery
	Again       bool   // it came before
	Leave       string // where its reader says that they want no more, in one click
	Raw         string
}

// mostKept is how many letters and calls are kept.
const mostKept = 500

const largestLetter = 10 << 20

func newMailbox() *Mailbox {
	m := &Mailbox{}
	m.server = smtp.NewServer(smtp.BackendFunc(func(*smtp.Conn) (smtp.Session, error) { return &posting{box: m}, nil }))
	m.server.Domain = "mailbox.example"
	m.server.MaxMessageBytes = largestLetter
	m.server.ReadTimeout, m.server.WriteTimeout = time.Minute, time.Minute
	return m
}

// Serve takes mail until the listener is closed.
func (m *Mailbox) Serve(l net.Listener) error { return m.server.Serve(l) }

// Close ends taking mail.
func (m *Mailbox) Close() error { return m.server.Close() }

// Refuse has the mailbox refuse what comes for a while, or take it again.
func (m *Mailbox) Refuse(on bool) {
	m.mu.Lock()
	defer m.mu.Unlock()
	m.refuses = on
}

// Letters returns what arrived, the newest first.
func (m *Mailbox) Letters() []Letter {
	m.mu.Lock()
	defer m.mu.Unlock()
	return slices.Clone(m.letters)
}

func (m *Mailbox) letter(id int) (Letter, bool) {
	for _, l := range m.Letters() {
		if l.ID == id {
			return l, true
		}
	}
	return Letter{}, false
}

// A posting is a connection on which mail comes.
type posting struct {
	box  *Mailbox
	from string
	to   []string
}

func (p *posting) Mail(from string, _ *smtp.MailOptions) error {
	p.box.mu.Lock()
	defer p.box.mu.Unlock()
	if p.box.refuses {
		return &smtp.SMTPError{Code: 451, EnhancedCode: smtp.EnhancedCode{4, 3, 2}, Message: "the mailbox was told to refuse"}
	}
	p.from = from
	return nil
}

func (p *posting) Rcpt(to string, _ *smtp.RcptOptions) error {
	p.to = append(p.to, to)
	return nil
}

func (p *posting) Data(r io.Reader) error {
	raw, err := io.ReadAll(r)
	if err != nil {
		return err
	}
	l, err := readLetter(raw)
	if err != nil {
		return &smtp.SMTPError{Code: 550, EnhancedCode: smtp.EnhancedCode{5, 6, 0}, Message: err.Error()}
	}
	l.From, l.To = p.from, p.to
	p.box.put(l)
	return nil
}

func (p *posting) Reset() { p.from, p.to = "", nil }

func (p *posting) Logout() error { return nil }

func readLetter(raw []byte) (Letter, error) {
	l := Letter{At: time.Now(), Raw: string(raw)}
	r, err := mail.CreateReader(bytes.NewReader(raw))
	if err != nil {
		return l, err
	}
	defer r.Close()
	l.Header = r.Header
	l.Subject, _ = r.Header.Subject()
	l.Key = r.Header.Get("Idempotency-Key")
	if r.Header.Get("List-Unsubscribe-Post") != "" {
		l.Leave = strings.Trim(r.Header.Get("List-Unsubscribe"), "<>")
	}
	for {
		part, err := r.NextPart()
		if errors.Is(err, io.EOF) {
			return l, nil
		}
		if err != nil {
			return l, err
		}
		body, err := io.ReadAll(part.Body)
		if err != nil {
			return l, err
		}
		if strings.HasPrefix(part.Header.Get("Content-Type"), "text/html") {
			l.HTML = string(body)
		} else {
			l.Plain = strings.ReplaceAll(string(body), "\r\n", "\n")
		}
	}
}

func (m *Mailbox) put(l Letter) {
	m.mu.Lock()
	defer m.mu.Unlock()
	m.count++
	l.ID = m.count
	l.Again = l.Key != "" && slices.ContainsFunc(m.letters, func(o Letter) bool { return o.Key == l.Key })
	m.letters = slices.Insert(m.letters, 0, l)
	m.letters = m.letters[:min(len(m.letters), mostKept)]
}

type mailboxPage struct {
	Letters []Letter
	Open    *Letter
	Plain   bool // its plain part is shown
	Raw     bool
	Refuses bool
	Said    string
}

func (s *Services) mailbox(c *gin.Context) {
	page := mailboxPage{Letters: s.Mail.Letters(), Plain: c.Query("as") == "plain", Raw: c.Query("as") == "raw",
		Said: c.Query("said")}
	s.Mail.mu.Lock()
	page.Refuses = s.Mail.refuses
	s.Mail.mu.Unlock()
	id, err := strconv.Atoi(c.Query("letter"))
	if err != nil && len(page.Letters) > 0 {
		id = page.Letters[0].ID
	}
	if l, is := s.Mail.letter(id); is {
		page.Open = &l
	}
	s.show(c, "mailbox", page)
}

// letterPolicy lets a letter show what it brings along, and lead on, and do nothing else.
const letterPolicy = "sandbox allow-popups allow-popups-to-escape-sandbox " +
	"allow-top-navigation-by-user-activation; default-src 'none'; img-src http: https: data:; style-src " +
	"'unsafe-inline'; base-uri 'none'; form-action 'none'; frame-ancestors 'self'"

// letterBody is a letter as a mail program shows it.
func (s *Services) letterBody(c *gin.Context) {
	id, _ := strconv.Atoi(c.Param("letter"))
	l, is := s.Mail.letter(id)
	if !is {
		c.AbortWithStatus(http.StatusNotFound)
		return
	}
	c.Header("Content-Security-Policy", letterPolicy)
	html := strings.Replace(l.HTML, "<head>", `<head><base target="_top">`, 1)
	c.Data(http.StatusOK, "text/html; charset=utf-8", []byte(html))
}

// leave does what a mail program does when its user wants no more (RFC 8058): it posts to the
// address that the letter names.
func (s *Services) leave(c *gin.Context) {
	id, _ := strconv.Atoi(c.Param("letter"))
	back := url.Values{"letter": {strconv.Itoa(id)}}
	l, is := s.Mail.letter(id)
	if !is || l.Leave == "" {
		back.Set("said", "The letter names no place for that.")
	} else if answer, err := s.client.PostForm(l.Leave, url.Values{"List-Unsubscribe": {"One-Click"}}); err != nil {
		slog.Error("leaving", "error", err)
		back.Set("said", "The place could not be reached.")
	} else {
		_ = answer.Body.Close()
		back.Set("said", "Asked for no more mail: "+answer.Status)
	}
	c.Redirect(http.StatusSeeOther, "/standin/mailbox?"+back.Encode())
}

func (s *Services) mailboxSet(c *gin.Context) {
	s.Mail.Refuse(c.PostForm("refuses") != "")
	c.Redirect(http.StatusSeeOther, "/standin/mailbox")
}
