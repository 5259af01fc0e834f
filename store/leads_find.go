package store

import (
	"context"
	"strconv"
	"strings"
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
var leadColumns = []string{"state", "owner_id", "next", "quiz_id", "outcome", "standing", "reach", "source", "medium", "campaign",
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
		err := apart(all, &l.State, &owner, &l.Next, &quiz, &l.Outcome, &l.Standing, &reach, &l.Source, &l.Medium, &l.Campaign,
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

// mostFound is how many leads a search looks at: who has more in common is not told apart by it.
const mostFound = 20_000

// SearchLeads returns the leads in whose name, company, address or number all of some words stand.
func (rs *Responses) SearchLeads(ctx context.Context, words string) ([]int, error) {
	asked := rs.db(ctx).Model(&Lead{})
	for _, word := range strings.Fields(folded(words)) {
		asked = asked.Where("instr(words, ?)", word)
	}
	var ids []int
	err := asked.Limit(mostFound).Pluck("id", &ids).Error
	return ids, found(err, "searching leads")
}

// Namesakes returns other leads with the same name, at most so many.
func (rs *Responses) Namesakes(ctx context.Context, l *Lead, most int) ([]Lead, error) {
	name := folded(l.Name)
	if name == "" {
		return nil, nil
	}
	var list []Lead
	err := rs.db(ctx).Where("words >= ? AND words < ? AND id <> ?", name+"\n", name+"\x0b", l.ID).Order("id DESC").Limit(most).Find(&list).Error
	return list, found(err, "looking for namesakes")
}

// Leads returns leads by their IDs, in their order; those that are gone are left out.
func (rs *Responses) Leads(ctx context.Context, ids []int) ([]Lead, error) {
	var there []Lead
	if err := rs.db(ctx).Where("id IN ?", ids).Find(&there).Error; err != nil {
		return nil, found(err, "reading leads")
	}
	by := map[int]*Lead{}
	for i := range there {
		by[int(there[i].ID)] = &there[i]
	}
	list := make([]Lead, 0, len(there))
	for _, id := range ids {
		if l := by[id]; l != nil {
			list = append(list, *l)
		}
	}
	return list, nil
}

// Lead returns a lead.
func (rs *Responses) Lead(ctx context.Context, id uint) (*Lead, error) {
	var l Lead
	err := rs.db(ctx).Take(&l, id).Error
	return &l, found(err, "the lead %d", id)
}

// ResponsesOf returns the responses of a lead, the newest first, with contact and consents.
func (rs *Responses) ResponsesOf(ctx context.Context, lead uint) ([]Response, error) {
	var list []Response
	err := rs.db(ctx).Preload("Contacts").Preload("Consents").
		Where("id IN (?)", rs.db(ctx).Model(&LeadResponse{}).Select("response_id").Where("lead_id = ?", lead)).
		Order("finished DESC, id DESC").Find(&list).Error
	return list, found(err, "reading the responses of lead %d", lead)
}

// History returns what has happened to a lead, the newest first.
func (rs *Responses) History(ctx context.Context, lead uint) ([]LeadEvent, error) {
	var list []LeadEvent
	err := rs.db(ctx).Where("lead_id = ?", lead).Order("id DESC").Find(&list).Error
	return list, found(err, "reading the history of lead %d", lead)
}

// leadOf returns whose a response is, nil where nobody said.
func (rs *Responses) leadOf(ctx context.Context, response uint) (*Lead, error) {
	var list []Lead
	err := rs.db(ctx).Where("id IN (?)", rs.db(ctx).Model(&LeadResponse{}).Select("lead_id").Where("response_id = ?", response)).Find(&list).Error
	if err != nil || len(list) == 0 {
		return nil, err
	}
	return &list[0], nil
}

// EndedOf returns, by the numbers of a quiz's responses from one on, the states of those whose lead
// is in one of some states.
func (rs *Responses) EndedOf(ctx context.Context, quiz uint, from int, states []string) (map[int]string, error) {
	of := map[int]string{}
	if len(states) == 0 {
		return of, nil
	}
	rows, err := rs.db(context.WithoutCancel(ctx)).Model(&LeadResponse{}).Select("lead_responses.number, leads.state").
		Joins("JOIN leads ON leads.id = lead_responses.lead_id AND leads.workspace_id = lead_responses.workspace_id").
		Where("lead_responses.quiz_id = ? AND lead_responses.number >= ? AND leads.state IN ?", quiz, from, states).Rows()
	if err != nil {
		return nil, found(err, "looking for what has come of the leads of quiz %d", quiz)
	}
	defer rows.Close()
	for rows.Next() {
		var n int
		var state string
		if err := rows.Scan(&n, &state); err != nil {
			return nil, found(err, "reading what has come of leads")
		}
		of[n] = state
	}
	return of, found(rows.Err(), "reading what has come of leads")
}

// NamesOf returns the names that respondents of a quiz gave, by the numbers of their responses.
func (rs *Responses) NamesOf(ctx context.Context, of uint, numbers []int) (map[int]string, error) {
	var list []Contact
	err := rs.db(ctx).Where("quiz_id = ? AND number IN ? AND kind = ?", of, numbers, quiz.Name).Find(&list).Error
	names := map[int]string{}
	for _, c := range list {
		names[c.Number] = c.Value
	}
	return names, found(err, "reading names")
}

// LeadOf returns the lead that somebody is known as by an e-mail address or a telephone number.
func (rs *Responses) LeadOf(ctx context.Context, text string) (*Lead, error) {
	var k LeadKey
	keys := keysOf([]Contact{{Kind: quiz.Email, Value: text}, {Kind: quiz.Phone, Value: text}})
	if err := rs.db(ctx).Where("key IN ?", keys).Take(&k).Error; err != nil {
		return nil, found(err, "the lead known as %q", text)
	}
	return rs.Lead(ctx, k.LeadID)
}

// LeadsAmong returns the leads to whom responses of a quiz belong that all parts name.
func (rs *Responses) LeadsAmong(ctx context.Context, of uint, parts []tally.Part) ([]int, error) {
	var links []LeadResponse
	if err := rs.db(ctx).Select("number", "lead_id").Where("quiz_id = ?", of).Find(&links).Error; err != nil {
		return nil, found(err, "looking for the leads of quiz %d", of)
	}
	ids := []int{}
	err := rs.Tally(ctx, of, func(t *tally.Tally) {
		slice := t.Slice(parts...)
		for _, l := range links {
			if slice.Has(l.Number) {
				ids = append(ids, int(l.LeadID))
			}
		}
	})
	return ids, err
}
