package store

import (
	"context"
	"errors"
	"fmt"
	"regexp"
	"strings"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"

	"omphalos/core/place"
)

// A Place is a row of a table of places, which location questions offer.
type Place struct {
	WorkspaceID WorkspaceID `gorm:"primaryKey;autoIncrement:false"`
	Table       string      `gorm:"primaryKey;column:board"`
	Key         string      `gorm:"primaryKey"`
	Name        string
	Address     string // where it is, in words
	Latitude    float64
	Longitude   float64
}

// Point returns where the place is.
func (p Place) Point() place.Point { return place.Point{Latitude: p.Latitude, Longitude: p.Longitude} }

// ErrPlace says that a place can't be kept.
var ErrPlace = errors.New("can't be kept")

// Places returns the rows of a table by name, or all of all tables for "".
func (d *Definitions) Places(ctx context.Context, table string) ([]Place, error) {
	var list []Place
	q := d.db(ctx).Order("board, name, key")
	if table != "" {
		q = q.Where("board = ?", table)
	}
	return list, found(q.Find(&list).Error, "listing the places")
}

// PlaceTables returns the names of the tables that have places.
func (d *Definitions) PlaceTables(ctx context.Context) ([]string, error) {
	var list []string
	err := d.db(ctx).Model(&Place{}).Distinct("board").Order("board").Pluck("board", &list).Error
	return list, found(err, "listing the tables of places")
}

var placeKey = regexp.MustCompile(`^[A-Za-z0-9][A-Za-z0-9_-]*$`)

// PlaceName returns what a place of a table is called, "" where it is not there.
func (d *Definitions) PlaceName(ctx context.Context, table, key string) string {
	var p Place
	d.db(ctx).Where(Place{Table: table, Key: key}).Limit(1).Find(&p)
	return p.Name
}

// PutPlaces keeps rows, all or none; a row without a key gets one of its name. The error
// wraps ErrPlace and names the row (counted from 1) that can't be kept.
func (d *Definitions) PutPlaces(ctx context.Context, rows []Place) error {
	for i := range rows {
		r := &rows[i]
		r.Table = strings.TrimSpace(r.Table)
		r.Key = strings.TrimSpace(r.Key)
		r.Name = strings.TrimSpace(r.Name)
		r.Address = strings.TrimSpace(r.Address)
		if r.Key == "" {
			r.Key = strings.ReplaceAll(Slug(r.Name), "-", "_")
		}
		switch {
		case r.Table == "" || r.Name == "":
			return fmt.Errorf("row %d %w: it needs a table and a name", i+1, ErrPlace)
		case !placeKey.MatchString(r.Key) || len(r.Key) > 100:
			return fmt.Errorf(
				"row %d (%s) %w: the key %q may hold letters, digits, - and _",
				i+1,
				r.Name,
				ErrPlace,
				r.Key,
			)
		case len(r.Table) > 100 || len(r.Name) > 200 || len(r.Address) > 500:
			return fmt.Errorf("row %d %w: it is too long", i+1, ErrPlace)
		case !r.Point().Valid():
			return fmt.Errorf(
				"row %d (%s) %w: the latitude goes from -90 to 90 and the longitude from -180 to 180",
				i+1,
				r.Name,
				ErrPlace,
			)
		}
	}
	return d.db(ctx).Transaction(func(tx *gorm.DB) error {
		return found(
			tx.Clauses(clause.OnConflict{UpdateAll: true}).CreateInBatches(rows, perStatement).Error,
			"keeping places",
		)
	})
}

// RemovePlace takes a place away.
func (d *Definitions) RemovePlace(ctx context.Context, table, key string) error {
	return found(d.db(ctx).Where("board = ? AND key = ?", table, key).Delete(&Place{}).Error, "removing a place")
}
