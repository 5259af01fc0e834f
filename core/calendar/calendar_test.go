package calendar

import (
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

func ExampleCalendar_Offered() {
	c := Calendar{Zone: time.UTC, Length: 45 * time.Minute, Buffer: 15 * time.Minute, Lead: 24 * time.Hour,
		Ahead: 8, Seats: 1}
	c.Hours[time.Tuesday], _ = ParseSpans("9–12, 14–15")
	monday := time.Date(2026, 11, 23, 10, 30, 0, 0, time.UTC)
	for _, at := range c.Offered(monday, monday, monday.AddDate(0, 1, 0)) {
		fmt.Println(at.Format("Mon 2 Jan 15:04"))
	}
	// Output:
	// Tue 24 Nov 11:00
	// Tue 24 Nov 14:00
}

func open(t *testing.T, zone, hours string) *Calendar {
	t.Helper()
	at, err := time.LoadLocation(zone)
	require.NoError(t, err)
	c := &Calendar{Zone: at, Length: 30 * time.Minute, Ahead: 14, Seats: 1}
	for day := range c.Hours {
		c.Hours[day], err = ParseSpans(hours)
		require.NoError(t, err)
	}
	return c
}

// In the European Union clocks go from 1:00 to 2:00 UTC on the last Sunday of March, and
// from 1:00 back on that of October (Directive 2000/84/EC).
func TestClocksThatArePutForwardAndBack(t *testing.T) {
	c := open(t, "Europe/Berlin", "1:00–4:00")
	said := func(day time.Time) (list []string) {
		for _, at := range c.Offered(day, day, day.AddDate(0, 0, 1)) {
			list = append(list, at.Format("15:04 ")+at.UTC().Format("15:04"))
		}
		return list
	}
	spring := time.Date(2026, 3, 29, 0, 0, 0, 0, c.Zone)
	assert.Equal(t, []string{"01:00 00:00", "01:30 00:30", "03:00 01:00", "03:30 01:30"}, said(spring))
	autumn := time.Date(2026, 10, 25, 0, 0, 0, 0, c.Zone)
	assert.Equal(t, []string{"01:00 23:00", "01:30 23:30", "02:00 01:00", "02:30 01:30", "03:00 02:00",
		"03:30 02:30"}, said(autumn))
}

func TestDaysOffAndAhead(t *testing.T) {
	c := open(t, "Europe/Dublin", "9–10")
	c.Off, _ = ParseDays("2026-12-24 to 2026-12-27, 2026-12-31")
	now := time.Date(2026, 12, 23, 8, 45, 0, 0, c.Zone)
	c.Ahead, c.Lead = 10, 30*time.Minute
	days := []string{}
	for _, at := range c.Offered(now, now, now.AddDate(1, 0, 0)) {
		days = append(days, at.Format("2 15:04"))
	}
	assert.Equal(t, []string{"23 09:30", "28 09:00", "28 09:30", "29 09:00", "29 09:30", "30 09:00", "30 09:30",
		"1 09:00", "1 09:30"}, days)
}

// Whatever a calendar is: what it offers lies in its hours, leaves room behind, and is the
// same asked at once or day by day.
func TestOffered(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		zones := []string{"UTC", "Europe/Berlin", "America/St_Johns", "Pacific/Apia", "Australia/Lord_Howe"}
		zone, err := time.LoadLocation(rapid.SampledFrom(zones).Draw(t, "zone"))
		require.NoError(t, err)
		minutes := func(low, high int, of string) time.Duration {
			return time.Duration(rapid.IntRange(low, high).Draw(t, of)) * time.Minute
		}
		c := Calendar{Zone: zone, Seats: 1, Length: minutes(5, 120, "length"), Buffer: minutes(0, 60, "buffer"),
			Lead: minutes(0, 4000, "lead"), Ahead: rapid.IntRange(4, 20).Draw(t, "ahead")}
		for day := range c.Hours {
			from := 0
			for range rapid.IntRange(0, 2).Draw(t, "spans") {
				from += rapid.IntRange(0, 300).Draw(t, "from")
				to := from + rapid.IntRange(1, 400).Draw(t, "long")
				c.Hours[day] = append(c.Hours[day], Span{from, to})
				from = to
			}
		}
		now := time.Unix(rapid.Int64Range(1.7e9, 1.9e9).Draw(t, "now"), 0)
		until := now.AddDate(0, 0, 40)
		all := c.Offered(now, now, until)
		for i, at := range all {
			assert.False(t, at.Before(now.Add(c.Lead)))
			assert.Less(t, at.Sub(now), time.Duration(c.Ahead)*24*time.Hour+2*time.Hour)
			minute, inside := at.Hour()*60+at.Minute(), false
			for _, s := range c.Hours[at.Weekday()] {
				inside = inside || s.From <= minute && minute+int(c.Length/time.Minute) <= s.To
			}
			assert.True(t, inside, at)
			if i > 0 && all[i-1].Day() == at.Day() {
				_, before := all[i-1].Zone()
				if _, after := at.Zone(); before == after {
					assert.GreaterOrEqual(t, at.Sub(all[i-1]), c.Length)
				}
			}
		}
		var parts []time.Time
		for from := now; from.Before(until); from = from.Add(7 * time.Hour) {
			parts = append(parts, c.Offered(now, from, from.Add(7*time.Hour))...)
		}
		assert.Equal(t, all, parts)
	})
}

