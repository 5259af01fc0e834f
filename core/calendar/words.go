package calendar

import (
	"fmt"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"time"
)

var (
	between = regexp.MustCompile(`\s*(?:-|–|—|\bto\b|\buntil\b)\s*`)
	clock   = regexp.MustCompile(`(?i)^(\d{1,2})(?:[:.h](\d{2}))?\s*(am|pm)?$`)
)

// ParseSpans reads the hours of a day as they are written: "9–12, 13:30–16:30", "9 to 12
// and 14 to 17", "9am-5pm", and "" or "closed" for none. The error wraps ErrHours and says
// what can't be read.
func ParseSpans(s string) ([]Span, error) {
	s = strings.TrimSpace(s)
	if s == "" || strings.EqualFold(s, "closed") {
		return nil, nil
	}
	var list []Span
	for _, part := range strings.FieldsFunc(strings.ReplaceAll(s, " and ", ","), func(r rune) bool {
		return r == ',' || r == ';'
	}) {
		ends := between.Split(strings.TrimSpace(part), -1)
		if len(ends) != 2 {
			return nil, fmt.Errorf("%w: %q is not from one time to another, such as 9:00–12:30", ErrHours,
				strings.TrimSpace(part))
		}
		from, err := minute(ends[0])
		if err != nil {
			return nil, err
		}
		to, err := minute(ends[1])
		if err != nil {
			return nil, err
		}
		if to <= from {
			return nil, fmt.Errorf("%w: %q ends before it begins", ErrHours, strings.TrimSpace(part))
		}
		list = append(list, Span{from, to})
	}
	slices.SortFunc(list, func(a, b Span) int { return a.From - b.From })
	for i := 1; i < len(list); i++ {
		if list[i].From < list[i-1].To {
			return nil, fmt.Errorf("%w: %s and %s overlap", ErrHours, list[i-1], list[i])
		}
	}
	return list, nil
}

// minute reads a time of day as minutes from midnight.
func minute(s string) (int, error) {
	parts := clock.FindStringSubmatch(strings.TrimSpace(s))
	if parts == nil {
		return 0, fmt.Errorf("%w: %q is not a time such as 13:30", ErrHours, strings.TrimSpace(s))
	}
	hour, _ := strconv.Atoi(parts[1])
	minutes, _ := strconv.Atoi(parts[2])
	if half := strings.ToLower(parts[3]); half != "" {
		if hour < 1 || hour > 12 {
			return 0, fmt.Errorf("%w: %q is not a time such as 1:30 pm", ErrHours, strings.TrimSpace(s))
		}
		hour %= 12
		if half == "pm" {
			hour += 12
		}
	}
	if at := hour*60 + minutes; minutes < 60 && at <= 24*60 {
		return at, nil
	}
	return 0, fmt.Errorf("%w: %q is not a time of a day", ErrHours, strings.TrimSpace(s))
}

// String writes a part of a day as "13:30–16:30".
func (s Span) String() string {
	return fmt.Sprintf("%d:%02d–%d:%02d", s.From/60, s.From%60, s.To/60, s.To%60)
}

// SpansText writes hours as ParseSpans reads them.
func SpansText(list []Span) string {
	words := make([]string, len(list))
	for i, s := range list {
		words[i] = s.String()
	}
	return strings.Join(words, ", ")
}

// ParseDays reads days off: dates such as 2026-12-24, and "2026-12-24 to 2027-01-02", with
// commas or line ends between them. The error wraps ErrOff and says what can't be read.
func ParseDays(s string) ([]Days, error) {
	var list []Days
	for _, part := range strings.FieldsFunc(s, func(r rune) bool { return r == ',' || r == ';' || r == '\n' }) {
		if part = strings.TrimSpace(part); part == "" {
			continue
		}
		words := strings.FieldsFunc(part, func(r rune) bool {
			return r == ' ' || r == '–' || r == '—' || r == '\r' || r == '\t'
		})
		words = slices.DeleteFunc(words, func(w string) bool { return w == "to" || w == "until" || w == "-" })
		if len(words) == 0 || len(words) > 2 {
			return nil, fmt.Errorf("%w: %q is not a date such as 2026-12-24, nor from one date to another", ErrOff, part)
		}
		var d Days
		for i, w := range words {
			at, err := time.Parse(time.DateOnly, w)
			if err != nil {
				return nil, fmt.Errorf("%w: %q is not a date such as 2026-12-24", ErrOff, w)
			}
			if d.Last = at; i == 0 {
				d.First = at
			}
		}
		if d.Last.Before(d.First) {
			return nil, fmt.Errorf("%w: %q ends before it begins", ErrOff, part)
		}
		list = append(list, d)
	}
	slices.SortFunc(list, func(a, b Days) int { return a.First.Compare(b.First) })
	return list, nil
}

// DaysText writes days off as ParseDays reads them, one row each.
func DaysText(list []Days) string {
	rows := make([]string, len(list))
	for i, d := range list {
		rows[i] = d.First.Format(time.DateOnly)
		if !d.Last.Equal(d.First) {
			rows[i] += " to " + d.Last.Format(time.DateOnly)
		}
	}
	return strings.Join(rows, "\n")
}
