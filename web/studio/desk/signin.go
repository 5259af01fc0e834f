package desk

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"math"
	"net/http"
	"strconv"
	"strings"
	"time"

	"github.com/gin-gonic/gin"
	lru "github.com/hashicorp/golang-lru/v2"

	"omphalos/core/quiz"
	"omphalos/store"
	"omphalos/web/guard"
)

type signInPage struct {
	Frame
	Email string
	Wrong string
	To    string // address to go to afterwards, "" for the studio
}

func (s *Desk) signInPage(c *gin.Context) {
	if _, in := s.Present(c.Request.Context()); in {
		c.Redirect(http.StatusSeeOther, back(c.Query("to")))
		return
	}
	s.Show(c, http.StatusOK, "signin", signInPage{Frame: Frame{Title: "Sign in"}, To: c.Query("to")})
}

// signIn opens a session. Whoever guesses waits longer and longer, by address and client;
// an address that is tried from everywhere waits a little, but where it has come in before.
func (s *Desk) signIn(c *gin.Context) {
	email, password := c.PostForm("email"), c.PostForm("password")
	client, person := guard.Client(c.ClientIP()), store.Fold(email)
	pair := person + " from " + client
	if wait := s.door.wait(client, person, pair); wait > 0 {
		slog.Warn("a sign-in came too soon", "client", client)
		s.refuseSignIn(c, http.StatusTooManyRequests, email, wait)
		return
	}
	ctx, stop := context.WithTimeout(c.Request.Context(), longestHash)
	defer stop()
	user, err := s.Store.People.SignIn(ctx, email, password)
	switch {
	case errors.Is(err, store.ErrBusy):
		s.refuseSignIn(c, http.StatusTooManyRequests, email, longestHash)
		return
	case errors.Is(err, store.ErrSignIn):
		slog.Warn("a sign-in was wrong", "client", client)
		s.door.clients.Allow(client)
		s.door.pairs.Wrong(pair)
		s.door.people.Wrong(person)
		s.refuseSignIn(c, http.StatusUnprocessableEntity, email, 0)
		return
	case err != nil:
		s.Fail(c, err)
		return
	}
	slog.Info("signed in", "user", user.ID, "client", client)
	s.door.pairs.Right(pair)
	s.door.known.Add(pair, true)
	session := c.Request.Context()
	if err := s.Sessions.RenewToken(session); err != nil {
		s.Fail(c, err)
		return
	}
	s.Sessions.Put(session, "user", int(user.ID))
	s.Sessions.Put(session, "changes", user.Changes)
	s.Sessions.Put(session, "seen", time.Now().Unix())
	c.Redirect(http.StatusSeeOther, back(c.PostForm("to")))
}

// refuseSignIn shows the form again and says why, and when the next try is taken.
func (s *Desk) refuseSignIn(c *gin.Context, status int, email string, wait time.Duration) {
	page := signInPage{
		Frame: Frame{Title: "Sign in"},
		Email: email,
		To:    c.PostForm("to"),
		Wrong: "The e-mail address or the password is wrong. Check both and try again.",
	}
	if wait > 0 {
		seconds := int(math.Ceil(wait.Seconds()))
		c.Header("Retry-After", strconv.Itoa(seconds))
		c.Header("Connection", "close") // whoever floods has to knock again each time
		page.Wrong = fmt.Sprintf("Not so fast: try again in %s.", quiz.Count(seconds, "second"))
	}
	s.Show(c, status, "signin", page)
}

// A door counts who tries to come in.
type door struct {
	clients *guard.Rate
	pairs   *guard.Slow              // by address and client
	people  *guard.Slow              // by address alone
	known   *lru.Cache[string, bool] // pairs that have come in
}

const (
	triesPerMinute = 30              // wrong ones from one client, whoever it says it is
	longestHash    = 2 * time.Second // that a try waits for its turn
	mostKnown      = 10_000
)

func newDoor() *door {
	known, _ := lru.New[string, bool](mostKnown)
	return &door{guard.NewRate(triesPerMinute), guard.NewSlow(time.Minute), guard.NewSlow(5 * time.Second), known}
}

// wait returns how long it is until a try is taken, 0 for now.
func (d *door) wait(client, person, pair string) time.Duration {
	if !d.clients.Left(client) {
		return time.Minute
	}
	wait := d.pairs.Wait(pair)
	if !d.known.Contains(pair) {
		wait = max(wait, d.people.Wait(person))
	}
	return wait
}

func (s *Desk) signOut(c *gin.Context) {
	if err := s.Sessions.Destroy(c.Request.Context()); err != nil {
		s.Fail(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, "/studio/sign-in")
}

// SignedIn lets only those pass who have signed in, with the password that they have now,
// and have been here lately.
func (s *Desk) SignedIn(c *gin.Context) {
	if user, ok := s.Present(c.Request.Context()); ok {
		c.Set(userKey, user)
		return
	}
	accept := c.GetHeader("Accept")
	if reads := c.Request.Method == http.MethodGet; strings.Contains(accept, "text/html") ||
		reads && !strings.Contains(accept, "json") && !strings.Contains(accept, "event-stream") {
		c.Redirect(http.StatusSeeOther, "/studio/sign-in")
	} else {
		c.JSON(http.StatusUnauthorized,
			gin.H{"message": "You are signed out. Sign in in another tab: what you typed waits here, and is kept then."})
	}
	c.Abort()
}

const userKey = "user"

// Present returns the user of a session in which somebody did something lately.
func (s *Desk) Present(session context.Context) (*store.User, bool) {
	id := s.Sessions.GetInt(session, "user")
	if id == 0 {
		return nil, false
	}
	user, err := s.Store.People.User(session, uint(id))
	if err != nil || user.Changes != s.Sessions.GetInt(session, "changes") {
		return nil, false
	}
	token := s.Sessions.Token(session)
	seen, _ := s.seen.Get(token)
	if last := max(seen, s.Sessions.GetInt64(session, "seen")); time.Since(time.Unix(last, 0)) > s.Idle {
		return nil, false
	}
	return user, true
}

// Member returns who is signed in to the studio, as a request says outside it; nil for nobody.
func (s *Desk) Member(r *http.Request) *store.User {
	cookie, err := r.Cookie(s.Sessions.Cookie.Name)
	if err != nil {
		return nil
	}
	session, err := s.Sessions.Load(r.Context(), cookie.Value)
	if err != nil {
		return nil
	}
	if user, in := s.Present(session); in {
		return user
	}
	return nil
}

// back returns where somebody goes who has signed in: to a quiz that only colleagues take, or
// to the studio.
func back(to string) string {
	if strings.HasPrefix(to, "/q/") && !strings.ContainsAny(to, "\\\r\n") {
		return to
	}
	return "/studio"
}

// Stays remembers that somebody does something, and writes it down with what they change.
// A page that only hears news is nobody.
func (s *Desk) Stays(c *gin.Context) {
	session := c.Request.Context()
	s.seen.Add(s.Sessions.Token(session), time.Now().Unix())
	if c.Request.Method != http.MethodGet &&
		time.Since(time.Unix(s.Sessions.GetInt64(session, "seen"), 0)) > time.Minute {
		s.Sessions.Put(session, "seen", time.Now().Unix())
	}
}

// mostSeen is of how many sessions it is remembered when they were seen last.
const mostSeen = 10_000
