package sheet

import (
	"errors"
	"io"
	"net/http"
	"strings"

	"github.com/gin-gonic/gin"

	"omphalos/core/edit"
	"omphalos/core/quiz"
	"omphalos/interchange/xliff"
	"omphalos/store"
	"omphalos/web/studio/desk"
)

// languageFile sends what the quiz says, with what it says so in a language, to whoever
// translates it.
func (s *Room) languageFile(c *gin.Context) {
	sh, ok := s.asked(c)
	if !ok {
		return
	}
	in, is := strings.CutSuffix(c.Param("file"), ".xlf")
	if !is || sh.Doc.Translations[in] == nil {
		s.Fail(c, store.ErrNotFound)
		return
	}
	d := xliff.Of(sh.Doc, in)
	for i, place := 0, sh.texts(in, nil); len(place) > 0; place = place[1:] {
		for _, line := range place[0].List {
			d.Lines[i].About = place[0].Name + ": " + line.What
			i++
		}
	}
	c.Header("Content-Type", "application/xliff+xml")
	c.Header("Content-Disposition", `attachment; filename="`+sh.Quiz.Slug+"."+in+`.xlf"`)
	if err := xliff.Write(c.Writer, d); err != nil {
		_ = c.Error(err)
	}
}

var errNoXLIFF = errors.New("choose the file that came back first")

// takeLanguage keeps what a file says in the language that it is in.
func (s *Room) takeLanguage(c *gin.Context) {
	z, q, ok := s.DraftOf(c)
	if !ok {
		return
	}
	d, err := uploadedXLIFF(c)
	var taken xliff.Taken
	if err == nil {
		taken, err = d.Into(q)
	}
	if err != nil {
		s.showLanguages(c, http.StatusUnprocessableEntity, desk.SentenceOf(err.Error())+" Nothing was changed.", nil)
		return
	}
	if len(taken.Words) == 0 {
		s.Say(c, taken.Sentence(), "")
		c.Redirect(http.StatusSeeOther, desk.Address(z)+"/languages?in="+taken.Language)
		return
	}
	s.editLanguages(c, taken.Language, taken.Sentence(), func(q *quiz.Quiz) []edit.Op {
		now, err := d.Into(q) // somebody may have edited since
		if err != nil {
			return nil
		}
		return now.Ops(q)
	})
}

func uploadedXLIFF(c *gin.Context) (d xliff.Document, err error) {
	file, err := c.FormFile("file")
	if err != nil {
		return d, errNoXLIFF
	}
	f, err := file.Open()
	if err != nil {
		return d, err
	}
	defer f.Close()
	data, err := io.ReadAll(io.LimitReader(f, xliff.MaxSize+1))
	if err != nil {
		return d, err
	}
	return xliff.Read(data)
}
