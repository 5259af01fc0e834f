package release

import (
	"encoding/csv"
	"errors"
	"fmt"
	"net/http"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"omphalos/core/quiz"
	"omphalos/interchange/listing"
	"omphalos/store"
	"omphalos/web/studio/desk"
	"omphalos/web/ui"
)

// A people part is who may answer, and who is on the list.
type people struct {
	Invited, Again bool
	Members        bool
	List           []personRow
	Count          int
	Finished       int // among those that are shown
	More           int
	Often          string // how often somebody may take it, as the draft says
	Unknown        bool   // the draft is anonymous
}

type personRow struct {
	store.Invitation
	Link  string
	State string
	Facts string
}

// mostPeople is how many of a list are shown; the file has all.
const mostPeople = 100

func (s *Room) peopleOf(c *gin.Context, z *store.Quiz) (people, error) {
	g := z.GateOf()
	p := people{Invited: g.Invited, Members: g.Members, Again: g.Again}
	draft, err := z.Document()
	if err != nil {
		return p, err
	}
	p.Often, p.Unknown = often(draft.Repeating()), draft.IsAnonymous()
	if p.Count, err = s.Store.Definitions.Invited(c.Request.Context(), z.ID); err != nil {
		return p, err
	}
	list, err := s.Store.Definitions.Invitations(c.Request.Context(), z.ID, 0, mostPeople)
	if err != nil {
		return p, err
	}
	for _, i := range list {
		p.List = append(p.List, s.person(c, i))
		if i.Finished {
			p.Finished++
		}
	}
	p.More = p.Count - len(list)
	return p, nil
}

// often says how often somebody may take a quiz.
func often(r *quiz.Repeats) string {
	if r == nil {
		return "Everybody may take it as often as they like, and each time counts."
	}
	who, times := "device", "as often as they like"
	if r.Persons() {
		who = "person"
	}
	switch {
	case r.Most == 1:
		return "The same " + who + " may take it once; who comes again sees their result."
	case r.Most > 1:
		times = fmt.Sprintf("%d times", r.Most)
	}
	said := "The same " + who + " may take it " + times
	if r.Days > 0 {
		said += ", again after " + ui.Plural(r.Days, "day", "days")
	}
	switch r.Counts {
	case quiz.LastCounts:
		return said + "; the last time counts."
	case quiz.FirstCounts:
		return said + "; the first time counts."
	}
	return said + "; each time counts."
}

func (s *Room) person(c *gin.Context, i store.Invitation) personRow {
	row := personRow{Invitation: i, Link: ui.Origin(c.Request, s.Public) + "/i/" + i.Token, State: "not yet"}
	switch {
	case i.Finished:
		row.State = "finished"
	case i.Begun:
		row.State = "begun"
	}
	var facts []string
	for name, value := range i.Columns() {
		facts = append(facts, name+": "+value)
	}
	row.Facts = strings.Join(facts, ", ")
	return row
}

// invite reads a list that was pasted, or says who may answer.
func (s *Room) invite(c *gin.Context) {
	z, ok := s.QuizOf(c)
	if !ok {
		return
	}
	ctx, said := c.Request.Context(), ""
	var err error
	switch {
	case c.PostForm("off") != "":
		id, _ := strconv.ParseUint(c.PostForm("off"), 10, 32)
		err = s.Store.Definitions.Uninvite(ctx, z.ID, uint(id))
		said = "They are off the list; their address opens nothing any more."
	case c.PostForm("do") == "who":
		g := z.GateOf()
		g.Invited, g.Members, g.Again = c.PostForm("who") == "invited", c.PostForm("who") == "members",
			c.PostForm("again") != ""
		err = s.Store.Definitions.SetGate(ctx, z.ID, g)
		said = "It counts from now on."
	default:
		list, wrong := readPeople(c.PostForm("list"))
		if wrong != "" {
			said = wrong
			break
		}
		var n int
		if n, err = s.Store.Definitions.Invite(ctx, z.ID, list); err == nil {
			said = ui.Plural(n, "person was", "people were") + " put on the list; who was on it by their address stayed."
		}
	}
	switch {
	case errors.Is(err, store.ErrInvited):
		said = "This list is too long: at most 50,000 people are invited."
	case err != nil:
		s.Fail(c, err)
		return
	}
	s.Say(c, said, "")
	c.Redirect(http.StatusSeeOther, desk.Address(z)+"/release#people")
}

// peopleFile sends the whole list with links and states, as CSV.
func (s *Room) peopleFile(c *gin.Context) {
	z, ok := s.QuizOf(c)
	if !ok {
		return
	}
	c.Header("Content-Disposition", `attachment; filename="invited.csv"`)
	c.Header("Content-Type", "text/csv; charset=utf-8")
	w := csv.NewWriter(c.Writer)
	_ = w.Write([]string{"name", "address", "link", "state"})
	for from := 0; ; from += mostAtOnce {
		list, err := s.Store.Definitions.Invitations(c.Request.Context(), z.ID, from, mostAtOnce)
		if err != nil || len(list) == 0 {
			break
		}
		for _, i := range list {
			row := s.person(c, i)
			_ = w.Write([]string{listing.Inert(row.Name), listing.Inert(row.Address), row.Link, row.State})
		}
	}
	w.Flush()
}

// mostAtOnce is how many of a list are read at a time.
const mostAtOnce = 1000
