package store

import (
	"context"
	"errors"
	"fmt"

	"gorm.io/gorm"
)

// ErrSame says that a lead can't be put together with itself, or parted from nothing.
var ErrSame = errors.New("there is nothing to put together or to part")

// MergeLeads makes one lead of two: the first has the responses, the history and the keys of
// both, and stays in its state and in its hands.
func (rs *Responses) MergeLeads(ctx context.Context, into, from uint, user uint) error {
	if into == from {
		return ErrSame
	}
	err := rs.db(ctx).Transaction(func(tx *gorm.DB) error {
		var other Lead
		if err := errors.Join(tx.Take(&Lead{}, into).Error, tx.Take(&other, from).Error); err != nil {
			return err
		}
		for _, of := range []any{&LeadResponse{}, &LeadKey{}, &LeadEvent{}} {
			if err := tx.Model(of).Where("lead_id = ?", from).Update("lead_id", into).Error; err != nil {
				return err
			}
		}
		if err := tx.Delete(&Lead{}, from).Error; err != nil {
			return err
		}
		event := LeadEvent{LeadID: into, Kind: Merged, After: other.Called(), UserID: user, Batch: Token(), Made: now()}
		return errors.Join(tx.Create(&event).Error, rs.settle(tx, into))
	})
	rs.leads.touch(into, from)
	return found(err, "putting leads together")
}

// PartLead takes a response out of a lead that has several, and makes a lead of its own of it,
// which it returns. Whoever gives the same address again is still the first.
func (rs *Responses) PartLead(ctx context.Context, lead, quiz uint, number int, user uint) (*Lead, error) {
	var made *Lead
	err := rs.alone(ctx, func(tx *gorm.DB) error {
		var before Lead
		if err := tx.Take(&before, lead).Error; err != nil {
			return err
		}
		if before.Responses < 2 {
			return ErrSame
		}
		var r Response
		theirs := tx.Model(&LeadResponse{}).Select("response_id").Where("lead_id = ?", lead)
		if err := tx.Where("quiz_id = ? AND number = ? AND id IN (?)", quiz, number, theirs).Take(&r).Error; err != nil {
			return err
		}
		rs.disk.leads++
		made = &Lead{ID: rs.disk.leads, State: before.State, Changed: before.Changed, OwnerID: before.OwnerID,
			First: r.Finished}
		event := LeadEvent{LeadID: made.ID, Kind: Parted, After: before.Called(), UserID: user, Batch: Token(), Made: now()}
		return errors.Join(
			tx.Create(made).Error,
			tx.Model(&LeadResponse{}).Where("response_id = ?", r.ID).Update("lead_id", made.ID).Error,
			tx.Create(&event).Error,
			rs.settle(tx, lead, made.ID),
		)
	})
	if err != nil {
		return nil, found(err, "parting lead %d", lead)
	}
	rs.leads.touch(lead, made.ID)
	return rs.Lead(ctx, made.ID)
}

// alone has the writer do something by itself: where IDs are given that it counts. What f refuses
// is refused to whoever asked, and not to those who are written in the same commit.
func (rs *Responses) alone(ctx context.Context, f func(tx *gorm.DB) error) error {
	var refused error
	err := rs.write(ctx, &entry{passage: &Passage{WorkspaceID: rs.in}, gone: true, alone: func(tx *gorm.DB) error {
		const before = "alone"
		if err := tx.SavePoint(before).Error; err != nil {
			return err
		}
		if refused = f(tx); refused != nil {
			return tx.RollbackTo(before).Error
		}
		return nil
	}})
	return errors.Join(err, refused)
}

// settle makes leads say what their responses say: those that have none are gone.
func (rs *Responses) settle(tx *gorm.DB, leads ...uint) error {
	for _, id := range leads {
		var list []Response
		err := tx.Preload("Contacts").Where("id IN (?)", tx.Model(&LeadResponse{}).Select("response_id").
			Where("lead_id = ?", id)).
			Order("finished, id").Find(&list).Error
		if err != nil {
			return err
		}
		if len(list) == 0 {
			if err := tx.Delete(&Lead{}, id).Error; err != nil {
				return err
			}
			continue
		}
		var l Lead
		if err := tx.Take(&l, id).Error; err != nil {
			return err
		}
		l.Name, l.Company, l.Email, l.Phone, l.Responses, l.First = "", "", "", "", len(list), list[0].Finished
		for i := range list {
			by, err := rs.disk.ruling(tx, list[i].ReleaseID)
			if err != nil {
				return err
			}
			var now Lead
			now.name(list[i].Contacts)
			l.renamed(now)
			l.follows(&list[i], by)
		}
		if err := tx.Save(&l).Error; err != nil {
			return err
		}
		if err := rs.settleKeys(tx, id, list); err != nil {
			return err
		}
	}
	return nil
}

// settleKeys leaves a lead the keys that its responses give, but for those that others have.
func (rs *Responses) settleKeys(tx *gorm.DB, lead uint, list []Response) error {
	if err := tx.Where("lead_id = ?", lead).Delete(&LeadKey{}).Error; err != nil {
		return err
	}
	for i := range list {
		for _, key := range keysOf(list[i].Contacts) {
			err := tx.Exec("INSERT OR IGNORE INTO lead_keys (workspace_id, key, lead_id) VALUES (?, ?, ?)",
				rs.in, key, lead).Error
			if err != nil {
				return err
			}
		}
	}
	return nil
}

// leadsOf returns the leads of some responses.
func leadsOf(tx *gorm.DB, responses []uint) ([]uint, error) {
	var ids []uint
	err := tx.Model(&LeadResponse{}).Where("response_id IN ?", responses).Distinct("lead_id").Pluck("lead_id", &ids).Error
	if err != nil {
		err = fmt.Errorf("looking for leads: %w", err)
	}
	return ids, err
}
