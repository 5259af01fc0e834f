package quiz

import (
	"encoding/json"
	"fmt"
	"time"

	"omphalos/core/decimal"
)

// A Bound is a point on the line of a question's values: a number, or for
// dates a day. In JSON it is a number or a string "2026-04-30".
type Bound struct {
	value decimal.Decimal // a date is days since 1970-01-01
	day   bool
}

// NumberBound returns the Bound at a number.
func NumberBound(d decimal.Decimal) *Bound { return &Bound{value: d} }

// DayBound returns the Bound at a day as ParseDay gives it.
func DayBound(day decimal.Decimal) *Bound { return &Bound{value: day, day: true} }

// Value returns the number, or the days since 1970-01-01.
func (b *Bound) Value() decimal.Decimal { return b.value }

// IsDay tells whether the Bound is a day.
func (b *Bound) IsDay() bool { return b.day }

// String returns the number or the day as it is written in JSON, without quotes.
func (b *Bound) String() string {
	if b.day {
		return DayText(b.value)
	}
	return b.value.String()
}

// Words returns what a person reads, with a true minus.
func (b *Bound) Words() string {
	if b.day {
		return DayText(b.value)
	}
	return b.value.Words()
}

func (b *Bound) pointer() *decimal.Decimal {
	if b == nil {
		return nil
	}
	return &b.value
}

// MarshalJSON writes a number or a day in quotes.
func (b Bound) MarshalJSON() ([]byte, error) {
	if b.day {
		return json.Marshal(b.String())
	}
	return b.value.MarshalJSON()
}

// UnmarshalJSON reads what MarshalJSON writes.
func (b *Bound) UnmarshalJSON(data []byte) error {
	var text string
	if len(data) > 0 && data[0] == '"' {
		if err := json.Unmarshal(data, &text); err != nil {
			return err
		}
		day, err := ParseDay(text)
		*b = Bound{day, true}
		return err
	}
	b.day = false
	return b.value.UnmarshalJSON(data)
}

const dayLayout = "2006-01-02"

// ParseDay reads a date "2026-04-30" (RFC 3339 full-date) as whole days since
// 1970-01-01.
func ParseDay(s string) (decimal.Decimal, error) {
	t, err := time.Parse(dayLayout, s)
	if err != nil {
		return 0, fmt.Errorf("%q is not a date such as 2026-04-30", s)
	}
	return decimal.FromInt(t.Unix() / 86400), nil
}

// TimeOf returns the midnight, in UTC, of days since 1970-01-01.
func TimeOf(days decimal.Decimal) time.Time { return time.Unix(int64(days/decimal.One)*86400, 0).UTC() }

// DayText writes days since 1970-01-01 as "2026-04-30".
func DayText(days decimal.Decimal) string {
	return TimeOf(days).Format(dayLayout)
}
