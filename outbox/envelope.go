package outbox

import (
	"encoding/json"
	"fmt"
	"strconv"
	"time"

	"github.com/cloudevents/sdk-go/v2/event"

	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/store"
)

// The types of events (CloudEvents 1.0, "type").
const (
	landedEvent = "omphalos.response.landed"
	joinedEvent = "omphalos.list.joined"
	leftEvent   = "omphalos.list.left"
	testedEvent = "omphalos.test"
)

// An envelope is what a call says, in the attribute "data" of a CloudEvents 1.0 event.
type envelope struct {
	Quiz     quizTold          `json:"quiz"`
	Response responseTold      `json:"response"`
	Outcome  outcomeTold       `json:"outcome"`
	Scores   map[string]any    `json:"scores"`
	Answers  []answerTold      `json:"answers"`
	Contact  map[string]string `json:"contact"`
	Consents []consentTold     `json:"consents"`
	Visitor  *program.Visitor  `json:"visitor"`
	Lead     *leadTold         `json:"lead,omitempty"`
}

type quizTold struct {
	ID      uint   `json:"id"`
	Title   string `json:"title"`
	Release uint   `json:"release"`
}

type responseTold struct {
	ID       string    `json:"id"`
	Number   int       `json:"number"`
	Started  time.Time `json:"started"`
	Finished time.Time `json:"finished"`
	Address  string    `json:"address,omitempty"`
}

type outcomeTold struct {
	Key      string        `json:"key"`
	Name     string        `json:"name"`
	Headline string        `json:"headline"`
	Standing quiz.Standing `json:"standing"`
}

type answerTold struct {
	Question string            `json:"question"`
	Label    string            `json:"label"`
	Values   []string          `json:"values,omitempty"`
	Rows     map[string]string `json:"rows,omitempty"`
	WriteIn  string            `json:"writeIn,omitempty"`
	Words    string            `json:"words"`
}

type consentTold struct {
	Field   string    `json:"field"`
	Words   string    `json:"words"`
	Privacy string    `json:"privacy,omitempty"`
	Given   time.Time `json:"given"`
}

type leadTold struct {
	ID    uint   `json:"id"`
	State string `json:"state"`
}

// envelope writes what somebody answered as a structured event in JSON.
func (l *Landed) envelope(r *store.Response, d *store.Delivery) ([]byte, string, error) {
	key, o := l.Outcome()
	told := envelope{
		Quiz:     quizTold{r.QuizID, l.Program.Quiz.Title, r.ReleaseID},
		Response: responseTold{l.Number, r.Number, r.Started, r.Finished, r.Address},
		Outcome:  outcomeTold{key, o.Name, l.filler.Plainly(o.Headline), o.Standing},
		Scores:   map[string]any{},
		Answers:  []answerTold{},
		Contact:  map[string]string{},
		Consents: []consentTold{},
		Visitor:  l.In.Visitor,
	}
	for i, scale := range l.Program.ScaleKeys() {
		told.Scores[scale] = l.Result.Scores[i]
	}
	for _, i := range l.Result.Seen {
		v := l.In.Answers[i]
		if v.State != program.Given {
			continue
		}
		question := l.Program.Key(i)
		typed := l.Program.Typed(i, v)
		told.Answers = append(told.Answers, answerTold{question, l.filler.Plainly(l.Program.Question(i).Label),
			typed.Values, typed.Rows, typed.WriteIn, l.filler.Plain(question)})
	}
	for _, c := range r.Contacts {
		told.Contact[c.Field] = c.Value
	}
	for _, c := range r.Consents {
		told.Consents = append(told.Consents, consentTold{c.Field, c.Words, c.Privacy, c.Given})
	}
	if r.Lead != nil {
		told.Lead = &leadTold{r.Lead.ID, r.Lead.State}
	}
	return enveloped(landedEvent, d, l.Base, l.Number, r.Finished, told)
}

// enveloped writes an event.
func enveloped(kind string, d *store.Delivery, base, subject string, at time.Time, data any) ([]byte, string, error) {
	e := event.New()
	e.SetID(d.Key)
	e.SetSource(base + "/quizzes/" + strconv.FormatUint(uint64(d.QuizID), 10))
	e.SetType(kind)
	e.SetSubject(subject)
	e.SetTime(at)
	if err := e.SetData(event.ApplicationJSON, data); err != nil {
		return nil, "", fmt.Errorf("writing an event: %w", err)
	}
	body, err := json.Marshal(e)
	return body, event.ApplicationCloudEventsJSON, err
}

func (l *Landed) outcomeName() string {
	_, o := l.Outcome()
	return o.Name
}
