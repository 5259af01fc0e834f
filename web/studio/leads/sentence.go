package leads

import (
	"cmp"
	"context"
	"maps"
	"math"
	"net/url"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"omphalos/core/atlas"
	"omphalos/core/decimal"
	"omphalos/core/quiz"
	"omphalos/store"
	"omphalos/store/tally"
	"omphalos/web/studio/desk"
)

// A sentence names leads, by the fields of an address: quiz=3, state=new, owner=2, standing=fit,
// reach=400..1000, next=due, search=alder.
type sentence struct {
	address  string
	fields   url.Values // those that were understood
	parts    map[string]tally.Part
	settings *store.LeadSettings
	users    []store.User
	names    map[uint]string // of users, also of those who are gone
	quizzes  map[uint]string // titles
	outcomes map[string]string
	within   *within // what is asked of responses, nil for nothing
	search   func(ctx context.Context, words string) ([]int, error)
	among    func(ctx context.Context, quiz uint, parts []tally.Part) ([]int, error)
}

// facets are the parts of the sentence, in their order.
var facets = []struct {
	kind tally.Kind
	any  string // what the sentence says where none is chosen
	one  string // what it says before those that are
	rare bool   // it is offered where all parts are asked for
}{
	{tally.Quiz, "of all quizzes", "of ", false},
	{tally.Standing, "of any standing", "that are ", false},
	{tally.Outcome, "with any outcome", "with ", true},
	{tally.State, "in any state", "that are ", false},
	{tally.Owner, "in anybody’s hands", "in the hands of ", false},
	{tally.Next, "whenever due", "due ", false},
	{tally.Source, "from any source", "from ", false},
	{tally.Country, "in any country", "in ", false},
	{tally.Reach, "with any score", "in the ", true},
	{tally.Medium, "by any medium", "by ", true},
	{tally.Campaign, "of any campaign", "of ", true},
	{tally.Language, "in any language", "in ", true},
	{tally.Device, "on any device", "on a ", true},
}

// more tells whether all parts of the sentence are asked for.
func (in *sentence) more() bool { return in.fields.Get("parts") == "all" }

// spans are the values of parts that are ranges, with what they are called.
var spans = map[tally.Kind][]struct{ value, name string }{
	tally.Next:  {{"due", "today or before"}, {"week", "within a week"}, {"later", "later"}},
	tally.Reach: {{"750..1000", "highest quarter of scores"}, {"500..1000", "upper half of scores"}, {"0..499", "lower half of scores"}},
}

func (s *Room) sentenceAt(c *gin.Context) (*sentence, error) {
	return s.sentenceOf(c.Request.Context(), c.Request.URL.Query())
}

// sentenceOf reads a sentence. What it does not understand it leaves out.
func (s *Room) sentenceOf(ctx context.Context, query url.Values) (*sentence, error) {
	in := &sentence{address: "/studio/leads", fields: url.Values{}, parts: map[string]tally.Part{}, quizzes: map[uint]string{},
		outcomes: map[string]string{}, search: s.Store.Responses.SearchLeads,
		among: s.Store.Responses.LeadsAmong}
	var err error
	if in.settings, err = s.Store.Responses.LeadSettings(ctx); err != nil {
		return nil, err
	}
	if in.users, err = s.Store.People.Users(ctx); err != nil {
		return nil, err
	}
	if in.names, err = s.Store.People.Names(ctx); err != nil {
		return nil, err
	}
	list, err := s.Store.Definitions.Quizzes(ctx)
	if err != nil {
		return nil, err
	}
	for _, z := range list {
		in.quizzes[z.ID] = z.Title
		outline, err := z.Outline()
		if err != nil {
			continue
		}
		for key, o := range outline.Outcomes {
			in.outcomes[outcomeValue(z.ID, key)] = cmp.Or(o.Name, key)
		}
	}
	for _, f := range facets {
		in.take(string(f.kind), query[string(f.kind)])
	}
	in.days(query)
	if err := s.readWithin(ctx, in, query); err != nil {
		return nil, err
	}
	for _, field := range []string{"search", "sort", "parts"} {
		if value := strings.TrimSpace(query.Get(field)); value != "" {
			in.fields.Set(field, value)
		}
	}
	return in, nil
}

func outcomeValue(quiz uint, key string) string {
	return strconv.FormatUint(uint64(quiz), 10) + "/" + key
}

// take takes a part of the sentence.
func (in *sentence) take(field string, values []string) {
	values = slices.DeleteFunc(slices.Clone(values), func(v string) bool { return v == "" })
	if len(values) == 0 {
		return
	}
	kind := tally.Kind(field)
	if !kind.Column() {
		in.fields[field], in.parts[field] = values, tally.Part{Of: tally.Property{Kind: kind}, Values: values}
		return
	}
	from, to, ok := span(kind, values[0], time.Now().UTC())
	if ok {
		in.fields.Set(field, values[0])
		in.parts[field] = tally.Part{Of: tally.Property{Kind: kind}, From: from, To: to}
	}
}

