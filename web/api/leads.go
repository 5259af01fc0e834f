package api

import (
	"context"
	"net/http"
	"slices"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/conditional"

	"omphalos/store"
)

// A Lead as other systems see it.
type Lead struct {
	ID        uint      `json:"id"`
	Name      string    `json:"name"`
	Company   string    `json:"company"`
	Email     string    `json:"email"`
	Phone     string    `json:"phone"`
	State     string    `json:"state" doc:"The key of a state; listLeadStates has them."`
	Changed   time.Time `json:"changed" doc:"When it came into its state."`
	Next      string    `json:"next" doc:"The day of the next step, as 2026-11-26; empty for none."`
	Objected  bool      `json:"objected" doc:"They want not to be written to or called."`
	Quiz      uint      `json:"quiz" doc:"Of the newest response, as what follows is."`
	Number    int       `json:"number"`
	Outcome   string    `json:"outcome"`
	Standing  string    `json:"standing"`
	Score     string    `json:"score"`
	Source    string    `json:"source"`
	Country   string    `json:"country"`
	First     time.Time `json:"first" doc:"When their first response was finished."`
	Latest    time.Time `json:"latest"`
	Responses int       `json:"responses"`
}

// A LeadState is where somebody can be with a lead.
type LeadState struct {
	Key  string `json:"key"`
	Name string `json:"name"`
	End  string `json:"end" enum:",won,lost" doc:"What it ends as, empty where it goes on."`
}

// A StateOfLead is what a lead's state is to be.
type StateOfLead struct {
	State string `json:"state" doc:"The key of a state."`
}

// OfLead names a lead.
type OfLead struct {
	Lead uint `path:"lead" minimum:"1" doc:"Number of the lead."`
}

func (a *api) leads() {
	huma.Register(a, path(http.MethodGet, "/leads", store.ReadLeads, "Leads", "listLeads",
		"All leads, by their numbers"), func(ctx context.Context, in *struct {
		Paging
		State string `query:"state" doc:"Only those in this state."`
		conditional.Params
	}) (*Got[List[Lead]], error) {
		list, err := a.store.Responses.LeadsAfter(ctx, uint(in.After), in.State, in.Limit+1)
		if err != nil {
			return nil, problem(err)
		}
		var told []Lead
		for i := range list {
			told = append(told, leadOf(&list[i]))
		}
		return got(pageOf(told, in.Paging, func(l Lead) int { return int(l.ID) }), &in.Params)
	})
	huma.Register(a, path(http.MethodGet, "/leads/{lead}", store.ReadLeads, "Leads", "getLead", "One lead",
		http.StatusNotFound), func(ctx context.Context, in *struct {
		OfLead
		conditional.Params
	}) (*Got[Lead], error) {
		l, err := a.store.Responses.Lead(ctx, in.Lead)
		if err != nil {
			return nil, problem(err)
		}
		return got(leadOf(l), &in.Params)
	})
	huma.Register(a, path(http.MethodPut, "/leads/{lead}/state", store.WriteLeads, "Leads", "putLeadState",
		"Put a lead into a state", http.StatusNotFound, http.StatusPreconditionFailed), func(ctx context.Context, in *struct {
		OfLead
		conditional.Params
		Body StateOfLead
	}) (*Got[Lead], error) {
		l, err := a.store.Responses.Lead(ctx, in.Lead)
		if err != nil {
			return nil, problem(err)
		}
		if err := unchanged(leadOf(l), true, &in.Params); err != nil {
			return nil, err
		}
		if _, err := a.store.Responses.ChangeLeads(ctx, []int{int(l.ID)},
			store.LeadChange{State: &in.Body.State}, user(ctx)); err != nil {
			return nil, problem(err, store.ErrState)
		}
		if l, err = a.store.Responses.Lead(ctx, in.Lead); err != nil {
			return nil, problem(err)
		}
		return got(leadOf(l), &conditional.Params{})
	})
	huma.Register(a, path(http.MethodGet, "/lead-states", store.ReadLeads, "Leads", "listLeadStates",
		"The states that a lead can be in, in their order"),
		func(ctx context.Context, in *struct{ conditional.Params }) (*Got[List[LeadState]], error) {
			s, err := a.store.Responses.LeadSettings(ctx)
			if err != nil {
				return nil, problem(err)
			}
			return got(statesOf(s), &in.Params)
		})
	huma.Register(a, path(http.MethodPut, "/lead-states/{key}", store.WriteLeads, "Leads", "nameLeadState",
		"Name a state, or add one at the end", http.StatusPreconditionFailed), func(ctx context.Context, in *struct {
		Key string `path:"key" pattern:"^[a-z][a-z0-9_]{0,39}$"`
		conditional.Params
		Body struct {
			Name string `json:"name" minLength:"1" maxLength:"24"`
			End  string `json:"end,omitempty" enum:",won,lost"`
		}
	}) (*Got[List[LeadState]], error) {
		s, err := a.store.Responses.LeadSettings(ctx)
		if err != nil {
			return nil, problem(err)
		}
		if err := unchanged(statesOf(s), true, &in.Params); err != nil {
			return nil, err
		}
		next := *s
		next.States = slices.Clone(s.States)
		state := store.LeadState{Key: in.Key, Name: in.Body.Name, End: in.Body.End}
		if i := slices.IndexFunc(next.States, func(one store.LeadState) bool { return one.Key == in.Key }); i >= 0 {
			next.States[i] = state
		} else {
			next.States = append(next.States, state)
		}
		if err := a.store.Responses.KeepLeadSettings(ctx, &next); err != nil {
			return nil, problem(err, store.ErrLeadSettings)
		}
		return got(statesOf(&next), &conditional.Params{})
	})
}

func statesOf(s *store.LeadSettings) List[LeadState] {
	list := List[LeadState]{Items: []LeadState{}}
	for _, state := range s.States {
		list.Items = append(list.Items, LeadState(state))
	}
	return list
}

func leadOf(l *store.Lead) Lead {
	return Lead{ID: l.ID, Name: l.Name, Company: l.Company, Email: l.Email, Phone: l.Phone, State: l.State,
		Changed: l.Changed.UTC(), Next: l.Next, Objected: l.Objected,
		Quiz: l.QuizID, Number: l.Number, Outcome: l.Outcome, Standing: l.Standing, Score: l.Score,
		Source: l.Source, Country: l.Country,
		First: l.First.UTC(), Latest: l.Latest.UTC(), Responses: l.Responses}
}
