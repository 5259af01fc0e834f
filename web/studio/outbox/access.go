package outbox

import (
	"errors"
	"net/http"
	"slices"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
	"omphalos/store"
	"omphalos/web/studio/desk"
	"omphalos/web/ui"
)

type accessPage struct {
	desk.Frame
	Tab     string
	Tokens  []tokenRow
	Scopes  []desk.Option
	Name    string
	Ends    string
	Wrong   string
	Fresh   string // the token that was just made: it is shown once
	Address string // of the interface
}

type tokenRow struct {
	store.AccessToken
	Allows []string
	Over   bool
}

// scopeWords are what a token may allow.
var scopeWords = map[store.Scope]string{
	store.ReadQuizzes: "read quizzes and releases", store.ReadResponses: "read responses and figures",
	store.ReadLeads:   "read leads, and who respondents are",
	store.WriteLeads:  "put leads into states",
	store.WriteTables: "read and write signposts, products and places", store.ManageCalls: "manage webhooks",
}

// usualEnd is how long a token lasts where nobody says otherwise.
const usualEnd = 90 * 24 * time.Hour

func (s *Room) access(c *gin.Context) {
	ends := time.Now().Add(usualEnd).In(s.Store.Responses.Zone())
	s.showAccess(c, http.StatusOK, accessPage{Ends: ends.Format(time.DateOnly)}, nil)
}

func (s *Room) showAccess(c *gin.Context, status int, page accessPage, chosen []string) {
	list, err := s.Store.People.Accesses(c.Request.Context())
	if err != nil {
		s.Fail(c, err)
		return
	}
	page.Frame, page.Tab, page.Address = s.Frame(c, "Access", "outbox", nil), "access", ui.Origin(c.Request, s.Public)
	for _, scope := range store.Scopes {
		page.Scopes = append(page.Scopes, desk.Option{Value: string(scope), Name: scopeWords[scope],
			Chosen: slices.Contains(chosen, string(scope))})
	}
	for _, t := range list {
		row := tokenRow{AccessToken: t, Over: t.Ended(time.Now())}
		for _, scope := range strings.Fields(t.Scopes) {
			row.Allows = append(row.Allows, scopeWords[store.Scope(scope)])
		}
		page.Tokens = append(page.Tokens, row)
	}
	s.Show(c, status, "access", page)
}

// makeAccess makes a token, and shows it once.
func (s *Room) makeAccess(c *gin.Context) {
	page := accessPage{Name: strings.TrimSpace(c.PostForm("name")), Ends: c.PostForm("ends")}
	chosen := c.PostFormArray("scope")
	day, err := quiz.ParseDay(page.Ends)
	if err != nil {
		page.Wrong = "Say on which day it ends, such as 2027-02-28."
		s.showAccess(c, http.StatusUnprocessableEntity, page, chosen)
		return
	}
	var scopes []store.Scope
	for _, one := range chosen {
		scopes = append(scopes, store.Scope(one))
	}
	page.Fresh, err = s.Store.People.MakeAccess(c.Request.Context(), page.Name, scopes,
		quiz.StartOf(day+decimal.One, s.Store.Responses.Zone()), s.User(c))
	switch {
	case errors.Is(err, store.ErrAccess):
		page.Wrong = refused(err)
		s.showAccess(c, http.StatusUnprocessableEntity, page, chosen)
	case err != nil:
		s.Fail(c, err)
	default:
		s.showAccess(c, http.StatusOK, accessPage{Fresh: page.Fresh, Ends: page.Ends}, nil)
	}
}

func (s *Room) endAccess(c *gin.Context) {
	id, ok := desk.Number(c, "token")
	if !ok {
		s.Fail(c, store.ErrNotFound)
		return
	}
	if err := s.Store.People.EndAccess(c.Request.Context(), uint(id)); err != nil {
		s.Fail(c, err)
		return
	}
	s.Say(c, "It lets nobody in any more.", "")
	c.Redirect(http.StatusSeeOther, "/studio/outbox/access")
}
