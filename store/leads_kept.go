package store

import (
	"context"
	"time"

	"gorm.io/gorm"

	"omphalos/core/quiz"
)

// tellsBefore is how long before it is told how many leads will go.
const tellsBefore = 7 * 24 * time.Hour

// old asks for the leads of which nothing has been heard since a time: no response has come, and
// nobody has changed their state; who has a next step still to come stays.
func (rs *Responses) old(ctx context.Context, since, at time.Time) *gorm.DB {
	return rs.db(ctx).Model(&Lead{}).
		Where("latest < ? AND changed < ? AND next < ? AND (name <> '' OR company <> '' OR email <> '' OR phone <> '')",
			since.UTC(), since.UTC(), rs.dayOf(at))
}

// LeadsToForget returns how many leads go within the next seven days by the rule that is
// settled, and false where there is none.
func (rs *Responses) LeadsToForget(ctx context.Context, at time.Time) (n int, on bool, err error) {
	settings, err := rs.LeadSettings(ctx)
	if err != nil || settings.Keep.Days == 0 {
		return 0, false, err
	}
	var there int64
	err = rs.old(ctx, at.Add(tellsBefore).AddDate(0, 0, -settings.Keep.Days), at).Count(&there).Error
	return int(there), true, found(err, "counting old leads")
}

// ForgetLeads deletes the leads of that age, or makes them anonymous, as is settled, and returns
// how many they were.
func (rs *Responses) ForgetLeads(ctx context.Context, at time.Time) (all int, err error) {
	settings, err := rs.LeadSettings(ctx)
	if err != nil || settings.Keep.Days == 0 {
		return 0, err
	}
	since := at.AddDate(0, 0, -settings.Keep.Days)
	for {
		var ids []uint
		if err := rs.old(ctx, since, at).Limit(atATime).Pluck("id", &ids).Error; err != nil || len(ids) == 0 {
			return all, found(err, "looking for old leads")
		}
		for _, id := range ids {
			if settings.Keep.Anonymous {
				err = rs.anonymous(ctx, id)
			} else {
				_, err = rs.EraseLead(ctx, id, 0)
			}
			if err != nil {
				return all, err
			}
			all++
		}
	}
}

// anonymous takes out of a lead's responses whatever says who somebody is: contact, consents, what
// went out and lists, texts in their own words and what is known of their device. How the responses count stays.
func (rs *Responses) anonymous(ctx context.Context, lead uint) error {
	quizzes := map[uint]bool{}
	err := rs.db(ctx).Transaction(func(tx *gorm.DB) error {
		var list []Response
		theirs := tx.Model(&LeadResponse{}).Select("response_id").Where("lead_id = ?", lead)
		if err := tx.Where("id IN (?)", theirs).Find(&list).Error; err != nil {
			return err
		}
		for i := range list {
			r := &list[i]
			quizzes[r.QuizID] = true
			kinds, err := rs.kindsOf(ctx, r.ReleaseID)
			if err != nil {
				return err
			}
			for _, of := range []any{&Contact{}, &Consent{}, &Delivery{}, &Subscription{}} {
				if err := tx.Where("response_id = ?", r.ID).Delete(of).Error; err != nil {
					return err
				}
			}
			if err := tx.Where("response = ?", ResponseNumber(r.Passage)).Delete(&Booking{}).Error; err != nil {
				return err
			}
			facts := *r.Facts()
			facts.Referrer, facts.Query = "", nil
			err = tx.Exec("UPDATE responses SET packed = ?, visitor = ?, owner = '', taker = '', address "+
				"= '' WHERE id = ? AND workspace_id = ?",
				pack(r.Scores, withoutWords(r.Answers, kinds), r.Asked), toJSON(facts), r.ID, rs.in).Error
			if err != nil {
				return err
			}
			if err := forgetSegment(tx, r.QuizID, r.Number); err != nil {
				return err
			}
		}
		if err := tx.Where("lead_id = ?", lead).Delete(&LeadKey{}).Error; err != nil {
			return err
		}
		if err := tx.Where("lead_id = ? AND kind <> ?", lead, Stated).Delete(&LeadEvent{}).Error; err != nil {
			return err
		}
		none := map[string]any{"name": "", "company": "", "email": "", "phone": "", "words": ""}
		return tx.Model(&Lead{}).Where("id = ?", lead).Updates(none).Error
	})
	rs.leads.touch(lead)
	for id := range quizzes {
		rs.indexes.forget(id)
	}
	return found(err, "making lead %d anonymous", lead)
}

// withoutWords leaves out what somebody wrote by themselves.
func withoutWords(answers []ResponseAnswer, kinds map[string]quiz.Kind) []ResponseAnswer {
	var list []ResponseAnswer
	for _, a := range answers {
		if kind := kinds[a.Question]; kind == quiz.ShortText || kind == quiz.LongText {
			continue
		}
		a.WriteIn = ""
		list = append(list, a)
	}
	return list
}