func TestHoursAreReadAsTheyAreWritten(t *testing.T) {
	for words, want := range map[string]string{
		"": "", "closed": "", "9-12": "9:00–12:00", "9–12, 13:30–16.30": "9:00–12:00, 13:30–16:30",
		"14 to 17 and 9 to 12:15": "9:00–12:15, 14:00–17:00",
		"9am - 5pm":               "9:00–17:00", "12am–12pm": "0:00–12:00", "22–24": "22:00–24:00",
		"08h30-09h00": "8:30–9:00",
	} {
		list, err := ParseSpans(words)
		require.NoError(t, err, words)
		assert.Equal(t, want, SpansText(list), words)
		again, err := ParseSpans(SpansText(list))
		require.NoError(t, err)
		assert.Equal(t, list, again)
	}
	for words, why := range map[string]string{
		"morning": "not from one time to another", "9": "not from one time", "9-25": "not a time of a day",
		"12-9":        "ends before it begins",
		"9-12, 11-13": "9:00–12:00 and 11:00–13:00 overlap", "13pm-14pm": "not a time such as 1:30 pm",
		"9:75-10": "not a time of a day", "x-10": "not a time such as 13:30",
	} {
		_, err := ParseSpans(words)
		assert.ErrorIs(t, err, ErrHours, words)
		assert.ErrorContains(t, err, why, words)
	}
}

func TestDaysAreReadAsTheyAreWritten(t *testing.T) {
	list, err := ParseDays("2027-03-17\r\n2026-12-24 – 2027-01-02,  2026-05-01 - 2026-05-01")
	require.NoError(t, err)
	assert.Equal(t, "2026-05-01\n2026-12-24 to 2027-01-02\n2027-03-17", DaysText(list))
	again, err := ParseDays(DaysText(list))
	require.NoError(t, err)
	assert.Equal(t, list, again)
	for words, why := range map[string]string{"Christmas": "not a date", "2026-02-30": "not a date",
		"2026-12-24 to 2026-12-01": "ends before", "1 2 3": "nor from one date"} {
		_, err := ParseDays(words)
		assert.ErrorIs(t, err, ErrOff, words)
		assert.ErrorContains(t, err, why, words)
	}
}

func TestWhatACalendarCanBe(t *testing.T) {
	for name, c := range map[string]struct {
		change func(*Calendar)
		want   error
	}{
		"good":                  {func(*Calendar) {}, nil},
		"never open":            {func(c *Calendar) { c.Hours = Week{} }, nil},
		"too short":             {func(c *Calendar) { c.Length = time.Minute }, ErrLength},
		"longer than its hours": {func(c *Calendar) { c.Length = 2 * time.Hour }, ErrHours},
		"no seat":               {func(c *Calendar) { c.Seats = 0 }, ErrSeats},
		"made too early":        {func(c *Calendar) { c.Lead = 14 * 24 * time.Hour }, ErrAhead},
		"for ever":              {func(c *Calendar) { c.Ahead = 367 }, ErrAhead},
		"too many days off":     {func(c *Calendar) { c.Off = make([]Days, 201) }, ErrOff},
		"a buffer of less":      {func(c *Calendar) { c.Buffer = -time.Minute }, ErrLength},
	} {
		of := open(t, "UTC", "9–10")
		c.change(of)
		assert.ErrorIs(t, of.Check(), c.want, name)
	}
}

func BenchmarkOffered(b *testing.B) {
	c := Calendar{Zone: time.UTC, Length: 15 * time.Minute, Ahead: 21, Seats: 1}
	for day := range c.Hours {
		c.Hours[day] = []Span{{8 * 60, 18 * 60}}
	}
	now := time.Date(2026, 11, 26, 0, 0, 0, 0, time.UTC)
	for b.Loop() {
		c.Offered(now, now, now.AddDate(0, 1, 0))
	}
}
