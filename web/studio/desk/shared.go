package desk

import (
	"fmt"

	"omphalos/core/quiz"
	"omphalos/interchange/postcard"
	"omphalos/store"
	"omphalos/web/player"
	"omphalos/web/ui"
)

// A SharedCard is what shows where an address is shared.
type SharedCard struct {
	quiz.Shared
	Pictured string // path of the picture, "" where it can't be drawn yet
}

// SharedOf is how the draft of a quiz shows where an address of an outcome is shared, or its own:
// player.ShownQuiz for an outcome's key.
func SharedOf(z *store.Quiz, q *quiz.Quiz, key string) SharedCard {
	card := SharedCard{
		Shared:   q.AsShared(),
		Pictured: fmt.Sprintf("%s%d/%s%s", player.ShowingPrefix, z.ID, player.ShownCard, key),
	}
	if key != player.ShownQuiz {
		card.Shared = q.OutcomeShared(key)
	}
	card.Text = ui.Told(card.Text)
	return card
}

// Wordless tells whether the picture goes without the title.
func (c SharedCard) Wordless() bool { return c.Pictured != "" && !postcard.Writes(c.Title) }
