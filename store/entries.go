package store

import (
	"context"
	"fmt"
	"strconv"

	"gorm.io/gorm"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
	"omphalos/store/tally"
)

// addTo adds the responses with numbers from one to another.
func (rs *Responses) addTo(ctx context.Context, quiz uint, x *index, from, to int) error {
	var e tally.Entry
	var list []Response
	for ; from <= to; from += readTogether {
		within := func(q *gorm.DB) *gorm.DB {
			return q.Where("number BETWEEN ? AND ?", from, min(from+readTogether-1, to))
		}
		var err error
		if list, err = rs.together(ctx, quiz, within, "''", list); err != nil {
			return err
		}
		for i := range list {
			r := &list[i]
			kinds := x.kinds[r.ReleaseID]
			if kinds == nil {
				if kinds, err = rs.kindsOf(ctx, r.ReleaseID); err != nil {
					return err
				}
				x.kinds[r.ReleaseID] = kinds
			}
			r.enter(&e, kinds)
			x.tally.Add(&e)
		}
	}
	return nil
}

// kindsOf returns the kinds of a release's questions by their keys.
func (rs *Responses) kindsOf(ctx context.Context, release uint) (map[string]quiz.Kind, error) {
	var r Release
	if err := rs.db(ctx).Take(&r, release).Error; err != nil {
		return nil, found(err, "the release %d", release)
	}
	q, err := r.Read()
	if err != nil {
		return nil, fmt.Errorf("reading the release %d: %w", release, err)
	}
	kinds := map[string]quiz.Kind{}
	for key, question := range q.Questions {
		kinds[key] = question.Kind
	}
	return kinds, nil
}

// enter writes into an entry what a response says of itself.
func (r *Response) enter(e *tally.Entry, kinds map[string]quiz.Kind) {
	e.Number, e.Sets, e.Values = r.Number, e.Sets[:0], e.Values[:0]
	e.Set(tally.Outcome, r.Outcome)
	e.Set(tally.Landing, r.Landing)
	e.Set(tally.End, r.End)
	e.Set(tally.Release, strconv.FormatUint(uint64(r.ReleaseID), 10))
	e.Set(tally.Source, r.Source)
	e.Set(tally.Medium, r.Medium)
	e.Set(tally.Campaign, r.Campaign)
	e.Set(tally.Country, r.Country)
	e.Set(tally.Language, r.Language)
	e.Set(tally.Device, r.Device)
	value := func(of tally.Property, n int64) { e.Values = append(e.Values, tally.Value{Of: of, Value: n}) }
	value(tally.Property{Kind: tally.Finished}, r.Finished.Unix())
	value(tally.Property{Kind: tally.Seconds}, int64(r.Seconds))
	for _, s := range r.Scores {
		value(tally.Property{Kind: tally.Score, Key: s.Scale}, int64(s.Millionths))
	}
	for _, s := range r.Asked {
		e.Sets = append(e.Sets, tally.Member{Of: tally.Property{Kind: tally.Asked, Key: s.Question}})
		if s.Seconds >= 0 {
			value(tally.Property{Kind: tally.Spent, Key: s.Question}, int64(s.Seconds))
		}
	}
	for i, a := range r.Answers {
		if i == 0 || r.Answers[i-1].Question != a.Question {
			e.Sets = append(e.Sets, tally.Member{Of: tally.Property{Kind: tally.Answered, Key: a.Question}})
		}
		switch kind := kinds[a.Question]; {
		case kind.HasAnswers(), kind == quiz.Country, kind == quiz.Location, kind == quiz.Consent:
			e.Sets = append(
				e.Sets,
				tally.Member{Of: tally.Property{Kind: tally.Answer, Key: a.Question, Row: a.Row}, Value: a.Answer},
			)
		case kind.Numeric():
			if n, err := decimal.Parse(a.Answer); err == nil {
				value(tally.Property{Kind: tally.Amount, Key: a.Question}, int64(n))
			}
		case kind == quiz.Date:
			if n, err := quiz.ParseDay(a.Answer); err == nil {
				value(tally.Property{Kind: tally.Amount, Key: a.Question}, int64(n))
			}
		}
	}
}
