package slice_test

import (
	"net/url"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
	"omphalos/store/slice"
)

// utc are days of UTC, where it does not matter which one it is today.
var utc = slice.DaysIn(time.UTC)

func dayOf(t assert.TestingT, text string) decimal.Decimal {
	day, err := quiz.ParseDay(text)
	assert.NoError(t, err)
	return day
}

// A day is as long as clocks make it. The changes are those of the IANA time zone database.
func TestADayOfAZone(t *testing.T) {
	for _, one := range []struct {
		zone, day, begins string
		hours             float64
	}{
		{"Europe/Berlin", "2026-03-29", "2026-03-28T23:00:00Z", 23},
		{"Europe/Berlin", "2026-10-25", "2026-10-24T22:00:00Z", 25},
		{"Europe/Berlin", "2026-06-01", "2026-05-31T22:00:00Z", 24},
		{"America/Havana", "2024-03-10", "2024-03-10T05:00:00Z", 23}, // it begins at one o'clock
		{"America/Havana", "2024-11-03", "2024-11-03T04:00:00Z", 25}, // midnight comes twice
		{"Australia/Lord_Howe", "2026-04-05", "2026-04-04T13:00:00Z", 24.5},
		{"Pacific/Apia", "2011-12-31", "2011-12-30T10:00:00Z", 24}, // there was no 30th
		{"Asia/Kathmandu", "2026-01-01", "2025-12-31T18:15:00Z", 24},
	} {
		zone, err := time.LoadLocation(one.zone)
		require.NoError(t, err)
		from := quiz.StartOf(dayOf(t, one.day), zone)
		assert.Equal(t, one.begins, from.UTC().Format(time.RFC3339), "%s in %s", one.day, one.zone)
		to := quiz.StartOf(dayOf(t, one.day)+decimal.One, zone)
		assert.Equal(t, one.hours, to.Sub(from).Hours(), "%s in %s", one.day, one.zone)

		part, dated, _, wrong := slice.Days{Zone: zone}.Read(url.Values{"from": {one.day}, "to": {one.day}})
		assert.True(t, dated)
		assert.Empty(t, wrong)
		assert.Equal(t, [2]int64{from.Unix(), to.Unix() - 1}, [2]int64{part.From, part.To})
	}
}

// Every second is of one day: the one that clocks show then, and the one that is read.
func TestEverySecondIsOfOneDay(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		zone, err := time.LoadLocation(rapid.SampledFrom([]string{"Europe/Berlin", "America/New_York", "America/Havana",
			"Asia/Kolkata", "Australia/Lord_Howe", "Pacific/Auckland", "Africa/Cairo", "UTC"}).Draw(t, "zone"))
		assert.NoError(t, err)
		days := slice.Days{Zone: zone}
		of := days.Of()
		second := rapid.Int64Range(1_600_000_000, 1_900_000_000).Draw(t, "second")
		for range 50 {
			shown := time.Unix(second, 0).In(zone).Format(time.DateOnly)
			assert.Equal(t, shown, quiz.DayText(decimal.FromInt(of(second))))
			part, _, _, _ := days.Read(url.Values{"from": {shown}, "to": {shown}})
			assert.LessOrEqual(t, part.From, second)
			assert.GreaterOrEqual(t, part.To, second)
			second += rapid.Int64Range(-90_000, 90_000).Draw(t, "further")
		}
	})
}

// The last days roll: today is the last of them.
func TestTheLastDays(t *testing.T) {
	days := slice.Days{Zone: time.UTC, Today: dayOf(t, "2026-12-01")}
	last, _, asked, wrong := days.Read(url.Values{"last": {"7"}})
	assert.Empty(t, wrong)
	same, _, _, _ := days.Read(url.Values{"from": {"2026-11-25"}, "to": {"2026-12-01"}})
	assert.Equal(t, same, last)
	assert.Equal(t, "of the last 7 days", days.Words(asked))
	before, dated := days.Before(url.Values{"last": {"7"}, "source": {"search"}})
	assert.True(t, dated)
	assert.Equal(t, url.Values{"from": {"2026-11-18"}, "to": {"2026-11-24"}, "source": {"search"}}, before)
	days.Today += decimal.One
	next, _, _, _ := days.Read(url.Values{"last": {"7"}})
	assert.Equal(t, last.From+86_400, next.From)
	for _, query := range []url.Values{{"last": {"0"}}, {"last": {"x"}}, {"last": {"99999"}}, {"last": {"7"}, "to": {"2026-12-01"}}} {
		_, dated, _, wrong := days.Read(query)
		assert.Len(t, wrong, 1, query)
		assert.False(t, dated)
	}
}
