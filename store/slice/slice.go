// Package slice reads the sentence that names responses, and turns responses into the rows
// of a table.
//
// A sentence is fields with values, as an address has them: from=2026-10-01, last=7, outcome=walk,
// answer.crop=apples, score.readiness=10..18. Responses fit where every field fits; several
// values of a field are "or".
package slice

import (
	"errors"
	"fmt"
	"math"
	"net/url"
	"slices"
	"strconv"
	"strings"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
	"omphalos/interchange/rows"
	"omphalos/store"
	"omphalos/store/tally"
)

// Kinds are the fields that every quiz has, beside those of days.
var Kinds = []tally.Kind{
	tally.Release, tally.Source, tally.Medium, tally.Campaign, tally.Device, tally.Country, tally.Language, tally.Outcome,
	tally.Contact, tally.Pressed,
}

// A Slice is the responses that a sentence names.
type Slice struct {
	Asked url.Values            // the fields that were understood
	Parts map[string]tally.Part // by field; those of days together as "from"
}

// Read reads a sentence about a quiz with some releases, and of some days. What it does not understand, it
// leaves out and tells, in a sentence each.
func Read(days Days, releases []store.Release, fields url.Values) (Slice, []string) {
	s := Slice{url.Values{}, map[string]tally.Part{}}
	part, dated, asked, wrong := days.Read(fields)
	if s.Asked = asked; dated {
		s.Parts["from"] = part
	}
	for _, field := range Fields(fields) {
		values := slices.DeleteFunc(slices.Clone(fields[field]), func(v string) bool { return v == "" })
		if slices.Contains(DayFields, field) || len(values) == 0 {
			continue
		}
		part, err := partOf(releases, field, values)
		if err != nil {
			wrong = append(wrong, err.Error())
			continue
		}
		s.Asked[field], s.Parts[field] = values, part
	}
	return s, wrong
}

// ReadOf reads a sentence about a quiz with the columns of its responses, and refuses what
// Read does not understand and what no release has. A number or a day that was answered can
// be asked for like any answer.
func ReadOf(days Days, columns *Table, releases []store.Release, fields url.Values) (Slice, error) {
	asked := url.Values{}
	for field, values := range fields {
		key, answer := strings.CutPrefix(field, "answer.")
		if answer && columns.Holds(field) {
			if kind := columns.Column(field).Kind; kind == rows.Number || kind == rows.Day {
				field = "amount." + key
			}
		}
		asked[field] = values
	}
	read, wrong := Read(days, releases, asked)
	for field, part := range read.Parts {
		if !columns.Has(part.Of) {
			wrong = append(wrong, fmt.Sprintf("no release of the quiz has what %s is about", field))
		}
		if part.Of.Kind == tally.Release && len(part.Values) == 0 {
			wrong = append(wrong, fmt.Sprintf("there is no release %s", strings.Join(fields[field], ", ")))
		}
	}
	if len(wrong) > 0 {
		slices.Sort(wrong)
		return read, fmt.Errorf("%w: %s", ErrSentence, strings.Join(wrong, "; "))
	}
	return read, nil
}

// ErrSentence says that a sentence asks for what nobody knows of.
var ErrSentence = errors.New("this can't be asked of the responses")

// Fields are the names of fields, in their order.
func Fields(of url.Values) []string {
	names := make([]string, 0, len(of))
	for name := range of {
		names = append(names, name)
	}
	slices.Sort(names)
	return names
}

// All are the parts of the sentence, but those of some fields.
func (s Slice) All(but ...string) []tally.Part {
	var list []tally.Part
	for field, part := range s.Parts {
		if !slices.Contains(but, field) {
			list = append(list, part)
		}
	}
	return list
}

// partOf reads a field that is not of days.
func partOf(releases []store.Release, field string, values []string) (tally.Part, error) {
	kind, key, keyed := strings.Cut(field, ".")
	switch {
	case slices.Contains(Kinds, tally.Kind(field)):
		if tally.Kind(field) == tally.Release {
			values = releaseIDs(releases, values)
		}
		return tally.Part{Of: tally.Property{Kind: tally.Kind(field)}, Values: values}, nil
	case kind == "answer" && keyed:
		key, row, _ := strings.Cut(key, ".")
		return tally.Part{Of: tally.Property{Kind: tally.Answer, Key: key, Row: row}, Values: values}, nil
	case (kind == "score" || kind == "amount") && keyed:
		if len(values) > 1 {
			return tally.Part{}, fmt.Errorf("%s has several values: give one, or a range such as 10..18", field)
		}
		from, to, ok := between(values[0])
		if !ok {
			return tally.Part{}, fmt.Errorf("%s=%s is no range, as 10..18 or 2026-10-01..2026-10-31 is one", field, values[0])
		}
		return tally.Part{Of: tally.Property{Kind: tally.Kind(kind), Key: key}, From: from, To: to}, nil
	}
	var known []string
	for _, k := range Kinds {
		known = append(known, string(k))
	}
	return tally.Part{}, fmt.Errorf("%s is no field: there are from, to, last, %s, answer.KEY, amount.KEY and score.KEY",
		field, strings.Join(known, ", "))
}

// between reads "10..18", numbers or days, both included; an end may be missing, and one
// number alone is both ends.
func between(text string) (from, to int64, ok bool) {
	low, high, two := strings.Cut(text, "..")
	if !two {
		high = low
	}
	ends := [2]int64{math.MinInt64, math.MaxInt64}
	for i, end := range []string{low, high} {
		if end == "" {
			continue
		}
		n, err := number(end)
		if err != nil {
			return 0, 0, false
		}
		ends[i] = int64(n)
	}
	return ends[0], ends[1], low != "" || high != ""
}

func number(text string) (decimal.Decimal, error) {
	if d, err := quiz.ParseDay(text); err == nil {
		return d, nil
	}
	return decimal.Parse(text)
}

// releaseIDs returns the numbers in the database of releases by theirs.
func releaseIDs(releases []store.Release, numbers []string) []string {
	var ids []string
	for _, r := range releases {
		if slices.Contains(numbers, strconv.Itoa(r.Number)) {
			ids = append(ids, strconv.FormatUint(uint64(r.ID), 10))
		}
	}
	return ids
}
