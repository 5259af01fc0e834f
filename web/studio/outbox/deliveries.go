package outbox

import (
	"errors"
	"fmt"
	"net/http"
	"net/url"
	"strconv"
	"time"

	"github.com/gin-gonic/gin"

	"omphalos/core/quiz"
	"omphalos/store"
	"omphalos/web/studio/desk"
	"omphalos/web/ui"
)

type outboxPage struct {
	desk.Frame
	Tab     string
	States  []stateTab
	Search  store.Search
	Number  string
	Quizzes []desk.Option
	Kinds   []desk.Option
	Rows    []row
	Open    *opened
	Fields  []desk.Hidden // the search, for what is done to all of it
	Count   int           // of the search, where that is known
	Next    string        // address of older ones, "" where there are none
	Clear   string        // address without a search, "" where there is none
	Unset   bool          // mail waits, since no server is named
}

// A stateTab is a state, with how many deliveries are in it.
type stateTab struct {
	Words, Address string
	Count          int
	Chosen, Bad    bool
}

type row struct {
	store.Delivery
	What    string // it is
	Quiz    string
	State   string // as it is read
	Bad     bool
	When    time.Time
	Address string // opens it
	Chosen  bool
}

// An opened delivery is shown whole.
type opened struct {
	row
	Response string // address of the response
	Due      time.Time
	Waits    bool
	Mail     string // address of how it looks, "" where it is none
}

const perPage = 50

// searchOf reads the search of an address or a form.
func searchOf(get func(string) string) store.Search {
	s := store.Search{State: get("state"), FollowUp: get("follow"), Kind: quiz.FollowUpKind(get("kind")),
		Words: get("search")}
	number := func(name string) uint {
		n, _ := strconv.ParseUint(get(name), 10, 32) // what is no number is not asked
		return uint(n)
	}
	s.QuizID, s.Number, s.Before, s.ID = number("quiz"), int(number("number")), number("before"), number("id")
	return s
}

// fieldsOf is a search as fields.
func fieldsOf(s store.Search) url.Values {
	fields := url.Values{}
	put := func(name, value string) {
		if value != "" && value != "0" {
			fields.Set(name, value)
		}
	}
	put("state", s.State)
	put("follow", s.FollowUp)
	put("kind", string(s.Kind))
	put("search", s.Words)
	put("quiz", strconv.FormatUint(uint64(s.QuizID), 10))
	put("number", strconv.Itoa(s.Number))
	return fields
}

func address(fields url.Values) string {
	if len(fields) == 0 {
		return "/studio/outbox"
	}
	return "/studio/outbox?" + fields.Encode()
}

func with(s store.Search, name, value string) string {
	fields := fieldsOf(s)
	fields.Set(name, value)
	if value == "" {
		fields.Del(name)
	}
	return address(fields)
}

func (s *Room) deliveries(c *gin.Context) {
	page, err := s.page(c)
	if err != nil {
		s.Fail(c, err)
		return
	}
	s.Show(c, http.StatusOK, "outbox", page)
}

func (s *Room) page(c *gin.Context) (*outboxPage, error) {
	ctx := c.Request.Context()
	search := searchOf(c.Query)
	page := &outboxPage{Frame: s.Frame(c, "Outbox", "outbox", nil), Tab: "outbox", Search: search}
	if search.Number > 0 {
		page.Number = strconv.Itoa(search.Number)
	}
	titles, err := s.titles(c, search, page)
	if err != nil {
		return nil, err
	}
	if page.States, err = s.states(c, search); err != nil {
		return nil, err
	}
	list, err := s.Store.Outbox.Deliveries(ctx, search, perPage+1)
	if err != nil {
		return nil, err
	}
	if len(list) > perPage {
		list = list[:perPage]
		page.Next = with(search, "before", strconv.FormatUint(uint64(list[perPage-1].ID), 10))
	}
	open, _ := strconv.ParseUint(c.Query("open"), 10, 32)
	for _, d := range list {
		r := rowOf(d, titles)
		r.Address, r.Chosen = with(search, "open", strconv.FormatUint(uint64(d.ID), 10)), uint(open) == d.ID
		page.Rows = append(page.Rows, r)
	}
	if open > 0 {
		if page.Open, err = s.opened(c, uint(open), titles); err != nil && !errors.Is(err, store.ErrNotFound) {
			return nil, err
		}
	}
	for name, values := range fieldsOf(search) {
		page.Fields = append(page.Fields, desk.Hidden{Name: name, Value: values[0]})
	}
	if len(page.Fields) > 0 || search.Before > 0 {
		page.Clear = "/studio/outbox"
	}
	settings, err := s.Store.Outbox.MailSettings(ctx)
	page.Unset = err == nil && !settings.Ready()
	return page, err
}

