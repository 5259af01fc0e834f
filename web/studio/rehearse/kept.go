package rehearse

import (
	"cmp"
	"context"
	"encoding/json"
	"net/http"
	"slices"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"omphalos/core/edit"
	"omphalos/core/excerpt"
	"omphalos/core/passage"
	"omphalos/core/quiz"
	"omphalos/core/rehearsal"
	"omphalos/web/studio/desk"
)

// A keptRow is a rehearsal that is kept, and what came of it.
type keptRow struct {
	Key     string
	Name    string
	Answers string
	As      string
	Must    endPart
	MustOn  string // its landing
	Gets    endPart
	GetsOn  string
	Holds   bool
	Wrong   []string
	Broke   string // the edit that broke it
	Since   time.Time
	Back    bool // the edit can be taken back
}

// keptOf lists the kept rehearsals of a draft, and tells how many hold.
func (s *Room) keptOf(ctx context.Context, d *draft) (list []keptRow, holds int, err error) {
	if d.cant != "" {
		return nil, 0, nil
	}
	verdicts := rehearsal.All(d.program)
	var broken []string
	for _, v := range verdicts {
		if !v.Holds {
			broken = append(broken, v.Key)
		}
	}
	by, err := s.Store.Definitions.BrokenBy(ctx, d.Quiz, broken)
	if err != nil {
		return nil, 0, err
	}
	for _, v := range verdicts {
		r := d.program.Quiz.Rehearsals[v.Key]
		row := keptRow{
			Key: v.Key, Name: cmp.Or(r.Name, v.Key), Answers: keptAnswers(d, r), As: visitorWords(r), Holds: v.Holds,
			Must: endOf(d.doc, r.Outcome), MustOn: keptLanding(d, r.Outcome, r.Landing, r.Parts),
			Gets: endOf(d.doc, v.Outcome), GetsOn: keptLanding(d, v.Outcome, v.Landing, v.Parts),
		}
		for _, key := range slices.Sorted(keysOf(v.Wrong)) {
			row.Wrong = append(row.Wrong, "“"+labelOf(d, key)+"”: "+v.Wrong[key])
		}
		for _, key := range v.Missing {
			row.Wrong = append(row.Wrong, "“"+labelOf(d, key)+"” is needed, and it has no answer to it")
		}
		if e, known := by[v.Key]; known {
			row.Broke, row.Since, row.Back = e.Sentence, e.Made, true
		}
		if v.Holds {
			holds++
		}
		list = append(list, row)
	}
	return list, holds, nil
}

func keysOf(m map[string]string) func(func(string) bool) {
	return func(yield func(string) bool) {
		for k := range m {
			if !yield(k) {
				return
			}
		}
	}
}

func labelOf(d *draft, key string) string {
	if asked := d.doc.Ask(key); asked != nil {
		return excerpt.Of(asked.Label, 60)
	}
	return key
}

func keptAnswers(d *draft, r *quiz.Rehearsal) string {
	in, _ := rehearsal.Input(d.program, r)
	return answersIn(d, in, passage.Walk(d.program, in).Seen)
}

// visitorWords says who a rehearsal is of.
func visitorWords(r *quiz.Rehearsal) string {
	var words []string
	for _, name := range append(slices.Clone(quiz.Facts), queriesOf(r)...) {
		if value := r.Visitor[name]; value != "" {
			words = append(words, value)
		}
	}
	return strings.Join(words, ", ")
}

func queriesOf(r *quiz.Rehearsal) []string {
	var names []string
	for name := range r.Visitor {
		if strings.HasPrefix(name, "query.") {
			names = append(names, name)
		}
	}
	slices.Sort(names)
	return names
}

func keptLanding(d *draft, outcome, landing string, parts bool) string {
	o := d.doc.Outcomes[outcome]
	switch {
	case parts:
		return "nothing is kept"
	case o == nil:
		return "is gone"
	case landing == "":
		return "any landing"
	case o.Landings[landing] == nil:
		return "a landing that is gone"
	}
	return passage.LandingWords(o.Landings[landing])
}

func toJSON(v any) string { return desk.JSONText(v) }

// kept does something to a kept rehearsal.
func (s *Room) kept(c *gin.Context) {
	d, ok := s.asked(c)
	if !ok {
		return
	}
	key := c.Param("key")
	r := d.doc.Rehearsals[key]
	if r == nil || d.cant != "" {
		s.Say(c, "This rehearsal is not there any more.", "")
		back(c, d, "#kept")
		return
	}
	at := quiz.At("rehearsals", key)
	switch c.PostForm("do") {
	case "accept":
		now := *r
		rehearsal.Accept(&now, rehearsal.Run(d.program, key, r).Ending)
		s.edit(c, d, "It must get that from now on.", edit.Op{Op: "add", Path: at, Value: now})
	case "remove":
		s.edit(c, d, "It is not kept any more. Undo on the sheet brings it back.", edit.Op{Op: "remove", Path: at})
	case "back":
		s.takeBack(c, d, key)
	default:
		s.walkOn(c, d, r)
	}
}

// takeBack takes the edit back that broke a rehearsal, whatever came after it.
func (s *Room) takeBack(c *gin.Context, d *draft, key string) {
	by, err := s.Store.Definitions.BrokenBy(c.Request.Context(), d.Quiz, []string{key})
	if err != nil {
		s.Fail(c, err)
		return
	}
	e, known := by[key]
	if !known {
		s.Say(c, "The edit that broke it is not found any more: change it on the sheet.", "")
		back(c, d, "#kept")
		return
	}
	_, _, err = s.Store.Definitions.Edit(c.Request.Context(), d.ID, d.Revision, []byte(e.Inverse), s.User(c))
	s.edited(c, d, "Taken back: "+e.Sentence+".", err)
}

// goWay walks a way of the net.
func (s *Room) goWay(c *gin.Context) {
	d, ok := s.asked(c)
	if !ok {
		return
	}
	r := new(quiz.Rehearsal)
	if json.Unmarshal([]byte(c.PostForm("way")), r) != nil {
		c.AbortWithStatus(http.StatusBadRequest)
		return
	}
	s.walkOn(c, d, r)
}

// walkOn puts a rehearsal into the frames: at its beginning, with the answers ready.
func (s *Room) walkOn(c *gin.Context, d *draft, r *quiz.Rehearsal) {
	walk, ok := s.mine(c, d)
	if !ok {
		return
	}
	walk.Type(walkFrom(r))
	walk.Be(*visitorFrom(r, d))
	walk.Begun, walk.Finished = false, true
	if err := s.Store.Definitions.KeepWalk(c.Request.Context(), walk); err != nil {
		s.Fail(c, err)
		return
	}
	back(c, d, "")
}
