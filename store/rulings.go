package store

import (
	lru "github.com/hashicorp/golang-lru/v2"
	"gorm.io/gorm"

	"omphalos/core/decimal"
	"omphalos/core/odds"
	"omphalos/core/program"
)

// A ruling is how a release sorts respondents.
type ruling struct {
	ruler    odds.Ruler
	scale    string // its key, "" where there is none
	text     func(decimal.Decimal) string
	standing map[string]string // of outcomes, by their keys
}

// A turnOf is a rule that brings leads to several people by turns.
type turnOf struct {
	in   WorkspaceID
	rule int
}

// mostRulings is how many are remembered.
const mostRulings = 256

func newRulings() *lru.Cache[uint, *ruling] {
	cache, _ := lru.New[uint, *ruling](mostRulings) // never fails
	return cache
}

// ruling returns how a release sorts. One that can't be read sorts nobody.
func (d *disk) ruling(tx *gorm.DB, release uint) (*ruling, error) {
	if known, is := d.rulings.Get(release); is {
		return known, nil
	}
	var r Release
	if err := tx.Take(&r, release).Error; err != nil {
		return nil, found(err, "the release %d", release)
	}
	made := &ruling{standing: map[string]string{}}
	if q, err := r.Read(); err == nil {
		for key, o := range q.Outcomes {
			made.standing[key] = string(o.Standing)
		}
		if p, err := program.CompileReleased(q); err == nil {
			if by, has := odds.RulerOf(p); has {
				made.ruler, made.scale = by, p.ScaleKeys()[by.Scale]
				made.text = func(score decimal.Decimal) string { return p.ScoreText(by.Scale, score) }
			}
		}
	}
	d.rulings.Add(release, made)
	return made, nil
}
