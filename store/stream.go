package store

import (
	"context"
	"encoding/json"
	"log/slog"
	"math"
	"slices"
	"time"

	"gorm.io/gorm"

	"omphalos/core/program"
	"omphalos/store/tally"
)

// A stream is all who saw a quiz: those who have finished are responses, those who are under
// way passages. Of those who have left, passages tell as long as they are kept; then a
// Departure does, which says nothing of what was answered. Of those who have only seen it, a
// Sight counts.

// Came is what is kept of where somebody came from, for what is asked of many.
type Came struct {
	Source, Medium, Campaign  string
	Country, Language, Device string
}

func cameBy(v *program.Visitor) Came {
	return Came{v.Source, v.Medium, v.Campaign, v.Country, v.Language, v.Device}
}

// A Departure is somebody who left on the way.
type Departure struct {
	ID          uint        `gorm:"primaryKey"`
	WorkspaceID WorkspaceID `gorm:"not null"`
	QuizID      uint        `gorm:"not null"`
	ReleaseID   uint        `gorm:"not null"`
	Place       string      `gorm:"not null"` // the key of the question up to which they came
	Seconds     int         `gorm:"not null"` // from the beginning to what they last did
	Ended       time.Time   // when that was
	Came        `gorm:"embedded"`
}

// A Stop is a question that was asked, and for how many seconds somebody stayed there; below
// 0 where that is not known.
type Stop struct {
	Question string `json:"q"`
	Seconds  int    `json:"s"`
}

// longestStay is how long somebody can think about a page before they are taken to have been
// away.
const longestStay = 30 * time.Minute

// Stops returns the questions that were asked on the passage so far.
func (p *Passage) Stops() []Stop {
	var stops []Stop
	_ = json.Unmarshal([]byte(p.Trail), &stops) // written by Stay
	return stops
}

// Stay takes down that a page of some questions has been answered, or left for another, since
// a time: its seconds are shared out among them.
func (p *Passage) Stay(questions []string, since time.Time) {
	if len(questions) == 0 {
		return
	}
	stops, spent := p.Stops(), now().Sub(since)
	for i, q := range questions {
		seconds := -1
		if spent >= 0 && spent <= longestStay { // the first ones have a second more where it does not come out even
			all := int(math.Round(spent.Seconds()))
			seconds = all / len(questions)
			if i < all%len(questions) {
				seconds++
			}
		}
		at := slices.IndexFunc(stops, func(s Stop) bool { return s.Question == q })
		switch {
		case at < 0:
			stops = append(stops, Stop{q, seconds})
		case stops[at].Seconds < 0:
			stops[at].Seconds = seconds
		case seconds > 0:
			stops[at].Seconds += seconds
		}
	}
	p.Trail = toJSON(stops)
}

// timed puts down how long somebody stayed at each question that is on the passage.
func timed(asked []Stop, stops []Stop) []Stop {
	timed := slices.Clone(asked)
	for i := range timed {
		for _, s := range stops {
			if s.Question == timed[i].Question {
				timed[i].Seconds = s.Seconds
			}
		}
	}
	return timed
}

// Departure is what is left of the passage when it is forgotten.
func (p *Passage) Departure() Departure {
	return Departure{QuizID: p.QuizID, ReleaseID: p.ReleaseID, Place: p.Place, Seconds: p.Seconds,
		Ended: p.Updated, Came: p.Came}
}

// AddDepartures keeps departures, as they come from elsewhere.
func (rs *Responses) AddDepartures(ctx context.Context, list []Departure) error {
	err := rs.db(ctx).Transaction(func(tx *gorm.DB) error { return create(tx, list) })
	for _, d := range list {
		rs.flows.forget(d.QuizID)
	}
	return found(err, "keeping departures")
}

// A Flow is what is known of those who have not finished.
type Flow struct {
	Seen  int                    // who saw the opening, or the first question
	Under int                    // who are under way
	Left  map[string][]tally.Bin // who left at a question, by the seconds after which they did
}

// stillThere is how long nothing can come of somebody who is under way.
const stillThere = longestStay

// Tells tells whether a part of a sentence can be asked of those who have not finished:
// what they answered, and what they would have got, is not known.
func Tells(of tally.Property) bool {
	return of.Kind == tally.Finished || of.Kind == tally.Release || slices.Contains(cameKinds, of.Kind)
}

// cameKinds are the kinds that Came has columns of, of the same names.
var cameKinds = []tally.Kind{tally.Source, tally.Medium, tally.Campaign, tally.Country, tally.Language, tally.Device}

// Flow counts those who have not finished, and fit the parts that Tells is true of.
func (rs *Responses) Flow(ctx context.Context, quiz uint, parts []tally.Part) (Flow, error) {
	f := Flow{Left: map[string][]tally.Bin{}}
	if err := rs.NoteSights(ctx); err != nil { // they are counted later
		slog.Warn("a note is missing", "error", err)
	}
	sights := rs.fitting(rs.db(ctx).Model(&Sight{}).Where("quiz_id = ?", quiz), parts)
	if err := sights.Select("coalesce(sum(count), 0)").Scan(&f.Seen).Error; err != nil {
		return f, found(err, "counting who saw the quiz %d", quiz)
	}
	return f, found(rs.flowing(ctx, quiz, func(x *flowing) { x.count(&f, parts) }), "counting who left the quiz %d", quiz)
}

// fitting narrows a statement about what is counted by the day to what parts ask.
func (rs *Responses) fitting(q *gorm.DB, parts []tally.Part) *gorm.DB {
	for _, p := range parts {
		switch {
		case p.Of.Kind == tally.Finished:
			if p.From > math.MinInt64 {
				q = q.Where("day >= ?", rs.dayOf(time.Unix(p.From, 0)))
			}
			if p.To < math.MaxInt64 {
				q = q.Where("day <= ?", rs.dayOf(time.Unix(p.To, 0)))
			}
		case p.Of.Kind == tally.Release:
			q = q.Where("release_id IN ?", p.Values)
		case slices.Contains(cameKinds, p.Of.Kind):
			q = q.Where(string(p.Of.Kind)+" IN ?", p.Values)
		}
	}
	return q
}
