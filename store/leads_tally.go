package store

import (
	"context"
	"strconv"
	"sync"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
	"omphalos/store/tally"
)

// leads are counted by a tally of their own, in which a lead's number is its ID.
type leads struct {
	sync.RWMutex
	tally *tally.Tally // nil until it is read

	waiting sync.Mutex
	changed map[uint]bool // since they were read
	stamp   uint          // rises whenever one changes
}

// touch has leads read anew.
func (x *leads) touch(ids ...uint) {
	x.waiting.Lock()
	defer x.waiting.Unlock()
	x.stamp++
	if x.changed == nil {
		x.changed = map[uint]bool{}
	}
	for _, id := range ids {
		x.changed[id] = true
	}
}

// forget has all leads read anew.
func (x *leads) forget() {
	x.Lock()
	x.tally = nil
	x.Unlock()
	x.touch()
}

// take returns the leads that wait to be read.
func (x *leads) take() []uint {
	x.waiting.Lock()
	defer x.waiting.Unlock()
	var ids []uint
	for id := range x.changed {
		ids = append(ids, id)
	}
	x.changed = nil
	return ids
}

// LeadStamp is another number whenever a lead has come or changed.
func (rs *Responses) LeadStamp() uint {
	rs.leads.waiting.Lock()
	defer rs.leads.waiting.Unlock()
	return rs.leads.stamp
}

// LeadTally gives f the tally of the workspace's leads, by their IDs. It is good until f
// returns, and must not be changed.
func (rs *Responses) LeadTally(ctx context.Context, f func(*tally.Tally)) error {
	if err := rs.followLeads(ctx); err != nil {
		return found(err, "counting leads")
	}
	rs.leads.RLock()
	defer rs.leads.RUnlock()
	if t := rs.leads.tally; t != nil {
		f(t)
	} else {
		f(tally.New()) // that was forgotten just now
	}
	return nil
}

// followLeads brings the tally up to date, even where nobody waits for it any more: who asks next
// would begin anew.
func (rs *Responses) followLeads(ctx context.Context) error {
	ctx = context.WithoutCancel(ctx)
	x := &rs.leads
	x.RLock()
	read := x.tally != nil
	x.RUnlock()
	if !read {
		if err := rs.adopt(ctx); err != nil {
			return err
		}
	}
	x.Lock()
	defer x.Unlock()
	some := x.take()
	if x.tally == nil {
		made, err := rs.readLeads(ctx)
		if err != nil {
			return err
		}
		made.Sort(tally.Property{Kind: tally.Finished})
		x.tally = made
		return nil
	}
	for len(some) > 0 {
		now := some[:min(len(some), readTogether)]
		some = some[len(now):]
		var list []Lead
		if err := rs.db(ctx).Where("id IN ?", now).Find(&list).Error; err != nil {
			x.tally = nil
			return err
		}
		there := map[uint]bool{}
		var e tally.Entry
		for i := range list {
			there[list[i].ID] = true
			list[i].enter(&e)
			x.tally.Put(&e)
		}
		for _, id := range now {
			if !there[id] {
				x.tally.Remove(int(id))
			}
		}
	}
	return nil
}

// leadColumns are what is counted of a lead, in the order in which readLeads reads them.
var leadColumns = []string{"state", "owner_id", "next", "quiz_id", "outcome", "standing", "reach", "source",
	"medium", "campaign",
	"country", "language", "device", "unixepoch(latest)"}

func (rs *Responses) readLeads(ctx context.Context) (*tally.Tally, error) {
	rows, err := rs.db(ctx).Model(&Lead{}).Select("id, " + asOne(leadColumns...)).Order("id").Rows()
	if err != nil {
		return nil, err
	}
	defer rows.Close()
	t := tally.New()
	var e tally.Entry
	for rows.Next() {
		var l Lead
		var all, owner, quiz, reach, latest string
		if err := rows.Scan(&l.ID, &all); err != nil {
			return nil, err
		}
		err := apart(all, &l.State, &owner, &l.Next, &quiz, &l.Outcome, &l.Standing, &reach, &l.Source,
			&l.Medium, &l.Campaign,
			&l.Country, &l.Language, &l.Device, &latest)
		if err != nil {
			return nil, err
		}
		seconds, _ := strconv.ParseInt(latest, 10, 64) // as the database wrote them
		by, _ := strconv.ParseUint(owner, 10, 64)
		of, _ := strconv.ParseUint(quiz, 10, 64)
		l.Reach, _ = strconv.Atoi(reach)
		l.OwnerID, l.QuizID = uint(by), uint(of)
		l.enterAt(&e, seconds)
		t.Add(&e)
	}
	return t, rows.Err()
}

// enter writes into an entry what is counted of a lead.
func (l *Lead) enter(e *tally.Entry) { l.enterAt(e, l.Latest.Unix()) }

func (l *Lead) enterAt(e *tally.Entry, latest int64) {
	e.Number, e.Sets, e.Values = int(l.ID), e.Sets[:0], e.Values[:0]
	of := strconv.FormatUint(uint64(l.QuizID), 10)
	e.Set(tally.State, l.State)
	e.Set(tally.Owner, strconv.FormatUint(uint64(l.OwnerID), 10))
	e.Set(tally.Quiz, of)
	e.Set(tally.Standing, l.Standing)
	e.Set(tally.Source, l.Source)
	e.Set(tally.Medium, l.Medium)
	e.Set(tally.Campaign, l.Campaign)
	e.Set(tally.Country, l.Country)
	e.Set(tally.Language, l.Language)
	e.Set(tally.Device, l.Device)
	if l.Outcome != "" {
		e.Set(tally.Outcome, of+"/"+l.Outcome)
	}
	value := func(kind tally.Kind, n int64) {
		e.Values = append(e.Values, tally.Value{Of: tally.Property{Kind: kind}, Value: n})
	}
	value(tally.Finished, latest)
	if l.Reach >= 0 {
		value(tally.Reach, int64(l.Reach))
	}
	if day, err := quiz.ParseDay(l.Next); l.Next != "" && err == nil {
		value(tally.Next, int64(day/decimal.One))
	}
}
