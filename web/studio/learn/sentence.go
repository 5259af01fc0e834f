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
	"omphalos/store/slice"
	"omphalos/store/tally"
	"omphalos/web/ui"
)

// A sentence is a slice with its address: what the address says beside is not looked at.
type sentence struct {
	slice.Slice
	address  string // of the room
	quiz     *quiz.Quiz
	releases []store.Release

	view          url.Values // how responses are listed
	versus, value string     // the field and the value that name the slice it is compared with
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
	{tally.Contact, "with or without a contact", "with ", "with "},
	{tally.Pressed, "whatever they pressed", "who pressed ", "who pressed "},
}

const day = 24 * 60 * 60 // in seconds

func sentenceAt(address string, q *quiz.Quiz, releases []store.Release, query url.Values) *sentence {
	read, _ := slice.Read(releases, query)
	s := &sentence{Slice: read, address: address, quiz: q, releases: releases, view: viewOf(query)}
	s.against(query)
	return s
}

// at is the address of the room with other fields.
func (s *sentence) at(fields url.Values) string {
	if len(fields) == 0 {
		return s.address
	}
	return s.address + "?" + fields.Encode()
}

// beside is the address of something in the room, with the slice.
func (s *sentence) beside(what string) string {
	return strings.Replace(s.at(s.clone()), s.address, s.address+"/"+what, 1)
}

// of is the address of a response of the slice.
func (s *sentence) of(number int) string { return s.beside(strconv.Itoa(number)) }

// with is the address where a field has a value more, or one less where it has it already.
func (s *sentence) with(field, value string) string {
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
func (s *sentence) only(field, value string) string {
	fields := s.clone()
	if fields.Get(field) == value {
		fields.Del(field)
	} else {
		fields.Set(field, value)
	}
	return s.at(fields)
}

// without is the address without some fields.
func (s *sentence) without(fields ...string) string {
	left := s.clone()
	for _, f := range fields {
		left.Del(f)
	}
	return s.at(left)
}

// clone returns the fields of the sentence, with what it is compared with.
func (s *sentence) clone() url.Values {
	fields := s.alone()
	if s.versus != "" {
		fields.Set(s.versus, s.value)
	}
	return fields
}

// alone returns the fields without what it is compared with.
func (s *sentence) alone() url.Values {
	fields := url.Values{}
	for _, of := range []url.Values{s.Asked, s.view} {
		for field, values := range of {
			fields[field] = slices.Clone(values)
		}
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

	one string // what is said before a name
}

type facetOption struct {
	Value, Name string
	Count       int
	Chosen      bool
}

// A hidden field goes along with a form.
type hidden struct{ Name, Value string }

// hide lists all fields of the address but some.
func (s *sentence) hide(but ...string) []hidden {
	var list []hidden
	fields := s.clone()
	for _, field := range slice.Fields(fields) {
		if slices.Contains(but, field) {
			continue
		}
		for _, value := range fields[field] {
			list = append(list, hidden{field, value})
		}
	}
	return list
}

// mostOptions is how many values of a part can be chosen where it stands.
const mostOptions = 24

// facets are the parts of the sentence: those that tell responses apart, and those that are
// set.
func (s *sentence) facets(t *tally.Tally, in tally.Slice) []facet {
	var list []facet
	for _, f := range facets {
		field := string(f.kind)
		others := in
		if s.Asked.Has(field) {
			others = t.Slice(s.All(field)...)
		}
		counts := others.Split(tally.Property{Kind: f.kind})
		chosen := s.Asked[field]
		alike := len(counts) == 0 || len(counts) == 1 && counts[0].Count == others.Count()
		if alike && len(chosen) == 0 {
			continue
		}
		one := facet{Field: field, Words: f.any, Set: len(chosen) > 0, Hidden: s.hide(field), Clear: s.without(field), one: f.one}
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
				one.Options = append(one.Options, facetOption{value, s.asking(f.kind, value), 0, true})
				names = append(names, s.asking(f.kind, value))
			}
		}
		if one.Set {
			one.Words = f.one + strings.Join(names, " or ")
		}
		list = append(list, one)
	}
	return list
}

