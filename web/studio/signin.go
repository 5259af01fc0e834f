package studio

import (
	"net/http"
	"strings"
	"sync"
	"time"

	"github.com/gin-gonic/gin"

	"omphalos/store"
)

type signInPage struct {
	frame
	Email string
	Wrong string
}

func (s *studio) signInPage(c *gin.Context) {
	if s.user(c) != 0 {
		c.Redirect(http.StatusSeeOther, "/studio")
		return
	}
	s.show(c, http.StatusOK, "signin", signInPage{frame: frame{Title: "Sign in"}})
}

func (s *studio) signIn(c *gin.Context) {
	email, password := c.PostForm("email"), c.PostForm("password")
	page := signInPage{frame: frame{Title: "Sign in"}, Email: email}
	if !s.tries.allowed(email) {
		page.Wrong = "Too many tries. Wait a minute, then try again."
		s.show(c, http.StatusTooManyRequests, "signin", page)
		return
	}
	user, err := s.store.SignIn(email, password)
	if err != nil {
		if err != store.ErrSignIn {
			s.fail(c, err)
			return
		}
		page.Wrong = "The e-mail address or the password is wrong. Check both and try again."
		s.show(c, http.StatusUnprocessableEntity, "signin", page)
		return
	}
	ctx := c.Request.Context()
	if err := s.sessions.RenewToken(ctx); err != nil {
		s.fail(c, err)
		return
	}
	s.sessions.Put(ctx, "user", int(user.ID))
	s.sessions.Put(ctx, "name", user.Name)
	c.Redirect(http.StatusSeeOther, "/studio")
}

func (s *studio) signOut(c *gin.Context) {
	if err := s.sessions.Destroy(c.Request.Context()); err != nil {
		s.fail(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, "/studio/sign-in")
}

// signedIn lets only those pass who have signed in.
func (s *studio) signedIn(c *gin.Context) {
	if s.user(c) != 0 {
		return
	}
	if strings.Contains(c.GetHeader("Accept"), "text/html") {
		c.Redirect(http.StatusSeeOther, "/studio/sign-in")
	} else {
		c.JSON(http.StatusUnauthorized, gin.H{"message": "You are signed out. Sign in in another tab: what you typed waits here, and is kept then."})
	}
	c.Abort()
}

// tries counts sign-ins per address, so that passwords can't be guessed in bulk.
type tries struct {
	mu   sync.Mutex
	from map[string]window
}

type window struct {
	since time.Time
	count int
}

const triesPerMinute = 10

func (t *tries) allowed(email string) bool {
	t.mu.Lock()
	defer t.mu.Unlock()
	if t.from == nil || len(t.from) > 10_000 {
		t.from = map[string]window{}
	}
	w := t.from[email]
	if time.Since(w.since) > time.Minute {
		w = window{since: time.Now()}
	}
	w.count++
	t.from[email] = w
	return w.count <= triesPerMinute
}
