// Package learn is the room of what respondents answered.
package learn

import (
	"cmp"
	"context"
	"embed"
	"errors"
	"fmt"
	"net/http"
	"slices"
	"strconv"

	"github.com/gin-gonic/gin"

	"omphalos/core/decimal"
	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/store"
	"omphalos/web/studio/desk"
	"omphalos/web/ui"
)

//go:embed *.html
var templates embed.FS

// A Room is what respondents answered.
type Room struct {
	*desk.Desk
}

// New returns the room at a desk.
func New(d *desk.Desk) *Room { return &Room{d.With(templates)} }

// Routes are the room's, each with what it takes.
func (s *Room) Routes() []ui.Route {
	return []ui.Route{
		ui.Get("/quizzes/:quiz/learn", s.learn),
		ui.Get("/quizzes/:quiz/learn/:number", s.response),
		ui.Post("/quizzes/:quiz/learn/:number/delete", ui.Form, s.deleteResponse),
	}
}

const perPage = 50

type learnPage struct {
	desk.Frame
	Responses []responseRow
	Shares    []desk.Share
	Scales    []string // names, for the heads of the columns
	Total     int
	Partings  int
	Links     []came
	Newer     string // addresses
	Older     string
}

// A came is how many came by a link and finished.
type came struct {
	Name  string
	Count int
	Part  float64 // of all
}

// byLink counts those who came by each link that can be told apart.
func (s *Room) byLink(ctx context.Context, quiz uint, total int) ([]came, error) {
	links, err := s.Store.Definitions.Links(ctx, quiz)
	if err != nil {
		return nil, err
	}
	counts, err := s.Store.Responses.FinishedBy(ctx, quiz, links)
	var list []came
	for i, l := range links {
		if err == nil && counts[i] >= 0 {
			list = append(list, came{l.Name, counts[i], float64(counts[i]) / float64(max(total, 1))})
		}
	}
	return list, err
}

type responseRow struct {
	store.Response
	Outcome desk.Share
	Scores  []string
	Lands   string
}

func (s *Room) learn(c *gin.Context) {
	z, ok := s.QuizOf(c)
	if !ok {
		return
	}
	var at store.Page
	at.Before, _ = strconv.Atoi(c.Query("before")) // what is no number asks for the newest
	at.After, _ = strconv.Atoi(c.Query("after"))
	q, err1 := z.Document()
	list, err2 := s.Store.Responses.List(c.Request.Context(), z.ID, at, perPage+1)
	counts, err3 := s.Store.Responses.Outcomes(c.Request.Context(), z.ID)
	partings, err4 := s.Store.Responses.Partings(c.Request.Context(), z.ID)
	if err := errors.Join(err1, err2, err3, err4); err != nil {
		s.Fail(c, err)
		return
	}
	page := learnPage{Frame: s.Frame(c, z.Title, "learn", z), Shares: desk.Shares(q, counts), Partings: partings}
	for _, one := range page.Shares {
		page.Total += one.Count
	}
	if page.Links, err1 = s.byLink(c.Request.Context(), z.ID, page.Total); err1 != nil {
		s.Fail(c, err1)
		return
	}
	if len(list) == 0 && at != (store.Page{}) {
		c.Redirect(http.StatusSeeOther, desk.Address(z)+"/learn")
		return
	}
	more := len(list) > perPage
	switch {
	case more && at.After > 0: // the one that is too many is the newest
		list = list[1:]
	case more:
		list = list[:perPage]
	}
	if len(list) > 0 {
		if at.Before > 0 || at.After > 0 && more {
			page.Newer = fmt.Sprintf("%s/learn?after=%d", desk.Address(z), list[0].Number)
		}
		if at.After > 0 || more {
			page.Older = fmt.Sprintf("%s/learn?before=%d", desk.Address(z), list[len(list)-1].Number)
		}
	}
	scales := quiz.InOrder(q.Scales)
	for _, k := range scales {
		page.Scales = append(page.Scales, q.Scales[k].Name)
	}
	for _, r := range list {
		page.Responses = append(page.Responses, rowOf(q, scales, page.Shares, r))
	}
	s.Show(c, http.StatusOK, "learn", page)
}

