package store

import (
	"gorm.io/gorm"
	"gorm.io/gorm/clause"
)

// writeResponses keeps the responses of a group, one for each passage: an entry whose
// passage has one already gets that.
func (d *disk) writeResponses(tx *gorm.DB, group []*entry, care bool) error {
	var asked []string
	for _, e := range group {
		if e.response == nil || e.refused != nil {
			continue
		}
		before, known := d.remembered(e.passage.WorkspaceID, e.passage.ID)
		if care || known && before.Finished || !known && !e.passage.fresh {
			asked = append(asked, e.passage.ID)
		}
	}
	kept := map[string]*Response{}
	if len(asked) > 0 {
		var there []*Response
		if err := tx.Preload("Contacts").Where("passage IN ?", filled(asked)).Find(&there).Error; err != nil {
			return err
		}
		for _, r := range there {
			kept[r.Passage] = r
		}
	}
	if care {
		if err := d.countFrom(tx); err != nil {
			return err
		}
	}
	last := numbers{}
	var fresh []*Response
	for _, e := range group {
		if e.response == nil || e.refused != nil {
			continue
		}
		r := e.response
		if before := kept[r.Passage]; before != nil {
			e.response, e.late = before, true
			continue
		}
		if err := last.give(tx, r); err != nil {
			return err
		}
		kept[r.Passage] = r
		fresh = append(fresh, r)
	}
	if err := d.createResponses(tx, fresh); err != nil {
		return err
	}
	for _, e := range group {
		if e.refused == nil && !e.late {
			if err := setAside(tx, e.instead); err != nil {
				return err
			}
		}
	}
	return nil
}

// numbers are the numbers of the newest response by quiz, within one transaction.
type numbers map[uint]int

// give numbers a response after those that are there.
func (n numbers) give(tx *gorm.DB, r *Response) error {
	if _, known := n[r.QuizID]; !known {
		newest := 0
		err := tx.Raw("SELECT coalesce(max(number), 0) FROM (SELECT max(number) AS number FROM responses "+
			"WHERE workspace_id = ? AND quiz_id = ? UNION ALL SELECT max(number) FROM erasures WHERE "+
			"workspace_id = ? AND quiz_id = ?) AS newest",
			r.WorkspaceID, r.QuizID, r.WorkspaceID, r.QuizID).
			Scan(&newest).
			Error
		if err != nil {
			return err
		}
		n[r.QuizID] = newest
	}
	n[r.QuizID]++
	r.Number = n[r.QuizID]
	return nil
}

// countFrom takes up the counts of IDs, with which no other process goes on.
func (d *disk) countFrom(db *gorm.DB) error {
	if err := db.Raw("SELECT coalesce(max(id), 0) FROM responses -- of any workspace_id").
		Scan(&d.responses).Error; err != nil {
		return err
	}
	if err := db.Raw("SELECT coalesce(max(id), 0) FROM leads -- of any workspace_id").Scan(&d.leads).Error; err != nil {
		return err
	}
	return db.Raw("SELECT coalesce(max(id), 0) FROM deliveries -- of any workspace_id").Scan(&d.deliveries).Error
}

func (d *disk) createResponses(tx *gorm.DB, list []*Response) error {
	for _, r := range list {
		d.responses++
		r.ID = d.responses
	}
	if err := create(tx.Omit(clause.Associations), list); err != nil {
		return err
	}
	if err := count(tx, list); err != nil {
		return err
	}
	var contacts []Contact
	var consents []Consent
	var presses []Press
	for _, r := range list {
		for i := range r.Consents {
			r.Consents[i].ResponseID, r.Consents[i].Given = r.ID, r.Finished
		}
		for i := range r.Contacts {
			r.Contacts[i].ResponseID, r.Contacts[i].QuizID, r.Contacts[i].Number = r.ID, r.QuizID, r.Number
		}
		for i := range r.Presses {
			r.Presses[i].ResponseID, r.Presses[i].QuizID, r.Presses[i].Number = r.ID, r.QuizID, r.Number
		}
		presses = append(presses, r.Presses...)
		contacts, consents = append(contacts, r.Contacts...), append(consents, r.Consents...)
	}
	if err := create(tx, contacts); err != nil {
		return err
	}
	if len(list) > 0 {
		if err := d.bringLeads(tx, list[0].WorkspaceID, list); err != nil {
			return err
		}
	}
	if err := create(tx, presses); err != nil {
		return err
	}
	if err := create(tx, consents); err != nil {
		return err
	}
	var out []Delivery
	for _, r := range list {
		out = append(out, d.due(r, r.FollowUps, r.Finished)...)
	}
	return d.put(tx, out)
}

// count adds responses to the counts of their outcomes.
func count(tx *gorm.DB, list []*Response) error {
	more := map[OutcomeCount]int{}
	for _, r := range list {
		if r.Beside {
			continue
		}
		more[OutcomeCount{WorkspaceID: r.WorkspaceID, QuizID: r.QuizID, Outcome: r.Outcome}]++
	}
	for at, n := range more {
		err := tx.Exec(
			"INSERT INTO outcome_counts (workspace_id, quiz_id, outcome, count) VALUES (?, ?, ?, ?) ON "+
				"CONFLICT (quiz_id, outcome) DO UPDATE SET count = outcome_counts.count + excluded.count",
			at.WorkspaceID,
			at.QuizID,
			at.Outcome,
			n,
		).Error
		if err != nil {
			return err
		}
	}
	return nil
}
