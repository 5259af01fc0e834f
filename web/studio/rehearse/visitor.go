package rehearse

import (
	"regexp"
	"slices"
	"strings"

	"github.com/gin-gonic/gin"

	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/store"
)

// A fact is a part of the sentence that says who the visitor is.
type fact struct {
	Name   string // of quiz.Facts, or "query.NAME"
	Before string // words before it
	Label  string // what is read out
	Value  string
	Type   string // of its field
	Among  []string
	Wrong  string
}

// wordings are how the sentence goes: what stands before each fact.
var wordings = map[string]fact{
	"country":  {Before: "from", Label: "Country, as two letters"},
	"language": {Before: "reading", Label: "Language, such as en"},
	"device":   {Before: "on a", Label: "Device", Among: []string{"phone", "tablet", "desktop"}},
	"referrer": {Before: "coming from the site", Label: "Site that they come from"},
	"source":   {Before: "sent by", Label: "Source (utm_source)"},
	"medium":   {Before: "by way of", Label: "Medium (utm_medium)"},
	"campaign": {Before: "in the campaign", Label: "Campaign (utm_campaign)"},
	"term":     {Before: "for the term", Label: "Term (utm_term)"},
	"content":  {Before: "by the link", Label: "Content (utm_content)"},
	"date":     {Before: "on", Label: "Date", Type: "date"},
	"time":     {Before: "at", Label: "Time", Type: "time"},
	"weekday": {Before: "being a", Label: "Day of the week",
		Among: []string{"monday", "tuesday", "wednesday", "thursday", "friday", "saturday", "sunday"}},
}

// What asks for a fact: a clause of a condition, or a fill-in.
var (
	clauseFact = regexp.MustCompile(`"visitor":\s*"([\w.\-]+)"`)
	filledFact = regexp.MustCompile(`visitor\.((?:query\.)?[\w\-]+)`)
)

// factsOf lists the facts that the quiz depends on, in the order of the sentence.
func factsOf(q *quiz.Quiz) []string {
	without := *q
	without.Rehearsals = nil
	document := string(without.Write())
	var names []string
	for _, of := range []*regexp.Regexp{clauseFact, filledFact} {
		for _, m := range of.FindAllStringSubmatch(document, -1) {
			if _, known := wordings[m[1]]; (known || strings.HasPrefix(m[1], "query.")) && !slices.Contains(names, m[1]) {
				names = append(names, m[1])
			}
		}
	}
	if len(q.Translations) > 0 && !slices.Contains(names, "language") {
		names = append(names, "language")
	}
	rank := func(name string) int {
		if i := slices.Index(quiz.Facts, name); i >= 0 {
			return i
		}
		return len(quiz.Facts)
	}
	slices.SortStableFunc(names, func(a, b string) int { return rank(a) - rank(b) })
	return names
}

// sentence says who the visitor of a walk is, as far as anything depends on it.
func sentence(d *draft, walk *store.Walk) []fact {
	v := walk.Facts()
	var list []fact
	for _, name := range factsOf(d.doc) {
		f, known := wordings[name]
		if !known {
			parameter := strings.TrimPrefix(name, "query.")
			f = fact{Before: "with ?" + parameter + "=", Label: "Parameter " + parameter}
		}
		f.Name, f.Value = name, v.Fact(name)
		if name == "language" && len(d.doc.Translations) > 0 {
			f.Label = "Language, one of " + strings.Join(d.doc.Languages(), ", ")
		}
		list = append(list, f)
	}
	return list
}

// be makes the visitor of a walk somebody else; what was answered stays.
func (s *Room) be(c *gin.Context) {
	d, ok := s.asked(c)
	if !ok {
		return
	}
	walk, ok := s.mine(c, d)
	if !ok {
		return
	}
	v, said := walk.Facts(), ""
	for _, name := range factsOf(d.doc) {
		value := strings.TrimSpace(c.PostForm(name))
		if err := new(program.Visitor).Read(name, value); err != nil {
			said = "The visitor stayed as they were: " + strings.TrimPrefix(err.Error(), "visitor.") + "."
			continue
		}
		v.Set(name, "")
		_ = v.Read(name, value) // has just been read
	}
	walk.Be(*v)
	if err := s.Store.Definitions.KeepWalk(c.Request.Context(), walk); err != nil {
		s.Fail(c, err)
		return
	}
	if said != "" {
		s.Say(c, said, "")
	}
	back(c, d, "")
}
