package store

import (
	"context"
	"errors"
	"slices"
	"time"

	"gorm.io/gorm"

	"omphalos/core/calendar"
)

// A Booking is an appointment that was made on a passage: a passage has one at the most.
type Booking struct {
	WorkspaceID WorkspaceID `gorm:"primaryKey;autoIncrement:false"`
	Calendar    string      `gorm:"primaryKey"`
	Start       time.Time   `gorm:"primaryKey"`
	Seat        int         `gorm:"primaryKey;autoIncrement:false"` // of those that the calendar has, from 0
	Minutes     int
	Response    string // number of the passage for others, as ResponseNumber tells it
	Passage     string // its own number, "" where it is not known
	ReleaseID   uint   // that it was walked on, 0 where it is not known
	Token       string // of the link that gives it back
	Made        time.Time
}

// Length is how long it takes.
func (b Booking) Length() time.Duration { return time.Duration(b.Minutes) * time.Minute }

// ErrTaken says that an appointment has been given to somebody else, or is not offered.
var ErrTaken = errors.New("is taken")

// Bookings returns what is booked of a calendar between two times.
func (rs *Responses) Bookings(ctx context.Context, calendar string, from, to time.Time) ([]Booking, error) {
	var list []Booking
	err := rs.db(ctx).Where("calendar = ? AND start >= ? AND start < ?", calendar, from.UTC(), to.UTC()).
		Order("start, seat").
		Find(&list).
		Error
	return list, found(err, "listing appointments")
}

// Book books a time of a calendar with so many seats for a passage, in place of what it had,
// with so long free behind each. One that was given back has its Token, and keeps it. The
// error is ErrTaken where as many others have it, or one that it overlaps.
func (rs *Responses) Book(ctx context.Context, b Booking, seats int, buffer time.Duration) error {
	b.Start, b.Seat = b.Start.UTC(), 0
	if b.Token == "" {
		b.Token, b.Made = Token(), now()
	}
	return rs.db(ctx).Transaction(func(tx *gorm.DB) error {
		var near []Booking
		from, to := b.Start.Add(-2*calendar.MostLength), b.Start.Add(b.Length()+buffer)
		err := tx.Where("calendar = ? AND start >= ? AND start < ?", b.Calendar, from, to).Find(&near).Error
		if err != nil {
			return found(err, "looking up appointments")
		}
		for _, there := range near {
			if there.Response == b.Response && there.Start.Equal(b.Start) {
				return nil // it is its own already, with its link
			}
		}
		others := slices.DeleteFunc(overlapping(near, b.Start, b.Length(), buffer), func(o Booking) bool {
			return o.Response == b.Response
		})
		if len(others) >= seats {
			return ErrTaken
		}
		for slices.ContainsFunc(others, func(o Booking) bool { return o.Start.Equal(b.Start) && o.Seat == b.Seat }) {
			b.Seat++
		}
		if err := tx.Where("response = ?", b.Response).Delete(&Booking{}).Error; err != nil {
			return found(err, "giving an appointment back")
		}
		return found(tx.Create(&b).Error, "booking an appointment")
	})
}

// BookingOf returns what a passage has booked.
func (rs *Responses) BookingOf(ctx context.Context, response string) (Booking, error) {
	var b Booking
	err := rs.db(ctx).Where("response = ?", response).Take(&b).Error
	return b, found(err, "the appointment")
}

// BookingBy returns the booking that a link belongs to.
func (rs *Responses) BookingBy(ctx context.Context, token string) (Booking, error) {
	var b Booking
	err := rs.db(ctx).Where("token = ?", token).Take(&b).Error
	return b, found(err, "the appointment")
}

// GiveBack takes a booking back by its link: others can book the time again.
func (rs *Responses) GiveBack(ctx context.Context, token string) error {
	return found(rs.db(ctx).Where("token = ?", token).Delete(&Booking{}).Error, "giving an appointment back")
}
