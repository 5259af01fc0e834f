// Package rehearse is the room in which a draft is walked as anybody, before it is public.
package rehearse

import (
	"context"
	"embed"
	"errors"
	"net/http"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"omphalos/core/edit"
	"omphalos/core/finding"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/store"
	"omphalos/web/player"
	"omphalos/web/studio/desk"
	"omphalos/web/ui"
)

//go:embed *.html
var templates embed.FS

// A Room walks drafts.
type Room struct{ *desk.Desk }

// New returns the room at a desk.
func New(d *desk.Desk) *Room { return &Room{d.With(templates)} }

// Routes are the room's, each with what it takes.
func (s *Room) Routes() []ui.Route {
	const room = "/quizzes/:quiz/rehearse"
	return []ui.Route{
		ui.Get(room, s.page),
		ui.Get(room+"/happens", s.happensPart),
		ui.Get(room+"/letter", s.letter),
		ui.Get(room+"/letter/body", s.letterBody),
		ui.Post(room+"/visitor", ui.Form, s.be),
		ui.Post(room+"/again", ui.Form, s.again),
		ui.Post(room+"/answer", ui.Form, s.answer),
		ui.Post(room+"/keep", ui.Form, s.keep),
		ui.Post(room+"/each", ui.Form, s.keepEach),
		ui.Post(room+"/go", ui.Form, s.goWay),
		ui.Post(room+"/kept/:key", ui.Form, s.kept),
		ui.Post(room+"/hands", ui.Form, s.handOver),
		ui.Post(room+"/hands/:hand", ui.Form, s.withdraw),
		ui.Post(room+"/remarks/:remark", ui.Form, s.settle),
	}
}

// A draft is one as it can be walked.
type draft struct {
	*store.Quiz
	doc     *quiz.Quiz // as it was written
	program *program.Program
	today   *program.Program // as it is asked today
	cant    string           // why it can't be walked, "" where it can
	found   []finding.Finding
}

func draftOf(z *store.Quiz) (*draft, error) {
	q, problems, err := z.Checked()
	if err != nil {
		return nil, err
	}
	written := edit.Written(q) // what was never written is not released
	if written != q {
		problems = written.Check()
	}
	d := &draft{Quiz: z, doc: q}
	var problem quiz.Problem
	d.program, err = program.CompileDraft(written, problems)
	if errors.As(err, &problem) {
		d.cant = desk.SentenceOf(problem.Message)
		return d, nil
	}
	if err == nil {
		d.today = d.program.On(ui.Today(written))
	}
	return d, err
}

// asked returns the draft that an address names, or answers that it is not there.
func (s *Room) asked(c *gin.Context) (*draft, bool) {
	z, ok := s.QuizOf(c)
	if !ok {
		return nil, false
	}
	d, err := draftOf(z)
	if err != nil {
		s.Fail(c, err)
		return nil, false
	}
	return d, true
}

func address(d *draft) string { return desk.Address(d.Quiz) + "/rehearse" }

// The walks of a browser through a quiz are remembered in a cookie: that of both frames, or
// of the phone, and that of the desktop where they go apart.
const (
	walksCookie = "walks"
	walksTime   = 7 * 24 * 60 * 60 // seconds
)

// walks returns the walks of the frames: one that both share, or two.
func (s *Room) walks(c *gin.Context, d *draft, apart bool) ([]*store.Walk, error) {
	kept, _ := c.Cookie(walksCookie)
	ids := append(strings.Fields(kept), "", "")
	count := 1
	if apart {
		count = 2
	}
	var list []*store.Walk
	fresh := false
	for i := range count {
		walk, err := s.Store.Definitions.Walk(c.Request.Context(), ids[i])
		if errors.Is(err, store.ErrNotFound) || err == nil && walk.QuizID != d.ID {
			fresh = true
			walk, err = s.begin(c.Request.Context(), d, nil)
		}
		if err != nil {
			return nil, err
		}
		ids[i] = walk.ID
		list = append(list, walk)
	}
	if fresh {
		s.SetCookie(c, walksCookie, strings.TrimSpace(ids[0]+" "+ids[1]), desk.Address(d.Quiz), walksTime)
	}
	return list, nil
}

// begin begins a walk as a visitor, or as anybody who comes now.
func (s *Room) begin(ctx context.Context, d *draft, v *program.Visitor) (*store.Walk, error) {
	if v == nil {
		v = anybody(d)
	}
	walk := store.Walk{QuizID: d.ID}
	walk.Be(*v)
	return s.Store.Definitions.NewWalk(ctx, walk)
}

// anybody is a visitor of whom nothing is known but when they come, on a phone.
func anybody(d *draft) *program.Visitor {
	v := &program.Visitor{Device: "phone"}
	v.Come(time.Now().In(d.doc.Zone()))
	return v
}

// mine returns a walk that a form names, where it is one through the quiz.
func (s *Room) mine(c *gin.Context, d *draft) (*store.Walk, bool) {
	walk, err := s.Store.Definitions.Walk(c.Request.Context(), c.PostForm("walk"))
	if err == nil && walk.QuizID != d.ID {
		err = store.ErrNotFound
	}
	if err != nil {
		s.Fail(c, err)
		return nil, false
	}
	return walk, true
}

// back leads to the room again, looked at as before.
func back(c *gin.Context, d *draft, anchor string) {
	c.Redirect(http.StatusSeeOther, address(d)+viewOf(c.PostForm("view")).query("")+anchor)
}

// again begins anew, as the same visitor.
func (s *Room) again(c *gin.Context) {
	d, ok := s.asked(c)
	if !ok {
		return
	}
	walk, ok := s.mine(c, d)
	if !ok {
		return
	}
	walk.Answers, walk.Begun, walk.Finished = "{}", false, false
	if err := s.Store.Definitions.KeepWalk(c.Request.Context(), walk); err != nil {
		s.Fail(c, err)
		return
	}
	back(c, d, "")
}

// answer changes one answer of a walk, which goes on from there.
func (s *Room) answer(c *gin.Context) {
	d, ok := s.asked(c)
	if !ok {
		return
	}
	walk, ok := s.mine(c, d)
	if !ok {
		return
	}
	typed := walk.Typed()
	typed[c.PostForm("question")] = program.Typed{Values: []string{c.PostForm("answer")}}
	walk.Type(typed)
	if err := s.Store.Definitions.KeepWalk(c.Request.Context(), walk); err != nil {
		s.Fail(c, err)
		return
	}
	if c.GetHeader("Accept") == "application/json" {
		c.JSON(http.StatusOK, gin.H{"at": player.RehearsalPrefix + walk.ID})
		return
	}
	back(c, d, "")
}
