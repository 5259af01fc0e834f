package store

import (
	"context"
	"strings"
	"time"

	"gorm.io/gorm"
)

// An Erasure is the trace of a response that was deleted: that it was there, and nothing of
// what it held.
type Erasure struct {
	ID          uint
	WorkspaceID WorkspaceID `gorm:"not null"`
	QuizID      uint
	Number      int // of the response
	UserID      uint
	Made        time.Time
}

// DeleteResponse deletes a response with everything that was kept of it: contact, consents,
// the passage and what was booked on it. Its number is not given again.
func (rs *Responses) DeleteResponse(ctx context.Context, quiz uint, number int, user uint) error {
	var r Response
	if err := rs.db(ctx).Select("id", "quiz_id", "number", "passage", "outcome", "beside").
		Where("quiz_id = ? AND number = ?", quiz, number).Take(&r).Error; err != nil {
		return found(err, "the response %d", number)
	}
	return rs.erase(ctx, []Response{r}, user)
}

// CorrectContact puts another value, or none for "", in the place of what a respondent said of
// themselves in a field.
func (rs *Responses) CorrectContact(ctx context.Context, quiz uint, number int, field, value string) error {
	var leads []uint
	err := rs.db(ctx).Transaction(func(tx *gorm.DB) (err error) {
		var r Response
		if err := tx.Select("id").Where("quiz_id = ? AND number = ?", quiz, number).Take(&r).Error; err != nil {
			return err
		}
		theirs := tx.Where("response_id = ? AND field = ?", r.ID, field)
		var done *gorm.DB
		if value == "" {
			done = theirs.Delete(&Contact{})
		} else {
			done = theirs.Model(&Contact{}).Update("value", value)
		}
		if done.Error == nil && done.RowsAffected == 0 {
			done.Error = gorm.ErrRecordNotFound
		}
		if done.Error != nil {
			return done.Error
		}
		if leads, err = leadsOf(tx, []uint{r.ID}); err != nil {
			return err
		}
		return rs.settle(tx, leads...)
	})
	rs.indexes.forget(quiz)
	rs.leads.touch(leads...)
	return found(err, "the field %q of response %d", field, number)
}

// ErasePerson deletes all responses in which somebody gave a name, an address or a phone
// number, in whatever letters, and returns how many they were.
func (rs *Responses) ErasePerson(ctx context.Context, value string, user uint) (int, error) {
	var list []Response
	err := rs.db(ctx).Select("id", "quiz_id", "number", "passage", "outcome", "beside").
		Where("id IN (?)", rs.db(ctx).Model(&Contact{}).Select("response_id").Where("lower(value) = lower(?)",
			strings.TrimSpace(value))).
		Find(&list).Error
	if err != nil {
		return 0, found(err, "looking for a person")
	}
	return len(list), rs.erase(ctx, list, user)
}

// EraseLead deletes a person: all their responses, and what is known of them as a lead. What
// stays is that there were responses, by their numbers. It returns how many they were.
func (rs *Responses) EraseLead(ctx context.Context, lead uint, user uint) (int, error) {
	var list []Response
	err := rs.db(ctx).Select("id", "quiz_id", "number", "passage", "outcome", "beside").
		Where("id IN (?)", rs.db(ctx).Model(&LeadResponse{}).Select("response_id").Where("lead_id = ?", lead)).
		Find(&list).Error
	if err == nil && len(list) == 0 {
		err = gorm.ErrRecordNotFound
	}
	if err != nil {
		return 0, found(err, "the lead %d", lead)
	}
	return len(list), rs.erase(ctx, list, user)
}

func (rs *Responses) erase(ctx context.Context, list []Response, user uint) error {
	var leads []uint
	err := rs.db(ctx).Transaction(func(tx *gorm.DB) (err error) {
		ids := make([]uint, len(list))
		for i, r := range list {
			ids[i] = r.ID
		}
		if leads, err = leadsOf(tx, ids); err != nil {
			return err
		}
		for _, r := range list {
			gone := tx.Delete(&Response{}, r.ID) // contact and consents go with it
			if gone.Error != nil || gone.RowsAffected == 0 {
				return gone.Error
			}
			if err := uncount(tx, r); err != nil {
				return err
			}
			if err := tx.Delete(&Booking{}, "response = ?", ResponseNumber(r.Passage)).Error; err != nil {
				return err
			}
			if err := tx.Create(&Erasure{QuizID: r.QuizID, Number: r.Number, UserID: user, Made: now()}).Error; err != nil {
				return err
			}
		}
		return rs.settle(tx, leads...)
	})
	rs.leads.touch(leads...)
	for _, r := range list {
		rs.disk.passages.Remove(r.Passage)
		rs.indexes.forget(r.QuizID)
	}
	return found(err, "deleting responses")
}
