package player

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"net/http"
	"net/url"
	"strings"
	"time"

	"github.com/gin-gonic/gin"
	"github.com/hashicorp/golang-lru/v2/expirable"
	"golang.org/x/sync/semaphore"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
	"omphalos/interchange/postcard"
	"omphalos/store"
	"omphalos/web/assets"
	"omphalos/web/ui"
)

// An outcome is passed on by a public address, which tells nothing of what anybody answered:
// PassedPrefix + slug of the quiz + "/" + key of the outcome. Where addresses are shared they
// show a card, which is drawn here.
const (
	PassedPrefix = "/got/"
	cardPlace    = "card.png"

	// passedSource is the source of those who come from such a page.
	passedSource = "passed-on"
)

func (p *player) passing() []ui.Route {
	return []ui.Route{
		ui.Get(PassedPrefix+":slug/:outcome", p.passedOn),
		ui.Get(PassedPrefix+":slug/:outcome/"+cardPlace, p.passedCard),
	}
}

// cards keeps those that were drawn last; drawing one takes a tenth of a second.
type cards struct {
	drawn *expirable.LRU[string, []byte]
	turn  *semaphore.Weighted
}

const (
	keptCards = 128 // of about 100 KB
	cardsLast = 24 * time.Hour
	cardsAt   = 2 // are drawn at once
)

func newCards() cards {
	return cards{expirable.NewLRU[string, []byte](keptCards, nil, cardsLast), semaphore.NewWeighted(cardsAt)}
}

// passesOn tells whether the outcomes of a quiz have public addresses.
func passesOn(q *quiz.Quiz) bool {
	return q.Settings != nil && q.Settings.Results != nil && q.Settings.Results.PassOn
}

// The parameters of an address with which a score is passed on, and what shows that it was one.
const (
	scoreParameter = "score"
	sealParameter  = "sealed"
)

// withScore adds to the address of an outcome what this passage scored, where the quiz wants
// that told and the outcome shows it.
func (j *journey) withScore(address, slug, outcome string) string {
	o := j.program.Quiz.Outcomes[outcome]
	if !j.offered().Score || o.ShowScore == "" || j.rehearsal != nil {
		return address
	}
	score := j.scored(o.ShowScore, j.walk()).String()
	seal, err := j.player.store.Outbox.Seal(j.ctx, scoreOf(slug, outcome, score))
	if err != nil {
		slog.Error("passing a score on", "error", err)
		return address
	}
	between := "?"
	if strings.Contains(address, "?") {
		between = "&"
	}
	return address + between + url.Values{scoreParameter: {score}, sealParameter: {seal}}.Encode()
}

// scoreOf is what is sealed of a score, so that nobody makes up a better one.
func scoreOf(slug, outcome, score string) string {
	return strings.Join([]string{"score", slug, outcome, score}, "\n")
}

// passedScore draws the score that an address passes on, nil where it passes none.
func (p *player) passedScore(c *gin.Context, r *released, outcome string) *ruler {
	o, set := r.program.Quiz.Outcomes[outcome], r.program.Quiz.Settings
	score, err := decimal.Parse(c.Query(scoreParameter))
	if err != nil || o == nil || o.ShowScore == "" || set == nil || set.Results == nil || !set.Results.Score {
		return nil
	}
	ours, err := p.store.Outbox.Sealed(c.Request.Context(), scoreOf(c.Param("slug"), outcome,
		c.Query(scoreParameter)), c.Query(sealParameter))
	if err != nil || !ours {
		return nil
	}
	return r.ruler(o.ShowScore, score)
}

// A passedPage shows an outcome to somebody to whom it was passed on.
type passedPage struct {
	frame
	Heading, Text string
	Picture       *shownPicture
	Layout        quiz.Layout
	Score         *ruler // nil where it is not told
	Start         string // address of the quiz
}

// passed returns the outcome that an address is about, or answers that there is none.
func (p *player) passed(c *gin.Context) (*released, string, bool) {
	ctx, key := c.Request.Context(), c.Param("outcome")
	release, err := p.taken(ctx, c.Param("slug"))
	if err != nil {
		p.fail(c, err)
		return nil, "", false
	}
	r, err := p.released(ctx, release.ID)
	if err != nil {
		p.fail(c, err)
		return nil, "", false
	}
	r = r.wanted(c)
	if key == openingCard {
		return r, key, true
	}
	if q := r.program.Quiz; !passesOn(q) || q.Outcomes[key] == nil {
		p.fail(c, store.ErrNotFound)
		return nil, "", false
	}
	return r, key, true
}

