package store

import (
	"context"
	"sync"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"

	"omphalos/core/program"
	"omphalos/store/tally"
)

// A Sight counts those who saw the opening of a release, or its first question where it has
// none, on a day.
type Sight struct {
	WorkspaceID WorkspaceID `gorm:"primaryKey;autoIncrement:false"`
	QuizID      uint        `gorm:"primaryKey;autoIncrement:false"`
	ReleaseID   uint        `gorm:"primaryKey;autoIncrement:false"`
	Day         string      `gorm:"primaryKey"` // in the zone that the workspace had
	Source      string      `gorm:"primaryKey"`
	Medium      string      `gorm:"primaryKey"`
	Campaign    string      `gorm:"primaryKey"`
	Country     string      `gorm:"primaryKey"`
	Language    string      `gorm:"primaryKey"`
	Device      string      `gorm:"primaryKey"`
	Count       int
}

// sights count who saw what until it is written down.
type sights struct {
	sync.Mutex
	counts map[Sight]int
	day    string
	apart  map[uint]map[[4]string]bool // what is told apart of a quiz on the day
}

// mostApart is how many sources with medium, campaign and language are told apart a day:
// addresses bring along whatever somebody wrote into them, and cost nothing to ask for.
const mostApart = 500

// bound returns where somebody came from, further ones all as tally.Rest.
func (s *sights) bound(quiz uint, day string, came Came) Came {
	if s.day != day {
		s.day, s.apart = day, map[uint]map[[4]string]bool{}
	}
	known := s.apart[quiz]
	if known == nil {
		known = map[[4]string]bool{}
		s.apart[quiz] = known
	}
	one := [4]string{came.Source, came.Medium, came.Campaign, came.Language}
	switch {
	case known[one]:
	case len(known) < mostApart:
		known[one] = true
	default:
		came.Source, came.Medium, came.Campaign, came.Language = tally.Rest, tally.Rest, tally.Rest, ""
	}
	return came
}

// See counts somebody who sees the opening of a release.
func (rs *Responses) See(r *Release, v *program.Visitor) {
	day := rs.today()
	rs.sights.Lock()
	defer rs.sights.Unlock()
	if rs.sights.counts == nil {
		rs.sights.counts = map[Sight]int{}
	}
	came := rs.sights.bound(r.QuizID, day, cameBy(v))
	rs.sights.counts[Sight{
		WorkspaceID: rs.in, QuizID: r.QuizID, ReleaseID: r.ID, Day: day, Source: came.Source, Medium: came.Medium,
		Campaign: came.Campaign, Country: came.Country, Language: came.Language, Device: came.Device,
	}]++
}

// NoteSights writes down who saw what since the last time.
func (rs *Responses) NoteSights(ctx context.Context) error {
	rs.sights.Lock()
	counts := rs.sights.counts
	rs.sights.counts = nil
	rs.sights.Unlock()
	if len(counts) == 0 {
		return nil
	}
	list := make([]Sight, 0, len(counts))
	for sight, n := range counts {
		sight.Count = n
		list = append(list, sight)
	}
	err := rs.AddSights(ctx, list)
	if err != nil {
		rs.sights.Lock()
		defer rs.sights.Unlock()
		for sight, n := range rs.sights.counts {
			counts[sight] += n
		}
		rs.sights.counts = counts
	}
	return found(err, "noting who saw the quizzes")
}

// AddSights adds to the counts of those who saw quizzes.
func (rs *Responses) AddSights(ctx context.Context, list []Sight) error {
	return rs.db(ctx).Transaction(func(tx *gorm.DB) error {
		return create(tx.Clauses(clause.OnConflict{
			Columns: []clause.Column{
				{Name: "workspace_id"}, {Name: "quiz_id"}, {Name: "release_id"}, {Name: "day"}, {Name: "source"}, {Name: "medium"},
				{Name: "campaign"}, {Name: "country"}, {Name: "language"}, {Name: "device"},
			},
			DoUpdates: clause.Assignments(map[string]any{"count": gorm.Expr("sights.count + excluded.count")}),
		}), list)
	})
}