// titles returns the titles of all quizzes, and offers them and the kinds.
func (s *Room) titles(c *gin.Context, search store.Search, page *outboxPage) (map[uint]string, error) {
	list, err := s.Store.Definitions.Quizzes(c.Request.Context())
	titles := map[uint]string{}
	for _, z := range list {
		titles[z.ID] = z.Title
		page.Quizzes = append(page.Quizzes, desk.Option{Value: strconv.FormatUint(uint64(z.ID), 10),
			Name: z.Title, Chosen: z.ID == search.QuizID})
	}
	for _, k := range quiz.FollowUpKinds {
		page.Kinds = append(page.Kinds, desk.Option{Value: string(k), Name: desk.KindWords(k), Chosen: k == search.Kind})
	}
	return titles, err
}

// states counts the deliveries by state, of a quiz and a follow-up where the search says one.
func (s *Room) states(c *gin.Context, search store.Search) ([]stateTab, error) {
	by, err := s.Store.Outbox.Figures(c.Request.Context(), search.QuizID)
	var all store.Figures
	for follow, f := range by {
		if search.FollowUp == "" || search.FollowUp == follow {
			all.Delivered, all.Waiting, all.Failing = all.Delivered+f.Delivered, all.Waiting+f.Waiting, all.Failing+f.Failing
			all.Dead, all.Cancelled = all.Dead+f.Dead, all.Cancelled+f.Cancelled
		}
	}
	tab := func(words, state string, n int, bad bool) stateTab {
		return stateTab{words, with(search, "state", state), n, search.State == state, bad && n > 0}
	}
	return []stateTab{
		tab("All", "", all.Delivered+all.Waiting+all.Failing+all.Dead+all.Cancelled, false),
		tab("Waiting", store.Waiting, all.Waiting+all.Failing, false),
		tab("Failing", store.Failing, all.Failing, true),
		tab("Given up", store.Dead, all.Dead, true),
		tab("Cancelled", store.Cancelled, all.Cancelled, false),
		tab("Delivered", store.Delivered, all.Delivered, false),
	}, err
}

func rowOf(d store.Delivery, titles map[uint]string) row {
	r := row{Delivery: d, What: desk.DeliveryWords(&d), Quiz: titles[d.QuizID]}
	r.State, r.Bad, r.When = desk.Stands(&d)
	return r
}

func (s *Room) opened(c *gin.Context, id uint, titles map[uint]string) (*opened, error) {
	d, err := s.Store.Outbox.Delivery(c.Request.Context(), id)
	if err != nil {
		return nil, err
	}
	o := &opened{row: rowOf(*d, titles), Response: fmt.Sprintf("/studio/quizzes/%d/learn/%d", d.QuizID,
		d.Number), Due: d.Due, Waits: d.State == store.Waiting}
	return o, nil
}

// again has all of a search tried again now.
func (s *Room) again(c *gin.Context) {
	search := searchOf(c.PostForm)
	n, err := s.Store.Outbox.Again(c.Request.Context(), search)
	s.did(c, search, n, err, "is sent again.", "are sent again.",
		"Nothing of it can be sent again: what was delivered is.")
}

// cancel cancels what of a search still waits.
func (s *Room) cancel(c *gin.Context) {
	search := searchOf(c.PostForm)
	n, err := s.Store.Outbox.Cancel(c.Request.Context(), search, "cancelled by hand")
	s.did(c, search, n, err, "is cancelled.", "are cancelled.", "Nothing of it waits any more.")
}

func (s *Room) did(c *gin.Context, search store.Search, n int, err error, one, many, none string) {
	if err != nil {
		s.Fail(c, err)
		return
	}
	words := none
	if n > 0 {
		words = ui.Plural(n, "delivery "+one, "deliveries "+many)
	}
	s.Say(c, words, "")
	back := fieldsOf(search)
	if open := c.PostForm("open"); open != "" {
		back.Set("open", open)
	}
	c.Redirect(http.StatusSeeOther, address(back))
}