// asking is the name of a value as it stands in the address.
func (s *sentence) asking(kind tally.Kind, value string) string {
	if kind == tally.Release {
		return "release " + value
	}
	_, name := s.named(kind, value)
	return name
}

// named returns the value that stands in the address and its name.
func (s *sentence) named(kind tally.Kind, value string) (asked, name string) {
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
	case tally.Contact:
		return value, "a contact"
	case tally.Pressed:
		return value, "“" + s.pressed(value) + "”"
	case tally.Country:
		return value, atlas.Name(value, "en")
	case tally.Language:
		if tag, err := language.Parse(value); err == nil {
			return value, display.English.Tags().Name(tag)
		}
	}
	return value, value
}

// pressed is what stands on a button, by its landing's and its own key.
func (s *sentence) pressed(block string) string {
	landing, key, _ := strings.Cut(block, ".")
	for _, k := range quiz.InOrder(s.quiz.Outcomes) {
		if l := s.quiz.Outcomes[k].Landings[landing]; l != nil && l.Blocks[key] != nil {
			return l.Blocks[key].Label
		}
	}
	return block
}

// A chip is a part of the sentence that was added by a press on a figure.
type chip struct{ Words, Drop string }

// chips are the parts about answers and scores, in the order of the address.
func (s *sentence) chips() []chip {
	var list []chip
	for _, field := range slice.Fields(s.Asked) {
		kind, key, _ := strings.Cut(field, ".")
		values := s.Asked[field]
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

func (s *sentence) question(key, row string) string {
	asked := s.quiz.Questions[key]
	if asked == nil {
		return "“" + key + "”"
	}
	if r := asked.Rows[row]; r != nil {
		return "“" + asked.Label + "” for “" + r.Label + "”"
	}
	return "“" + asked.Label + "”"
}

func (s *sentence) answers(key string, values []string) string {
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
func (s *sentence) timeWords() string {
	from, to := s.Asked.Get("from"), s.Asked.Get("to")
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
func (s *sentence) recents(today decimal.Decimal) []recent {
	var list []recent
	for _, n := range []int64{7, 30, 90} {
		from := quiz.DayText(today - decimal.FromInt(n-1))
		fields := s.clone()
		fields.Set("from", from)
		fields.Del("to")
		list = append(list, recent{
			"the last " + strconv.FormatInt(n, 10) + " days", s.at(fields),
			s.Asked.Get("from") == from && !s.Asked.Has("to"),
		})
	}
	return append(list, recent{"any time", s.without("from", "to"), !s.Asked.Has("from") && !s.Asked.Has("to")})
}

// A strip shows how many responses came on which day, of all and of the slice.
type strip struct {
	First, Last string
	Weeks       bool // a bar is a week
	All, In     string

	// The handles stand at the first and the last bar of the slice, counted from 0.
	Unit            int // days of a bar
	Low, High, Most int
}

const (
	stripWidth  = 900
	stripHeight = 44
	mostDays    = 140 // more are shown by weeks
	fewestBars  = 30  // so many days or weeks at the least
)

// strip draws the days from the first response to the last.
func (s *sentence) strip(t *tally.Tally, in tally.Slice) *strip {
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
	if out.In = out.All; len(s.Parts) > 0 {
		out.In = bars(in.Values(finished, unit))
	}
	out.Unit, out.Most = int(unit/day), int(last-first)
	out.High = out.Most
	if part, dated := s.Parts["from"]; dated {
		if part.From > math.MinInt64 {
			out.Low = min(max(int(part.From/unit-first), 0), out.Most)
		}
		if part.To < math.MaxInt64 {
			out.High = min(max(int(part.To/unit-first), out.Low), out.Most)
		}
	}
	out.First, out.Last = name(first), time.Unix((last+1)*unit-1, 0).UTC().Format(time.DateOnly)
	return out
}
