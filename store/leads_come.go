package store

import (
	"context"
	"slices"

	"gorm.io/gorm"
)

// bringLeads makes leads of the responses of a workspace in which somebody said who they are,
// or adds these to the leads that they are of. Responses come in the order in which they were
// finished, and know their leads afterwards.
func (d *disk) bringLeads(tx *gorm.DB, in WorkspaceID, list []*Response) error {
	list = slices.DeleteFunc(slices.Clone(list), func(r *Response) bool { return !personal(r.Contacts) })
	if len(list) == 0 {
		return nil
	}
	known, err := leadsByKey(tx, list)
	if err != nil {
		return err
	}
	settings, err := d.leadSettings(tx, in)
	if err != nil {
		return err
	}
	turn := func(rule int) int {
		at := turnOf{in, rule}
		d.turns[at]++
		return d.turns[at] - 1
	}
	var fresh, touched []*Lead
	taken := map[*Lead]bool{} // into one of them
	var links []LeadResponse
	var keys []LeadKey
	var events []LeadEvent
	for _, r := range list {
		by, err := d.ruling(tx, r.ReleaseID)
		if err != nil {
			return err
		}
		theirs := keysOf(r.Contacts)
		var l *Lead
		for _, key := range theirs {
			if l = known[key]; l != nil {
				break
			}
		}
		before := l
		if l == nil {
			d.leads++
			l = &Lead{ID: d.leads, State: settings.first(), Changed: r.Finished, First: r.Finished}
			if r.Lead != nil {
				l.State, l.Changed, l.OwnerID, l.Next = r.Lead.State, r.Lead.Changed, r.Lead.OwnerID, r.Lead.Next
				for _, e := range r.Lead.Events {
					e.LeadID = l.ID
					events = append(events, e)
				}
			}
			fresh = append(fresh, l)
		} else if !taken[l] {
			touched = append(touched, l)
		}
		taken[l] = true
		if r.Finished.Before(l.Latest) { // of a file, perhaps: it tells what newer ones do not
			l.name(r.Contacts)
		} else {
			var newest Lead
			newest.name(r.Contacts)
			l.renamed(newest)
			l.follows(r, by)
		}
		if r.Finished.Before(l.First) {
			l.First = r.Finished
		}
		l.Responses++
		if before == nil && l.OwnerID == 0 {
			if l.OwnerID = settings.owner(l, turn); l.OwnerID != 0 {
				events = append(events, owned(l, 0, l.OwnerID, 0, r.Finished))
			}
		}
		for _, key := range theirs {
			if known[key] == nil {
				known[key] = l
				keys = append(keys, LeadKey{Key: key, LeadID: l.ID})
			}
		}
		links = append(links, LeadResponse{ResponseID: r.ID, LeadID: l.ID, QuizID: r.QuizID, Number: r.Number})
		r.Lead = l
	}
	if err := create(tx, fresh); err != nil {
		return err
	}
	for _, l := range touched {
		if err := tx.Save(l).Error; err != nil {
			return err
		}
	}
	if err := create(tx, links); err != nil {
		return err
	}
	if err := create(tx, keys); err != nil {
		return err
	}
	return create(tx, events)
}

// leadOfLate makes a lead of a response in which somebody said only afterwards who they are, or
// lets the lead that it is of say so too. It returns the lead, 0 for none.
func (rs *Responses) leadOfLate(tx *gorm.DB, r *Response) (uint, error) {
	ids, err := leadsOf(tx, []uint{r.ID})
	if err != nil {
		return 0, err
	}
	if len(ids) > 0 {
		return ids[0], rs.settle(tx, ids...)
	}
	if err := tx.Where("response_id = ?", r.ID).Find(&r.Contacts).Error; err != nil {
		return 0, err
	}
	if err := rs.disk.bringLeads(tx, rs.in, []*Response{r}); err != nil || r.Lead == nil {
		return 0, err
	}
	return r.Lead.ID, nil
}

// renamed takes over what somebody says of themselves now, and keeps what they do not say.
func (l *Lead) renamed(now Lead) {
	for _, field := range []struct {
		to   *string
		with string
	}{{&l.Name, now.Name}, {&l.Company, now.Company}, {&l.Email, now.Email}, {&l.Phone, now.Phone}} {
		if field.with != "" {
			*field.to = field.with
		}
	}
}

// leadsByKey returns the leads that are known by the keys of some responses.
func leadsByKey(tx *gorm.DB, list []*Response) (map[string]*Lead, error) {
	known, byID := map[string]*Lead{}, map[uint]*Lead{} // a lead that two keys name is one
	var keys []string
	for _, r := range list {
		keys = append(keys, keysOf(r.Contacts)...)
	}
	slices.Sort(keys)
	for some := range slices.Chunk(slices.Compact(keys), chunks[0]) {
		var there []LeadKey
		if err := tx.Where("key IN ?", filled(some)).Find(&there).Error; err != nil {
			return nil, err
		}
		if len(there) == 0 {
			continue
		}
		ids := make([]uint, len(there))
		for i, k := range there {
			ids[i] = k.LeadID
		}
		var leads []*Lead
		if err := tx.Where("id IN ?", ids).Find(&leads).Error; err != nil {
			return nil, err
		}
		for _, l := range leads {
			if byID[l.ID] == nil {
				byID[l.ID] = l
			}
		}
		for _, k := range there {
			known[k.Key] = byID[k.LeadID]
		}
	}
	return known, nil
}

// adoptTogether is how many responses are made leads in one commit.
const adoptTogether = 1000

// adopt makes leads of responses that came before there were any, and fills in those of which
// only the state was known.
func (rs *Responses) adopt(ctx context.Context) error {
	for last := uint(0); ; {
		var ids []uint
		err := rs.db(ctx).Model(&Contact{}).
			Where("response_id > ? AND kind IN ? AND value <> '' AND response_id NOT IN (?)", last, personalKinds,
				rs.db(ctx).Model(&LeadResponse{}).Select("response_id").Where("lead_responses.response_id = contacts.response_id")).
			Distinct("response_id").Order("response_id").Limit(adoptTogether).Pluck("response_id", &ids).Error
		if err != nil {
			return found(err, "looking for leads")
		}
		if len(ids) == 0 {
			break
		}
		last = ids[len(ids)-1]
		err = rs.alone(ctx, func(tx *gorm.DB) error {
			var list []*Response
			known := tx.Model(&LeadResponse{}).Select("response_id") // since they were looked for
			if err := tx.Preload("Contacts").Where("id IN ? AND id NOT IN (?)", ids,
				known.Where("response_id IN ?", ids)).Order("id").Find(&list).Error; err != nil {
				return err
			}
			return rs.disk.bringLeads(tx, rs.in, list)
		})
		if err != nil {
			return found(err, "making leads")
		}
	}
	return rs.fillIn(ctx)
}

// fillIn settles the leads of which only the state was known.
func (rs *Responses) fillIn(ctx context.Context) error {
	for {
		var ids []uint
		err := rs.db(ctx).Model(&Lead{}).Where("responses = 0").Limit(adoptTogether).Pluck("id", &ids).Error
		if err != nil || len(ids) == 0 {
			return found(err, "looking for leads")
		}
		if err := rs.alone(ctx, func(tx *gorm.DB) error { return rs.settle(tx, ids...) }); err != nil {
			return found(err, "filling in leads")
		}
	}
}
