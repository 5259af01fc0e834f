package passage

import (
	"errors"
	"fmt"
	"regexp"
	"slices"
	"strings"
	"time"
	"unicode"

	"omphalos/core/decimal"
	"omphalos/core/excerpt"
	"omphalos/core/quiz"
)

// State tells whether a question has been answered.
type State uint8

// The states.
const (
	Absent  State = iota // not asked yet
	Skipped              // asked, and passed by without an answer
	Given
)

// A Value is what a respondent gave for one question. Which fields count
// depends on the question's kind.
type Value struct {
	State  State
	Option int16           // choices: position of the answer
	Picks  []int16         // several: positions, rising; grid: column per row, −1 for none
	Number decimal.Decimal // numbers; dates in days since 1970-01-01
	Text   string          // texts; the written-in words of a choice
}

// Answers holds a Value per question, in the order of Program.Keys. The zero
// Value is Absent.
type Answers []Value

// Reasons why an answer is refused.
var (
	ErrUnknown  = errors.New("is not one of the answers")
	ErrLimits   = errors.New("is outside the limits")
	ErrShape    = errors.New("has the wrong form")
	ErrQuestion = errors.New("is not a question of this quiz")
)

// A Refused answer says which question's, what is wrong in words for the
// respondent, and why by one of the errors above.
type Refused struct {
	Question string
	Message  string
	Why      error
}

func (r *Refused) Error() string { return r.Question + ": " + r.Message }

// Unwrap returns Why.
func (r *Refused) Unwrap() error { return r.Why }

// Typed is an answer as it comes from a form or a file: the chosen keys or the
// typed words, the words written in, and for grids the column per row.
type Typed struct {
	Values  []string
	WriteIn string
	Rows    map[string]string
}

// Read turns what was typed for question i into a Value, checked against the
// question's limits. Nothing typed gives Skipped. The error is a *Refused.
func (p *Program) Read(i int, t Typed) (Value, error) {
	q := &p.questions[i]
	refuse := func(why error, format string, args ...any) (Value, error) {
		return Value{}, &Refused{q.key, fmt.Sprintf(format, args...), why}
	}
	if q.kind == quiz.Grid {
		return p.readGrid(q, t, refuse)
	}
	values := slices.DeleteFunc(slices.Clone(t.Values), func(s string) bool { return strings.TrimSpace(s) == "" })
	switch {
	case len(values) == 0 && q.kind != quiz.Several:
		return Value{State: Skipped}, nil
	case q.kind == quiz.Several:
		return p.readSeveral(q, values, t.WriteIn, refuse)
	case len(values) > 1:
		return refuse(ErrShape, "choose one answer only")
	case q.kind.Choice():
		o, known := q.options[values[0]]
		if !known {
			return refuse(ErrUnknown, "%q is not one of the answers", clip(values[0]))
		}
		v := Value{State: Given, Option: int16(o)}
		if q.answers[o].writeIn {
			v.Text = excerpt.Bounded(clean(t.WriteIn, false), writeInLength)
		}
		return v, nil
	}
	return q.readTyped(strings.TrimSpace(clean(values[0], q.kind == quiz.LongText)), refuse)
}

