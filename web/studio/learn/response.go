package learn

import (
	"context"
	"errors"
	"fmt"
	"net/http"
	"slices"
	"strings"

	"github.com/gin-gonic/gin"

	"omphalos/core/decimal"
	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/store"
	"omphalos/store/tally"
	"omphalos/web/studio/desk"
	"omphalos/web/ui"
)

type responsePage struct {
	desk.Frame
	Response    *store.Response
	Release     int
	Outcome     desk.Share
	Explanation passage.Explanation
	Totals      []total
	Stays       map[string]string // how long they stayed at each question
	Others      map[string]string // the answers that they did not give
	Sheet       string            // address of the sheet that they went through
	Lands       string
	Contact     []contactLine
	Quotes      []quote

	All, Newer, Older string // addresses in the slice, "" for none
}

// A quote lists what a scale of money came to.
type quote struct {
	Name  string
	Lines []passage.BillLine
	Total string
}

// A contactLine is what a respondent said of themselves.
type contactLine struct {
	Label, Value string
	Field        string // its key, "" where it can't be corrected
}

// A total shows a scale's score on a line from the lowest to the highest.
type total struct {
	Name, Text string
	Value      decimal.Decimal
}

// response shows one response with the explanation of its result, computed by
// the release that it was given to.
func (s *Room) response(c *gin.Context) {
	z, n, ok := s.numbered(c)
	if !ok {
		return
	}
	r, err := s.Store.Responses.Response(c.Request.Context(), z.ID, n)
	if err != nil {
		s.Fail(c, err)
		return
	}
	page, err := s.explained(c.Request.Context(), r)
	if err != nil {
		s.Fail(c, err)
		return
	}
	page.Frame = s.Frame(c, z.Title, "learn", z)
	page.Sheet = fmt.Sprintf("%s/versions/%d", desk.Address(z), page.Release)
	if err := s.beside(c, z, page); err != nil {
		s.Fail(c, err)
		return
	}
	s.Show(c, http.StatusOK, "response", page)
}

// beside says which responses of the slice come before and after one.
func (s *Room) beside(c *gin.Context, z *store.Quiz, page *responsePage) error {
	in, err := s.sliceAt(c, z)
	if err != nil {
		return err
	}
	page.All = in.slice.at(in.slice.clone())
	for _, way := range []struct {
		falling bool
		to      *string
	}{{false, &page.Newer}, {true, &page.Older}} {
		list, _, err := s.Store.Responses.Find(c.Request.Context(), z.ID, in.slice.All(),
			tally.Order{Falling: way.falling}, tally.Mark(page.Response.Number), 1)
		if err != nil {
			return err
		}
		if len(list) > 0 {
			*way.to = in.slice.of(list[0].Number)
		}
	}
	return nil
}

// numbered returns the quiz and the number of a response that the address names, or answers
// that they are not there.
func (s *Room) numbered(c *gin.Context) (z *store.Quiz, n int, ok bool) {
	if z, ok = s.QuizOf(c); !ok {
		return nil, 0, false
	}
	if n, ok = desk.Number(c, "number"); !ok {
		s.Fail(c, store.ErrNotFound)
	}
	return z, n, ok
}

// deleteResponse deletes a response for good.
func (s *Room) deleteResponse(c *gin.Context) {
	z, n, ok := s.numbered(c)
	if !ok {
		return
	}
	if c.PostForm("sure") == "" {
		c.Redirect(http.StatusSeeOther, fmt.Sprintf("%s/learn/%d", desk.Address(z), n))
		return
	}
	if err := s.Store.Responses.DeleteResponse(c.Request.Context(), z.ID, n, s.User(c)); err != nil {
		s.Fail(c, err)
		return
	}
	s.Say(c, fmt.Sprintf("Response %d is deleted, with everything that was kept of it.", n), "")
	c.Redirect(http.StatusSeeOther, desk.Address(z)+"/learn")
}

