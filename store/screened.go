package store

import (
	"context"
	"time"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"

	"omphalos/core/odds"
	"omphalos/store/tally"
)

// A Screening counts those who were screened out of a release on a day: all that is kept of
// them. No row is of a person: there is no time of day and no order, and nothing of what was
// answered but where the quiz ended for them and with which outcome.
type Screening struct {
	WorkspaceID WorkspaceID `gorm:"primaryKey;autoIncrement:false"`
	QuizID      uint        `gorm:"primaryKey;autoIncrement:false"`
	ReleaseID   uint        `gorm:"primaryKey;autoIncrement:false"`
	Day         string      `gorm:"primaryKey"`
	Place       string      `gorm:"primaryKey"` // the key of the question asked last, "" where that is not known
	Outcome     string      `gorm:"primaryKey"` // "" where that is not known
	Landing     string      `gorm:"primaryKey"`
	Came        `gorm:"embedded"`
	Count       int
}

// ScreenOut ends a passage and keeps nothing of it but a count of where it ended. The error is
// as SaveTyped's.
func (rs *Responses) ScreenOut(ctx context.Context, p *Passage, at odds.Screened) error {
	day := rs.today()
	rs.sights.Lock()
	came := rs.sights.bound(p.QuizID, day, p.Came)
	rs.sights.Unlock()
	one := Screening{QuizID: p.QuizID, ReleaseID: p.ReleaseID, Day: day, Place: at.Place,
		Outcome: at.Outcome, Landing: at.Landing, Came: came, Count: 1}
	return found(rs.write(ctx, &entry{passage: p, gone: true, alone: func(tx *gorm.DB) error {
		gone := tx.Delete(&Passage{}, "id = ?", p.ID)
		if gone.Error != nil || gone.RowsAffected == 0 && !p.fresh {
			return gone.Error
		}
		return addScreenings(tx, []Screening{one})
	}}), "screening out")
}

// AddScreenings adds to the counts of those who were screened out.
func (rs *Responses) AddScreenings(ctx context.Context, list []Screening) error {
	return found(addScreenings(rs.db(ctx), list), "counting who was screened out")
}

func addScreenings(tx *gorm.DB, list []Screening) error {
	columns := []clause.Column{{Name: "workspace_id"}, {Name: "quiz_id"}, {Name: "release_id"}, {Name: "day"},
		{Name: "place"}, {Name: "outcome"}, {Name: "landing"}}
	for _, kind := range cameKinds {
		columns = append(columns, clause.Column{Name: string(kind)})
	}
	return create(tx.Clauses(clause.OnConflict{
		Columns:   columns,
		DoUpdates: clause.Assignments(map[string]any{"count": gorm.Expr("screenings.count + excluded.count")}),
	}), list)
}

// Screened counts those of a quiz who were screened out and fit parts, by place, outcome and
// landing: nobody where the parts ask for what is not kept of them, their answers and scores.
func (rs *Responses) Screened(ctx context.Context, quiz uint, parts []tally.Part) ([]odds.Screened, error) {
	q := rs.fitting(rs.db(ctx).Model(&Screening{}).Where("quiz_id = ?", quiz), parts)
	for _, p := range parts {
		switch {
		case p.Of.Kind == tally.Outcome:
			q = q.Where("outcome IN ?", p.Values)
		case !Tells(p.Of):
			return nil, nil
		}
	}
	var list []odds.Screened
	err := q.Select("place, outcome, landing, sum(count) AS count").Group("place, outcome, landing").
		Order("place, outcome, landing").Scan(&list).Error
	return list, found(err, "counting who was screened out of quiz %d", quiz)
}

// ScreenedSince counts those who were screened out of each release of a quiz since the day of
// a time, by its ID and by outcome.
func (rs *Responses) ScreenedSince(ctx context.Context, quiz uint, since time.Time) (map[uint]map[string]int, error) {
	return countedBy(rs.db(ctx).Model(&Screening{}).Select("release_id, outcome, sum(count) AS count").
		Where("quiz_id = ? AND day >= ?", quiz, rs.dayOf(since)), quiz)
}

// countedBy reads counts by release and outcome.
func countedBy(q *gorm.DB, quiz uint) (map[uint]map[string]int, error) {
	var rows []struct {
		ReleaseID uint
		Outcome   string
		Count     int
	}
	err := q.Group("release_id, outcome").Scan(&rows).Error
	by := map[uint]map[string]int{}
	for _, r := range rows {
		if by[r.ReleaseID] == nil {
			by[r.ReleaseID] = map[string]int{}
		}
		by[r.ReleaseID][r.Outcome] += r.Count
	}
	return by, found(err, "counting by release of quiz %d", quiz)
}