func rowOf(q *quiz.Quiz, scales []string, outcomes []desk.Share, r store.Response) responseRow {
	row := responseRow{Response: r, Lands: landsAt(q, &r)}
	if i := slices.IndexFunc(outcomes, func(o desk.Share) bool { return o.Outcome == r.Outcome }); i >= 0 {
		row.Outcome = outcomes[i]
	}
	for _, k := range scales {
		text := "–"
		for _, score := range r.Scores {
			if score.Scale == k {
				text = score.Millionths.Words()
			}
		}
		row.Scores = append(row.Scores, text)
	}
	return row
}

// landsAt says where a response landed.
func landsAt(q *quiz.Quiz, r *store.Response) string {
	if r.Address != "" {
		return "redirect to " + r.Address
	}
	if o := q.Outcomes[r.Outcome]; o != nil && o.Landings[r.Landing] != nil {
		return string(o.Landings[r.Landing].Kind)
	}
	return "page"
}

type responsePage struct {
	desk.Frame
	Response    *store.Response
	Release     int
	Outcome     desk.Share
	Explanation passage.Explanation
	Totals      []total
	Lands       string
	Contact     []contactLine
	Quotes      []quote
}

// A quote lists what a scale of money came to.
type quote struct {
	Name  string
	Lines []passage.BillLine
	Total string
}

// A contactLine is what a respondent said of themselves.
type contactLine struct{ Label, Value string }

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
	s.Show(c, http.StatusOK, "response", page)
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

func (s *Room) explained(ctx context.Context, r *store.Response) (*responsePage, error) {
	release, err := s.Store.Definitions.ReleaseByID(ctx, r.ReleaseID)
	if err != nil {
		return nil, err
	}
	q, err := release.Read()
	if err != nil {
		return nil, err
	}
	program, err := program.CompileReleased(q)
	if err != nil {
		return nil, err
	}
	in, err := r.Input(program)
	if err != nil {
		return nil, err
	}
	in.Place = func(table, key string) string { return s.Store.Definitions.PlaceName(ctx, table, key) }
	page := &responsePage{Response: r, Release: release.Number, Explanation: passage.Explain(program, in), Lands: landsAt(q, r)}
	if o := q.Outcomes[r.Outcome]; o != nil {
		i := slices.Index(quiz.InOrder(q.Outcomes), r.Outcome)
		page.Outcome = desk.Share{
			Outcome:  r.Outcome,
			Name:     cmp.Or(o.Name, r.Outcome),
			Letter:   q.Letter(r.Outcome),
			Class:    desk.Hue(i),
			Standing: string(o.Standing),
		}
	}
	for _, c := range r.Contacts {
		if f := contactField(q, c.Field); f != nil && f.Kind != quiz.Consent { // told with its words and time below
			page.Contact = append(page.Contact, contactLine{f.Label, c.Value})
		}
	}
	for _, agreed := range r.Consents {
		line := fmt.Sprintf("%s (%s UTC", agreed.Words, agreed.Given.Format("2006-01-02 15:04"))
		if agreed.Privacy != "" {
			line += ", beside the notice at " + agreed.Privacy
		}
		page.Contact = append(page.Contact, contactLine{"Agreed to", line + ")"})
	}
	w := passage.NewWalker(program)
	filler := passage.NewFiller(program, in, w.Walk(in), store.ResponseNumber(r.Passage))
	for i, key := range program.ScaleKeys() {
		if q.Scales[key].Kind != quiz.Money {
			continue
		}
		lines, all := w.Bill(key)
		for k := range lines {
			lines[k].Words, lines[k].Detail = filler.Plainly(lines[k].Words), filler.Plainly(lines[k].Detail)
		}
		if len(lines) > 0 {
			page.Quotes = append(page.Quotes, quote{q.Scales[key].Name, lines, program.ScoreText(i, all)})
		}
	}
	for _, reached := range page.Explanation.Scales {
		page.Totals = append(page.Totals, total{reached.Name, reached.Text, reached.Value})
	}
	return page, nil
}

// contactField returns the field of the contact section under key, or nil.
func contactField(q *quiz.Quiz, key string) *quiz.Question {
	if q.Contact == nil {
		return nil
	}
	return q.Contact.Fields[key]
}
