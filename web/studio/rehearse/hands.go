package rehearse

import (
	"context"
	"errors"
	"strconv"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"omphalos/core/excerpt"
	"omphalos/core/quiz"
	"omphalos/store"
	"omphalos/web/ui"
)

// A handRow is a link by which a rehearsal was handed to somebody.
type handRow struct {
	store.Hand
	Address string
	Opens   bool
	Frozen  bool
}

// A remarkRow is what somebody said about a place.
type remarkRow struct {
	store.Remark
	Where string
	Jump  string // its place on the sheet
}

// handDays is how long a link opens, if nothing else is said.
const handDays = 7

func (s *Room) handsOf(c *gin.Context, d *draft) ([]handRow, error) {
	list, err := s.Store.Definitions.Hands(c.Request.Context(), d.ID)
	if err != nil {
		return nil, err
	}
	home := ui.Origin(c.Request, s.Public)
	var rows []handRow
	for _, h := range list {
		rows = append(rows, handRow{h, home + "/rehearse/" + h.Token, h.Open(time.Now()), h.Document != ""})
	}
	return rows, nil
}

func (s *Room) remarksOf(ctx context.Context, d *draft) ([]remarkRow, error) {
	list, err := s.Store.Definitions.Remarks(ctx, d.ID)
	if err != nil {
		return nil, err
	}
	var rows []remarkRow
	for _, r := range list {
		row := remarkRow{Remark: r, Where: "a place that is gone"}
		at := quiz.Pointer(r.Pointer)
		switch {
		case at == "/opening":
			row.Where, row.Jump = "the opening", "part-opening"
		case at == "/contact":
			row.Where, row.Jump = "contact", "part-contact"
		case at.Fits("/questions/*") && d.doc.Questions[at.Key()] != nil:
			row.Where, row.Jump = "“"+labelOf(d, at.Key())+"”", "part-q-"+at.Key()
		case at.Fits("/outcomes/*") && d.doc.Outcomes[at.Key()] != nil:
			row.Where, row.Jump = "the result "+endOf(d.doc, at.Key()).Name, "part-o-"+at.Key()
		}
		rows = append(rows, row)
	}
	return rows, nil
}

// handOver makes a link.
func (s *Room) handOver(c *gin.Context) {
	d, ok := s.asked(c)
	if !ok {
		return
	}
	days, err := strconv.Atoi(c.PostForm("days"))
	if err != nil || days < 1 || days > 90 {
		days = handDays
	}
	h := store.Hand{QuizID: d.ID, UserID: s.User(c), Ends: time.Now().AddDate(0, 0, days),
		Note: strings.TrimSpace(excerpt.Bounded(c.PostForm("note"), longestName))}
	if c.PostForm("state") == "now" {
		h.Document = d.Draft
	}
	if _, err := s.Store.Definitions.NewHand(c.Request.Context(), h); err != nil {
		s.Fail(c, err)
		return
	}
	s.Say(c, "The link is ready: send it to whoever should look.", "")
	back(c, d, "#hands")
}

func (s *Room) withdraw(c *gin.Context) {
	d, ok := s.asked(c)
	if !ok {
		return
	}
	id, _ := strconv.ParseUint(c.Param("hand"), 10, 32)
	err := s.Store.Definitions.Withdraw(c.Request.Context(), d.ID, uint(id))
	if err != nil && !errors.Is(err, store.ErrNotFound) {
		s.Fail(c, err)
		return
	}
	s.Say(c, "The link opens nothing any more.", "")
	back(c, d, "#hands")
}

// settle answers a remark, and says whether it is settled.
func (s *Room) settle(c *gin.Context) {
	d, ok := s.asked(c)
	if !ok {
		return
	}
	id, _ := strconv.ParseUint(c.Param("remark"), 10, 32)
	answer := strings.TrimSpace(excerpt.Bounded(c.PostForm("answer"), 2000))
	err := s.Store.Definitions.AnswerRemark(c.Request.Context(), d.ID, uint(id), answer,
		c.PostForm("do") != "open", s.User(c))
	if err != nil && !errors.Is(err, store.ErrNotFound) {
		s.Fail(c, err)
		return
	}
	if at := c.PostForm("back"); strings.HasPrefix(at, "part-") {
		c.Redirect(303, "/studio/quizzes/"+strconv.Itoa(int(d.ID))+"#"+at)
		return
	}
	back(c, d, "#remarks")
}
