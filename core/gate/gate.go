// Package gate tells whether a quiz takes respondents: when it opens and closes, after how
// many responses, and whether somebody has paused or closed it.
package gate

import "time"

// A Gate says who may come in. The zero value is open to everybody, for ever.
type Gate struct {
	Opens  time.Time `json:"opens,omitzero"`  // before it nobody begins
	Closes time.Time `json:"closes,omitzero"` // from it on nobody begins
	Most   int       `json:"most,omitempty"`  // responses, of all releases together; 0 for any number
	Paused bool      `json:"paused,omitempty"`
	Closed bool      `json:"closed,omitempty"` // for good
	Shut   time.Time `json:"shut,omitzero"`    // when it was paused or closed
	Grace  int       `json:"grace,omitempty"`  // minutes for those who are mid-way; 0: DefaultGrace, below 0: none
	Words  string    `json:"words,omitempty"`  // what those who come too early or too late read

	Members bool `json:"members,omitempty"` // only those who are signed in to the studio begin
	Invited bool `json:"invited,omitempty"` // only those on the list begin
	Again   bool `json:"again,omitempty"`   // who is invited may answer more than once; the last time counts as theirs
}

// DefaultGrace is how many minutes those who are mid-way have after closing.
const DefaultGrace = 60

// State is why nobody is let in, Open where everybody is.
type State string

// The states.
const (
	Open   State = ""
	Early  State = "early"
	Late   State = "late"
	Full   State = "full"
	Paused State = "paused"
	Closed State = "closed"
)

// At returns the state at a time, when so many responses are there, for somebody who begins.
func (g Gate) At(now time.Time, responses int) State {
	switch {
	case g.Closed:
		return Closed
	case g.Paused:
		return Paused
	case !g.Opens.IsZero() && now.Before(g.Opens):
		return Early
	case !g.Closes.IsZero() && !now.Before(g.Closes):
		return Late
	case g.Most > 0 && responses >= g.Most:
		return Full
	}
	return Open
}

// MidWay returns the state for somebody who has begun already: they have some time more.
func (g Gate) MidWay(now time.Time, responses int) State {
	grace := time.Duration(g.Grace) * time.Minute
	switch {
	case g.Grace == 0:
		grace = DefaultGrace * time.Minute
	case g.Grace < 0:
		grace = 0
	}
	if state := g.At(now, responses); state == Full || state == Open {
		return state
	}
	g.Opens = time.Time{} // they had begun before its time was changed
	if (g.Paused || g.Closed) && now.Before(g.Shut.Add(grace)) {
		g.Paused, g.Closed = false, false
	}
	if !g.Closes.IsZero() {
		g.Closes = g.Closes.Add(grace)
	}
	return g.At(now, responses)
}
