package player

import (
	"context"
	"log/slog"
	"net/http"
	"net/url"
	"strings"

	"github.com/gin-gonic/gin"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
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
	if page.Score != nil {
		page.Shared.Picture += "&" + url.Values{
			scoreParameter: {c.Query(scoreParameter)}, sealParameter: {c.Query(sealParameter)},
		}.Encode()
	}
	page.Languages = r.languageWays(PassedPrefix+slug+"/"+key, c.Request.URL.Query()).of(ui.Origin(c.Request, p.Public))
	if named := c.Query(languageParameter); named != "" {
		page.Start += "&" + languageParameter + "=" + url.QueryEscape(named)
	}
	c.Header("Cache-Control", "public, max-age=300")
	p.show(c, http.StatusOK, "passed", page)
}

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
