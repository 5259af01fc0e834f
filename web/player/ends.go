package player

import (
	"net/http"
	"time"

	"github.com/gin-gonic/gin"

	"omphalos/core/passage"
	"omphalos/store"
)

// Of somebody who is screened out nothing is kept but that it happened. The page that they came
// to is remembered for some minutes, so that it is there again when it is asked for again.

const (
	endsTime  = 10 * time.Minute
	endsBytes = 16 << 20
)

// An end is the page of somebody who was screened out.
type end struct {
	device   string
	personal bool
	html     []byte
}

func newEnds() *store.Memory[end] {
	return store.NewMemory(endsBytes, endsTime, func(e end) int { return len(e.html) + 200 })
}

// screenOut ends a passage of which nothing is kept, and leads to its page.
func (p *player) screenOut(c *gin.Context, j *journey, w *passage.Walker, r *passage.Result) error {
	html, err := p.views.Part("result", "layout", p.resultPage(j, w, true))
	if err != nil {
		return err
	}
	p.ends.Add(j.passage.ID, end{j.passage.Device, j.personal(), html}) // whoever comes from now on finds either
	if err := p.store.Responses.ScreenOut(c.Request.Context(), j.passage, screened(j.program, r)); err != nil {
		p.ends.Remove(j.passage.ID)
		return err
	}
	p.personal.Remove(j.passage.ID)
	p.forgetPassage(c, j.passage.Slug)
	p.showEnd(c, j.passage.ID, html)
	return nil
}

// showEnd answers with the page of an end, whatever was sent.
func (p *player) showEnd(c *gin.Context, number string, html []byte) {
	if sentByScript(c) {
		c.Header(addressHeader, passagePrefix+number+"/end")
	}
	p.send(c, http.StatusOK, html)
}

// ended shows the page of somebody who was screened out lately, and tells whether it did.
func (p *player) ended(c *gin.Context, number string) bool {
	e, known := p.ends.Get(number)
	if !known {
		return false
	}
	if cookie, token := provenBy(c, e.device); e.personal && !cookie && !token {
		p.refuse(c, nil, "")
	} else {
		p.showEnd(c, number, e.html)
	}
	return true
}
