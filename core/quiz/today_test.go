package quiz

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/decimal"
)

func TestADateIsBoundedByToday(t *testing.T) {
	day := func(s string) decimal.Decimal { d, _ := ParseDay(s); return d }
	days := func(n int) *int { return &n }
	today := DayOf(time.Date(2026, 11, 26, 23, 30, 0, 0, time.FixedZone("", 3600)))
	assert.Equal(t, "2026-11-26", DayText(today), "of its zone")
	for name, c := range map[string]struct {
		limits    Limits
		low, high string
		left      bool
	}{
		"from today":          {Limits{Soonest: days(0)}, "2026-11-26", "", true},
		"within two weeks":    {Limits{Soonest: days(1), Latest: days(14)}, "2026-11-27", "2026-12-10", true},
		"not after today":     {Limits{Low: DayBound(day("1920-01-01")), Latest: days(0)}, "1920-01-01", "2026-11-26", true},
		"the later of two":    {Limits{Low: DayBound(day("2027-03-01")), Soonest: days(3)}, "2027-03-01", "", true},
		"the earlier of two":  {Limits{High: DayBound(day("2026-11-30")), Latest: days(30)}, "", "2026-11-30", true},
		"over":                {Limits{High: DayBound(day("2026-11-01")), Soonest: days(0)}, "", "2026-11-01", false},
		"as it always stands": {Limits{Low: DayBound(day("2026-01-01"))}, "2026-01-01", "", true},
	} {
		q := &Question{Kind: Date, Limits: &c.limits}
		on, left := q.On(today)
		low, high := on.Bounds()
		text := func(d *decimal.Decimal) string {
			if d == nil {
				return ""
			}
			return DayText(*d)
		}
		assert.Equal(t, []any{c.low, c.high, c.left}, []any{text(low), text(high), left}, name)
	}
	// A step is counted from the same day whenever the date is given: on any day the days that
	// can be chosen are among those that are possible at all.
	week := decimal.FromInt(7)
	for _, low := range []*Bound{nil, DayBound(day("2026-01-05"))} { // a Monday
		asked := &Question{Kind: Date, Limits: &Limits{Low: low, Soonest: days(3), Latest: days(40), Step: &week}}
		for at := today; at < today+decimal.FromInt(15); at += decimal.One {
			on, left := asked.On(at)
			require.True(t, left)
			l, ever := on.Lattice(), asked.Lattice()
			assert.GreaterOrEqual(t, l.First, at+decimal.FromInt(3))
			assert.LessOrEqual(t, l.Last, at+decimal.FromInt(40))
			assert.GreaterOrEqual(t, l.Count(), int64(5), "five or six of a day of the week in 38 days")
			for n := range l.Count() {
				assert.True(t, ever.Has(l.At(n)), "%s", DayText(l.At(n)))
			}
		}
	}
	q := &Quiz{Questions: map[string]*Question{"a": {Kind: Number}, "b": {Kind: Date, Limits: &Limits{Soonest: days(0)}}}}
	on := q.On(today)
	assert.Nil(t, q.Questions["b"].Limits.Low, "the quiz itself stays")
	assert.Equal(t, "2026-11-26", on.Questions["b"].Limits.Low.String())
	assert.Same(t, q.Questions["a"], on.Questions["a"])
	delete(q.Questions, "b")
	assert.Same(t, q, q.On(today))
}
