package learn

import (
	"math"
	"net/url"
	"slices"
	"strconv"
	"strings"
	"time"

	"golang.org/x/text/language"
	"golang.org/x/text/language/display"

	"omphalos/core/atlas"
	"omphalos/core/decimal"
	"omphalos/core/quiz"
	"omphalos/store"
	"omphalos/store/tally"
	"omphalos/web/ui"
)

// A slice is the responses that a sentence of filters names. It stands in the address, so
// that it can be kept and sent: from=2026-10-01, outcome=walk, answer.crop=apples,
// score.readiness=10..18. What the address says beside is not looked at.
type slice struct {
	address  string // of the room
	asked    url.Values
	quiz     *quiz.Quiz
	releases []store.Release
	parts    map[string]tally.Part // by field of the address; from and to together as "from"
}

// facets are the parts of the sentence that every quiz has, in their order.
var facets = []struct {
	kind           tally.Kind
	any, one, many string // what the sentence says before it
}{
	{tally.Release, "to any release", "to ", "to "},
	{tally.Source, "from any source", "from ", "from "},
	{tally.Medium, "by any medium", "by ", "by "},
	{tally.Campaign, "of any campaign", "of ", "of "},
	{tally.Device, "on any device", "on a ", "on a "},
	{tally.Country, "in any country", "in ", "in "},
	{tally.Language, "in any language", "in ", "in "},
	{tally.Outcome, "with any outcome", "with ", "with "},
}

const day = 24 * 60 * 60 // in seconds

func sliceOf(address string, q *quiz.Quiz, releases []store.Release, query url.Values) *slice {
	s := &slice{address: address, asked: url.Values{}, quiz: q, releases: releases, parts: map[string]tally.Part{}}
	for field, values := range query {
		values = slices.DeleteFunc(slices.Clone(values), func(v string) bool { return v == "" })
		if part, known := s.part(field, values); known && len(values) > 0 {
			s.asked[field], s.parts[field] = values, part
		}
	}
	s.time(query.Get("from"), query.Get("to"))
	return s
}

// time takes days of the sentence, both included.
func (s *slice) time(from, to string) {
	part := tally.Part{Of: tally.Property{Kind: tally.Finished}, From: math.MinInt64, To: math.MaxInt64}
	if at, err := time.Parse(time.DateOnly, from); err == nil {
		part.From = at.Unix()
		s.asked.Set("from", from)
	}
	if at, err := time.Parse(time.DateOnly, to); err == nil {
		part.To = at.Unix() + day - 1
		s.asked.Set("to", to)
	}
	if s.asked.Has("from") || s.asked.Has("to") {
		s.parts["from"] = part
	}
}

// part reads a field of the address.
func (s *slice) part(field string, values []string) (tally.Part, bool) {
	for _, f := range facets {
		if string(f.kind) != field {
			continue
		}
		if f.kind == tally.Release {
			values = s.releaseIDs(values)
		}
		return tally.Part{Of: tally.Property{Kind: f.kind}, Values: values}, true
	}
	kind, key, _ := strings.Cut(field, ".")
	switch kind {
	case "answer":
		key, row, _ := strings.Cut(key, ".")
		return tally.Part{Of: tally.Property{Kind: tally.Answer, Key: key, Row: row}, Values: values}, true
	case "score", "amount":
		if len(values) == 0 {
			return tally.Part{}, false
		}
		from, to, ok := between(values[0])
		return tally.Part{Of: tally.Property{Kind: tally.Kind(kind), Key: key}, From: from, To: to}, ok
	}
	return tally.Part{}, false
}

// between reads "10..18", numbers or days, both included.
func between(text string) (from, to int64, ok bool) {
	low, high, _ := strings.Cut(text, "..")
	a, err1 := number(low)
	b, err2 := number(high)
	return int64(a), int64(b), err1 == nil && err2 == nil
}

func number(text string) (decimal.Decimal, error) {
	if d, err := quiz.ParseDay(text); err == nil {
		return d, nil
	}
	return decimal.Parse(text)
}

// releaseIDs returns the numbers in the database of releases by theirs.
func (s *slice) releaseIDs(numbers []string) []string {
	var ids []string
	for _, r := range s.releases {
		if slices.Contains(numbers, strconv.Itoa(r.Number)) {
			ids = append(ids, strconv.FormatUint(uint64(r.ID), 10))
		}
	}
	return ids
}

// all are the parts of the sentence, but those of some fields.
func (s *slice) all(but ...string) []tally.Part {
	var list []tally.Part
	for field, part := range s.parts {
		if !slices.Contains(but, field) {
			list = append(list, part)
		}
	}
	return list
}

