package quiz

import (
	"slices"
	"time"
)

// Repeats say how often somebody may take the quiz, and which of several passages counts. The
// zero value: as often as they like, and each counts.
type Repeats struct {
	By     Taker  `json:"by,omitempty"`     // what tells people apart
	Most   int    `json:"most,omitempty"`   // finished passages; 0 for any number
	Days   int    `json:"days,omitempty"`   // from the end of one until the next may begin; 0 for none
	Counts Counts `json:"counts,omitempty"` // which of several counts
}

// Taker is what tells apart those who take a quiz.
type Taker string

// The takers. A person is known by an invitation, or by the e-mail address or the telephone
// number that is asked for before the result; where there is none of them, by the device.
const (
	ByDevice Taker = ""
	ByPerson Taker = "person"
)

// Counts says which of several passages of somebody counts.
type Counts string

// The passages that count.
const (
	EachCounts  Counts = ""
	LastCounts  Counts = "last"
	FirstCounts Counts = "first"
)

// The bounds of repeats.
const (
	MostRepeats = 1000
	MostDays    = 3650
)

// Any tells whether anything is said of repeats, so that takers have to be known.
func (r *Repeats) Any() bool { return r != nil && *r != Repeats{} && *r != Repeats{By: ByPerson} }

// Persons tells whether persons are told apart.
func (r *Repeats) Persons() bool { return r != nil && r.By == ByPerson }

// May tells whether somebody who has finished passages at these times, in any order, may take
// the quiz at a time; from is when they may, and zero where they may never again.
func (r *Repeats) May(finished []time.Time, now time.Time) (may bool, from time.Time) {
	if r == nil || len(finished) == 0 {
		return true, now
	}
	if r.Most > 0 && len(finished) >= r.Most {
		return false, time.Time{}
	}
	from = slices.MaxFunc(finished, time.Time.Compare).Add(time.Duration(r.Days) * 24 * time.Hour)
	return !now.Before(from), from
}

// Repeating returns what the quiz says of repeats, nil where it says nothing.
func (q *Quiz) Repeating() *Repeats {
	if q.Settings == nil || !q.Settings.Repeats.Any() {
		return nil
	}
	return q.Settings.Repeats
}

func (c *checker) repeats(r *Repeats) {
	if r == nil {
		return
	}
	c.oneOf("/settings/repeats/by", string(r.By), string(ByDevice), string(ByPerson))
	c.oneOf("/settings/repeats/counts", string(r.Counts), string(EachCounts), string(LastCounts), string(FirstCounts))
	if r.Most < 0 || r.Most > MostRepeats {
		c.refuse("range", "/settings/repeats/most", "times-are-from-to", MostRepeats)
	}
	if r.Days < 0 || r.Days > MostDays {
		c.refuse("range", "/settings/repeats/days", "days-are-from-to", MostDays)
	}
}
