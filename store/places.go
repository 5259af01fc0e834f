package store

import (
	"errors"
	"fmt"
	"regexp"
	"strings"
	"time"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"

	"omphalos/core/place"
)

// A Place is a row of a table of places, which location questions offer.
type Place struct {
	Table     string `gorm:"primaryKey;column:board"`
	Key       string `gorm:"primaryKey"`
	Name      string
	Address   string // where it is, in words
	Latitude  float64
	Longitude float64
}

// Point returns where the place is.
func (p Place) Point() place.Point { return place.Point{Latitude: p.Latitude, Longitude: p.Longitude} }

// ErrPlace says that a place can't be kept.
var ErrPlace = errors.New("can't be kept")

// Places returns the rows of a table by name, or all of all tables for "".
func (s *Store) Places(table string) ([]Place, error) {
	var list []Place
	q := s.db.Order("board, name, key")
	if table != "" {
		q = q.Where("board = ?", table)
	}
	return list, found(q.Find(&list).Error, "listing the places")
}

// PlaceTables returns the names of the tables that have places.
func (s *Store) PlaceTables() ([]string, error) {
	var list []string
	err := s.db.Model(&Place{}).Distinct("board").Order("board").Pluck("board", &list).Error
	return list, found(err, "listing the tables of places")
}

var placeKey = regexp.MustCompile(`^[A-Za-z0-9][A-Za-z0-9_-]*$`)

// PlaceName returns what a place of a table is called, "" where it is not there.
func (s *Store) PlaceName(table, key string) string {
	var p Place
	s.db.Where(Place{Table: table, Key: key}).Limit(1).Find(&p)
	return p.Name
}

// PutPlaces keeps rows, all or none; a row without a key gets one of its name. The error
// wraps ErrPlace and names the row (counted from 1) that can't be kept.
func (s *Store) PutPlaces(rows []Place) error {
	for i := range rows {
		r := &rows[i]
		r.Table, r.Key, r.Name, r.Address = strings.TrimSpace(r.Table), strings.TrimSpace(r.Key), strings.TrimSpace(r.Name), strings.TrimSpace(r.Address)
		if r.Key == "" {
			r.Key = strings.ReplaceAll(Slug(r.Name), "-", "_")
		}
		switch {
		case r.Table == "" || r.Name == "":
			return fmt.Errorf("row %d %w: it needs a table and a name", i+1, ErrPlace)
		case !placeKey.MatchString(r.Key) || len(r.Key) > 100:
			return fmt.Errorf("row %d (%s) %w: the key %q may hold letters, digits, - and _", i+1, r.Name, ErrPlace, r.Key)
		case len(r.Table) > 100 || len(r.Name) > 200 || len(r.Address) > 500:
			return fmt.Errorf("row %d %w: it is too long", i+1, ErrPlace)
		case !r.Point().Valid():
			return fmt.Errorf("row %d (%s) %w: the latitude goes from -90 to 90 and the longitude from -180 to 180", i+1, r.Name, ErrPlace)
		}
	}
	return s.db.Transaction(func(tx *gorm.DB) error {
		return found(tx.Clauses(clause.OnConflict{UpdateAll: true}).CreateInBatches(rows, perStatement).Error, "keeping places")
	})
}

// RemovePlace takes a place away.
func (s *Store) RemovePlace(table, key string) error {
	return found(s.db.Where("board = ? AND key = ?", table, key).Delete(&Place{}).Error, "removing a place")
}

// A Booking is an appointment that was made in the stand-in for a calendar.
type Booking struct {
	Calendar string    `gorm:"primaryKey"`
	Start    time.Time `gorm:"primaryKey"`
	Passage  string    `gorm:"index"`
}

// ErrTaken says that an appointment has been given to somebody else.
var ErrTaken = errors.New("is taken")

// Bookings returns what is booked of a calendar between two times.
func (s *Store) Bookings(calendar string, from, to time.Time) ([]Booking, error) {
	var list []Booking
	err := s.db.Where("calendar = ? AND start >= ? AND start < ?", calendar, from.UTC(), to.UTC()).Order("start").Find(&list).Error
	return list, found(err, "listing appointments")
}

// Book books a time for a passage, in place of another that it had of the calendar. The
// error is ErrTaken where somebody else has it.
func (s *Store) Book(b Booking) error {
	b.Start = b.Start.UTC()
	return s.db.Transaction(func(tx *gorm.DB) error {
		var there Booking
		err := tx.Where("calendar = ? AND start = ?", b.Calendar, b.Start).Take(&there).Error
		if err == nil && there.Passage != b.Passage {
			return ErrTaken
		}
		if err != nil && !errors.Is(err, gorm.ErrRecordNotFound) {
			return found(err, "looking up an appointment")
		}
		if err := tx.Where("calendar = ? AND passage = ?", b.Calendar, b.Passage).Delete(&Booking{}).Error; err != nil {
			return found(err, "giving an appointment back")
		}
		return found(tx.Create(&b).Error, "booking an appointment")
	})
}

// BookingOf returns what a passage has booked of a calendar.
func (s *Store) BookingOf(calendar, passage string) (Booking, error) {
	var b Booking
	err := s.db.Where("calendar = ? AND passage = ?", calendar, passage).Take(&b).Error
	return b, found(err, "the appointment")
}
