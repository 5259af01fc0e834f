// Package learn is the room of what respondents answered.
package learn

import (
	"context"
	"embed"
	"net/http"
	"strings"

	"github.com/gin-gonic/gin"
	lru "github.com/hashicorp/golang-lru/v2"
	"golang.org/x/sync/errgroup"

	"omphalos/core/odds"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/interchange/rows"
	"omphalos/store"
	"omphalos/store/slice"
	"omphalos/store/tally"
	"omphalos/web/studio/desk"
	"omphalos/web/ui"
)

//go:embed *.html
var templates embed.FS

// A Room is what respondents answered.
type Room struct {
	*desk.Desk
	shown *lru.Cache[uint, *shown] // by the newest release
}

// New returns the room at a desk.
func New(d *desk.Desk) *Room {
	s := &Room{Desk: d.With(templates)}
	s.shown, _ = lru.New[uint, *shown](mostShown) // never fails
	return s
}

// Routes are the room's, each with what it takes.
func (s *Room) Routes() []ui.Route {
	return []ui.Route{
		ui.Get("/quizzes/:quiz/learn", s.learn),
		ui.Post("/quizzes/:quiz/learn/adopt", ui.Form, s.adopt),
		ui.Post("/quizzes/:quiz/learn/views", ui.Form, s.keep),
		ui.Post("/quizzes/:quiz/learn/views/:view/forget", ui.Form, s.forget),
		ui.Get("/quizzes/:quiz/learn/:number", s.response),
		ui.Post("/quizzes/:quiz/learn/:number/delete", ui.Form, s.deleteResponse),
		ui.Post("/quizzes/:quiz/learn/:number/contact", ui.Form, s.correct),
	}
}

// Long are the routes that may take longer than a page.
func (s *Room) Long() []ui.Route {
	var routes []ui.Route
	for _, f := range rows.Formats {
		routes = append(routes, ui.Get("/quizzes/:quiz/learn/responses."+string(f), s.export(f)))
	}
	return append(routes, ui.Get("/quizzes/:quiz/learn/replay", s.replay),
		ui.Get("/quizzes/:quiz/learn/aim", s.aim), ui.Post("/quizzes/:quiz/learn/aim/adopt", ui.Form, s.takeOver),
		ui.Get("/quizzes/:quiz/learn/won", s.won), ui.Post("/quizzes/:quiz/learn/won/adopt", ui.Form,
			s.takeOver), ui.Get("/quizzes/:quiz/learn/measures", s.measured),
		ui.Get("/quizzes/:quiz/learn/words/:question", s.words),
		ui.Get("/quizzes/:quiz/learn/pictures/:file", s.picture))
}

type learnPage struct {
	desk.Frame
	List   list
	Links  []came
	Pooled string // whose words and scores are shown, where several releases are counted together

	figures
	Of      int // number of the release whose sheet is shown, 0 for the draft
	Time    string
	Slice   string        // the sentence in a line, "" for all responses
	Recents []desk.Option // by their addresses
	From    string
	To      string
	Hidden  []desk.Hidden // the fields of the address but the days
	Facets  []desk.Facet
	Chips   []desk.Chip
	Clear   string // address of all responses, "" where it is those
	Strip   *strip
	Files   []file
	Views   desk.Views
	Chart   pair   // of the outcomes
	Streams pair   // of how far they came
	Measure string // address of how the quiz measures
	whatIf
	Leads  string     // address of the leads of the slice
	Offers []versus   // with what it can be compared
	Versus comparison // of no words where nothing is
	Adopt  string     // where what was answered is taken over
}

// A came is how many came by a link and finished.
type came struct {
	Name    string
	Count   int
	Part    float64 // of all
	Percent string
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
			of := part(counts[i], total)
			list = append(list, came{l.Name, counts[i], of, ui.Percent(of)})
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
	var of listed
	var work errgroup.Group // figures and list are read side by side
	work.Go(func() error { return s.figure(c, z, in, &page) })
	work.Go(func() (err error) {
		of, err = s.find(c, z, in)
		return err
	})
	err := work.Wait()
	if err == nil {
		page.Views, err = s.views(c.Request.Context(), z.ID, in.slice)
	}
	if err == nil {
		page.Links, err = s.byLink(c.Request.Context(), z.ID, page.All)
	}
	switch {
	case err != nil:
		s.Fail(c, err)
	case !in.list(of, &page): // the page of the list that was asked for is not there any more
		c.Redirect(http.StatusSeeOther, in.slice.at(in.slice.clone()))
	default:
		s.Show(c, http.StatusOK, "learn", page)
	}
}

// figure fills in what the slice comes to.
func (s *Room) figure(c *gin.Context, z *store.Quiz, in *sliced, page *learnPage) error {
	ctx, sl := c.Request.Context(), in.slice
	var known *odds.Odds
	if in.of > 0 {
		p, err := program.CompileReleased(in.quiz)
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
		r := reading{shown: in.shown, slice: sl, quiz: in.pool.Quiz, before: in.pool.Before, odds: known, tally: t,
			in: t.Slice(sl.All()...)}
		r.keys = append(in.quiz.QuestionKeys(), in.pool.Before...)
		r.count = r.in.Count()
		r.flow = finished(r.count)
		r.out, r.outAll = r.flow.outBy(), r.flow.Out
		page.Facets, page.Strip = sl.facets(t, r.in), sl.strip(t, r.in)
		if sl.versus != "" {
			r.versus = &comparing{in: sl.those(t, r.in)}
			r.versus.count = r.versus.in.Count()
			other := there(r.versus.count)
			r.versus.out, r.versus.outAll = other.outBy(), other.Out
			r.flow.against(r.versus, other)
		}
		page.figures, page.Pooled = r.figures(), r.together()
		page.Offers = sl.offers(page.Facets)
		if r.versus != nil {
			page.Versus = r.versus.settle(r.count)
			page.Versus.Words, page.Versus.Drop = sl.versusWords(page.Facets), sl.at(sl.alone())
			page.Versus.Need = r.need(page.Outcomes)
		}
	})
	page.Time, page.Recents, page.Chips = sl.days.Words(sl.Asked), desk.Recents(sl.clone(), sl.at), sl.chips()
	page.Slice = strings.Join(sl.words(), ", ")
	page.From, page.To, page.Hidden = sl.Asked.Get("from"), sl.Asked.Get("to"), sl.hide(slice.DayFields...)
	if len(sl.Asked) > 0 {
		page.Clear = sl.address
	}
	page.Chart, page.Streams = sl.charted("outcomes"), sl.charted("stream")
	page.whatIf, page.Leads = sl.whatIf(""), sl.leads(z.ID)
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
