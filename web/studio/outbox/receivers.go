package outbox

import (
	"context"
	"errors"
	"fmt"
	"net/http"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"omphalos/core/quiz"
	"omphalos/store"
	"omphalos/web/studio/desk"
)

type receiversPage struct {
	desk.Frame
	Tab       string
	Receivers []receiverRow
	Typed     receiverRow // a new one, or one that could not be kept
	Wrong     string
}

type receiverRow struct {
	store.Receiver
	Kinds  []desk.Option
	Turned bool // the former secret signs, too
	Open   bool // its form is
}

func (s *Room) receivers(c *gin.Context) { s.showReceivers(c, http.StatusOK, nil, "") }

func (s *Room) showReceivers(c *gin.Context, status int, typed *store.Receiver, wrong string) {
	list, err := s.Store.Outbox.Receivers(c.Request.Context())
	if err != nil {
		s.Fail(c, err)
		return
	}
	page := receiversPage{Frame: s.Frame(c, "Receivers", "outbox", nil), Tab: "receivers", Wrong: wrong,
		Typed: receiverOf(store.Receiver{Kind: quiz.CallFollowUp})}
	for _, r := range list {
		if typed != nil && typed.Key == r.Key {
			r = *typed
		}
		row := receiverOf(r)
		row.Open = typed != nil && typed.Key == r.Key
		page.Receivers = append(page.Receivers, row)
	}
	if typed != nil && typed.Key == "" {
		page.Typed = receiverOf(*typed)
	}
	s.Show(c, status, "receivers", page)
}

func receiverOf(r store.Receiver) receiverRow {
	row := receiverRow{Receiver: r, Turned: len(r.Secrets(time.Now())) > 1}
	for _, k := range []struct {
		kind  quiz.FollowUpKind
		words string
	}{{quiz.CallFollowUp, "what somebody answered"}, {quiz.ConversionFollowUp, "conversions of ads"}} {
		row.Kinds = append(row.Kinds, desk.Option{Value: string(k.kind), Name: k.words, Chosen: k.kind == r.Kind})
	}
	return row
}

func (s *Room) putReceiver(c *gin.Context) {
	of := func(name string) string { return strings.TrimSpace(strings.ReplaceAll(c.PostForm(name), "\r\n", "\n")) }
	r := &store.Receiver{}
	if key := of("key"); key != "" {
		kept, err := s.Store.Outbox.Receiver(c.Request.Context(), key)
		if err != nil {
			s.Fail(c, err)
			return
		}
		r = kept
	}
	r.Name, r.Address, r.Kind = of("name"), of("address"), quiz.FollowUpKind(of("kind"))
	r.Headers, r.Type, r.Body = of("headers"), of("type"), of("body")
	err := s.Store.Outbox.PutReceiver(c.Request.Context(), r)
	if errors.Is(err, store.ErrReceiver) {
		s.showReceivers(c, http.StatusUnprocessableEntity, r, refused(err))
		return
	}
	s.kept(c, err, fmt.Sprintf("“%s” is kept.", r.Name))
}

// kept leads back to the receivers, where nothing went wrong.
func (s *Room) kept(c *gin.Context, err error, words string) {
	if err != nil {
		s.Fail(c, err)
		return
	}
	s.Say(c, words, "")
	c.Redirect(http.StatusSeeOther, "/studio/outbox/receivers")
}

func (s *Room) turn(c *gin.Context) {
	s.kept(c, s.Store.Outbox.TurnSecret(c.Request.Context(), c.Param("key")),
		"It has another secret. The former one signs too for two days: change it there until then.")
}

// pause has what goes to a receiver wait, or go out again.
func (s *Room) pause(c *gin.Context) {
	r, err := s.Store.Outbox.Receiver(c.Request.Context(), c.Param("key"))
	if err != nil {
		s.Fail(c, err)
		return
	}
	r.Paused = !r.Paused
	words := "What goes to “" + r.Name + "” is sent again."
	if r.Paused {
		words = "What goes to “" + r.Name + "” waits."
	}
	s.kept(c, s.Store.Outbox.PutReceiver(c.Request.Context(), r), words)
}

func (s *Room) removeReceiver(c *gin.Context) {
	s.kept(c, s.Store.Outbox.RemoveReceiver(c.Request.Context(), c.Param("key")),
		"It is gone. What waits for it is given up.")
}

// testReceiver calls a receiver at once, with an event that tells of nobody.
func (s *Room) testReceiver(c *gin.Context) {
	r, err := s.Store.Outbox.Receiver(c.Request.Context(), c.Param("key"))
	if err != nil {
		s.Fail(c, err)
		return
	}
	if s.Outbox == nil {
		s.showReceivers(c, http.StatusUnprocessableEntity, r, "Nothing goes out from here.")
		return
	}
	ctx, stop := context.WithTimeout(c.Request.Context(), testsWithin)
	defer stop()
	if err := s.Outbox.TestCall(ctx, r); err != nil {
		s.showReceivers(c, http.StatusOK, r, "It was not taken: "+desk.SentenceOf(err.Error()))
		return
	}
	s.kept(c, nil, "“"+r.Name+"” has taken a test call.")
}
