package rehearse

import (
	"net/http"

	"github.com/gin-gonic/gin"

	"omphalos/web/player"
	"omphalos/web/studio/desk"
)

type roomPage struct {
	desk.Frame
	View     view
	Query    string
	Walk     string
	Other    string // the walk of the desktop, where it goes apart
	Phone    string // addresses of the frames
	Desktop  string
	Cant     string
	Facts    []fact
	Happens  happens
	Net      *net
	Kept     []keptRow
	Holding  int
	Hands    []handRow
	Remarks  []remarkRow
	Open     int // remarks that are not settled
	Days     int
	Revision int
}

// page shows the room.
func (s *Room) page(c *gin.Context) {
	d, ok := s.asked(c)
	if !ok {
		return
	}
	ctx := c.Request.Context()
	v := viewOf(c.Request.URL.RawQuery)
	walks, err := s.walks(c, d, v.Apart)
	if err != nil {
		s.Fail(c, err)
		return
	}
	for _, walk := range walks {
		if walk.Slow != v.Slow {
			walk.Slow = v.Slow
			if err := s.Store.Definitions.KeepWalk(ctx, walk); err != nil {
				s.Fail(c, err)
				return
			}
		}
	}
	p := roomPage{
		Frame: s.Frame(c, "Rehearse "+d.Title, "rehearse", d.Quiz), View: v, Query: v.Query(),
		Walk: walks[0].ID, Phone: player.RehearsalPrefix + walks[0].ID,
		Desktop: player.RehearsalPrefix + walks[len(walks)-1].ID, Cant: d.cant, Days: handDays, Revision: d.Revision,
		Facts: sentence(d, walks[0]), Happens: s.happens(ctx, d, walks[0], v),
	}
	if len(walks) > 1 {
		p.Other = walks[1].ID
	}
	if p.Net, err = s.netOf(ctx, d, walks[0].Facts(), v); err != nil {
		s.Fail(c, err)
		return
	}
	if p.Kept, p.Holding, err = s.keptOf(ctx, d); err != nil {
		s.Fail(c, err)
		return
	}
	if p.Hands, err = s.handsOf(c, d); err != nil {
		s.Fail(c, err)
		return
	}
	if p.Remarks, err = s.remarksOf(ctx, d); err != nil {
		s.Fail(c, err)
		return
	}
	for _, r := range p.Remarks {
		if !r.Settled {
			p.Open++
		}
	}
	s.Show(c, http.StatusOK, "rehearse", p)
}
