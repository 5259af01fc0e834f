package leads

import (
	"bytes"
	"encoding/json"
	"net/http"
	"time"

	"github.com/gin-gonic/gin"

	"omphalos/core/atlas"
	"omphalos/store"
	"omphalos/web/studio/desk"
)

// An everything is all that is kept of a person, as they may ask for it.
type everything struct {
	About     string          `json:"about"`
	Made      time.Time       `json:"made"`
	Lead      uint            `json:"lead"`
	Name      string          `json:"name,omitempty"`
	Company   string          `json:"company,omitempty"`
	Email     string          `json:"email,omitempty"`
	Phone     string          `json:"phone,omitempty"`
	State     string          `json:"state"`
	Owner     string          `json:"inTheHandsOf,omitempty"`
	Next      string          `json:"nextStep,omitempty"`
	Objected  bool            `json:"objectsToContact"`
	Responses []everyResponse `json:"responses"`
	History   []everyEvent    `json:"history"`
	Sent      []everySent     `json:"sent"`
	Lists     []everyList     `json:"lists"`
}

type everyResponse struct {
	Quiz     string            `json:"quiz"`
	Number   int               `json:"number"`
	Release  int               `json:"release"`
	Started  time.Time         `json:"started"`
	Finished time.Time         `json:"finished"`
	Outcome  string            `json:"outcome,omitempty"`
	Sent     string            `json:"redirectedTo,omitempty"`
	Visitor  json.RawMessage   `json:"visitor"`
	Contact  map[string]string `json:"contact"`
	Answers  []everyAnswer     `json:"answers"`
	Why      []string          `json:"why"`
	Consents []everyConsent    `json:"consents"`
}

type everyAnswer struct {
	Question string `json:"question"`
	Answer   string `json:"answer"`
	Adds     string `json:"adds,omitempty"`
}

type everyConsent struct {
	Words   string    `json:"words"`
	Privacy string    `json:"privacyNotice,omitempty"`
	Given   time.Time `json:"given"`
}

type everyEvent struct {
	When  time.Time `json:"when"`
	What  string    `json:"what"`
	Whose string    `json:"by"`
}

// An everySent is what went out, or is to.
type everySent struct {
	What   string    `json:"what"`
	To     string    `json:"to,omitempty"`
	About  string    `json:"about,omitempty"`
	Stands string    `json:"stands"`
	When   time.Time `json:"when"`
}

// An everyList is a place on a list.
type everyList struct {
	List      string     `json:"list"`
	Address   string     `json:"address"`
	State     string     `json:"state"`
	Words     string     `json:"agreedTo"`
	Given     time.Time  `json:"agreed"`
	Confirmed *time.Time `json:"confirmed,omitempty"`
	Left      *time.Time `json:"left,omitempty"`
}

func countryOf(l *store.Lead) string {
	if l.Country == "" {
		return ""
	}
	return atlas.Name(l.Country, "en")
}

// everything gathers all that is kept of a lead.
func (s *Room) everything(c *gin.Context) (*everything, bool) {
	l, ok := s.lead(c)
	if !ok {
		return nil, false
	}
	ctx := c.Request.Context()
	in, err := s.sentenceAt(c)
	if err != nil {
		s.Fail(c, err)
		return nil, false
	}
	all := &everything{About: "Everything that is kept about one person", Made: s.today().Truncate(time.Second),
		Lead: l.ID, Name: l.Name, Company: l.Company,
		Email: l.Email, Phone: l.Phone, State: in.settings.State(l.State).Name, Next: l.Next,
		Objected: l.Objected, History: []everyEvent{}}
	if l.OwnerID != 0 {
		all.Owner = in.nameOf(l.OwnerID)
	}
	responses, err := s.Store.Responses.ResponsesOf(ctx, l.ID)
	if err != nil {
		s.Fail(c, err)
		return nil, false
	}
	for i := range responses {
		all.Responses = append(all.Responses, s.every(c, in, &responses[i]))
	}
	if err := s.everySent(c, all, responses); err != nil {
		s.Fail(c, err)
		return nil, false
	}
	history, err := s.Store.Responses.History(ctx, l.ID)
	if err != nil {
		s.Fail(c, err)
		return nil, false
	}
	for _, e := range history {
		told := in.told(e)
		if told.Note != "" {
			told.Words = told.Note
		}
		all.History = append(all.History, everyEvent{e.Made, told.Words, told.By})
	}
	return all, true
}

// everySent gathers what went out because of somebody's responses, and the lists that they are on.
func (s *Room) everySent(c *gin.Context, all *everything, responses []store.Response) error {
	ids := make([]uint, len(responses))
	for i := range responses {
		ids[i] = responses[i].ID
	}
	list, err := s.Store.Outbox.DeliveriesOf(c.Request.Context(), ids...)
	if err != nil {
		return err
	}
	all.Sent, all.Lists = []everySent{}, []everyList{}
	for i := range list {
		stands, _, when := desk.Stands(&list[i])
		all.Sent = append(all.Sent, everySent{desk.DeliveryWords(&list[i]), list[i].Recipient, list[i].About, stands, when})
	}
	lists, err := s.Store.Outbox.ListsOf(c.Request.Context(), ids...)
	for _, p := range lists {
		all.Lists = append(all.Lists, everyList{p.List, p.Address, p.State, p.Words, p.Given, p.Confirmed, p.Ended})
	}
	return err
}

func (s *Room) every(c *gin.Context, in *sentence, r *store.Response) everyResponse {
	g := s.given(c.Request.Context(), in, r)
	one := everyResponse{Quiz: g.Title, Number: r.Number, Release: g.Release, Started: r.Started,
		Finished: r.Finished, Outcome: g.Outcome.Name,
		Sent: r.Address, Visitor: json.RawMessage(r.Visitor), Contact: map[string]string{},
		Answers: []everyAnswer{}, Why: g.Why, Consents: []everyConsent{}}
	if !json.Valid(one.Visitor) {
		one.Visitor = json.RawMessage("{}")
	}
	for _, contact := range r.Contacts {
		one.Contact[contact.Field] = contact.Value
	}
	for _, a := range g.Asked {
		one.Answers = append(one.Answers, everyAnswer{a.Question, a.Words, a.Adds})
	}
	if g.Unread { // as it was kept
		for _, a := range r.Answers {
			one.Answers = append(one.Answers, everyAnswer{a.Question, a.Answer + a.WriteIn, ""})
		}
	}
	for _, agreed := range r.Consents {
		one.Consents = append(one.Consents, everyConsent{agreed.Words, agreed.Privacy, agreed.Given})
	}
	return one
}

// everythingJSON sends it for machines.
func (s *Room) everythingJSON(c *gin.Context) {
	all, ok := s.everything(c)
	if !ok {
		return
	}
	var b bytes.Buffer
	to := json.NewEncoder(&b)
	to.SetIndent("", "  ")
	to.SetEscapeHTML(false)
	if err := to.Encode(all); err != nil {
		s.Fail(c, err)
		return
	}
	c.Header("Content-Disposition", `attachment; filename="everything.json"`)
	c.Data(http.StatusOK, "application/json", b.Bytes())
}

// everythingHTML sends it for people: a page that is whole by itself.
func (s *Room) everythingHTML(c *gin.Context) {
	all, ok := s.everything(c)
	if !ok {
		return
	}
	page, err := s.Views.Part("leads", "everything", all)
	if err != nil {
		s.Fail(c, err)
		return
	}
	c.Header("Content-Disposition", `attachment; filename="everything.html"`)
	c.Data(http.StatusOK, "text/html; charset=utf-8", page)
}
