package slice

import (
	"fmt"
	"math"
	"net/url"
	"slices"
	"strconv"
	"strings"
	"time"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
	"omphalos/store/tally"
)

// Days are the days of a sentence: from=2026-10-01 and to=2026-10-31, both included, or last=7,
// so many days up to today. A day is one of the zone, of 23 or 25 hours where clocks change; a
// time, such as 2026-10-01T09:30:00, is one of the zone where it names none.
type Days struct {
	Zone  *time.Location
	Today decimal.Decimal
}

// DaysIn are the days of a zone, as it is today there.
func DaysIn(zone *time.Location) Days { return Days{zone, quiz.DayOf(time.Now().In(zone))} }

// DayFields are the fields that name days.
var DayFields = []string{"from", "to", "last"}

const mostDays = 3660 // that can be counted back

// Read reads the fields of days: the part of a sentence that they are, false where they name
// none; those of them that were understood; and what is wrong with the others, in a sentence
// each.
func (d Days) Read(fields url.Values) (part tally.Part, dated bool, asked url.Values, wrong []string) {
	part = tally.Part{Of: tally.Property{Kind: tally.Finished}, From: math.MinInt64, To: math.MaxInt64}
	asked = url.Values{}
	if last := fields.Get("last"); last != "" {
		n, err := strconv.Atoi(last)
		switch {
		case fields.Get("from")+fields.Get("to") != "":
			wrong = append(wrong, "last stands alone: leave out from and to, or last")
		case err != nil || n < 1 || n > mostDays:
			wrong = append(wrong, fmt.Sprintf("last=%s is no number of days from 1 to %d", last, mostDays))
		default:
			asked.Set("last", last)
			part.From = quiz.StartOf(d.Today-decimal.FromInt(int64(n-1)), d.Zone).Unix()
			part.To = quiz.StartOf(d.Today+decimal.One, d.Zone).Unix() - 1
		}
		return part, len(asked) > 0, asked, wrong
	}
	for _, field := range []string{"from", "to"} {
		text := fields.Get(field)
		if text == "" {
			continue
		}
		first, last, ok := d.ends(text)
		if !ok {
			wrong = append(wrong, fmt.Sprintf("%s=%s is no day, as 2026-10-01 is one", field, text))
			continue
		}
		if asked.Set(field, text); field == "from" {
			part.From = first
		} else {
			part.To = last
		}
	}
	return part, len(asked) > 0, asked, wrong
}

// ends returns the first and the last second of a day, or of a time.
func (d Days) ends(text string) (first, last int64, ok bool) {
	if day, err := quiz.ParseDay(text); err == nil {
		return quiz.StartOf(day, d.Zone).Unix(), quiz.StartOf(day+decimal.One, d.Zone).Unix() - 1, true
	}
	at, err := time.Parse(time.RFC3339, text)
	if err != nil {
		at, err = time.ParseInLocation("2006-01-02T15:04:05", text, d.Zone)
	}
	return at.Unix(), at.Unix(), err == nil
}

// Words says the days of a sentence.
func (d Days) Words(asked url.Values) string {
	from, to := d.said(asked.Get("from")), d.said(asked.Get("to"))
	switch last := asked.Get("last"); {
	case last == "1":
		return "of today"
	case last != "":
		return "of the last " + last + " days"
	case from == "" && to == "":
		return "of any time"
	case to == "":
		return "since " + from
	case from == "":
		return "until " + to
	case from == to:
		return "of " + from
	}
	return "from " + from + " to " + to
}

func (d Days) said(text string) string {
	if at, err := time.Parse(time.RFC3339, text); err == nil {
		return at.In(d.Zone).Format("2006-01-02 15:04")
	}
	return strings.Replace(text, "T", " ", 1)
}

// Before returns the fields of as many days before those of a sentence, and false where it does
// not name both ends.
func (d Days) Before(asked url.Values) (url.Values, bool) {
	from, err := quiz.ParseDay(asked.Get("from"))
	to, err2 := quiz.ParseDay(asked.Get("to"))
	n, none := strconv.Atoi(asked.Get("last"))
	switch {
	case none == nil:
		from, to = d.Today-decimal.FromInt(int64(n-1)), d.Today
	case err != nil || err2 != nil || to < from:
		return nil, false
	}
	fields := url.Values{}
	for field, values := range asked {
		if !slices.Contains(DayFields, field) {
			fields[field] = values
		}
	}
	fields.Set("from", quiz.DayText(from-(to-from)-decimal.One))
	fields.Set("to", quiz.DayText(from-decimal.One))
	return fields, true
}

// Of returns the day of a second since 1970, counted from then. It is quick where seconds come
// in their order.
func (d Days) Of() func(second int64) int64 {
	var day, from, to int64 = 0, 0, -1
	return func(second int64) int64 {
		if second < from || second > to {
			of := quiz.DayOf(time.Unix(second, 0).In(d.Zone))
			day, from = int64(of/decimal.One), quiz.StartOf(of, d.Zone).Unix()
			to = quiz.StartOf(of+decimal.One, d.Zone).Unix() - 1
		}
		return day
	}
}