// correct puts another value in the place of what a respondent said of themselves: they have
// a right to that. It is read as the quiz reads it.
func (s *Room) correct(c *gin.Context) {
	z, n, ok := s.numbered(c)
	if !ok {
		return
	}
	ctx, field, value := c.Request.Context(), c.PostForm("field"), strings.TrimSpace(c.PostForm("value"))
	r, err := s.Store.Responses.Response(ctx, z.ID, n)
	if err == nil && value != "" {
		value, err = s.readContact(ctx, r, field, value)
	}
	var refused *program.Refused
	if errors.As(err, &refused) {
		s.Say(c, fmt.Sprintf("“%s” is not kept. %s", value, refused.Message), "")
		c.Redirect(http.StatusSeeOther, fmt.Sprintf("%s/learn/%d", desk.Address(z), n))
		return
	}
	if err == nil {
		err = s.Store.Responses.CorrectContact(ctx, z.ID, n, field, value)
	}
	if err != nil {
		s.Fail(c, err)
		return
	}
	s.Say(c, "It is corrected.", "")
	c.Redirect(http.StatusSeeOther, fmt.Sprintf("%s/learn/%d", desk.Address(z), n))
}

// readContact reads a value as the release of a response does. The error is a *program.Refused
// where that does not take it; the value is then as it was typed.
func (s *Room) readContact(ctx context.Context, r *store.Response, field, value string) (string, error) {
	release, err := s.Store.Definitions.ReleaseByID(ctx, r.ReleaseID)
	if err != nil {
		return value, err
	}
	q, err := release.Read()
	if err != nil {
		return value, err
	}
	p, err := program.CompileReleased(q)
	if err != nil {
		return value, err
	}
	typed := program.Typed{Values: []string{value}}
	var v program.Value
	if i := slices.Index(p.ContactKeys(), field); i >= 0 {
		v, err = p.ReadContact(i, typed)
	} else if i := p.Position(field); i >= 0 {
		v, err = p.Read(i, typed)
	} else {
		return value, store.ErrNotFound
	}
	if err != nil {
		return value, err
	}
	return v.Text, nil
}

func (s *Room) explained(ctx context.Context, r *store.Response) (*responsePage, error) {
	walked, err := s.Walked(ctx, r)
	if err != nil {
		return nil, err
	}
	q, in := walked.Quiz, walked.Input
	page := &responsePage{Response: r, Release: walked.Release, Explanation: walked.Explanation,
		Lands: landsAt(q, r), Outcome: walked.Outcome}
	page.Stays, page.Others = map[string]string{}, map[string]string{}
	for key, asked := range q.Questions {
		var others []string
		for _, answer := range quiz.InOrder(asked.Answers) {
			given := func(a store.ResponseAnswer) bool { return a.Question == key && a.Answer == answer }
			if asked.Kind != quiz.Grid && !slices.ContainsFunc(r.Answers, given) {
				others = append(others, asked.Answers[answer].Label)
			}
		}
		page.Others[key] = strings.Join(others, ", ")
	}
	for _, s := range r.Asked {
		if s.Seconds >= 0 {
			page.Stays[s.Question] = duration(int64(s.Seconds))
		}
	}
	for _, c := range r.Contacts {
		if f := q.Ask(c.Field); f != nil && f.Kind != quiz.Consent { // told with its words and time below
			page.Contact = append(page.Contact, contactLine{f.Label, c.Value, c.Field})
		}
	}
	for _, agreed := range r.Consents {
		line := fmt.Sprintf("%s (%s", agreed.Words, ui.Stamp(agreed.Given.In(s.Store.Responses.Zone())))
		if agreed.Privacy != "" {
			line += ", beside the notice at " + agreed.Privacy
		}
		page.Contact = append(page.Contact, contactLine{"Agreed to", line + ")", ""})
	}
	w := passage.NewWalker(walked.Program)
	filler := passage.NewFiller(walked.Program, in, w.Walk(in), store.ResponseNumber(r.Passage))
	for i, key := range walked.Program.ScaleKeys() {
		if q.Scales[key].Kind != quiz.Money {
			continue
		}
		lines, all := w.Bill(key)
		for k := range lines {
			lines[k].Words, lines[k].Detail = filler.Plainly(lines[k].Words), filler.Plainly(lines[k].Detail)
		}
		if len(lines) > 0 {
			page.Quotes = append(page.Quotes, quote{q.Scales[key].Name, lines, walked.Program.ScoreText(i, all)})
		}
	}
	for _, reached := range page.Explanation.Scales {
		page.Totals = append(page.Totals, total{reached.Name, reached.Text, reached.Value})
	}
	return page, nil
}
