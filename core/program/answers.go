package program

import (
	"errors"
	"slices"
	"strings"
	"unicode"

	"omphalos/core/decimal"
	"omphalos/core/excerpt"
	"omphalos/core/quiz"
)

// Read turns what was typed for question i into a Value, checked against the
// question's limits. Nothing typed gives Skipped. The error is a *Refused.
func (p *Program) Read(i int, t Typed) (Value, error) {
	q := &p.Questions[i]
	refuse := func(why error, format string, args ...any) (Value, error) {
		return Value{}, refusedFor(q.Key, why, format, args...)
	}
	if q.Kind == quiz.Grid {
		return p.readGrid(q, t, refuse)
	}
	values := slices.DeleteFunc(slices.Clone(t.Values), func(s string) bool { return strings.TrimSpace(s) == "" })
	switch {
	case len(values) == 0 && q.Kind != quiz.Several:
		return Value{State: Skipped}, nil
	case q.Kind == quiz.Several:
		return p.readSeveral(q, values, t.WriteIn, refuse)
	case len(values) > 1:
		return refuse(ErrShape, "choose one answer only")
	case q.Kind.Choice():
		o, known := q.options[values[0]]
		if !known {
			return refuse(ErrUnknown, "%q is not one of the answers", clip(values[0]))
		}
		v := Value{State: Given, Option: int16(o)}
		if q.Answers[o].writeIn {
			v.Text = excerpt.Bounded(clean(t.WriteIn, false), writeInLength)
		}
		if q.Answers[o].needsWords && strings.TrimSpace(v.Text) == "" {
			return refuse(ErrLimits, "write your own words beside this answer")
		}
		return v, nil
	}
	return q.readTyped(strings.TrimSpace(clean(values[0], q.Kind == quiz.LongText)), refuse)
}

// OnDay tells what is wrong with a date for question i where it is given on a day, as
// quiz.ParseDay gives it: nil, or a *Refused. Read knows no day.
func (p *Program) OnDay(i int, v Value, today decimal.Decimal) error {
	asked := p.Question(i)
	if v.State != Given || !asked.ByToday() {
		return nil
	}
	asked, left := asked.On(today)
	refuse := func(why error, format string, args ...any) (Value, error) {
		return Value{}, refusedFor(p.Questions[i].Key, why, format, args...)
	}
	var err error
	on := Question{}
	on.low, on.high = asked.Bounds()
	if !left {
		_, err = refuse(ErrLimits, "no day can be chosen any more")
	} else if low, high := on.outside(v.Number); low || high {
		_, err = on.refuseLimits(refuse, "", quiz.DayText)
	}
	return err
}

// Keep returns what may be kept of what was typed for question i, be it an answer or not
// yet: no answers that do not exist, no more of them than there are, no more words than the
// question takes.
func (p *Program) Keep(i int, t Typed) Typed {
	q := &p.Questions[i]
	kept := Typed{}
	longest := longestOther
	switch {
	case q.Kind == quiz.Grid:
		for row := range q.Rows {
			key := q.Rows[row].Key
			if _, known := q.options[t.Rows[key]]; known {
				if kept.Rows == nil {
					kept.Rows = map[string]string{}
				}
				kept.Rows[key] = t.Rows[key]
			}
		}
		return kept
	case q.Kind.HasAnswers():
		for _, v := range t.Values {
			o, known := q.options[v]
			if !known || slices.Contains(kept.Values, v) || len(kept.Values) > 0 && q.Kind != quiz.Several {
				continue
			}
			kept.Values = append(kept.Values, v)
			if q.Answers[o].writeIn {
				kept.WriteIn = excerpt.Bounded(clean(t.WriteIn, false), writeInLength)
			}
		}
		return kept
	case q.Kind == quiz.LongText:
		longest = longestText
	case q.Kind == quiz.ShortText || q.Kind.Personal():
		longest = longestLine
	}
	if (q.Kind == quiz.LongText || q.Kind == quiz.ShortText) && q.high != nil {
		longest = min(longest, int(max(*q.high/decimal.One, 0)))
	}
	if len(t.Values) > 0 {
		kept.Values = []string{excerpt.Bounded(clean(t.Values[0], q.Kind == quiz.LongText), longest)}
	}
	return kept
}

// clean leaves out the characters that steer what shows a text: controls, and those that
// turn its direction around (Unicode Standard Annex 9, 2.1 to 2.3); in a text of several
// lines their breaks stay.
func clean(s string, lines bool) string {
	steers := func(r rune) bool {
		return unicode.IsControl(r) && !(lines && (r == '\n' || r == '\r' || r == '\t')) ||
			r >= 0x202a && r <= 0x202e ||
			r >= 0x2066 && r <= 0x2069
	}
	if strings.IndexFunc(s, steers) < 0 && !strings.Contains(s, "\r") {
		return s
	}
	s = strings.ReplaceAll(strings.ReplaceAll(s, "\r\n", "\n"), "\r", "\n") // however they were typed
	return strings.Map(func(r rune) rune {
		switch {
		case !steers(r):
			return r
		case r == '\n' || r == '\t' || r == '\r':
			return ' '
		}
		return -1
	}, s)
}

// ReadContact reads what was typed into field i of the contact section, as Read does;
// a field that is needed and empty is refused, too.
func (p *Program) ReadContact(i int, t Typed) (Value, error) {
	q := &p.Contact[i]
	refuse := func(why error, format string, args ...any) (Value, error) {
		return Value{}, refusedFor(q.Key, why, format, args...)
	}
	typed := strings.TrimSpace(clean(strings.Join(t.Values, " "), q.Kind == quiz.LongText))
	if typed == "" {
		if q.Required {
			return refuse(ErrShape, "is needed")
		}
		return Value{State: Skipped}, nil
	}
	v, err := q.readTyped(typed, refuse)
	if err == nil && v.State != Given && q.Required {
		return refuse(ErrShape, "is needed")
	}
	return v, err
}

// saying gives what is wrong a sentence of its own.
func saying(says string, parts ...any) func(Value, error) (Value, error) {
	return func(v Value, err error) (Value, error) {
		var r *Refused
		if errors.As(err, &r) {
			r.Says, r.Parts = says, parts
		}
		return v, err
	}
}

func clip(s string) string { return excerpt.Bounded(s, 60) }
