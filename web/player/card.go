package player

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"net/http"
	"time"

	"github.com/gin-gonic/gin"
	"github.com/hashicorp/golang-lru/v2/expirable"
	"golang.org/x/sync/semaphore"

	"omphalos/core/quiz"
	"omphalos/interchange/postcard"
	"omphalos/store"
	"omphalos/web/ui"
)

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

// openingCard stands for the quiz itself among its outcomes; no key is like it.
const openingCard = "the-quiz"

// cardOf is the address of a card, which changes with what it shows.
func cardOf(r *released, slug, key string) string {
	address := PassedPrefix + slug + "/" + key + "/" + cardPlace + "?v=" + cardVersion(r, cardWords(r, key))
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
	data, err := p.card(c.Request.Context(), r, cardWords(r, key), &scores{Ruler: p.passedScore(c, r, key)})
	if err != nil {
		p.fail(c, err)
		return
	}
	c.Header("Cache-Control", "public, max-age=86400")
	c.Data(http.StatusOK, "image/png", data)
}

// card draws a card; with what somebody scored where that is not nil.
func (p *player) card(ctx context.Context, r *released, as quiz.Shared, scored *scores) ([]byte, error) {
	at := fmt.Sprint(r.looks, " ", cardVersion(r, as), " ", scored.onceRead())
	if data, drawn := p.cards.drawn.Get(at); drawn {
		return data, nil
	}
	if err := p.cards.turn.Acquire(ctx, 1); err != nil {
		return nil, store.ErrBusy
	}
	defer p.cards.turn.Release(1)
	card := postcard.Card{
		Title: as.Title, Text: ui.Told(as.Text), RightToLeft: tongueOf(r.program).direction() == "rtl",
		Dress: r.dress.Dress, Focus: quiz.Focus{X: 50, Y: 50}, Score: scored.line(), Bars: scored.bars(),
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

func cardVersion(r *released, as quiz.Shared) string {
	picture := ""
	if as.Picture != nil {
		picture = fmt.Sprint(as.Picture.Source, as.Picture.Focus)
	}
	return hashed("card", r.dress.version+"\n"+as.Title+"\n"+as.Text+"\n"+picture)[:12]
}

var errElsewhere = errors.New("the picture is on another site")
