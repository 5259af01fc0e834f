package rehearse

import (
	"encoding/json"
	"net/http"
	"slices"
	"strings"

	"github.com/gin-gonic/gin"

	"omphalos/core/edit"
	"omphalos/core/excerpt"
	"omphalos/core/odds"
	"omphalos/core/quiz"
	"omphalos/core/rehearsal"
	"omphalos/web/studio/desk"
)

// edit changes the draft as the sheet does.
func (s *Room) edit(c *gin.Context, d *draft, said string, ops ...edit.Op) {
	_, _, err := s.Store.Definitions.Edit(c.Request.Context(), d.ID, d.Revision, []byte(desk.PatchText(ops)), s.User(c))
	s.edited(c, d, said, err)
}

func (s *Room) edited(c *gin.Context, d *draft, said string, err error) {
	if err != nil {
		if said = desk.Unkept(err); said == "" {
			s.Fail(c, err)
			return
		}
	}
	s.Say(c, said, "")
	back(c, d, "#kept")
}

// keep keeps a walk, or a way of the net, as a rehearsal.
func (s *Room) keep(c *gin.Context) {
	d, ok := s.asked(c)
	if !ok || d.cant != "" {
		back(c, d, "")
		return
	}
	r := new(quiz.Rehearsal)
	if way := c.PostForm("way"); way != "" {
		if json.Unmarshal([]byte(way), r) != nil {
			c.AbortWithStatus(http.StatusBadRequest)
			return
		}
	} else {
		walk, ok := s.mine(c, d)
		if !ok {
			return
		}
		r = rehearsal.Of(d.program, s.inputOf(c.Request.Context(), d, walk))
		only(r, factsOf(d.doc))
	}
	r.Name = strings.TrimSpace(excerpt.Bounded(c.PostForm("name"), longestName))
	if r.Name == "" {
		r.Name = "To " + endOf(d.doc, r.Outcome).Name
	}
	s.edit(c, d, "Kept: it is walked again at every change.", keeping(d.doc, r))
}

const longestName = 120

// only leaves the facts of a visitor on which anything depends.
func only(r *quiz.Rehearsal, names []string) {
	for name := range r.Visitor {
		if !slices.Contains(names, name) {
			delete(r.Visitor, name)
		}
	}
	if len(r.Visitor) == 0 {
		r.Visitor = nil
	}
}

// keeping is the operation that keeps a rehearsal behind those that are there.
func keeping(q *quiz.Quiz, r *quiz.Rehearsal) edit.Op {
	r.Order = rehearsal.Behind(q)
	key := rehearsal.FreeKey(q)
	all := map[string]*quiz.Rehearsal{key: r}
	for k, one := range q.Rehearsals {
		all[k] = one
	}
	q.Rehearsals = all // the next one takes another key
	return edit.Op{Op: "add", Path: quiz.At("rehearsals", key), Value: r}
}

// keepEach keeps one rehearsal for each outcome that can be reached, or each kind of way.
func (s *Room) keepEach(c *gin.Context) {
	d, ok := s.asked(c)
	if !ok || d.cant != "" {
		back(c, d, "")
		return
	}
	visitor := anybody(d)
	if walk, err := s.Store.Definitions.Walk(c.Request.Context(), c.PostForm("walk")); err == nil && walk.QuizID == d.ID {
		visitor = walk.Facts()
	}
	ways, err := odds.Through(d.today, odds.Options{Visitor: visitor, Steps: netSteps,
		Context: c.Request.Context()}, nil)
	if err != nil {
		s.Fail(c, err)
		return
	}
	var ops []edit.Op
	doc := *d.doc
	done := map[string]bool{}
	for _, k := range ways.Kinds {
		outcome := d.program.OutcomeAt(k.Finish.Outcome)
		if c.PostForm("what") == "outcome" && done[outcome] || len(ops) == mostKinds {
			continue
		}
		done[outcome] = true
		r := rehearsal.Of(d.program, k.Example)
		only(r, factsOf(d.doc))
		r.Name = "To " + endOf(d.doc, outcome).Name
		if missing := without(d, k.Questions); missing != "" && c.PostForm("what") != "outcome" {
			r.Name = excerpt.Of(r.Name+", without "+missing, longestName)
		}
		if !slices.ContainsFunc(quiz.InOrder(doc.Rehearsals), func(key string) bool {
			return sameWay(doc.Rehearsals[key], r)
		}) {
			ops = append(ops, keeping(&doc, r))
		}
	}
	if len(ops) == 0 {
		s.Say(c, "All of them are kept already.", "")
		back(c, d, "#kept")
		return
	}
	s.edit(c, d, "Kept "+quiz.Count(len(ops), "rehearsal")+": they are walked again at every change.", ops...)
}

// sameWay tells whether two rehearsals are of the same answers and visitor.
func sameWay(a, b *quiz.Rehearsal) bool {
	return toJSON(a.Answers) == toJSON(b.Answers) && toJSON(a.Visitor) == toJSON(b.Visitor)
}
