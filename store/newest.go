package store

import (
	"context"
	"maps"
	"slices"

	"gorm.io/gorm"
)

// Answered returns how many responses of a quiz count.
func (rs *Responses) Answered(ctx context.Context, quiz uint) (int, error) {
	count := 0
	err := rs.db(ctx).Model(&OutcomeCount{}).Where("quiz_id = ?", quiz).Select("coalesce(sum(count), 0)").
		Scan(&count).
		Error
	return count, found(err, "counting the responses of quiz %d", quiz)
}

// Last returns the number of a quiz's newest response, 0 for none.
func (rs *Responses) Last(ctx context.Context, quiz uint) (int, error) {
	last := 0
	err := rs.db(ctx).Model(&Response{}).Where("quiz_id = ?", quiz).Select("coalesce(max(number), 0)").Scan(&last).Error
	return last, found(err, "looking for the newest response of quiz %d", quiz)
}

// Newest returns the newest responses of a quiz that count, with their answers, at most so many.
func (rs *Responses) Newest(ctx context.Context, quiz uint, most int) ([]Response, error) {
	var list []Response
	err := rs.db(ctx).Preload("Contacts").Where("quiz_id = ? AND NOT beside", quiz).Order("number DESC").Limit(most).Find(&list).Error
	for i := range list {
		list[i].facts = facts(list[i].Visitor)
	}
	return list, found(err, "reading the newest responses of quiz %d", quiz)
}

// Each gives f the responses of a quiz that count in the order of their numbers, with scores and answers
// and without contact, until f returns false. The Response is good until f returns.
func (rs *Responses) Each(ctx context.Context, quiz uint, f func(*Response) bool) error {
	r := Response{WorkspaceID: rs.in, QuizID: quiz}
	return rs.each(ctx, &r, all, f, map[string]any{"number": &r.Number, "release_id": &r.ReleaseID,
		"outcome": &r.Outcome, "visitor": &r.Visitor, "packed": &r.Packed})
}

// eachWhole is Each of those with numbers from one to another, with all that is counted.
func (rs *Responses) eachWhole(ctx context.Context, quiz uint, from, to int, f func(*Response) bool) error {
	r := Response{WorkspaceID: rs.in, QuizID: quiz}
	within := func(q *gorm.DB) *gorm.DB { return q.Where("number BETWEEN ? AND ?", from, to) }
	return rs.each(ctx, &r, within, f, r.counted())
}

// counted are the columns of all that is counted of a response, with where they go.
func (r *Response) counted() map[string]any {
	return map[string]any{"number": &r.Number, "release_id": &r.ReleaseID,
		"finished": &r.Finished, "seconds": &r.Seconds, "end": &r.End, "outcome": &r.Outcome, "landing": &r.Landing,
		"source": &r.Source, "medium": &r.Medium, "campaign": &r.Campaign, "country": &r.Country,
		"language": &r.Language, "device": &r.Device, "packed": &r.Packed}
}

func all(q *gorm.DB) *gorm.DB { return q }

// each reads columns of those responses of r's quiz into r, one after the other.
func (rs *Responses) each(
	ctx context.Context,
	r *Response,
	which func(*gorm.DB) *gorm.DB,
	f func(*Response) bool,
	columns map[string]any,
) error {
	quiz, names := r.QuizID, slices.Sorted(maps.Keys(columns))
	var into []any
	for _, name := range names {
		into = append(into, columns[name])
	}
	// A context that can end makes the driver start a goroutine a row: it is asked between rows.
	rows, err := which(rs.db(context.WithoutCancel(ctx)).Model(&Response{}).Select(names).
		Where("quiz_id = ? AND NOT beside", quiz)).Order("number").Rows()
	if err != nil {
		return found(err, "reading the responses of quiz %d", quiz)
	}
	defer rows.Close()
	for n := 1; rows.Next(); n++ {
		if n%1024 == 0 && ctx.Err() != nil {
			return ctx.Err()
		}
		if err := rows.Scan(into...); err != nil {
			return found(err, "reading the responses of quiz %d", quiz)
		}
		if r.Scores, r.Answers, r.Asked, err = unpackInto(r.Scores, r.Answers, r.Asked, r.Packed); err != nil {
			return err
		}
		if !f(r) {
			break
		}
	}
	return found(rows.Err(), "reading the responses of quiz %d", quiz)
}