// Keep returns what may be kept of what was typed for question i, be it an answer or not
// yet: no answers that do not exist, no more of them than there are, no more words than the
// question takes.
func (p *Program) Keep(i int, t Typed) Typed {
	q := &p.questions[i]
	kept := Typed{}
	longest := longestOther
	switch {
	case q.kind == quiz.Grid:
		for row := range q.rows {
			key := q.rows[row].key
			if _, known := q.options[t.Rows[key]]; known {
				if kept.Rows == nil {
					kept.Rows = map[string]string{}
				}
				kept.Rows[key] = t.Rows[key]
			}
		}
		return kept
	case q.kind.HasAnswers():
		for _, v := range t.Values {
			o, known := q.options[v]
			if !known || slices.Contains(kept.Values, v) || len(kept.Values) > 0 && q.kind != quiz.Several {
				continue
			}
			kept.Values = append(kept.Values, v)
			if q.answers[o].writeIn {
				kept.WriteIn = excerpt.Bounded(clean(t.WriteIn, false), writeInLength)
			}
		}
		return kept
	case q.kind == quiz.LongText:
		longest = longestText
	case q.kind == quiz.ShortText || q.kind.Personal():
		longest = longestLine
	}
	if (q.kind == quiz.LongText || q.kind == quiz.ShortText) && q.high != nil {
		longest = min(longest, int(max(*q.high/decimal.One, 0)))
	}
	if len(t.Values) > 0 {
		kept.Values = []string{excerpt.Bounded(clean(t.Values[0], q.kind == quiz.LongText), longest)}
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
	if strings.IndexFunc(s, steers) < 0 {
		return s
	}
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
	q := &p.contact[i]
	refuse := func(why error, format string, args ...any) (Value, error) {
		return Value{}, &Refused{q.key, fmt.Sprintf(format, args...), why}
	}
	typed := strings.TrimSpace(clean(strings.Join(t.Values, " "), q.kind == quiz.LongText))
	if typed == "" {
		if q.required {
			return refuse(ErrShape, "is needed")
		}
		return Value{State: Skipped}, nil
	}
	v, err := q.readTyped(typed, refuse)
	if err == nil && v.State != Given && q.required {
		return refuse(ErrShape, "is needed")
	}
	return v, err
}

type refusal func(why error, format string, args ...any) (Value, error)

const writeInLength = 2000

func (p *Program) readSeveral(q *question, keys []string, writeIn string, refuse refusal) (Value, error) {
	v := Value{State: Given}
	for _, key := range keys {
		o, known := q.options[key]
		if !known {
			return refuse(ErrUnknown, "%q is not one of the answers", clip(key))
		}
		if !slices.Contains(v.Picks, int16(o)) {
			v.Picks = append(v.Picks, int16(o))
		}
		if q.answers[o].writeIn {
			v.Text = excerpt.Bounded(clean(writeIn, false), writeInLength)
		}
	}
	slices.Sort(v.Picks)
	switch n := len(v.Picks); {
	case n == 0:
		return Value{State: Skipped}, nil
	case n < q.minPicks:
		return refuse(ErrLimits, "choose at least %s", quiz.Count(q.minPicks, "answer"))
	case n > q.maxPicks:
		return refuse(ErrLimits, "choose at most %s", quiz.Count(q.maxPicks, "answer"))
	}
	return v, nil
}

func (p *Program) readGrid(q *question, t Typed, refuse refusal) (Value, error) {
	v := Value{State: Skipped, Picks: make([]int16, len(q.rows))}
	for i := range v.Picks {
		v.Picks[i] = -1
	}
	for row, column := range t.Rows {
		r, known := q.rowIndex[row]
		if !known {
			return refuse(ErrUnknown, "%q is not one of the rows", clip(row))
		}
		if column == "" {
			continue
		}
		o, known := q.options[column]
		if !known {
			return refuse(ErrUnknown, "%q is not one of the answers", clip(column))
		}
		v.Picks[r], v.State = int16(o), Given
	}
	return v, nil
}

func (q *question) readTyped(s string, refuse refusal) (Value, error) {
	switch {
	case q.kind == quiz.Date:
		day, err := quiz.ParseDay(s)
		if err != nil {
			return refuse(ErrShape, "%v", err)
		}
		if low, high := q.outside(day); low || high {
			return refuse(ErrLimits, "%s", q.limitWords(quiz.DayText))
		}
		if !q.lattice.Has(day) {
			return refuse(
				ErrLimits,
				"must be a whole number of %s days from %s",
				q.lattice.Step,
				quiz.DayText(q.lattice.First),
			)
		}
		return Value{State: Given, Number: day}, nil
	case q.kind.Numeric():
		return q.readNumber(s, refuse)
	case q.kind == quiz.Consent:
		if s != "yes" {
			return Value{State: Skipped}, nil
		}
		return Value{State: Given, Text: "yes"}, nil
	case q.kind == quiz.Email:
		if len(s) > 254 || !emailShape.MatchString(s) {
			return refuse(ErrShape, "%q is not an e-mail address such as name@example.org", clip(s))
		}
	case q.kind == quiz.Phone:
		number, possible := Phone(s, "")
		if !possible {
			return refuse(ErrShape, "%q is not a phone number with its country code, such as +353 1 234 5678", clip(s))
		}
		return Value{State: Given, Text: number}, nil
	case q.kind == quiz.Appointment:
		if at, err := time.Parse("2006-01-02T15:04", s); err == nil {
			s = at.Format(time.RFC3339) // as a browser's own field gives it
		} else if _, err := time.Parse(time.RFC3339, s); err != nil {
			return refuse(ErrShape, "%q is not a time such as 2026-04-30T09:30:00Z", clip(s))
		}
	case q.kind == quiz.Interlude:
		return Value{State: Skipped}, nil
	default:
		return q.readText(s, refuse)
	}
	return Value{State: Given, Text: s}, nil
}

// emailShape is the form that HTML's e-mail field accepts, with a dot in the domain.
var emailShape = regexp.MustCompile(`^[a-zA-Z0-9.!#$%&'*+/=?^_{|}~-]+@[a-zA-Z0-9-]+(\.[a-zA-Z0-9-]+)+$`)

func (q *question) readNumber(s string, refuse refusal) (Value, error) {
	n, err := decimal.Parse(strings.ReplaceAll(s, ",", "."))
	if err != nil {
		return refuse(ErrShape, "%v", err)
	}
	if low, high := q.outside(n); low || high {
		return refuse(ErrLimits, "%s", q.limitWords(decimal.Decimal.Words))
	}
	if !q.lattice.Has(n) {
		return refuse(ErrLimits, "%s", q.latticeWords(n))
	}
	return Value{State: Given, Number: n}, nil
}

// latticeWords says why a number within the limits can't be given.
func (q *question) latticeWords(n decimal.Decimal) string {
	switch l := q.lattice; {
	case n < l.First && l.Below:
		return "is too far below 0 to be counted with"
	case n > l.Last && l.Above:
		return "is too large to be counted with"
	case l.Below:
		return fmt.Sprintf("must go in steps of %s from 0", l.Step)
	default:
		return fmt.Sprintf("must go in steps of %s from %s", l.Step, l.First)
	}
}

// How many characters may be typed: into a long text, a line, and what is no text.
const (
	longestText  = 20_000
	longestLine  = 2000
	longestOther = 200
)

func (q *question) readText(s string, refuse refusal) (Value, error) {
	length := decimal.FromInt(int64(len([]rune(s))))
	most := decimal.FromInt(longestText)
	if q.kind != quiz.LongText {
		most = decimal.FromInt(longestLine)
	}
	if low, high := q.outside(length); low || high {
		return refuse(ErrLimits, "%s characters", q.limitWords(decimal.Decimal.Words))
	}
	if length > most {
		return refuse(ErrLimits, "must have at most %s characters", most)
	}
	return Value{State: Given, Text: s}, nil
}

func (q *question) outside(n decimal.Decimal) (low, high bool) {
	return q.low != nil && n < *q.low, q.high != nil && n > *q.high
}

func (q *question) limitWords(text func(decimal.Decimal) string) string {
	switch {
	case q.low == nil:
		return "must be at most " + text(*q.high)
	case q.high == nil:
		return "must be at least " + text(*q.low)
	}
	return fmt.Sprintf("must be between %s and %s", text(*q.low), text(*q.high))
}

// ReadCell reads the answer to question i from a cell of a table into v: several
// picks are separated by "|". An empty cell is Skipped. v's memory is reused.
// The error is a *Refused. Grids have a cell per row: see ReadRow.
func (p *Program) ReadCell(i int, cell string, v *Value) error {
	q := &p.questions[i]
	if q.form == ofOne {
		v.Text = ""
		if o := q.option(cell); o >= 0 {
			v.State, v.Option = Given, int16(o)
			return nil
		}
	}
	if cell == "" {
		v.State = Skipped
		return nil
	}
	t := Typed{Values: []string{cell}}
	if q.kind == quiz.Several {
		t.Values = strings.Split(cell, "|")
		for j := range t.Values {
			t.Values[j] = strings.TrimSpace(t.Values[j])
		}
	} else if q.kind.Choice() {
		t.Values[0] = strings.TrimSpace(cell)
	}
	read, err := p.Read(i, t)
	*v = read
	return err
}

// option returns the position of the answer under key, −1 for none. Among a few
// answers, looking at each is quicker than a map.
func (q *question) option(key string) int {
	if len(q.answers) <= 8 {
		for i := range q.answers {
			if q.answers[i].key == key {
				return i
			}
		}
		return -1
	}
	if o, known := q.options[key]; known {
		return o
	}
	return -1
}

// ReadRow reads the answer to one row of the grid i into v, as ReadCell does.
func (p *Program) ReadRow(i, row int, cell string, v *Value) error {
	q := &p.questions[i]
	for len(v.Picks) < len(q.rows) {
		v.Picks = append(v.Picks, -1)
	}
	v.Picks[row] = -1
	cell = strings.TrimSpace(cell)
	if cell == "" {
		if v.State == Absent {
			v.State = Skipped
		}
		return nil
	}
	o, known := q.options[cell]
	if !known {
		return &Refused{
			q.key + "." + q.rows[row].key,
			fmt.Sprintf("%q is not one of the answers", clip(cell)),
			ErrUnknown,
		}
	}
	v.State, v.Picks[row] = Given, int16(o)
	return nil
}

// WriteIn puts the words that a respondent wrote in beside the answer to
// question i, if it takes any.
func (p *Program) WriteIn(i int, words string, v *Value) {
	q := &p.questions[i]
	takes := v.State == Given && q.kind.Choice() && q.answers[v.Option].writeIn
	if v.State == Given && q.kind == quiz.Several {
		takes = slices.ContainsFunc(v.Picks, func(o int16) bool { return q.answers[o].writeIn })
	}
	if takes {
		v.Text = excerpt.Bounded(words, writeInLength)
	}
}

// Typed is the reverse of Read.
func (p *Program) Typed(i int, v Value) Typed {
	q := &p.questions[i]
	if v.State != Given {
		return Typed{}
	}
	switch {
	case q.kind.Choice():
		return Typed{Values: []string{q.answers[v.Option].key}, WriteIn: v.Text}
	case q.kind == quiz.Several:
		t := Typed{WriteIn: v.Text}
		for _, o := range v.Picks {
			t.Values = append(t.Values, q.answers[o].key)
		}
		return t
	case q.kind == quiz.Grid:
		t := Typed{Rows: map[string]string{}}
		for r, o := range v.Picks {
			if o >= 0 {
				t.Rows[q.rows[r].key] = q.answers[o].key
			}
		}
		return t
	case q.kind == quiz.Date:
		return Typed{Values: []string{quiz.DayText(v.Number)}}
	case q.kind.Numeric():
		return Typed{Values: []string{v.Number.String()}}
	}
	return Typed{Values: []string{v.Text}}
}

// complete tells whether a required question has all that it needs.
func (q *question) complete(v *Value) bool {
	if v.State != Given {
		return false
	}
	return q.form != ofGrid || !slices.Contains(v.Picks, -1)
}

func clip(s string) string { return excerpt.Bounded(s, 60) }
