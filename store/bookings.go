package store

import (
	"context"
	"errors"
	"time"

	"gorm.io/gorm"
)

// A Booking is an appointment that was made in the stand-in for a calendar.
type Booking struct {
	WorkspaceID WorkspaceID `gorm:"primaryKey;autoIncrement:false"`
	Calendar    string      `gorm:"primaryKey"`
	Start       time.Time   `gorm:"primaryKey"`
	Response    string      // number of the passage for others, as ResponseNumber tells it
}

// ErrTaken says that an appointment has been given to somebody else.
var ErrTaken = errors.New("is taken")

// Bookings returns what is booked of a calendar between two times.
func (rs *Responses) Bookings(ctx context.Context, calendar string, from, to time.Time) ([]Booking, error) {
	var list []Booking
	err := rs.db(ctx).Where("calendar = ? AND start >= ? AND start < ?", calendar, from.UTC(), to.UTC()).
		Order("start").
		Find(&list).
		Error
	return list, found(err, "listing appointments")
}

// Book books a time for a passage, in place of another that it had of the calendar. The
// error is ErrTaken where somebody else has it.
func (rs *Responses) Book(ctx context.Context, b Booking) error {
	b.Start = b.Start.UTC()
	return rs.db(ctx).Transaction(func(tx *gorm.DB) error {
		var there Booking
		err := tx.Where("calendar = ? AND start = ?", b.Calendar, b.Start).Take(&there).Error
		if err == nil && there.Response != b.Response {
			return ErrTaken
		}
		if err != nil && !errors.Is(err, gorm.ErrRecordNotFound) {
			return found(err, "looking up an appointment")
		}
		if err := tx.Where("calendar = ? AND response = ?", b.Calendar, b.Response).Delete(&Booking{}).Error; err != nil {
			return found(err, "giving an appointment back")
		}
		return found(tx.Create(&b).Error, "booking an appointment")
	})
}

// BookingOf returns what a passage has booked of a calendar.
func (rs *Responses) BookingOf(ctx context.Context, calendar, response string) (Booking, error) {
	var b Booking
	err := rs.db(ctx).Where("calendar = ? AND response = ?", calendar, response).Take(&b).Error
	return b, found(err, "the appointment")
}
