// Package learn is the room of what respondents answered.
package learn

import (
	"cmp"
	"context"
	"embed"
	"fmt"
	"net/http"
	"slices"
	"time"

	"github.com/gin-gonic/gin"

	"omphalos/core/decimal"
	"omphalos/core/odds"
	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/interchange/rows"
	"omphalos/store"
	"omphalos/store/tally"
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
		ui.Post("/quizzes/:quiz/learn/adopt", ui.Form, s.adopt),
		ui.Get("/quizzes/:quiz/learn/:number", s.response),
		ui.Post("/quizzes/:quiz/learn/:number/delete", ui.Form, s.deleteResponse),
	}
}

// Long are the routes that may take longer than a page.
func (s *Room) Long() []ui.Route {
	var routes []ui.Route
	for _, f := range rows.Formats {
		routes = append(routes, ui.Get("/quizzes/:quiz/learn/responses."+string(f), s.export(f)))
	}
	return append(routes, ui.Get("/quizzes/:quiz/learn/measures", s.measured), ui.Get("/quizzes/:quiz/learn/words/:question", s.words),
		ui.Get("/quizzes/:quiz/learn/pictures/:file", s.picture))
}

type learnPage struct {
	desk.Frame
	List     list
	Partings int
	Links    []came

	figures
	Of      int // number of the release whose sheet is shown, 0 for the draft
	Time    string
	Recents []recent
	From    string
	To      string
	Hidden  []hidden // the fields of the address but the days
	Facets  []facet
	Chips   []chip
	Clear   string // address of all responses, "" where it is those
	Strip   *strip
	Files   []file
	Chart   pair       // of the outcomes
	Streams pair       // of how far they came
	Measure string     // address of how the quiz measures
	Offers  []versus   // with what it can be compared
	Versus  comparison // of no words where nothing is
	Adopt   string     // where what was answered is taken over
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

func (s *Room) learn(c *gin.Context) {
	z, in, ok := s.sliced(c)
	if !ok {
		return
	}
	page := learnPage{Frame: s.Frame(c, z.Title, "learn", z)}
	page.Of = in.of
	err := s.figure(c, z, in, &page)
	if err == nil {
		page.Partings, err = s.Store.Responses.Partings(c.Request.Context(), z.ID)
	}
	if err == nil {
		page.Links, err = s.byLink(c.Request.Context(), z.ID, page.All)
	}
	if err == nil {
		ok, err = s.list(c, z, in, &page)
	}
	switch {
	case err != nil:
		s.Fail(c, err)
	case !ok: // the page of the list that was asked for is not there any more
		c.Redirect(http.StatusSeeOther, in.slice.at(in.slice.clone()))
	default:
		s.Show(c, http.StatusOK, "learn", page)
	}
}

// sliced returns the quiz and the slice of it that the address names, or answers that they
// are not there.
func (s *Room) sliced(c *gin.Context) (*store.Quiz, *sliced, bool) {
	z, ok := s.QuizOf(c)
	if !ok {
		return nil, nil, false
	}
	in, err := s.sliceAt(c, z)
	if err != nil {
		s.Fail(c, err)
	}
	return z, in, err == nil
}

// A sliced quiz is what is shown of it: the newest release, or the draft where there is none.
type sliced struct {
	slice *sentence
	quiz  *quiz.Quiz
	of    int // number of the release
}

// sliceAt reads the slice that the address names.
func (s *Room) sliceAt(c *gin.Context, z *store.Quiz) (*sliced, error) {
	releases, err := s.Store.Definitions.Releases(c.Request.Context(), z.ID)
	if err != nil {
		return nil, err
	}
	in := &sliced{}
	if len(releases) > 0 {
		in.of = releases[0].Number
		in.quiz, err = releases[0].Read()
	} else {
		in.quiz, err = z.Document()
	}
	if err != nil {
		return nil, err
	}
	in.slice = sentenceAt(desk.Address(z)+"/learn", in.quiz, releases, c.Request.URL.Query())
	return in, nil
}

// figure fills in what the slice comes to.
func (s *Room) figure(c *gin.Context, z *store.Quiz, in *sliced, page *learnPage) error {
	ctx, sl := c.Request.Context(), in.slice
	var known *odds.Odds
	if in.of > 0 {
		p, err := program.CompileReleased(in.quiz.On(ui.Today(in.quiz)))
		if err != nil {
			return err
		}
		known = expected(ctx, p)
	}
	finished, there, err := s.flows(ctx, z.ID, sl)
	if err != nil {
		return err
	}
	err = s.Store.Responses.Tally(ctx, z.ID, func(t *tally.Tally) {
		r := reading{slice: sl, quiz: in.quiz, odds: known, tally: t, in: t.Slice(sl.All()...)}
		r.count = r.in.Count()
		r.flow = finished(r.count)
		r.place = func(table, key string) string { return s.Store.Definitions.PlaceName(ctx, table, key) }
		page.Facets, page.Strip = sl.facets(t, r.in), sl.strip(t, r.in)
		if sl.versus != "" {
			r.versus = &comparing{in: sl.those(t, r.in)}
			r.versus.count = r.versus.in.Count()
			r.flow.against(r.versus, there(r.versus.count))
		}
		page.figures = r.figures()
		page.Offers = sl.offers(page.Facets)
		if r.versus != nil {
			page.Versus = r.versus.settle(r.count)
			page.Versus.Words, page.Versus.Drop = sl.versusWords(page.Facets), sl.at(sl.alone())
			page.Versus.Need = r.need(page.Outcomes)
		}
	})
	page.Time, page.Recents, page.Chips = sl.timeWords(), sl.recents(ui.Today(in.quiz)), sl.chips()
	page.From, page.To, page.Hidden = sl.Asked.Get("from"), sl.Asked.Get("to"), sl.hide("from", "to")
	if len(sl.Asked) > 0 {
		page.Clear = sl.address
	}
	page.Chart, page.Streams = sl.charted("outcomes"), sl.charted("stream")
	page.Adopt, page.Measure, page.Files = sl.beside("adopt"), sl.beside("measures"), sl.files()
	return err
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

	All, Newer, Older string // addresses in the slice, "" for none
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
	in.Zone = func(calendar string) *time.Location { return store.Diary{Store: s.Store}.Zone(ctx, calendar) }
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
