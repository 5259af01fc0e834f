package rehearse

import (
	"fmt"
	"net/http"
	"net/url"
	"slices"

	"github.com/gin-gonic/gin"

	"omphalos/core/passage"
	"omphalos/core/quiz"
	"omphalos/outbox"
	"omphalos/store"
	"omphalos/web/player"
	"omphalos/web/studio/desk"
	"omphalos/web/ui"
)

// goesOut is a follow-up as it would go out after a walk, or why it would not. Nothing goes
// out from a rehearsal.
type goesOut struct {
	Goes       bool
	Words, Why string
	Letter     string // address of the mail as it would be, "" where it is none
}

// going tells of each follow-up whether it would go out.
func going(d *draft, w *passage.Walker, room, walk string, goal func(*quiz.FollowUp) string) []goesOut {
	var list []goesOut
	for _, due := range w.Considered() {
		f := d.program.Quiz.FollowUps[due.Key]
		one := goesOut{Goes: due.Goes, Words: desk.FollowUpWords(f, goal), Why: "would not go out. " + due.Why + "."}
		if due.Goes {
			one.Why = fmt.Sprintf("would go out %s. %s.", whenWords(f), due.Why)
			if f.Kind.Letter() && f.Digest == "" {
				one.Letter = room + "/letter?" + url.Values{"walk": {walk}, "follow": {due.Key}}.Encode()
			}
		}
		list = append(list, one)
	}
	return list
}

// whenWords says when something goes out.
func whenWords(f *quiz.FollowUp) string {
	words := "at once"
	switch days, hours := f.Wait/(24*60), f.Wait/60; {
	case f.Digest == quiz.Daily:
		words = "the next morning"
	case f.Digest == quiz.Weekly:
		words = "on Monday"
	case f.Wait > 0 && f.Wait%(24*60) == 0:
		words = "after " + quiz.Count(days, "day")
	case f.Wait > 0 && f.Wait%60 == 0:
		words = "after " + quiz.Count(hours, "hour")
	case f.Wait > 0:
		words = "after " + quiz.Count(f.Wait, "minute")
	}
	if f.Wait > 0 && len(f.Unless) > 0 {
		words += ", unless the lead is in one of the states that are named"
	}
	return words
}

// letterOf returns the mail that would go out after a walk, or answers with a page that none
// would.
func (s *Room) letterOf(c *gin.Context) (*draft, *outbox.Letter, bool) {
	d, ok := s.asked(c)
	if !ok {
		return nil, nil, false
	}
	walk, err := s.Store.Definitions.Walk(c.Request.Context(), c.Query("walk"))
	if err == nil && (walk.QuizID != d.ID || d.program == nil) {
		err = store.ErrNotFound
	}
	if err != nil {
		s.Fail(c, err)
		return nil, nil, false
	}
	in := s.inputOf(c.Request.Context(), d, walk)
	in.Voice = player.Voice(d.doc)
	landed := (&outbox.Landed{Program: d.program, In: in, Number: "rehearsal", Base: ui.Origin(c.Request, s.Public),
		Sign: func(table, row string) (string, error) {
			return s.Store.Definitions.SignpostAt(c.Request.Context(), table, row)
		}}).Land()
	key := c.Query("follow")
	f := d.program.Quiz.FollowUps[key]
	if f == nil || !f.Kind.Letter() || !slices.Contains(landed.Walker.FollowUps(), key) {
		s.Tell(c, http.StatusNotFound, "This would not go out",
			"The rehearsal has been walked on, or the draft was changed meanwhile.")
		return nil, nil, false
	}
	if f.Kind == quiz.NoticeFollowUp {
		return d, landed.Notice(key, nil), true
	}
	letter := landed.Letter(key)
	if err := s.EndLetter(c, d.doc, letter); err != nil {
		s.Fail(c, err)
		return nil, nil, false
	}
	return d, letter, true
}

func (s *Room) letter(c *gin.Context) {
	if d, letter, ok := s.letterOf(c); ok {
		s.ShowLetter(c, "rehearse", d.Quiz, letter,
			"As it would go out after this rehearsal. Nothing has gone out.", address(d)+"/letter/body?"+
				c.Request.URL.RawQuery, address(d)+"?walk="+url.QueryEscape(c.Query("walk")))
	}
}

func (s *Room) letterBody(c *gin.Context) {
	if _, letter, ok := s.letterOf(c); ok {
		desk.BodyOf(c, letter)
	}
}
