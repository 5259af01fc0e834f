package desk

import (
	"cmp"
	"context"
	"net/http"

	"github.com/gin-gonic/gin"

	"omphalos/core/quiz"
	"omphalos/outbox"
	"omphalos/store"
	"omphalos/web/player"
	"omphalos/web/ui"
)

// A letterPage shows a mail as it looks, and its plain words beside it.
type letterPage struct {
	Frame
	Subject, About string
	Body           string // address of what is framed
	Plain          string
	Back           string
}

// ShowLetter shows a mail: about says whose it would be, body is where BodyOf answers, back
// where it came from.
func (s *Desk) ShowLetter(c *gin.Context, room string, z *store.Quiz, letter *outbox.Letter, about, body, back string) {
	s.Show(c, http.StatusOK, "letter", letterPage{s.Frame(c, letter.Subject, room, z), letter.Subject, about,
		body, letter.Plain(), back})
}

// EndLetter puts below a letter what stands there when it goes out.
func (s *Desk) EndLetter(c *gin.Context, q *quiz.Quiz, letter *outbox.Letter) error {
	settings, err := s.Store.Outbox.MailSettings(c.Request.Context())
	if err == nil {
		letter.End(settings.Footer, ui.Origin(c.Request, s.Public)+outbox.LeavePlace, outbox.LeaveWords(player.Voice(q)))
	}
	return err
}

// letterPolicy lets a letter show what it brings along, and do nothing.
const letterPolicy = "sandbox; default-src 'none'; img-src 'self' http: https: data:; style-src " +
	"'unsafe-inline'; base-uri 'none'; form-action 'none'; frame-ancestors 'self'"

// BodyOf answers with a mail as a mail program shows it.
func BodyOf(c *gin.Context, letter *outbox.Letter) {
	c.Header("Content-Security-Policy", letterPolicy)
	c.Data(http.StatusOK, "text/html; charset=utf-8", []byte(letter.HTML()))
}

// followUpWords are what goes out, as it is told.
var followUpWords = map[quiz.FollowUpKind]string{
	quiz.MailFollowUp: "Mail to them", quiz.NoticeFollowUp: "A notice to colleagues",
	quiz.ListFollowUp: "A sign-up for", quiz.CallFollowUp: "A call of", quiz.ConversionFollowUp: "A conversion to",
}

// Goals returns what receivers and lists are called, by the follow-ups' keys of them.
func (s *Desk) Goals(ctx context.Context) (func(f *quiz.FollowUp) string, error) {
	receivers, err := s.Store.Outbox.Receivers(ctx)
	if err != nil {
		return nil, err
	}
	lists, err := s.Store.Outbox.Lists(ctx)
	names := map[string]string{}
	for _, r := range receivers {
		names["receiver "+r.Key] = r.Name
	}
	for _, l := range lists {
		names["list "+l.Key] = l.Name
	}
	return func(f *quiz.FollowUp) string {
		if f.Kind == quiz.ListFollowUp {
			return cmp.Or(names["list "+f.List], f.List, "no list yet")
		}
		return cmp.Or(names["receiver "+f.Receiver], f.Receiver, "nothing yet")
	}, err
}

// FollowUpWords says what a follow-up sends; goal says to what.
func FollowUpWords(f *quiz.FollowUp, goal func(*quiz.FollowUp) string) string {
	words := followUpWords[f.Kind]
	if f.Kind.Letter() {
		if f.Digest != "" {
			return words + ", gathered,"
		}
		return words
	}
	return words + " “" + goal(f) + "”"
}
