package outbox

import (
	"encoding/csv"
	"errors"
	"fmt"
	"log/slog"
	"net/http"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"omphalos/store"
	"omphalos/web/studio/desk"
)

type listsPage struct {
	desk.Frame
	Tab   string
	Lists []listRow
	Typed listRow // a new one, or one that could not be kept
	Wrong string
}

type listRow struct {
	store.List
	Joined, Asked, Left int
	Receivers           []desk.Option
	Open                bool // its form is
}

func (s *Room) lists(c *gin.Context) { s.showLists(c, http.StatusOK, nil, "") }

func (s *Room) showLists(c *gin.Context, status int, typed *store.List, wrong string) {
	ctx := c.Request.Context()
	lists, err := s.Store.Outbox.Lists(ctx)
	if err != nil {
		s.Fail(c, err)
		return
	}
	counts, err := s.Store.Outbox.Counts(ctx)
	if err != nil {
		s.Fail(c, err)
		return
	}
	receivers, err := s.Store.Outbox.Receivers(ctx)
	if err != nil {
		s.Fail(c, err)
		return
	}
	row := func(l store.List) listRow {
		r := listRow{List: l, Joined: counts[l.Key][store.Joined], Asked: counts[l.Key][store.Asked],
			Left: counts[l.Key][store.Left]}
		for _, to := range receivers {
			r.Receivers = append(r.Receivers, desk.Option{Value: to.Key, Name: to.Name, Chosen: to.Key == l.Receiver})
		}
		return r
	}
	page := listsPage{Frame: s.Frame(c, "Lists", "outbox", nil), Tab: "lists", Wrong: wrong, Typed: row(store.List{})}
	for _, l := range lists {
		if typed != nil && typed.Key == l.Key {
			l = *typed
		}
		r := row(l)
		r.Open = typed != nil && typed.Key == l.Key
		page.Lists = append(page.Lists, r)
	}
	if typed != nil && typed.Key == "" {
		page.Typed = row(*typed)
	}
	s.Show(c, status, "lists", page)
}

func (s *Room) putList(c *gin.Context) {
	of := func(name string) string { return strings.TrimSpace(c.PostForm(name)) }
	l := &store.List{}
	if key := of("key"); key != "" {
		kept, err := s.Store.Outbox.List(c.Request.Context(), key)
		if err != nil {
			s.Fail(c, err)
			return
		}
		l = kept
	}
	l.Name, l.Once, l.Subject, l.Text = of("name"), of("once") != "", of("subject"),
		strings.ReplaceAll(of("text"), "\r\n", "\n")
	l.Receiver, l.Address = of("receiver"), of("address")
	err := s.Store.Outbox.PutList(c.Request.Context(), l)
	if errors.Is(err, store.ErrList) {
		s.showLists(c, http.StatusUnprocessableEntity, l, refused(err))
		return
	}
	if err != nil {
		s.Fail(c, err)
		return
	}
	s.Say(c, fmt.Sprintf("The list “%s” is kept.", l.Name), "")
	c.Redirect(http.StatusSeeOther, "/studio/outbox/lists")
}

func (s *Room) removeList(c *gin.Context) {
	l, err := s.Store.Outbox.List(c.Request.Context(), c.Param("key"))
	if err != nil {
		s.Fail(c, err)
		return
	}
	if c.PostForm("sure") == "" {
		s.showLists(c, http.StatusUnprocessableEntity, l, "The list goes with everybody who is on it, "+
			"and with the proof that they agreed. Say that you are sure, and take it away again.")
		return
	}
	if err := s.Store.Outbox.RemoveList(c.Request.Context(), l.Key); err != nil {
		s.Fail(c, err)
		return
	}
	s.Say(c, fmt.Sprintf("The list “%s” is gone.", l.Name), "")
	c.Redirect(http.StatusSeeOther, "/studio/outbox/lists")
}

type peoplePage struct {
	desk.Frame
	Tab    string
	List   store.List
	People []store.Subscription
	More   bool
}

const mostPeople = 500

// people shows who is on a list, the newest first.
func (s *Room) people(c *gin.Context) {
	l, err := s.Store.Outbox.List(c.Request.Context(), c.Param("key"))
	if err != nil {
		s.Fail(c, err)
		return
	}
	page := peoplePage{Frame: s.Frame(c, l.Name, "outbox", nil), Tab: "lists", List: *l}
	if page.People, err = s.Store.Outbox.Subscriptions(c.Request.Context(), l.Key, mostPeople+1); err != nil {
		s.Fail(c, err)
		return
	}
	if page.More = len(page.People) > mostPeople; page.More {
		page.People = page.People[:mostPeople]
	}
	s.Show(c, http.StatusOK, "people", page)
}

// peopleFile is everybody on a list as CSV (RFC 4180), with the proof that they agreed.
func (s *Room) peopleFile(c *gin.Context) {
	l, err := s.Store.Outbox.List(c.Request.Context(), c.Param("key"))
	if err != nil {
		s.Fail(c, err)
		return
	}
	people, err := s.Store.Outbox.Subscriptions(c.Request.Context(), l.Key, 0)
	if err != nil {
		s.Fail(c, err)
		return
	}
	c.Header("Content-Type", "text/csv; charset=utf-8")
	c.Header("Content-Disposition", fmt.Sprintf(`attachment; filename="%s.csv"`, l.Key))
	w := csv.NewWriter(c.Writer)
	_ = w.Write([]string{ // Error tells
		"address", "name", "state", "agreed_to", "privacy", "agreed", "asked", "confirmed", "left", "quiz", "response"})
	for _, p := range people {
		_ = w.Write([]string{plainCell(p.Address), plainCell(p.Name), p.State, plainCell(p.Words), p.Privacy,
			p.Given.UTC().Format(time.RFC3339),
			when(p.Asked), when(p.Confirmed), when(p.Ended), fmt.Sprint(p.QuizID), fmt.Sprint(p.Number)})
	}
	w.Flush()
	if err := w.Error(); err != nil {
		slog.Error("writing a list", "error", err)
	}
}

// plainCell keeps a spreadsheet from taking words for a formula.
func plainCell(s string) string {
	if s != "" && strings.ContainsRune("=+-@\t\r", rune(s[0])) {
		return "'" + s
	}
	return s
}

func when(t *time.Time) string {
	if t == nil {
		return ""
	}
	return t.UTC().Format(time.RFC3339)
}
