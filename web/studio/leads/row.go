package leads

import (
	"context"
	"slices"
	"strconv"
	"time"

	"omphalos/store"
	"omphalos/web/studio/desk"
)

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
	beside := in.page()
	beside.Set("lead", strconv.FormatUint(uint64(l.ID), 10))
	return row{
		Lead: l, Address: in.to(beside), Current: int(l.ID) == open,
		Outcome: by.outcomes[l.Outcome], Ruler: by.drawn(l), State: state, Hue: hueOf(in.settings, state),
		Owner: in.names[l.OwnerID],
		Day:   dayOf(l.Next, s.today()), Due: due(l.Next, s.today()), Quiz: in.quizzes[l.QuizID],
	}, nil
}

// dayOf writes a day as it stands in a list, with its year where that is not now's; "" for none.
func dayOf(day string, now time.Time) string {
	at, err := time.Parse(time.DateOnly, day)
	switch {
	case err != nil:
		return ""
	case at.Year() != now.Year():
		return at.Format("2 Jan 2006")
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
		list = append(list, desk.Option{Value: strconv.FormatUint(uint64(u.ID), 10), Name: in.names[u.ID],
			Chosen: u.ID == chosen})
	}
	if chosen != 0 && !slices.ContainsFunc(in.users, func(u store.User) bool { return u.ID == chosen }) {
		list = append(list, desk.Option{Value: strconv.FormatUint(uint64(chosen), 10), Name: in.nameOf(chosen), Chosen: true})
	}
	return list
}
