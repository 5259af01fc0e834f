package store

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strconv"
	"strings"
	"time"

	"gorm.io/gorm/clause"

	"omphalos/core/calendar"
)

// A Calendar is what appointment questions offer times of, by its name.
type Calendar struct {
	WorkspaceID WorkspaceID `gorm:"primaryKey;autoIncrement:false"`
	Name        string      `gorm:"primaryKey"`
	Zone        string      // IANA name
	Hours       [7]string   `gorm:"serializer:json"` // of each day from Sunday, as calendar.ParseSpans reads them
	Off         string      // days off, as calendar.ParseDays reads them
	Minutes     int         // that an appointment takes
	Buffer      int         // minutes that are kept free behind each
	Lead        int         // hours before it begins by which one has to be made
	Ahead       int         // days ahead that are offered
	Seats       int         // how many can have the same appointment
}

// NewCalendar returns a calendar as it is laid out for whoever makes one: it has no hours yet.
func NewCalendar(name, zone string) Calendar {
	return Calendar{Name: name, Zone: zone, Minutes: 30, Lead: 2, Ahead: 21, Seats: 1}
}

// numbers are the columns of a calendar that hold one, with what it tells.
func (c *Calendar) numbers() []calendarNumber {
	return []calendarNumber{
		{"minutes", "how long an appointment takes", &c.Minutes},
		{"buffer", "how long is kept free behind each", &c.Buffer},
		{"seats", "how many can have the same appointment", &c.Seats},
		{"lead", "how many hours ahead", &c.Lead},
		{"ahead", "how many days ahead", &c.Ahead},
	}
}

type calendarNumber struct {
	column, what string
	at           *int
}

// dayColumn is the column of a weekday's hours.
func dayColumn(day int) string { return strings.ToLower(time.Weekday(day).String()) }

// Row returns the calendar as a row of a list, by column.
func (c Calendar) Row() map[string]string {
	row := map[string]string{"name": c.Name, "zone": c.Zone, "off": c.Off}
	for day, hours := range c.Hours {
		row[dayColumn(day)] = hours
	}
	for _, n := range c.numbers() {
		row[n.column] = strconv.Itoa(*n.at)
	}
	return row
}

// CalendarOf reads a calendar by its columns, as Row writes it. The error wraps ErrCalendar
// and says which number can't be read; what can be is returned all the same.
func CalendarOf(column func(string) string) (Calendar, error) {
	c := Calendar{Name: strings.TrimSpace(column("name")), Zone: strings.TrimSpace(column("zone")), Off: column("off")}
	for day := range c.Hours {
		c.Hours[day] = column(dayColumn(day))
	}
	var wrong error
	for _, n := range c.numbers() {
		number, err := strconv.Atoi(strings.TrimSpace(column(n.column)))
		if err != nil && wrong == nil {
			wrong = fmt.Errorf("the calendar %w: type a whole number for %s", ErrCalendar, n.what)
		}
		*n.at = number
	}
	return c, wrong
}

// ErrCalendar says that a calendar can't be kept.
var ErrCalendar = errors.New("can't be kept")

// Open reads the calendar. The error says what can't be read, in a sentence.
func (c Calendar) Open() (*calendar.Calendar, error) {
	zone, err := time.LoadLocation(c.Zone)
	if err != nil || c.Zone == "" || c.Zone == "Local" {
		return nil, fmt.Errorf("%q is no time zone such as Europe/Dublin", c.Zone)
	}
	of := &calendar.Calendar{Zone: zone, Length: time.Duration(c.Minutes) * time.Minute,
		Buffer: time.Duration(c.Buffer) * time.Minute,
		Lead:   time.Duration(c.Lead) * time.Hour, Ahead: c.Ahead, Seats: c.Seats}
	for day, words := range c.Hours {
		if of.Hours[day], err = calendar.ParseSpans(words); err != nil {
			return nil, fmt.Errorf("%s: %w", time.Weekday(day), err)
		}
	}
	if of.Off, err = calendar.ParseDays(c.Off); err != nil {
		return nil, err
	}
	return of, of.Check()
}

// Ever tells whether the calendar has hours on some day.
func (c Calendar) Ever() bool {
	return slices.ContainsFunc(c.Hours[:], func(h string) bool { return h != "" })
}

// Calendars returns all calendars by name.
func (d *Definitions) Calendars(ctx context.Context) ([]Calendar, error) {
	var list []Calendar
	return list, found(d.db(ctx).Order("name").Find(&list).Error, "listing the calendars")
}

// Calendar returns a calendar by its name.
func (d *Definitions) Calendar(ctx context.Context, name string) (Calendar, error) {
	var c Calendar
	err := d.db(ctx).Where("name = ?", name).Take(&c).Error
	return c, found(err, "the calendar %q", name)
}

// PutCalendar keeps a calendar in place of one of its name. What is booked stays booked. The
// error wraps ErrCalendar and says why it can't be.
func (d *Definitions) PutCalendar(ctx context.Context, c Calendar) error {
	c.Name = strings.TrimSpace(c.Name)
	if c.Name == "" || len(c.Name) > 100 {
		return fmt.Errorf("the calendar %w: it needs a name of at most 100 letters", ErrCalendar)
	}
	of, err := c.Open()
	if err != nil {
		return fmt.Errorf("the calendar %w: %w", ErrCalendar, err)
	}
	for day, spans := range of.Hours {
		c.Hours[day] = calendar.SpansText(spans)
	}
	c.Off = calendar.DaysText(of.Off)
	return found(d.db(ctx).Clauses(clause.OnConflict{UpdateAll: true}).Create(&c).Error, "keeping a calendar")
}

// RemoveCalendar takes a calendar away. What is booked stays booked.
func (d *Definitions) RemoveCalendar(ctx context.Context, name string) error {
	return found(d.db(ctx).Where("name = ?", name).Delete(&Calendar{}).Error, "removing a calendar")
}
