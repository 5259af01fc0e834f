// Package leads is the room of the people who said who they are, over all quizzes.
package leads

import (
	"embed"
	"net/http"
	"strconv"
	"time"

	"github.com/gin-gonic/gin"
	lru "github.com/hashicorp/golang-lru/v2"

	"omphalos/store/slice"
	"omphalos/store/tally"
	"omphalos/web/studio/desk"
	"omphalos/web/ui"
)

//go:embed *.html
var templates embed.FS

// A Room is where leads are worked.
type Room struct {
	*desk.Desk
	rulers *lru.Cache[uint, *ruler] // by release
}

// New returns the room at a desk.
func New(d *desk.Desk) *Room {
	s := &Room{Desk: d.With(templates)}
	s.rulers, _ = lru.New[uint, *ruler](mostRulers) // never fails
	return s
}

// Routes are the room's, each with what it takes.
func (s *Room) Routes() []ui.Route {
	return []ui.Route{
		ui.Get("/leads", s.leads),
		ui.Get("/leads/news", s.news),
		ui.Post("/leads/change", ui.Form, s.change),
		ui.Post("/leads/undo/:batch", ui.Form, s.undo),
		ui.Post("/leads/views", ui.Form, s.keep),
		ui.Post("/leads/views/forget", ui.Form, s.forget),
		ui.Get("/leads/settings", s.settings),
		ui.Post("/leads/settings", ui.Form, s.settle),
		ui.Post("/leads/person/:lead/merge", ui.Form, s.merge),
		ui.Post("/leads/person/:lead/part", ui.Form, s.part),
		ui.Post("/leads/person/:lead/erase", ui.Form, s.erase),
		ui.Get("/leads/person/:lead/card.vcf", s.card),
		ui.Get("/leads/person/:lead/next.ics", s.appointment),
		ui.Get("/leads/person/:lead/everything.json", s.everythingJSON),
		ui.Get("/leads/person/:lead/everything.html", s.everythingHTML),
	}
}

type leadsPage struct {
	desk.Frame
	Stamp    uint // see store.Responses.LeadStamp
	Time     string
	Recents  []desk.Option
	From, To string
	Hidden   []desk.Hidden // the fields of the sentence but the days
	Search   string
	Searched []desk.Hidden // the fields of the sentence but the search
	Facets   []desk.Facet
	Chips    []desk.Chip
	Forgets  string // how many leads go within the next days, "" where nothing does
	Clear    string // address of all leads, "" where it is those
	Views    desk.Views
	Query    string // the sentence as fields
	Files    []desk.Hidden
	All      int // leads there are
	Count    int // of the sentence
	Columns  []column
	Rows     []row
	Fewer    string // addresses, "" where there are none
	Further  string
	States   []stateChoice
	Owners   []desk.Option
	Open     *person // nil where none is
	Back     string  // the list without who is open
	Typed    string  // a note that could not be kept
	More     string  // address of the sentence with all of its parts, "" where it has them
	Most     int     // leads that can be changed at once
}

// leads shows the list of a sentence, and one of them beside it.
func (s *Room) leads(c *gin.Context) {
	in, err := s.sentenceAt(c)
	if err == nil {
		var page *leadsPage
		if page, err = s.page(c, in); err == nil {
			s.Show(c, http.StatusOK, "leads", page)
			return
		}
	}
	s.Fail(c, err)
}

const perPage = 50

func (s *Room) page(c *gin.Context, in *sentence) (*leadsPage, error) {
	ctx := c.Request.Context()
	page := &leadsPage{Frame: s.Frame(c, "Leads", "leads", nil), Stamp: s.Store.Responses.LeadStamp(), Most: mostChanged,
		Time: in.days.Words(in.fields), From: in.fields.Get("from"), To: in.fields.Get("to"),
		Hidden: in.hide(slice.DayFields...),
		Search: in.fields.Get("search"), Searched: in.hide("search"), Typed: c.Query("typed")}
	found, err := in.found(ctx)
	if err != nil {
		return nil, err
	}
	by, order := in.order()
	mark, _ := strconv.Atoi(in.after) // what is no number asks for the first
	var ids []int
	open, _ := strconv.Atoi(c.Query("lead"))
	err = s.Store.Responses.LeadTally(ctx, func(t *tally.Tally) {
		those := in.slice(t, found)
		page.All, page.Count = t.All(), those.Count()
		ids = those.Page(order, tally.Mark(mark), perPage+1)
		page.Facets = in.facets(t, those, found)
	})
	if err != nil {
		return nil, err
	}
	if len(ids) > perPage {
		ids = ids[:perPage]
		page.Further = in.at("after", strconv.Itoa(ids[perPage-1]))
	}
	if in.after != "" {
		page.Fewer = in.at("after", "")
	}
	list, err := s.Store.Responses.Leads(ctx, ids)
	if err != nil {
		return nil, err
	}
	for i := range list {
		r, err := s.row(ctx, in, &list[i], open)
		if err != nil {
			return nil, err
		}
		page.Rows = append(page.Rows, r)
	}
	page.Columns = in.columns(by, order)
	if !in.more() {
		page.More = in.at("parts", "all")
	}
	page.Recents, page.States, page.Owners = desk.Recents(in.fields, in.to), in.states(""), in.owners(0)
	page.Query = in.page().Encode()
	page.Views, err = s.views(ctx, in)
	if err != nil {
		return nil, err
	}
	if in.asks() {
		page.Clear = in.address
	}
	page.Files, page.Chips = in.files(), in.chips()
	if n, on, err := s.Store.Responses.LeadsToForget(ctx, s.today()); err != nil {
		return nil, err
	} else if on && n > 0 {
		page.Forgets = forgetWords(n, in.settings.Keep)
	}
	if open > 0 {
		page.Back = in.to(in.page())
		page.Open, err = s.open(ctx, in, uint(open))
	}
	return page, err
}

// today is now, in the time zone of the workspace.
func (s *Room) today() time.Time { return time.Now().In(s.Store.Responses.Zone()) }

// news tells whether leads have come or changed since a page was made.
func (s *Room) news(c *gin.Context) {
	c.JSON(http.StatusOK, gin.H{"stamp": s.Store.Responses.LeadStamp()})
}
