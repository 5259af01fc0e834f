package learn

import (
	"net/url"
	"slices"
	"strconv"
	"strings"

	"omphalos/core/quiz"
	"omphalos/store"
	"omphalos/store/slice"
)

// A sentence is a slice with its address: what the address says beside is not looked at.
type sentence struct {
	slice.Slice
	address  string // of the room
	quiz     *quiz.Quiz
	releases []store.Release
	days     slice.Days
	place    func(table, key string) string // what a place is called

	view          url.Values // how responses are listed
	versus, value string     // the field and the value that name the slice it is compared with
}

func sentenceAt(
	address string,
	q *quiz.Quiz,
	releases []store.Release,
	place func(table, key string) string,
	query url.Values,
	columns *slice.Table,
	days slice.Days,
) (*sentence, error) {
	asked := url.Values{}
	for field, values := range query {
		if !besides(field) {
			asked[field] = values
		}
	}
	read, err := slice.ReadOf(days, columns, releases, asked)
	s := &sentence{Slice: read, address: address, quiz: q, releases: releases, days: days, place: place,
		view: viewOf(query)}
	s.against(query)
	return s, err
}

// besides tells whether a field of an address is not about which responses are meant: how they
// are listed, with what they are compared, what a page of the room asks for beside them.
func besides(field string) bool {
	return slices.Contains(viewed, field) || slices.Contains(pages, field) || field == "vs" ||
		strings.HasPrefix(field, "vs.") || strings.HasPrefix(field, "share.") || strings.HasPrefix(field, "was.")
}

var pages = []string{"after", "before", "most", "part", "run", "scores", "through", "wanted", "way", "words", "ordered",
	"asked"}

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

// leads is the address of the leads that the slice's responses are of. All of them left a contact.
func (s *sentence) leads(id uint) string {
	of := strconv.FormatUint(uint64(id), 10)
	fields := url.Values{"quiz": {of}}
	for field, values := range s.Asked {
		switch kind, _, keyed := strings.Cut(field, "."); {
		case field == "outcome":
			for _, value := range values {
				fields.Add(field, of+"/"+value)
			}
		case keyed && (kind == "answer" || kind == "amount" || kind == "score"),
			slices.Contains([]string{"release", "pressed", "from", "to", "last", "source", "medium", "campaign",
				"device", "country", "language"}, field):
			fields[field] = values
		}
	}
	return "/studio/leads?" + fields.Encode()
}
