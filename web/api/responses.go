package api

import (
	"cmp"
	"context"
	"net/http"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/conditional"

	"omphalos/core/program"
	"omphalos/store"
)

// A Response as other systems see it.
type Response struct {
	ID       string             `json:"id" doc:"The number that other systems get, in addresses and calls, too."`
	Number   int                `json:"number" doc:"It counts from 1 per quiz."`
	Started  time.Time          `json:"started"`
	Finished time.Time          `json:"finished"`
	Outcome  string             `json:"outcome"`
	Landing  string             `json:"landing"`
	Address  string             `json:"address,omitempty" doc:"Where a redirect led."`
	Scores   map[string]float64 `json:"scores"`
	Answers  []Answer           `json:"answers" nullable:"false"`
	Contact  map[string]string  `json:"contact,omitempty" doc:"Only with the scope read:leads."`
	Visitor  Visitor            `json:"visitor"`

	Superseded bool `json:"superseded,omitempty" doc:"A later response of theirs counts instead: figures leave it out."`
}

// An Answer to a question: the keys of answers, or what was typed.
type Answer struct {
	Question string   `json:"question"`
	Row      string   `json:"row,omitempty" doc:"Of a grid."`
	Values   []string `json:"values" nullable:"false"`
	WriteIn  string   `json:"writeIn,omitempty"`
}

// A Visitor is what is known of where a respondent came from.
type Visitor struct {
	Country  string `json:"country,omitempty"`
	Language string `json:"language,omitempty"`
	Device   string `json:"device,omitempty"`
	Source   string `json:"source,omitempty"`
	Medium   string `json:"medium,omitempty"`
	Campaign string `json:"campaign,omitempty"`
}

// Figures of a quiz.
type Figures struct {
	Responses int            `json:"responses"`
	Outcomes  map[string]int `json:"outcomes"`
	Screened  map[string]int `json:"screened" doc:"Of those screened out, by outcome: nothing else is kept of them."`
	Parted    int            `json:"parted" doc:"All who were screened out."`
}

func (a *api) responses() {
	huma.Register(a, path(http.MethodGet, "/quizzes/{quiz}/responses", store.ReadResponses, "Responses",
		"listResponses", "The responses to a quiz, by their numbers", http.StatusNotFound),
		func(ctx context.Context, in *struct {
			OfQuiz
			Paging
			conditional.Params
		}) (*Got[List[Response]], error) {
			if _, err := a.store.Definitions.Quiz(ctx, in.Quiz); err != nil {
				return nil, problem(err)
			}
			list, err := a.store.Responses.ListAfter(ctx, in.Quiz, in.After, in.Limit+1)
			if err != nil {
				return nil, problem(err)
			}
			var told []Response
			for i := range list {
				told = append(told, responseOf(ctx, &list[i]))
			}
			return got(pageOf(told, in.Paging, func(r Response) int { return r.Number }), &in.Params)
		})
	huma.Register(a, path(http.MethodGet, "/quizzes/{quiz}/responses/{number}", store.ReadResponses,
		"Responses", "getResponse", "One response", http.StatusNotFound), func(ctx context.Context, in *struct {
		OfQuiz
		Number int `path:"number" minimum:"1"`
		conditional.Params
	}) (*Got[Response], error) {
		r, err := a.store.Responses.Response(ctx, in.Quiz, in.Number)
		if err != nil {
			return nil, problem(err)
		}
		return got(responseOf(ctx, r), &in.Params)
	})
	huma.Register(a, path(http.MethodGet, "/quizzes/{quiz}/figures", store.ReadResponses, "Responses",
		"getFigures", "How many finished, and with which outcome", http.StatusNotFound),
		func(ctx context.Context, in *struct {
			OfQuiz
			conditional.Params
		}) (*Got[Figures], error) {
			if _, err := a.store.Definitions.Quiz(ctx, in.Quiz); err != nil {
				return nil, problem(err)
			}
			counts, err := a.store.Responses.Outcomes(ctx, in.Quiz)
			if err != nil {
				return nil, problem(err)
			}
			f := Figures{Outcomes: map[string]int{}, Screened: map[string]int{}}
			for _, c := range counts {
				f.Outcomes[c.Outcome] = c.Count
				f.Responses += c.Count
			}
			screened, err := a.store.Responses.Screened(ctx, in.Quiz, nil)
			if err != nil {
				return nil, problem(err)
			}
			for _, s := range screened {
				f.Screened[s.Outcome] += s.Count
				f.Parted += s.Count
			}
			return got(f, &in.Params)
		})
}

// responseOf tells a response; who somebody is is told to those alone who may read leads.
func responseOf(ctx context.Context, r *store.Response) Response {
	to := Response{ID: store.ResponseNumber(r.Passage), Number: r.Number, Started: r.Started.UTC(),
		Finished: r.Finished.UTC(), Outcome: r.Outcome, Landing: r.Landing, Superseded: r.Beside,
		Address: r.Address, Scores: map[string]float64{}, Answers: []Answer{}, Visitor: visitorOf(r.Facts())}
	for _, s := range r.Scores {
		to.Scores[s.Scale] = s.Millionths.Float64()
	}
	for _, given := range r.Answers {
		if n := len(to.Answers); n > 0 && to.Answers[n-1].Question == given.Question && to.Answers[n-1].Row == given.Row {
			last := &to.Answers[n-1]
			last.Values, last.WriteIn = append(last.Values, given.Answer), cmp.Or(last.WriteIn, given.WriteIn)
			continue
		}
		to.Answers = append(to.Answers, Answer{given.Question, given.Row, []string{given.Answer}, given.WriteIn})
	}
	if t, is := ctx.Value(tokenKey).(*store.AccessToken); is && t.May(store.ReadLeads) && len(r.Contacts) > 0 {
		to.Contact = map[string]string{}
		for _, c := range r.Contacts {
			to.Contact[c.Field] = c.Value
		}
	}
	return to
}

func visitorOf(v *program.Visitor) Visitor {
	return Visitor{v.Country, v.Language, v.Device, v.Source, v.Medium, v.Campaign}
}
