package store

import (
	"context"
	"time"

	"omphalos/store/tally"
)

// readFlowing reads who has left, and who is under way.
func (rs *Responses) readFlowing(ctx context.Context, quiz uint, x *flowing) error {
	x.left, x.at, x.under = tally.New(), map[uint64]int{}, map[uint64]onWay{}
	idle := now().Add(-stillThere)
	err := rs.eachWay(ctx, &Departure{}, quiz, []string{"''", "ended", "place", "source", "medium", "campaign",
		"country", "language", "device"},
		func(_ string, one onWay) { x.add(one) })
	if err != nil {
		return err
	}
	return rs.eachWay(ctx, &Passage{}, quiz,
		[]string{"id", "updated", "place", "by_source", "by_medium", "by_campaign", "by_country", "by_language", "by_device"},
		func(id string, one onWay) {
			if one.last.Before(idle) {
				x.at[idOf(id)] = x.add(one)
			} else {
				x.under[idOf(id)] = one
			}
		})
}

// eachWay gives f those of a quiz who have left, or are under way, with the numbers of their
// passages.
func (rs *Responses) eachWay(ctx context.Context, model any, quiz uint, columns []string,
	f func(id string, one onWay)) error {
	// A context that can end makes the driver start a goroutine a row: it is asked between rows.
	rows, err := rs.db(context.WithoutCancel(ctx)).Model(model).
		Select("release_id, seconds, "+asOne(columns...)).Where("quiz_id = ?", quiz).Rows()
	if err != nil {
		return err
	}
	defer rows.Close()
	for n := 1; rows.Next(); n++ {
		if n%1024 == 0 && ctx.Err() != nil {
			return ctx.Err()
		}
		var one onWay
		var text, id, last string
		if err := rows.Scan(&one.release, &one.seconds, &text); err != nil {
			return err
		}
		came := &one.came
		if err := apart(text, &id, &last, &one.place, &came.Source, &came.Medium, &came.Campaign, &came.Country,
			&came.Language, &came.Device); err != nil {
			return err
		}
		if one.last, err = time.Parse(keptTime, last); err != nil {
			return err
		}
		f(id, one)
	}
	return rows.Err()
}

func (p *Passage) onWay() onWay { return onWay{p.ReleaseID, p.Place, p.Seconds, p.Updated, p.Came} }
