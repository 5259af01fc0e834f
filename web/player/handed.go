package player

import (
	"net/http"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"omphalos/core/excerpt"
	"omphalos/core/quiz"
	"omphalos/store"
	"omphalos/web/ui"
)

// Somebody to whom a rehearsal was handed opens it without an account, on any device, and
// leaves remarks about what they see.

// handedPart is what stands below the pages of such a rehearsal.
type handedPart struct {
	Action  string       // where a remark is sent
	About   quiz.Pointer // what it would be about
	Here    string       // the page to come back to
	Name    string       // who made the last one
	Remarks []store.Remark
	Frozen  bool
	Trap    string // name of a field that nobody sees
}

// The longest name and remark that are taken, in letters.
const (
	longestName   = 80
	longestRemark = 2000
)

// handedRoutes lead into rehearsals by their links.
func (p *player) handedRoutes() []ui.Route {
	return []ui.Route{ui.Get("/rehearse/:token", p.handOver)}
}

func (p *player) handOver(c *gin.Context) {
	ctx := c.Request.Context()
	hand, err := p.store.Definitions.HandOf(ctx, c.Param("token"))
	if err != nil || !hand.Open(time.Now()) {
		p.show(c, http.StatusGone, "problem", newProblem(nil, "This rehearsal is over",
			"Its link has ended or was withdrawn. Ask for another one."))
		return
	}
	if !p.limits.mayStart(c) {
		p.tooMany(c, nil)
		return
	}
	r, err := p.draft(ctx, hand.QuizID, hand)
	walk := store.Walk{QuizID: hand.QuizID, HandID: hand.ID}
	if err == nil {
		r = r.wanted(c)
		visitor := p.visitorOf(c, r.program)
		r.tell(c, visitor)
		walk.Be(*visitor)
	}
	begun, err := p.store.Definitions.NewWalk(ctx, walk)
	if err != nil {
		p.fail(c, err)
		return
	}
	p.lead(c, RehearsalPrefix+begun.ID)
}

// handedOver returns what stands below a page that is about a place of the quiz.
func (j *journey) handedOver(about quiz.Pointer) *handedPart {
	part := &handedPart{Action: j.place(remarkPlace), About: about, Frozen: j.handed.Document != "", Trap: trap}
	all, err := j.player.store.Definitions.RemarksOf(j.ctx, j.handed.ID)
	if err != nil {
		return part // the page is worth more than what was said about it
	}
	for _, r := range all {
		part.Name = r.Name
		if quiz.Pointer(r.Pointer) == about {
			part.Remarks = append(part.Remarks, r)
		}
	}
	return part
}

// remark keeps what somebody says about the page that they are on.
func (p *player) remark(c *gin.Context, j *journey) {
	if !p.readForm(c, j.released) {
		return
	}
	words := strings.TrimSpace(excerpt.Bounded(c.PostForm("words"), longestRemark))
	about := quiz.Pointer(c.PostForm("about"))
	if j.handed == nil || words == "" || !about.FitsAny("/questions/*", "/outcomes/*", "/opening", "/contact") {
		p.lead(c, j.back(about))
		return
	}
	name := strings.TrimSpace(excerpt.Bounded(c.PostForm("name"), longestName))
	err := p.store.Definitions.AddRemark(j.ctx, store.Remark{QuizID: j.rehearsal.QuizID, HandID: j.handed.ID,
		Pointer: string(about), Name: name, Words: words})
	if err != nil {
		p.fail(c, err)
		return
	}
	p.lead(c, j.back(about)+"#remarks")
}

// back is the page that is about a place.
func (j *journey) back(about quiz.Pointer) string {
	switch {
	case about == "/opening":
		return j.place(openingPlace)
	case about == "/contact":
		return j.contactAddress()
	case about.Fits("/questions/*"):
		return j.place(about.Key())
	}
	return j.end()
}
