package leads

import (
	"cmp"
	"context"
	"math"
	"net/url"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
	"omphalos/store"
	"omphalos/store/tally"
)

// A sentence names leads, by the fields of an address: quiz=3, state=new, owner=2, standing=fit,
// reach=400..1000, next=due, search=alder.
type sentence struct {
	address  string
	fields   url.Values // those that were understood
	after    string     // the lead that the page of the list comes after, "" for the first page
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
		quizzes:  map[uint]string{},
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
