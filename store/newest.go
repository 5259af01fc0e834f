package store

import "context"

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
	err := rs.db(ctx).Preload("Contacts").Where("quiz_id = ? AND NOT beside", quiz).Order("number DESC").
		Limit(most).Find(&list).Error
	for i := range list {
		list[i].facts = facts(list[i].Visitor)
	}
	return list, found(err, "reading the newest responses of quiz %d", quiz)
}
