package tables

import (
	"errors"
	"net/http"

	"github.com/gin-gonic/gin"

	"omphalos/store"
	"omphalos/web/studio/desk"
)

type signpostsPage struct {
	desk.Frame
	Tables  []board
	Changes []store.SignpostChange
	Wrong   string
	Typed   store.Signpost
}

// A board is a table of signposts.
type board struct {
	Name string
	Rows []store.Signpost
}

const changesShown = 20

func (s *Room) signposts(c *gin.Context) {
	s.showSignposts(c, http.StatusOK, store.Signpost{Table: c.Query("table")}, "")
}

func (s *Room) showSignposts(c *gin.Context, status int, typed store.Signpost, wrong string) {
	list, err := s.Store.Definitions.Signposts(c.Request.Context())
	if err != nil {
		s.Fail(c, err)
		return
	}
	page := signpostsPage{Frame: s.Frame(c, "Signposts", "signposts", nil), Wrong: wrong, Typed: typed}
	for _, r := range list {
		if n := len(page.Tables); n == 0 || page.Tables[n-1].Name != r.Table {
			page.Tables = append(page.Tables, board{Name: r.Table})
		}
		last := &page.Tables[len(page.Tables)-1]
		last.Rows = append(last.Rows, r)
	}
	if page.Changes, err = s.Store.Definitions.SignpostChanges(c.Request.Context(), changesShown); err != nil {
		s.Fail(c, err)
		return
	}
	s.Show(c, status, "signposts", page)
}

// putSignpost keeps one row: new, with another address, or without one to take it away.
func (s *Room) putSignpost(c *gin.Context) {
	row := store.Signpost{Table: c.PostForm("table"), Row: c.PostForm("row"), Address: c.PostForm("address")}
	if c.PostForm("do") == "remove" {
		row.Address = ""
	} else if row.Address == "" {
		s.showSignposts(c, http.StatusUnprocessableEntity, row,
			"Type the address that this key leads to, such as https://example.org/visit.")
		return
	}
	if err := s.Store.Definitions.PutSignposts(c.Request.Context(), []store.Signpost{row}, s.User(c)); err != nil {
		s.refuseSignposts(c, row, err)
		return
	}
	s.Say(c, "Kept. It counts at once, for released quizzes too.", "")
	c.Redirect(http.StatusSeeOther, "/studio/signposts")
}

func (s *Room) refuseSignposts(c *gin.Context, typed store.Signpost, err error) {
	if errors.Is(err, store.ErrSignpost) {
		s.showSignposts(c, http.StatusUnprocessableEntity, typed, desk.SentenceOf(err.Error())+" Nothing was changed.")
		return
	}
	s.Fail(c, err)
}

var signpostColumns = []string{"table", "key", "address"}

func (s *Room) exportSignposts(c *gin.Context) {
	list, err := s.Store.Definitions.Signposts(c.Request.Context())
	if err != nil {
		s.Fail(c, err)
		return
	}
	var rows []map[string]string
	for _, r := range list {
		rows = append(rows, map[string]string{"table": r.Table, "key": r.Row, "address": r.Address})
	}
	s.sendList(c, "signposts.csv", signpostColumns, rows)
}

func (s *Room) importSignposts(c *gin.Context) {
	rows, err := readUpload(c, signpostColumns, signpostColumns)
	if err != nil {
		s.showSignposts(
			c,
			http.StatusUnprocessableEntity,
			store.Signpost{},
			desk.SentenceOf(err.Error())+" Nothing was changed.",
		)
		return
	}
	var list []store.Signpost
	for _, r := range rows {
		list = append(list, store.Signpost{Table: r["table"], Row: r["key"], Address: r["address"]})
	}
	if err := s.Store.Definitions.PutSignposts(c.Request.Context(), list, s.User(c)); err != nil {
		s.refuseSignposts(c, store.Signpost{}, err)
		return
	}
	s.Say(c, "The rows of the file are kept; rows that it does not name stay as they were.", "")
	c.Redirect(http.StatusSeeOther, "/studio/signposts")
}
