// Package leads is the room of the people who said who they are, over all quizzes.
package leads

import (
	"context"
	"embed"
	"net/http"
	"slices"
	"strconv"
	"time"

	"github.com/gin-gonic/gin"
	lru "github.com/hashicorp/golang-lru/v2"

	"omphalos/store"
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
	Facets   []desk.Facet
	Chips    []chip
	Forgets  string // how many leads go within the next days, "" where nothing does
	Clear    string // address of all leads, "" where it is those
	Views    []keptView
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
		Time: in.timeWords(), From: in.fields.Get("from"), To: in.fields.Get("to"), Hidden: in.hide("from", "to"), Search: in.fields.Get("search"), Typed: c.Query("typed")}
	found, err := in.found(ctx)
	if err != nil {
		return nil, err
	}
	by, order := in.order()
	after := c.Query("after")
	mark, _ := strconv.Atoi(after) // what is no number asks for the first
	var ids []int
	open, _ := strconv.Atoi(c.Query("lead"))
	err = s.Store.Responses.LeadTally(ctx, func(t *tally.Tally) {
		slice := in.slice(t, found)
		page.All, page.Count = t.All(), slice.Count()
		ids = slice.Page(order, tally.Mark(mark), perPage+1)
		page.Facets = in.facets(t, slice, found)
	})
	if err != nil {
		return nil, err
	}
	if len(ids) > perPage {
		ids = ids[:perPage]
		page.Further = in.at("after", strconv.Itoa(ids[perPage-1]))
	}
	if after != "" {
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
	page.Recents, page.States, page.Owners = in.recents(today()), in.states(""), in.owners(0)
	page.Query = in.fields.Encode()
	page.Views, err = s.views(ctx, in)
	if err != nil {
		return nil, err
	}
	if in.fields.Get("search") != "" || len(in.parts) > 0 || in.within != nil {
		page.Clear = in.address
	}
	page.Files, page.Chips = in.files(), in.chips()
	if n, on, err := s.Store.Responses.LeadsToForget(ctx, today()); err != nil {
		return nil, err
	} else if on && n > 0 {
		page.Forgets = forgetWords(n, in.settings.Keep)
	}
	if open > 0 {
		page.Back = in.at("lead", "")
		page.Open, err = s.open(ctx, in, uint(open))
	}
	return page, err
}

func today() time.Time { return time.Now().UTC() }

// A row of the list.
type row struct {
	*store.Lead
	Address string
	Current bool
	Outcome desk.Share
	Ruler   drawn
	State   store.LeadState
	Hue     string
	Owner   string
	Day     string // of the next step, as it stands in a list
	Due     string // "overdue", "today", "" where it is later or not at all
	Quiz    string
}

func (s *Room) row(ctx context.Context, in *sentence, l *store.Lead, open int) (row, error) {
	by, err := s.ruler(ctx, l.ReleaseID)
	if err != nil {
		return row{}, err
	}
	state := in.settings.State(l.State)
	return row{
		Lead: l, Address: in.at("lead", strconv.FormatUint(uint64(l.ID), 10)), Current: int(l.ID) == open,
		Outcome: by.outcomes[l.Outcome], Ruler: by.drawn(l), State: state, Hue: hueOf(in.settings, state), Owner: in.names[l.OwnerID],
		Day: dayOf(l.Next), Due: due(l.Next, today()), Quiz: in.quizzes[l.QuizID],
	}, nil
}

// dayOf writes a day as it stands in a list, "" for none.
func dayOf(day string) string {
	at, err := time.Parse(time.DateOnly, day)
	if err != nil {
		return ""
	}
	return at.Format("2 Jan")
}

// due says whether a day has come.
func due(day string, now time.Time) string {
	switch today := now.Format(time.DateOnly); {
	case day == "":
		return ""
	case day < today:
		return "overdue"
	case day == today:
		return "today"
	}
	return ""
}

// hueOf is the class of a state's mark.
func hueOf(s *store.LeadSettings, state store.LeadState) string {
	switch {
	case state.End != "":
		return "state-" + state.End
	case len(s.States) > 0 && s.States[0].Key == state.Key:
		return "state-new"
	}
	return "state-on"
}

// A stateChoice is a state that a lead can come into, and the key of the keyboard for it.
type stateChoice struct {
	store.LeadState
	Hue    string
	Digit  int
	Chosen bool
}

func (in *sentence) states(chosen string) []stateChoice {
	var list []stateChoice
	for i, state := range in.settings.States {
		list = append(list, stateChoice{state, hueOf(in.settings, state), i + 1, state.Key == chosen})
	}
	return list
}

// owners are those in whose hands a lead can come, nobody first.
func (in *sentence) owners(chosen uint) []desk.Option {
	list := []desk.Option{{Value: "0", Name: "nobody", Chosen: chosen == 0}}
	for _, u := range in.users {
		list = append(list, desk.Option{Value: strconv.FormatUint(uint64(u.ID), 10), Name: in.names[u.ID], Chosen: u.ID == chosen})
	}
	if chosen != 0 && !slices.ContainsFunc(in.users, func(u store.User) bool { return u.ID == chosen }) {
		list = append(list, desk.Option{Value: strconv.FormatUint(uint64(chosen), 10), Name: in.nameOf(chosen), Chosen: true})
	}
	return list
}

// news tells whether leads have come or changed since a page was made.
func (s *Room) news(c *gin.Context) {
	c.JSON(http.StatusOK, gin.H{"stamp": s.Store.Responses.LeadStamp()})
}