// at is the address of the room with other fields.
func (s *slice) at(fields url.Values) string {
	if len(fields) == 0 {
		return s.address
	}
	return s.address + "?" + fields.Encode()
}

// of is the address of a response of the slice.
func (s *slice) of(number int) string {
	return strings.Replace(s.at(s.clone()), s.address, s.address+"/"+strconv.Itoa(number), 1)
}

// with is the address where a field has a value more, or one less where it has it already.
func (s *slice) with(field, value string) string {
	fields := s.clone()
	if values := fields[field]; slices.Contains(values, value) {
		if fields[field] = slices.DeleteFunc(values, func(v string) bool { return v == value }); len(fields[field]) == 0 {
			fields.Del(field)
		}
	} else {
		fields[field] = append(values, value)
	}
	return s.at(fields)
}

// only is the address where a field has one value alone, or none where it has that already.
func (s *slice) only(field, value string) string {
	fields := s.clone()
	if fields.Get(field) == value {
		fields.Del(field)
	} else {
		fields.Set(field, value)
	}
	return s.at(fields)
}

// without is the address without some fields.
func (s *slice) without(fields ...string) string {
	left := s.clone()
	for _, f := range fields {
		left.Del(f)
	}
	return s.at(left)
}

func (s *slice) clone() url.Values {
	fields := url.Values{}
	for field, values := range s.asked {
		fields[field] = slices.Clone(values)
	}
	return fields
}

// A facet is a part of the sentence with what can be chosen there.
type facet struct {
	Field   string
	Words   string
	Set     bool
	Options []facetOption
	Hidden  []hidden // the other fields of the address
	Clear   string   // address without it
}

type facetOption struct {
	Value, Name string
	Count       int
	Chosen      bool
}

// A hidden field goes along with a form.
type hidden struct{ Name, Value string }

// hide lists all fields of the address but some.
func (s *slice) hide(but ...string) []hidden {
	var list []hidden
	for _, field := range sortedKeys(s.asked) {
		if slices.Contains(but, field) {
			continue
		}
		for _, value := range s.asked[field] {
			list = append(list, hidden{field, value})
		}
	}
	return list
}

// mostOptions is how many values of a part can be chosen where it stands.
const mostOptions = 24

// facets are the parts of the sentence: those that tell responses apart, and those that are
// set.
func (s *slice) facets(t *tally.Tally, in tally.Slice) []facet {
	var list []facet
	for _, f := range facets {
		field := string(f.kind)
		others := in
		if s.asked.Has(field) {
			others = t.Slice(s.all(field)...)
		}
		counts := others.Split(tally.Property{Kind: f.kind})
		chosen := s.asked[field]
		alike := len(counts) == 0 || len(counts) == 1 && counts[0].Count == others.Count()
		if alike && len(chosen) == 0 {
			continue
		}
		one := facet{Field: field, Words: f.any, Set: len(chosen) > 0, Hidden: s.hide(field), Clear: s.without(field)}
		var names []string
		for _, c := range counts[:min(len(counts), mostOptions)] {
			value, name := s.named(f.kind, c.Value)
			option := facetOption{value, name, c.Count, slices.Contains(chosen, value)}
			if option.Chosen {
				names = append(names, name)
			}
			one.Options = append(one.Options, option)
		}
		for _, value := range chosen { // what nobody has, or few
			if !slices.ContainsFunc(one.Options, func(o facetOption) bool { return o.Value == value }) {
				one.Options = append(one.Options, facetOption{value, value, 0, true})
				names = append(names, value)
			}
		}
		if one.Set {
			one.Words = f.one + strings.Join(names, " or ")
		}
		list = append(list, one)
	}
	return list
}

// named returns the value that stands in the address and its name.
func (s *slice) named(kind tally.Kind, value string) (asked, name string) {
	switch kind {
	case tally.Release:
		for _, r := range s.releases {
			if strconv.FormatUint(uint64(r.ID), 10) == value {
				return strconv.Itoa(r.Number), "release " + strconv.Itoa(r.Number)
			}
		}
	case tally.Outcome:
		if o := s.quiz.Outcomes[value]; o != nil && o.Name != "" {
			return value, "“" + o.Name + "”"
		}
	case tally.Country:
		return value, atlas.Name(value, "en")
	case tally.Language:
		if tag, err := language.Parse(value); err == nil {
			return value, display.English.Tags().Name(tag)
		}
	}
	return value, value
}

// A chip is a part of the sentence that was added by a press on a figure.
type chip struct{ Words, Drop string }

