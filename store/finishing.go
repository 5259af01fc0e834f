package store

import (
	"context"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"

	"omphalos/core/program"
)

// Finish keeps a response and what was typed for it in one commit, once for each
// passage: where the passage has a response already, that one is returned and
// nothing changes. The error is as SaveTyped's.
func (rs *Responses) Finish(
	ctx context.Context,
	p *Passage,
	typed map[string]program.Typed,
	r *Response,
) (*Response, error) {
	return rs.FinishWithin(ctx, p, typed, r, Bounds{})
}

// FinishWithin is Finish where a quiz does not take everything: beyond its bounds nothing is
// kept, and the error wraps ErrFull or ErrRepeated.
func (rs *Responses) FinishWithin(
	ctx context.Context,
	p *Passage,
	typed map[string]program.Typed,
	r *Response,
	within Bounds,
) (*Response, error) {
	e := &entry{passage: p.with(typed, true), within: within}
	kept := *r
	kept.Of(p)
	if within.Repeats != nil {
		kept.Taker = within.Taker
	}
	kept.Finished, kept.Asked = e.passage.Updated, timed(kept.Asked, p.Stops())
	e.response = &kept
	if err := rs.write(ctx, e); err != nil {
		return nil, found(err, "keeping the response")
	}
	*p = *e.passage
	if len(e.instead) > 0 {
		rs.indexes.forget(p.QuizID)
	}
	return e.response, nil
}

// AddContact adds what a respondent said of themselves after the result, in one
// commit, once: a response that has it already stays as it is. What goes out because of it is
// kept beside it. The error is as SaveTyped's.
func (rs *Responses) AddContact(
	ctx context.Context,
	p *Passage,
	typed map[string]program.Typed,
	contacts []Contact,
	consents []Consent,
	followUps []Delivery,
) error {
	next := p.with(typed, true)
	number := 0
	var lead uint
	err := rs.write(ctx, &entry{passage: next, alone: func(tx *gorm.DB) (err error) {
		var r Response
		if err := tx.Where("passage = ?", p.ID).Take(&r).Error; err != nil {
			return err
		}
		number = r.Number
		if r.Visitor != next.Visitor {
			if err := tx.Model(&Response{}).Where("id = ?", r.ID).Update("visitor", next.Visitor).Error; err != nil {
				return err
			}
		}
		for i := range contacts {
			contacts[i].ResponseID, contacts[i].QuizID, contacts[i].Number = r.ID, p.QuizID, r.Number
		}
		for i := range consents {
			consents[i].ResponseID, consents[i].Given = r.ID, next.Updated
		}
		if len(consents) > 0 {
			if err := tx.Clauses(clause.OnConflict{DoNothing: true}).Create(&consents).Error; err != nil {
				return err
			}
		}
		if len(contacts) > 0 {
			if err := tx.Clauses(clause.OnConflict{DoNothing: true}).Create(&contacts).Error; err != nil {
				return err
			}
		}
		if lead, err = rs.leadOfLate(tx, &r); err != nil {
			return err
		}
		return rs.disk.put(tx, rs.disk.due(&r, followUps, next.Updated))
	}})
	if err != nil {
		return found(err, "keeping contact")
	}
	rs.markContact(p.QuizID, number, contacts)
	rs.leads.touch(lead)
	*p = *next
	return nil
}
