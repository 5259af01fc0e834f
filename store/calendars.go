package store

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strconv"
	"strings"
	"time"

	"gorm.io/gorm"
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

// A Diary gives the appointments of the workspace's calendars.
type Diary struct{ Store *Store }

// Zone returns the zone of a calendar's times: UTC of one that is not there.
func (d Diary) Zone(ctx context.Context, name string) *time.Location {
	if of, err := d.open(ctx, name); err == nil && of != nil {
		return of.Zone
	}
	return time.UTC
}

// Free returns when appointments can begin between two times, rising, in the zone of their
// calendar: what it offers now, but for what is booked. A calendar that is not there has none.
func (d Diary) Free(ctx context.Context, name string, from, to time.Time) ([]time.Time, error) {
	of, err := d.open(ctx, name)
	if err != nil || of == nil {
		return nil, err
	}
	offered := of.Offered(now(), from, to)
	if len(offered) == 0 {
		return nil, nil
	}
	booked, err := d.Store.Responses.Bookings(ctx, name, offered[0].Add(-2*calendar.MostLength),
		to.Add(2*calendar.MostLength))
	if err != nil {
		return nil, err
	}
	return slices.DeleteFunc(offered, func(at time.Time) bool {
		return len(overlapping(booked, at, of.Length, of.Buffer)) >= of.Seats
	}), nil
}

// Book books a time for a passage in place of one that it had. The error is ErrTaken where
// the calendar does not offer it, or all its seats are given.
func (d Diary) Book(ctx context.Context, b Booking) error {
	of, err := d.open(ctx, b.Calendar)
	if err != nil {
		return err
	}
	if of == nil {
		return ErrTaken
	}
	of.Lead = max(of.Lead-leadGrace, 0)
	if len(of.Offered(now(), b.Start, b.Start.Add(time.Minute))) == 0 {
		return ErrTaken
	}
	b.Minutes = int(of.Length / time.Minute)
	return d.Store.Responses.Book(ctx, b, of.Seats, of.Buffer)
}

// leadGrace is how much later than it is offered an appointment can be booked: whoever chose
// it in time takes a while over the questions behind it.
const leadGrace = time.Hour

// Booked returns what a passage has booked, and false for nothing.
func (d Diary) Booked(ctx context.Context, response string) (Booking, bool) {
	b, err := d.Store.Responses.BookingOf(ctx, response)
	return b, err == nil
}

// open returns a calendar, nil where there is none.
func (d Diary) open(ctx context.Context, name string) (*calendar.Calendar, error) {
	c, err := d.Store.Definitions.Calendar(ctx, name)
	if errors.Is(err, ErrNotFound) {
		return nil, nil
	}
	if err != nil {
		return nil, err
	}
	return c.Open()
}

// overlapping returns the bookings that share a moment with an appointment, or with what is
// kept free behind either.
func overlapping(booked []Booking, start time.Time, length, buffer time.Duration) (list []Booking) {
	for _, b := range booked {
		if b.Start.Before(start.Add(length+buffer)) && start.Before(b.Start.Add(b.Length()+buffer)) {
			list = append(list, b)
		}
	}
	return list
}

// calendars20261126 gives every calendar that a quiz names the hours that it had, and each
// booking its seat, its length and the number of its link.
func calendars20261126(db *gorm.DB) error {
	const weekday = `"9:00–12:00, 13:30–16:30",`
	const hours = `["",` + weekday + weekday + weekday + weekday + weekday + `""]`
	named := func(table, document string) string {
		return "INSERT OR IGNORE INTO calendars SELECT t.workspace_id, json_extract(q.value, '$.table'), " +
			"coalesce(json_extract(" + document + ", '$.settings.timeZone'), 'UTC'), '" +
			hours + "', '', 30, 0, 2, 21, 1 FROM " + table + " t, json_each(" + document + ", '$.questions') q" +
			" WHERE json_valid(" + document + ") AND json_extract(q.value, '$.kind') = 'appointment' AND " +
			"coalesce(json_extract(q.value, '$.table'), '') <> '' AND json_extract(q.value, '$.table') = " +
			"trim(json_extract(q.value, '$.table'))"
	}
	return statements(
		"CREATE TABLE calendars (workspace_id integer NOT NULL, name text NOT NULL, zone text NOT NULL, "+
			"hours text NOT NULL, off text NOT NULL, minutes integer NOT NULL, buffer integer NOT NULL, "+
			"lead integer NOT NULL, ahead integer NOT NULL, seats integer NOT NULL, PRIMARY KEY "+
			"(workspace_id, name)) WITHOUT ROWID",
		named("quizzes", "t.draft"),
		named("releases", "t.document"),
		"ALTER TABLE bookings RENAME TO bookings_before",
		"DROP INDEX bookings_response",
		"CREATE TABLE bookings (workspace_id integer NOT NULL, calendar text NOT NULL, start datetime "+
			"NOT NULL, seat integer NOT NULL, minutes integer NOT NULL, response text NOT NULL, passage "+
			"text NOT NULL DEFAULT '', release_id integer NOT NULL DEFAULT 0, token text NOT NULL, made "+
			"datetime, PRIMARY KEY (workspace_id, calendar, start, seat)) WITHOUT ROWID",
		"CREATE UNIQUE INDEX bookings_response ON bookings (workspace_id, response)",
		"CREATE UNIQUE INDEX bookings_token ON bookings (token)",
		"INSERT OR REPLACE INTO bookings SELECT workspace_id, calendar, start, 0, 30, response, '', 0, "+
			"lower(hex(randomblob(16))), NULL FROM bookings_before WHERE response IS NOT NULL",
		"DROP TABLE bookings_before",
	)(db)
}
