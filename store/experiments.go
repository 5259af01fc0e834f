package store

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"time"
)

// An Experiment is a release that takes a share of visitors beside the public one.
type Experiment struct {
	Release int       `json:"release"` // number
	Share   float64   `json:"share"`   // of those who begin, 0 to 1
	Since   time.Time `json:"since"`
}

// Beside is the release of an experiment, as it is asked for at a public address.
type Beside struct {
	ID    uint
	Share float64
	Mark  string // tells the experiment from others
}

// ErrExperiment says why a release can't be tried beside the public one.
var ErrExperiment = errors.New("can't be tried")

// ExperimentOf returns the experiment that a quiz makes; false for none.
func (z *Quiz) ExperimentOf() (Experiment, bool) {
	var e Experiment
	if z.Experiment == "" || json.Unmarshal([]byte(z.Experiment), &e) != nil {
		return e, false
	}
	return e, true
}

// Try lets a release take a share of visitors beside the public one. The error wraps
// ErrExperiment.
func (d *Definitions) Try(ctx context.Context, id uint, number int, share float64) error {
	return d.TrySince(ctx, id, number, share, now())
}

// TrySince is Try of an experiment that has been under way since a time, as it comes from
// elsewhere.
func (d *Definitions) TrySince(ctx context.Context, id uint, number int, share float64, since time.Time) error {
	z, err := d.Quiz(ctx, id)
	if err != nil {
		return err
	}
	if number == z.Released || share <= 0 || share >= 1 {
		return fmt.Errorf("release %d at %.0f %% %w beside itself, or at no share of visitors", number,
			100*share, ErrExperiment)
	}
	if _, err := d.ReleaseNumber(ctx, id, number); err != nil {
		return err
	}
	return d.setExperiment(ctx, id, toJSON(Experiment{number, share, since.UTC()}))
}

// EndExperiment ends an experiment; the public release stays.
func (d *Definitions) EndExperiment(ctx context.Context, id uint) error {
	return d.setExperiment(ctx, id, "")
}

func (d *Definitions) setExperiment(ctx context.Context, id uint, kept string) error {
	err := d.db(ctx).Model(&Quiz{}).Where("id = ?", id).UpdateColumn("experiment", kept).Error
	d.public.forget()
	return found(err, "the experiment of quiz %d", id)
}

// beside returns the release that is tried, nil for none.
func (d *Definitions) beside(ctx context.Context, id uint, kept string) (*Beside, error) {
	e, is := (&Quiz{Experiment: kept}).ExperimentOf()
	if !is {
		return nil, nil
	}
	r, err := d.ReleaseNumber(ctx, id, e.Release)
	if errors.Is(err, ErrNotFound) {
		return nil, nil
	}
	if err != nil {
		return nil, err
	}
	return &Beside{r.ID, e.Share, fmt.Sprint(r.ID, "-", e.Since.Unix())}, nil
}

// AnsweredSince counts the responses to each release of a quiz since a time, by its ID and by
// outcome.
func (rs *Responses) AnsweredSince(ctx context.Context, quiz uint, since time.Time) (map[uint]map[string]int, error) {
	return countedBy(rs.db(ctx).Model(&Response{}).Select("release_id, outcome, count(*) AS count").
		Where("quiz_id = ? AND finished >= ?", quiz, since.UTC()), quiz)
}
