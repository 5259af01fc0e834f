package store

import (
	"slices"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"
)

// writePassages puts those under way into their state, in the order in which they came,
// and takes away those that a response of the group finishes.
func (d *disk) writePassages(tx *gorm.DB, group []*entry) error {
	finished := map[string]bool{}
	for _, e := range group {
		if e.response != nil && e.refused == nil {
			finished[e.passage.ID] = true
		}
	}
	var fresh []*Passage
	var later []*Passage
	var over []string
	at := map[string]int{} // place in fresh by number
	for _, e := range group {
		p := e.passage
		i, here := at[p.ID]
		switch {
		case e.alone != nil, e.refused != nil: // when the others are there, or not at all
		case finished[p.ID]:
			if _, known := d.remembered(p.WorkspaceID, p.ID); known || !p.fresh {
				over = append(over, p.ID)
			}
		case here:
			fresh[i] = p
		case p.fresh:
			at[p.ID] = len(fresh)
			fresh = append(fresh, p)
		default:
			later = append(later, p)
		}
	}
	if len(fresh) > 0 {
		upsert := tx.Clauses(clause.OnConflict{Columns: []clause.Column{{Name: "workspace_id"}, {Name: "id"}},
			DoUpdates: clause.AssignmentColumns([]string{"answers", "updated", "place", "seconds", "trail"})})
		if err := create(upsert, fresh); err != nil {
			return err
		}
	}
	for _, p := range later {
		err := tx.Exec(
			"UPDATE passages SET answers = ?, updated = ?, place = ?, seconds = ?, trail = ? WHERE id = ? AND workspace_id = ?",
			p.Answers,
			p.Updated,
			p.Place,
			p.Seconds,
			p.Trail,
			p.ID,
			p.WorkspaceID,
		).Error
		if err != nil {
			return err
		}
	}
	if len(over) > 0 {
		if err := tx.Where("id IN ?", filled(over)).Delete(&Passage{}).Error; err != nil {
			return err
		}
	}
	for _, e := range group {
		if e.alone != nil {
			if err := e.alone(tx); err != nil {
				return err
			}
		}
	}
	return nil
}

// filled repeats the first of a list until it is as long as one of chunks, so that a query
// with it stays prepared.
func filled(list []string) []string {
	for !slices.Contains(chunks, len(list)) && len(list) < chunks[0] {
		list = append(list, list[0])
	}
	return list
}

// chunks are the numbers of rows that one statement inserts: few, so that the statements
// stay prepared.
var chunks = []int{64, 16, 4, 1}

func create[T any](tx *gorm.DB, rows []T) error {
	tx = tx.Session(&gorm.Session{})
	for _, size := range chunks {
		for ; len(rows) >= size; rows = rows[size:] {
			if err := tx.Create(rows[:size:size]).Error; err != nil {
				return err
			}
		}
	}
	return nil
}
