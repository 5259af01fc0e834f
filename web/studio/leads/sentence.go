package leads

import (
	"cmp"
	"context"
	"math"
	"net/url"
	"slices"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"omphalos/core/decimal"
	"omphalos/store"
	"omphalos/store/slice"
	"omphalos/store/tally"
)

// A sentence names leads, by the fields of an address: quiz=3, state=new, owner=2, standing=fit,
// reach=400..1000, next=due, search=alder.
type sentence struct {
	address  string
	fields   url.Values // those that were understood
	after    string     // the lead that the page of the list comes after, "" for the first page
	parts    map[string]tally.Part
	days     slice.Days
	settings *store.LeadSettings
	users    []store.User
	names    map[uint]string // of users, also of those who are gone
	quizzes  map[uint]string // titles
	outcomes map[string]string
	within   *within // what is asked of responses, nil for nothing
	search   func(ctx context.Context, words string) ([]int, error)
	among    func(ctx context.Context, quiz uint, parts []tally.Part) ([]int, error)
}

func (s *Room) sentenceAt(c *gin.Context) (*sentence, error) {
	in, err := s.sentenceOf(c.Request.Context(), c.Request.URL.Query())
	if err == nil {
		in.after = c.Query("after")
	}
	return in, err
}

// sentenceOf reads a sentence. What it does not understand it leaves out.
func (s *Room) sentenceOf(ctx context.Context, query url.Values) (*sentence, error) {
	in := &sentence{address: "/studio/leads", fields: url.Values{}, parts: map[string]tally.Part{},
		days: slice.DaysIn(s.Store.Responses.Zone()), quizzes: map[uint]string{},
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
	if part, dated, asked, _ := in.days.Read(query); dated {
		in.parts["from"] = part
		for field, values := range asked {
			in.fields[field] = values
		}
	}
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
	from, to, ok := in.span(kind, values[0])
	if ok {
		in.fields.Set(field, values[0])
		in.parts[field] = tally.Part{Of: tally.Property{Kind: kind}, From: from, To: to}
	}
}

// span reads a range.
func (in *sentence) span(kind tally.Kind, value string) (from, to int64, ok bool) {
	today := int64(in.days.Today / decimal.One)
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