// openingCard stands for the quiz itself among its outcomes; no key is like it.
const openingCard = "the-quiz"

func (p *player) passedOn(c *gin.Context) {
	r, key, ok := p.passed(c)
	if !ok {
		return
	}
	if key == openingCard {
		p.fail(c, store.ErrNotFound)
		return
	}
	slug, as := c.Param("slug"), r.program.Quiz.OutcomeShared(key)
	page := passedPage{
		frame: newFrame(r, as.Title), Heading: as.Title, Text: as.Text, Picture: p.sizes.of(c.Request.Context(), as.Picture),
		Layout: r.dress.Layout, Score: p.passedScore(c, r, key),
		Start: "/q/" + slug + "?" + url.Values{"utm_source": {passedSource}, "utm_content": {key}}.Encode(),
	}
	page.Shared = &shared{
		Title: as.Title, Text: ui.Told(as.Text),
		Picture: ui.Origin(c.Request, p.Public) + cardOf(r, slug, key),
	}
	page.Languages = r.languageWays(PassedPrefix+slug+"/"+key, c.Request.URL.Query()).of(ui.Origin(c.Request, p.Public))
	if named := c.Query(languageParameter); named != "" {
		page.Start += "&" + languageParameter + "=" + url.QueryEscape(named)
	}
	c.Header("Cache-Control", "public, max-age=300")
	p.show(c, http.StatusOK, "passed", page)
}

// cardOf is the address of a card, which changes with what it shows.
func cardOf(r *released, slug, key string) string {
	address := PassedPrefix + slug + "/" + key + "/" + cardPlace + "?v=" + cardVersion(r, key)
	if r.written != nil {
		address += "&" + languageParameter + "=" + r.program.Quiz.Language()
	}
	return address
}

func (p *player) passedCard(c *gin.Context) {
	r, key, ok := p.passed(c)
	if !ok {
		return
	}
	data, err := p.card(c.Request.Context(), r, key)
	if err != nil {
		p.fail(c, err)
		return
	}
	c.Header("Cache-Control", "public, max-age=86400")
	c.Data(http.StatusOK, "image/png", data)
}

// card draws the card of an outcome, or of the quiz itself.
func (p *player) card(ctx context.Context, r *released, key string) ([]byte, error) {
	at := fmt.Sprint(r.looks, " ", key, " ", cardVersion(r, key))
	if data, drawn := p.cards.drawn.Get(at); drawn {
		return data, nil
	}
	if err := p.cards.turn.Acquire(ctx, 1); err != nil {
		return nil, store.ErrBusy
	}
	defer p.cards.turn.Release(1)
	as := cardWords(r, key)
	card := postcard.Card{
		Title: as.Title, Text: ui.Told(as.Text), RightToLeft: tongueOf(r.program).direction() == "rtl",
		Dress: r.dress.Dress, Focus: quiz.Focus{X: 50, Y: 50},
	}
	if l := r.program.Quiz.Look; l != nil {
		card.Owner = l.Owner
	}
	if as.Picture != nil {
		data, err := PictureData(ctx, p.store, as.Picture)
		if err == nil {
			card.Picture, err = postcard.Picture(data)
		}
		if err != nil {
			slog.Warn("a card goes without its picture", "picture", as.Picture.Source, "error", err)
		}
		if as.Picture.Focus != nil {
			card.Focus = *as.Picture.Focus
		}
	}
	data, err := postcard.Draw(card)
	if err == nil {
		p.cards.drawn.Add(at, data)
	}
	return data, err
}

func cardWords(r *released, key string) quiz.Shared {
	if key == openingCard {
		return r.program.Quiz.AsShared()
	}
	return r.program.Quiz.OutcomeShared(key)
}

func cardVersion(r *released, key string) string {
	as := cardWords(r, key)
	picture := ""
	if as.Picture != nil {
		picture = fmt.Sprint(as.Picture.Source, as.Picture.Focus)
	}
	return hashed("card", r.dress.version+"\n"+as.Title+"\n"+as.Text+"\n"+picture)[:12]
}

var errElsewhere = errors.New("the picture is on another site")

// PictureData returns what a picture of ours holds.
func PictureData(ctx context.Context, s *store.Store, of *quiz.Picture) ([]byte, error) {
	if name, shipped := strings.CutPrefix(of.Source, assets.Prefix); shipped {
		return assets.Read(name)
	}
	if name, kept := strings.CutPrefix(of.Source, "/pictures/"); kept {
		picture, err := s.Definitions.Picture(ctx, name)
		if err != nil {
			return nil, err
		}
		return picture.Data, nil
	}
	return nil, errElsewhere
}
