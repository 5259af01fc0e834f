package sheet

import (
	"net/http"

	"github.com/gin-gonic/gin"

	"omphalos/core/quiz"
	"omphalos/outbox"
	"omphalos/web/player"
	"omphalos/web/studio/desk"
	"omphalos/web/ui"
)

// letter returns the mail of a follow-up as a sample respondent would get it, or answers with
// a page that there is none.
func (s *Room) letter(c *gin.Context) (*Sheet, *outbox.Letter, bool) {
	sh, ok := s.asked(c)
	if !ok {
		return nil, nil, false
	}
	key := c.Param("key")
	f := sh.Doc.FollowUps[key]
	if f == nil || !f.Kind.Letter() || sh.program == nil {
		s.Tell(c, http.StatusNotFound, "There is no mail to look at",
			"The follow-up is not there, or the draft can’t be walked yet: its findings say what is missing.")
		return nil, nil, false
	}
	in, _ := sh.sample()
	in.Voice = player.Voice(sh.Doc)
	in.Contact = map[string]string{}
	if sh.Doc.Contact != nil {
		for k, field := range sh.Doc.Contact.Fields {
			in.Contact[k] = sampleContacts[field.Kind]
		}
	}
	landed := (&outbox.Landed{Program: sh.program, In: in, Number: samplePassage, Base: ui.Origin(c.Request, s.Public),
		Sign: func(table, row string) (string, error) {
			return s.Store.Definitions.SignpostAt(c.Request.Context(), table, row)
		}}).Land()
	if f.Kind == quiz.NoticeFollowUp {
		return sh, landed.Notice(key, nil), true
	}
	letter := landed.Letter(key)
	if err := s.EndLetter(c, sh.Doc, letter); err != nil {
		s.Fail(c, err)
		return nil, nil, false
	}
	return sh, letter, true
}

// showLetter shows the mail of a follow-up as a sample respondent would get it.
func (s *Room) showLetter(c *gin.Context) {
	if sh, letter, ok := s.letter(c); ok {
		s.ShowLetter(c, "sheet", sh.Quiz, letter,
			"As a sample respondent would get it: who gives the first answer to everything.",
			c.Request.URL.Path+"/body", desk.Address(sh.Quiz)+"#part-f-"+c.Param("key"))
	}
}

// letterBody is the mail as a mail program shows it.
func (s *Room) letterBody(c *gin.Context) {
	if _, letter, ok := s.letter(c); ok {
		desk.BodyOf(c, letter)
	}
}