// span reads a range.
func span(kind tally.Kind, value string, now time.Time) (from, to int64, ok bool) {
	today := now.Unix() / 86400
	switch {
	case kind == tally.Next && value == "due":
		return math.MinInt64, today, true
	case kind == tally.Next && value == "week":
		return today, today + 7, true
	case kind == tally.Next && value == "later":
		return today + 1, math.MaxInt64, true
	case kind == tally.Reach:
		low, high, two := strings.Cut(value, "..")
		a, err := strconv.ParseInt(low, 10, 64)
		b, err2 := strconv.ParseInt(cmp.Or(high, low), 10, 64)
		return a, b, err == nil && err2 == nil && (two || low != "")
	}
	return 0, 0, false
}

// days takes the days on which the newest responses came, both included.
func (in *sentence) days(query url.Values) {
	part := tally.Part{Of: tally.Property{Kind: tally.Finished}, From: math.MinInt64, To: math.MaxInt64}
	for _, field := range []string{"from", "to"} {
		day, err := quiz.ParseDay(query.Get(field))
		if err != nil {
			continue
		}
		in.fields.Set(field, query.Get(field))
		if at := int64(day/decimal.One) * 86400; field == "from" {
			part.From = at
		} else {
			part.To = at + 86399
		}
		in.parts["from"] = part
	}
}

// found are the leads of the search and of what is asked of their responses, nil where nothing is.
func (in *sentence) found(ctx context.Context) (ids []int, err error) {
	words := in.fields.Get("search")
	if words != "" {
		if ids, err = in.search(ctx, words); err != nil {
			return nil, err
		}
		ids = append([]int{}, ids...)
	}
	if in.within == nil {
		return ids, nil
	}
	answered, err := in.among(ctx, in.within.quiz, in.within.slice.All())
	if words == "" || err != nil {
		return answered, err
	}
	has := map[int]bool{}
	for _, id := range answered {
		has[id] = true
	}
	return slices.DeleteFunc(ids, func(id int) bool { return !has[id] }), nil
}

// slice are the leads of the sentence, but for some of its fields.
func (in *sentence) slice(t *tally.Tally, found []int, but ...string) tally.Slice {
	var parts []tally.Part
	for field, part := range in.parts {
		if !slices.Contains(but, field) {
			parts = append(parts, part)
		}
	}
	all := t.Slice(parts...)
	if found != nil {
		all = all.Among(found)
	}
	return all
}

const mostOptions = 40

// facets are the parts of the sentence: those that tell leads apart, and those that are set.
func (in *sentence) facets(t *tally.Tally, slice tally.Slice, found []int) []desk.Facet {
	var list []desk.Facet
	for _, f := range facets {
		field := string(f.kind)
		chosen := in.fields[field]
		if f.rare && len(chosen) == 0 && !in.more() {
			continue
		}
		others := slice
		if len(chosen) > 0 {
			others = in.slice(t, found, field)
		}
		one := desk.Facet{Field: field, Words: f.any, Set: len(chosen) > 0, Hidden: in.hide(field), Clear: in.without(field), Before: f.one}
		counts := in.counts(f.kind, others)
		if len(chosen) == 0 && (len(counts) == 0 || len(counts) == 1 && !f.kind.Column() && counts[0].Count == others.Count()) {
			continue
		}
		var names []string
		for _, c := range counts[:min(len(counts), mostOptions)] {
			option := desk.Option{Value: c.Value, Name: in.named(f.kind, c.Value), Count: c.Count, Chosen: slices.Contains(chosen, c.Value)}
			if option.Chosen {
				names = append(names, option.Name)
			}
			one.Options = append(one.Options, option)
		}
		for _, value := range chosen { // what nobody has, or few
			if !slices.ContainsFunc(one.Options, func(o desk.Option) bool { return o.Value == value }) {
				one.Options = append(one.Options, desk.Option{Value: value, Name: in.named(f.kind, value), Chosen: true})
				names = append(names, in.named(f.kind, value))
			}
		}
		if one.Set {
			one.Words = f.one + strings.Join(names, " or ")
		}
		list = append(list, one)
	}
	return list
}

// counts are the values of a part with how many leads have them.
func (in *sentence) counts(kind tally.Kind, of tally.Slice) []tally.Count {
	property := tally.Property{Kind: kind}
	if !kind.Column() {
		return of.Split(property)
	}
	var list []tally.Count
	for _, s := range spans[kind] {
		from, to, _ := span(kind, s.value, time.Now().UTC())
		if n := of.And(tally.Part{Of: property, From: from, To: to}).Count(); n > 0 {
			list = append(list, tally.Count{Value: s.value, Count: n})
		}
	}
	return list
}

