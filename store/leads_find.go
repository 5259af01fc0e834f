package store

import (
	"context"
	"slices"
	"strings"

	"omphalos/core/quiz"
	"omphalos/store/tally"
)

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
	err := rs.db(ctx).Where("words >= ? AND words < ? AND id <> ?", name+"\n", name+"\x0b", l.ID).
		Order("id DESC").Limit(most).Find(&list).Error
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

// LeadsIn counts the leads that are in one of some states.
func (rs *Responses) LeadsIn(ctx context.Context, states []string) (int, error) {
	var n int64
	err := rs.db(ctx).Model(&Lead{}).Where("state IN ?", states).Count(&n).Error
	return int(n), found(err, "counting leads by their state")
}

// LeadsAfter returns leads by their IDs, those after one, at most so many; of a state where one
// is said.
func (rs *Responses) LeadsAfter(ctx context.Context, after uint, state string, most int) ([]Lead, error) {
	asked := rs.db(ctx).Where("id > ? AND responses > 0", after).Order("id").Limit(most)
	if state != "" {
		asked = asked.Where("state = ?", state)
	}
	var list []Lead
	return list, found(asked.Find(&list).Error, "listing the leads")
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
	err := rs.db(ctx).Where("id IN (?)", rs.db(ctx).Model(&LeadResponse{}).Select("lead_id").
		Where("response_id = ?", response)).Find(&list).Error
	if err != nil || len(list) == 0 {
		return nil, err
	}
	return &list[0], nil
}

// EndedOf returns, by their numbers, the states of those of some responses of a quiz whose lead
// is in one of some states: of each lead the newest response alone, since one person counts
// once. The numbers fall.
func (rs *Responses) EndedOf(ctx context.Context, quiz uint, numbers []int, states []string) (map[int]string, error) {
	of, counted := map[int]string{}, map[uint]bool{}
	if len(states) == 0 || len(numbers) == 0 {
		return of, nil
	}
	rows, err := rs.db(context.WithoutCancel(ctx)).Model(&LeadResponse{}).
		Select("lead_responses.number, leads.state, leads.id").
		Joins("JOIN leads ON leads.id = lead_responses.lead_id AND leads.workspace_id = lead_responses.workspace_id").
		Where("lead_responses.quiz_id = ? AND lead_responses.number >= ? AND leads.state IN ?", quiz, numbers[len(numbers)-1],
			states).
		Order("lead_responses.number DESC").Rows()
	if err != nil {
		return nil, found(err, "looking for what has come of the leads of quiz %d", quiz)
	}
	defer rows.Close()
	for rows.Next() {
		var n int
		var state string
		var lead uint
		if err := rows.Scan(&n, &state, &lead); err != nil {
			return nil, found(err, "reading what has come of leads")
		}
		_, meant := slices.BinarySearchFunc(numbers, n, func(a, b int) int { return b - a })
		if meant && !counted[lead] {
			of[n], counted[lead] = state, true
		}
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
	rows, err := rs.db(context.WithoutCancel(ctx)).Model(&LeadResponse{}).Select("number, lead_id").
		Where("quiz_id = ?", of).Rows()
	if err != nil {
		return nil, found(err, "looking for the leads of quiz %d", of)
	}
	defer rows.Close()
	var links [][2]int // the number of a response, and whose it is
	for rows.Next() {
		var link [2]int
		if err := rows.Scan(&link[0], &link[1]); err != nil {
			return nil, found(err, "reading the leads of quiz %d", of)
		}
		links = append(links, link)
	}
	if err := rows.Err(); err != nil {
		return nil, found(err, "reading the leads of quiz %d", of)
	}
	ids := []int{}
	err = rs.Tally(ctx, of, func(t *tally.Tally) {
		slice := t.Slice(parts...)
		for _, link := range links {
			if slice.Has(link[0]) {
				ids = append(ids, link[1])
			}
		}
	})
	return ids, err
}
