package standin

import (
	"bytes"
	"encoding/json"
	"io"
	"log/slog"
	"net/http"
	"slices"
	"strconv"
	"strings"
	"sync"
	"time"

	"github.com/gin-gonic/gin"
	standardwebhooks "github.com/standard-webhooks/standard-webhooks/libraries/go"
)

// DemoSecret signs the calls of the demo: its stand-ins know it.
const DemoSecret = "whsec_cXVpbGxicm9vay1hcGlhcnktc3VwcGx5LWRlbW8="

// A Desk takes the calls of one service, and can be told to fail or to be slow.
type Desk struct {
	Name, Title, About string

	mu     sync.Mutex
	calls  []Call // the newest first
	count  int
	Secret string
	Fails  int // the status that it answers with, 0 for all is well
	Slow   time.Duration
}

// A Call that arrived.
type Call struct {
	ID        int
	At        time.Time
	Key       string
	Again     bool   // it came before
	Signature string // what is to be said of it
	Signed    bool
	Answered  int
	Type      string
	Body      string
	Header    []parameter
	Subject   string // the response that it tells of
	Event     string
}

func newDesks() map[string]*Desk {
	return map[string]*Desk{
		"calls": {Name: "calls", Title: "A receiver of calls",
			About: "Another system that is called when somebody lands.", Secret: DemoSecret},
		"ads": {Name: "ads", Title: "An ad account",
			About: "What an ad platform hears of whom its ads brought.", Secret: DemoSecret},
		"list": {Name: "list", Title: "A mailing list",
			About: "A service that keeps a list, and is told who joins and leaves.", Secret: DemoSecret},
	}
}

// Calls returns what arrived, the newest first.
func (d *Desk) Calls() []Call {
	d.mu.Lock()
	defer d.mu.Unlock()
	return slices.Clone(d.calls)
}

// Answers has the desk answer with a status, 0 for all is well, after a while.
func (d *Desk) Answers(status int, after time.Duration) {
	d.mu.Lock()
	defer d.mu.Unlock()
	d.Fails, d.Slow = status, after
}

// Forget forgets what arrived.
func (d *Desk) Forget() {
	d.mu.Lock()
	defer d.mu.Unlock()
	d.calls = nil
}

const largestCall = 1 << 20

// take takes a call, and looks at its signature.
func (d *Desk) take(c *gin.Context) {
	body, err := io.ReadAll(http.MaxBytesReader(c.Writer, c.Request.Body, largestCall))
	if err != nil {
		c.AbortWithStatus(http.StatusRequestEntityTooLarge)
		return
	}
	d.mu.Lock()
	secret, status, slow := d.Secret, d.Fails, d.Slow
	d.mu.Unlock()
	if slow > 0 {
		select {
		case <-time.After(slow):
		case <-c.Request.Context().Done():
			return
		}
	}
	call := Call{At: time.Now(), Key: c.GetHeader("webhook-id"), Type: c.GetHeader("Content-Type"), Body: pretty(body)}
	call.Signature, call.Signed = checked(secret, body, c.Request.Header)
	call.Event, call.Subject = about(body)
	for name, values := range c.Request.Header {
		call.Header = append(call.Header, parameter{name, strings.Join(values, ", ")})
	}
	slices.SortFunc(call.Header, func(a, b parameter) int { return strings.Compare(a.Name, b.Name) })
	switch {
	case status != 0:
		call.Answered = status
	case !call.Signed:
		call.Answered = http.StatusUnauthorized
	default:
		call.Answered = http.StatusOK
	}
	d.put(call)
	c.String(call.Answered, http.StatusText(call.Answered))
}

func checked(secret string, body []byte, h http.Header) (string, bool) {
	hook, err := standardwebhooks.NewWebhook(secret)
	if err == nil {
		err = hook.Verify(body, h)
	}
	if err != nil {
		return "The signature is not right: " + err.Error(), false
	}
	return "The signature is right", true
}

// about reads which event a call is, and of which response.
func about(body []byte) (event, subject string) {
	var told struct{ Type, Subject, Event string }
	_ = json.Unmarshal(body, &told) // of another form it is about nothing that is known
	if told.Type == "" {
		told.Type = told.Event
	}
	return told.Type, told.Subject
}

func pretty(body []byte) string {
	var b bytes.Buffer
	if json.Indent(&b, body, "", "  ") != nil {
		return string(body)
	}
	return b.String()
}

func (d *Desk) put(call Call) {
	d.mu.Lock()
	defer d.mu.Unlock()
	d.count++
	call.ID = d.count
	call.Again = call.Key != "" && slices.ContainsFunc(d.calls, func(o Call) bool { return o.Key == call.Key })
	d.calls = slices.Insert(d.calls, 0, call)
	d.calls = d.calls[:min(len(d.calls), mostKept)]
}

type deskPage struct {
	Name, Title, About, Address, Secret string
	Choices                             []answer
	Seconds                             float64
	Calls                               []Call
	Open                                *Call
}

// An answer that a desk can be told to give.
type answer struct {
	Status int
	Words  string
	Chosen bool
}

func answersOf(d *Desk) []answer {
	list := []answer{{Words: "all is well", Chosen: d.Fails == 0}}
	for _, status := range []int{http.StatusInternalServerError, http.StatusServiceUnavailable,
		http.StatusTooManyRequests, http.StatusGone} {
		list = append(list, answer{status, strconv.Itoa(status) + " " + http.StatusText(status), d.Fails == status})
	}
	return list
}

func (s *Services) desk(c *gin.Context) {
	d := s.Desks[c.Param("desk")]
	if d == nil {
		c.AbortWithStatus(http.StatusNotFound)
		return
	}
	calls := d.Calls()
	d.mu.Lock()
	page := deskPage{Name: d.Name, Title: d.Title, About: d.About, Secret: d.Secret, Choices: answersOf(d),
		Seconds: d.Slow.Seconds(), Calls: calls,
		Address: "http://" + c.Request.Host + "/standin/desk/" + d.Name}
	d.mu.Unlock()
	id, err := strconv.Atoi(c.Query("call"))
	for i := range calls {
		if calls[i].ID == id || err != nil && i == 0 {
			page.Open = &calls[i]
		}
	}
	s.show(c, "desk", page)
}

func (s *Services) deskTake(c *gin.Context) {
	if d := s.Desks[c.Param("desk")]; d != nil {
		d.take(c)
		return
	}
	c.AbortWithStatus(http.StatusNotFound)
}

func (s *Services) deskSet(c *gin.Context) {
	d := s.Desks[c.Param("desk")]
	if d == nil {
		c.AbortWithStatus(http.StatusNotFound)
		return
	}
	if c.PostForm("forget") != "" {
		d.Forget()
	} else {
		status, _ := strconv.Atoi(c.PostForm("fails"))
		seconds, _ := strconv.ParseFloat(c.PostForm("seconds"), 64)
		d.Answers(status, time.Duration(min(max(seconds, 0), 60)*float64(time.Second)))
		d.mu.Lock()
		d.Secret = strings.TrimSpace(c.PostForm("secret"))
		d.mu.Unlock()
	}
	c.Redirect(http.StatusSeeOther, "/standin/desk/"+d.Name)
}

func (s *Services) show(c *gin.Context, page string, of any) {
	if err := s.views.Page(c.Writer, http.StatusOK, page, of); err != nil {
		slog.Error("showing a stand-in", "page", page, "error", err)
	}
}
