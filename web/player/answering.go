package player

import (
	"errors"
	"log/slog"
	"maps"
	"net/http"
	"slices"

	"github.com/gin-gonic/gin"

	"omphalos/core/quiz"
	"omphalos/store"
)

// answer takes what was typed for one question and goes on, or back.
func (p *player) answer(c *gin.Context) {
	j, ok := p.journey(c)
	if !ok {
		return
	}
	p.take(c, j, c.Param("question"))
}

// take takes what was typed on a page of a passage.
func (p *player) take(c *gin.Context, j *journey, key string) {
	if key == pressedPlace {
		p.pressed(c, j)
		return
	}
	if !p.readForm(c, j.released) {
		return
	}
	if j.passage.Finished && key == contactPage {
		p.contactAfter(c, j)
		return
	}
	if j.passage.Finished && key == mailPlace {
		p.mailResult(c, j)
		return
	}
	if j.passage.Finished {
		p.landAgain(c, j)
		return
	}
	if key == contactPage && j.wantsContact(quiz.BeforeResult) {
		p.contact(c, j)
		return
	}
	at := j.program.Position(key)
	if at < 0 || !slices.Contains(j.path(), at) {
		p.lead(c, j.here())
		return
	}
	p.took(c, j, at)
}

// A personPage asks whether it was a person who filled in a form.
type personPage struct {
	frame
	Action string
	Fields []sentField
}

// A sentField is what was sent, to be sent again.
type sentField struct{ Name, Value string }

// readForm looks at the form that was sent. Where the field was filled in that nobody sees, by a
// robot or by a program that helps a person, it asks which before anything is done.
func (p *player) readForm(c *gin.Context, r *released) bool {
	if c.PostForm(trap) == "" || c.PostForm(personField) != "" {
		return true
	}
	page := personPage{frame: newFrame(r, ""), Action: c.Request.URL.RequestURI()}
	page.Title = page.Say("One more question")
	for _, name := range slices.Sorted(maps.Keys(c.Request.PostForm)) {
		for _, value := range c.Request.PostForm[name] {
			page.Fields = append(page.Fields, sentField{name, value})
		}
	}
	p.show(c, http.StatusUnprocessableEntity, "person", page)
	return false
}

// took keeps what was typed on the page of a question and goes on, or back. What
// can't be taken is kept as it was typed, and asked again.
func (p *player) took(c *gin.Context, j *journey, at int) {
	asked := j.read(c.Request.PostForm)
	page := j.together(at)
	j.stayed(page)
	ask := func(status int, wrongs map[int]string) { p.show(c, status, "question", j.page(page, wrongs)) }
	notKept := func(err error) {
		status, sorry := sorryFor(c, err)
		ask(status, map[int]string{page[0]: j.tongue().
			sorry("Your answer could not be kept just now. It is still here: " + sorry)})
	}
	if c.PostForm("go") == "look" { // a script asks what the page holds now
		if err := p.save(j); err != nil {
			notKept(err)
			return
		}
		ask(http.StatusOK, nil)
		return
	}
	back := c.PostForm("go") == "back"
	fresh := slices.ContainsFunc(page, func(at int) bool { return !slices.Contains(asked, at) })
	if !back {
		wrongs := j.wrongs(
			slices.DeleteFunc(slices.Clone(page), func(at int) bool { return !slices.Contains(asked, at) }),
		)
		if len(wrongs) > 0 {
			ask(http.StatusUnprocessableEntity, wrongs)
			return
		}
		if _, more := j.after(page[len(page)-1]); !fresh && !more && len(j.missing()) == 0 &&
			!j.wantsContact(quiz.BeforeResult) {
			p.finish(c, j, at, notKept)
			return
		}
	}
	if err := p.save(j); err != nil {
		notKept(err)
		return
	}
	next, more := j.after(page[len(page)-1])
	switch {
	case back:
		p.lead(c, j.before(page[0]))
	case fresh: // an answer has brought up more questions on this page
		p.lead(c, j.address(page[0]))
	case j.hasReview(page):
		p.lead(c, j.reviewAddress(page[0]))
	case more:
		p.lead(c, j.address(j.together(next)[0]))
	case len(j.missing()) > 0:
		p.lead(c, j.address(j.together(j.missing()[0])[0]))
	default:
		p.lead(c, j.contactAddress())
	}
}

// save keeps what has been typed so far: on disk, but for what says who somebody is.
func (p *player) save(j *journey) error {
	for key, t := range j.typed {
		if at := j.program.Position(key); at >= 0 {
			j.put(key, j.program.Keep(at, t))
		}
	}
	if j.rehearsal != nil {
		return p.keepWalk(j, false)
	}
	j.passage.Place = j.upToNow()
	lasting, personal := j.parted()
	if len(personal) > 0 {
		p.personal.Add(j.passage.ID, personal)
	}
	if err := p.store.Responses.SaveTyped(j.ctx, j.passage, lasting); err != nil {
		return err
	}
	j.fresh = false
	return nil
}

// sorryFor returns the status of a page that says that something could not be kept, and
// when to try again.
func sorryFor(c *gin.Context, err error) (int, string) {
	if errors.Is(err, errMany) {
		c.Header("Retry-After", "60")
		return http.StatusTooManyRequests, "many people are answering from where you are. Try again in a minute."
	}
	if !errors.Is(err, store.ErrBusy) {
		slog.Error("keeping answers", "error", err)
	}
	c.Header("Retry-After", "5")
	return http.StatusServiceUnavailable, "try again in a moment."
}