// named is what a value is called.
func (in *sentence) named(kind tally.Kind, value string) string {
	for _, s := range spans[kind] {
		if s.value == value {
			return s.name
		}
	}
	switch id, _ := strconv.ParseUint(value, 10, 64); kind {
	case tally.Quiz:
		return "“" + cmp.Or(in.quizzes[uint(id)], "a quiz that is deleted") + "”"
	case tally.Outcome:
		return "“" + cmp.Or(in.outcomes[value], value) + "”"
	case tally.Owner:
		return in.nameOf(uint(id))
	case tally.State:
		return in.settings.State(value).Name
	case tally.Country:
		return atlas.Name(value, "en")
	}
	return value
}

// nameOf is what a user is called.
func (in *sentence) nameOf(user uint) string {
	if user == 0 {
		return "nobody"
	}
	return cmp.Or(in.names[user], "somebody who has left")
}

// hide lists the fields of the address but some.
func (in *sentence) hide(but ...string) []desk.Hidden {
	var list []desk.Hidden
	for _, field := range slices.Sorted(maps.Keys(in.fields)) {
		if slices.Contains(but, field) {
			continue
		}
		for _, value := range in.fields[field] {
			list = append(list, desk.Hidden{Name: field, Value: value})
		}
	}
	return list
}

// at is the address with a field set, or without it where the value is "".
func (in *sentence) at(field, value string) string {
	fields := url.Values{}
	for name, values := range in.fields {
		fields[name] = values
	}
	fields.Set(field, value)
	if value == "" {
		fields.Del(field)
	}
	return in.to(fields)
}

func (in *sentence) to(fields url.Values) string {
	if len(fields) == 0 {
		return in.address
	}
	return in.address + "?" + fields.Encode()
}

// without is the address without some fields.
func (in *sentence) without(fields ...string) string {
	left := url.Values{}
	for name, values := range in.fields {
		if !slices.Contains(fields, name) {
			left[name] = values
		}
	}
	return in.to(left)
}

// timeWords says the days of the sentence.
func (in *sentence) timeWords() string {
	from, to := in.fields.Get("from"), in.fields.Get("to")
	switch {
	case from == "" && to == "":
		return "of any time"
	case to == "":
		return "since " + from
	case from == "":
		return "until " + to
	}
	return "from " + from + " to " + to
}

// recents are the last days, counted from today.
func (in *sentence) recents(now time.Time) []desk.Option {
	var list []desk.Option
	for _, n := range []int{7, 30, 90} {
		from := now.AddDate(0, 0, 1-n).Format(time.DateOnly)
		fields := url.Values{"from": {from}}
		for name, values := range in.fields {
			if name != "from" && name != "to" {
				fields[name] = values
			}
		}
		list = append(list, desk.Option{Value: in.to(fields), Name: "the last " + strconv.Itoa(n) + " days",
			Chosen: in.fields.Get("from") == from && !in.fields.Has("to")})
	}
	return append(list, desk.Option{Value: in.without("from", "to"), Name: "any time", Chosen: !in.fields.Has("from") && !in.fields.Has("to")})
}

// A column of the list, with the address that sorts by it, "" where that can't be.
type column struct{ Name, Sort, Order string }

// sortable are the columns that sort, with whether the most comes first.
var sortable = []struct {
	key, name string
	by        tally.Kind
	falling   bool
}{
	{"", "Who", "", false},
	{"reach", "Score", tally.Reach, true},
	{"finished", "Reached", tally.Finished, true},
	{"state", "State", tally.State, false},
	{"owner", "With", tally.Owner, false},
	{"next", "Next", tally.Next, false},
	{"source", "Source", tally.Source, false},
}

// order is how the leads are sorted: by the newest where nothing that is known is said.
func (in *sentence) order() (by string, order tally.Order) {
	key, falling := strings.CutPrefix(in.fields.Get("sort"), "-")
	for _, c := range sortable {
		if c.key == key && key != "" {
			return key, tally.Order{By: tally.Property{Kind: c.by}, Falling: falling}
		}
	}
	return "finished", tally.Order{By: tally.Property{Kind: tally.Finished}, Falling: true}
}

func (in *sentence) columns(by string, order tally.Order) []column {
	var list []column
	for _, c := range sortable {
		one := column{Name: c.name}
		if c.key != "" {
			next := c.key
			if c.falling {
				next = "-" + next
			}
			if c.key == by {
				one.Order = "ascending"
				if next = "-" + c.key; order.Falling {
					one.Order, next = "descending", c.key
				}
			}
			one.Sort = in.at("sort", next)
		}
		list = append(list, one)
	}
	return list
}