// chips are the parts about answers and scores, in the order of the address.
func (s *slice) chips() []chip {
	var list []chip
	for _, field := range sortedKeys(s.asked) {
		kind, key, _ := strings.Cut(field, ".")
		values := s.asked[field]
		switch kind {
		case "answer":
			key, row, _ := strings.Cut(key, ".")
			list = append(list, chip{"who answered " + s.answers(key, values) + " to " + s.question(key, row), s.without(field)})
		case "amount":
			list = append(list, chip{"who answered " + rangeWords(values[0]) + " to " + s.question(key, ""), s.without(field)})
		case "score":
			name := key
			if scale := s.quiz.Scales[key]; scale != nil {
				name = scale.Name
			}
			list = append(list, chip{"with " + name + " " + rangeWords(values[0]), s.without(field)})
		}
	}
	return list
}

func (s *slice) question(key, row string) string {
	asked := s.quiz.Questions[key]
	if asked == nil {
		return "“" + key + "”"
	}
	if r := asked.Rows[row]; r != nil {
		return "“" + asked.Label + "” for “" + r.Label + "”"
	}
	return "“" + asked.Label + "”"
}

func (s *slice) answers(key string, values []string) string {
	names := make([]string, len(values))
	for i, value := range values {
		names[i] = value
		if asked := s.quiz.Questions[key]; asked != nil && asked.Answers[value] != nil {
			names[i] = "“" + asked.Answers[value].Label + "”"
		}
	}
	return strings.Join(names, " or ")
}

// rangeWords says "10..18" as it is read.
func rangeWords(text string) string {
	low, high, _ := strings.Cut(text, "..")
	if low == high {
		return low
	}
	return low + " to " + high
}

// timeWords says the days of the sentence.
func (s *slice) timeWords() string {
	from, to := s.asked.Get("from"), s.asked.Get("to")
	switch {
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

// A span of time that is often asked for.
type recent struct {
	Words, Address string
	Chosen         bool
}

// recents are the last days, counted from today.
func (s *slice) recents(today decimal.Decimal) []recent {
	var list []recent
	for _, n := range []int64{7, 30, 90} {
		from := quiz.DayText(today - decimal.FromInt(n-1))
		fields := s.clone()
		fields.Set("from", from)
		fields.Del("to")
		list = append(list, recent{
			"the last " + strconv.FormatInt(n, 10) + " days", s.at(fields),
			s.asked.Get("from") == from && !s.asked.Has("to"),
		})
	}
	return append(list, recent{"any time", s.without("from", "to"), !s.asked.Has("from") && !s.asked.Has("to")})
}

func sortedKeys(values url.Values) []string {
	keys := make([]string, 0, len(values))
	for key := range values {
		keys = append(keys, key)
	}
	slices.Sort(keys)
	return keys
}

// A strip shows how many responses came on which day, of all and of the slice.
type strip struct {
	First, Last string
	Weeks       bool // a bar is a week
	All, In     string
}

const (
	stripWidth  = 900
	stripHeight = 44
	mostDays    = 140 // more are shown by weeks
	fewestBars  = 30  // so many days or weeks at the least
)

// strip draws the days from the first response to the last.
func (s *slice) strip(t *tally.Tally, in tally.Slice) *strip {
	finished := tally.Property{Kind: tally.Finished}
	unit := int64(day)
	all := t.Slice().Values(finished, unit)
	if len(all) == 0 {
		return nil
	}
	out := &strip{}
	if all[len(all)-1].Value-all[0].Value >= mostDays {
		unit, out.Weeks = 7*day, true
		all = t.Slice().Values(finished, unit)
	}
	last := all[len(all)-1].Value
	first := min(all[0].Value, last-fewestBars+1)
	most := 0
	for _, b := range all {
		most = max(most, b.Count)
	}
	wide := float64(stripWidth) / float64(last-first+1)
	bars := func(bins []tally.Bin) string {
		var path strings.Builder
		for _, b := range bins {
			high := max(float64(b.Count)/float64(most)*stripHeight, 1)
			ui.Bar(&path, float64(b.Value-first)*wide, stripHeight-high, max(wide-1, 0.5), high)
		}
		return path.String()
	}
	name := func(bin int64) string { return time.Unix(bin*unit, 0).UTC().Format(time.DateOnly) }
	out.All = bars(all)
	if out.In = out.All; len(s.parts) > 0 {
		out.In = bars(in.Values(finished, unit))
	}
	out.First, out.Last = name(first), time.Unix((last+1)*unit-1, 0).UTC().Format(time.DateOnly)
	return out
}
