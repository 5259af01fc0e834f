package player

import (
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"net/http"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"omphalos/core/quiz"
	"omphalos/store"
	"omphalos/web/ui"
)

// A quiz may be taken once, so many times, or again after some days; then whoever takes it is
// told apart from others by their device, or as a person by an invitation, an e-mail address or
// a telephone number. What is kept of that is a hash.

const (
	takerKey     = "taker"
	beforeCookie = "before"           // for a minute: the result that is shown is of an earlier time
	takerTime    = 400 * 24 * 60 * 60 // seconds: as long as browsers keep a cookie
)

// deviceOf returns what tells this device apart where a quiz asks for it, "" for nothing yet.
func (p *player) deviceOf(c *gin.Context, id uint) string {
	token, err := c.Cookie(takerCookie(id))
	if now := c.GetString(takerKey); now != "" {
		token, err = now, nil
	}
	if err != nil || token == "" {
		return ""
	}
	return hashed("device", token)
}

func takerCookie(id uint) string { return fmt.Sprintf("taker-%d", id) }

func hashed(kind, what string) string {
	sum := sha256.Sum256([]byte(kind + "\x00" + what))
	return kind[:1] + hex.EncodeToString(sum[:16])
}

// knowDevice has the device remember that it is the same one, where a quiz asks for it.
func (p *player) knowDevice(c *gin.Context, r *released, id uint) {
	if r.program.Quiz.Repeating() == nil {
		return
	}
	token, err := c.Cookie(takerCookie(id))
	if err != nil || token == "" {
		token = store.Token()
	}
	c.Set(takerKey, token) // what begins may be finished by the same request
	p.setCookie(c, takerCookie(id), token, "/", takerTime)
}

// takerAt returns who is about to begin: a guest, or else the device.
func (p *player) takerAt(c *gin.Context, r *released, of *store.Release, g guest) string {
	if r.program.Quiz.Repeating().Persons() && !anonymous(r.program) {
		switch {
		case g.invitation != nil:
			return invitee(g.invitation)
		case g.member != nil:
			return colleague(g.member)
		}
	}
	return p.deviceOf(c, of.QuizID)
}

func colleague(u *store.User) string { return hashed("colleague", fmt.Sprint(u.ID)) }

func invitee(i *store.Invitation) string { return hashed("invited", fmt.Sprint(i.ID)) }

// taker returns who has finished: as takerAt, or the person whose address or number was given.
func (p *player) taker(c *gin.Context, j *journey, given []store.Contact) string {
	rule := j.program.Quiz.Repeating()
	if rule == nil {
		return ""
	}
	if rule.Persons() && !j.anonymous() {
		if i, err := p.store.Definitions.InvitationOfPassage(c.Request.Context(), j.passage.ID); err == nil {
			return invitee(i)
		}
		if j.gate.Members {
			if member := p.member(c); member != nil {
				return colleague(member)
			}
		}
		for _, kind := range []quiz.Kind{quiz.Email, quiz.Phone} {
			for _, g := range given {
				if g.Kind == kind && g.Value != "" {
					return hashed("person", string(kind)+" "+store.Fold(strings.TrimSpace(g.Value)))
				}
			}
		}
	}
	return p.deviceOf(c, j.passage.QuizID)
}

// takenBefore answers somebody who has taken a quiz as often as they may for now, and tells
// whether it did: they see their result, or read when they may again.
func (p *player) takenBefore(c *gin.Context, r *released, of *store.Release, g guest) bool {
	rule := r.program.Quiz.Repeating()
	if rule == nil {
		return false
	}
	taken, err := p.store.Responses.Taken(c.Request.Context(), of.QuizID, p.takerAt(c, r, of, g))
	if err != nil {
		p.fail(c, err)
		return true
	}
	may, from := rule.May(times(taken), time.Now())
	switch {
	case may:
		return false
	case from.IsZero():
		p.setCookie(c, beforeCookie, "yes", passagePrefix+taken[0].Passage, 60)
		p.lead(c, passagePrefix+taken[0].Passage+"/end")
	default:
		p.showRepeated(c, r, rule, from, taken[0].Passage)
	}
	return true
}

// repeated answers somebody who has finished, and had taken the quiz before as often as they
// may. Whose address was given is not shown what its owner has.
func (p *player) repeated(c *gin.Context, j *journey, taker string) {
	rule, last := j.program.Quiz.Repeating(), ""
	taken, err := p.store.Responses.Taken(c.Request.Context(), j.passage.QuizID, taker)
	if err != nil {
		p.fail(c, err)
		return
	}
	_, from := rule.May(times(taken), time.Now())
	if len(taken) > 0 && !strings.HasPrefix(taker, "p") {
		last = taken[0].Passage
	}
	p.showRepeated(c, j.released, rule, from, last)
}

func times(taken []store.Taken) (list []time.Time) {
	for _, t := range taken {
		list = append(list, t.Finished)
	}
	return list
}

// showRepeated says when somebody may take the quiz again, and where their result is; from is
// zero for never, last "" where their result is not shown.
func (p *player) showRepeated(c *gin.Context, r *released, rule *quiz.Repeats, from time.Time, last string) {
	in := tongueOf(r.program)
	text := "This quiz may be taken once. What you answered the first time stands; nothing of this time is kept."
	switch {
	case !from.IsZero():
		text = in.say("You may take it again from %s. What you answered before stands.",
			in.dayAndTime(from.In(ui.Zone(r.program.Quiz))))
	case rule.Most > 1:
		text = in.say("This quiz may be taken %d times. What you answered before stands; nothing of this "+
			"time is kept.", rule.Most)
	}
	page := newProblem(r, "You have taken this quiz", text)
	if last != "" {
		page.Link, page.LinkWords = passagePrefix+last+"/end", in.say("See your result")
	}
	p.show(c, http.StatusConflict, "problem", page)
}
