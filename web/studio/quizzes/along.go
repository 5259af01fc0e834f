package quizzes

import (
	"bytes"
	"errors"
	"io"
	"net/http"
	"strings"

	"github.com/gin-gonic/gin"

	"omphalos/core/excerpt"
	"omphalos/core/quiz"
	"omphalos/interchange/bundle"
	"omphalos/interchange/qti"
	"omphalos/web/studio/desk"
	"omphalos/web/ui"
)

// Long are the routes that have a time of their own.
func (s *Room) Long() []ui.Route {
	return []ui.Route{ui.Post("/take-in", ui.Raw, s.takeIn)}
}

// takeAlong sends a quiz with all that it needs, as one file.
func (s *Room) takeAlong(c *gin.Context) {
	z, ok := s.QuizOf(c)
	if !ok {
		return
	}
	b, err := s.Store.Definitions.Pack(c.Request.Context(), z)
	if err != nil {
		s.Fail(c, err)
		return
	}
	var file bytes.Buffer
	if err := bundle.Write(&file, b); err != nil {
		s.Fail(c, err)
		return
	}
	c.Header("Content-Disposition", `attachment; filename="`+z.Slug+`.zip"`)
	c.Data(http.StatusOK, "application/zip", file.Bytes())
}

// takeIn takes a quiz in from a file: one that was taken along, or a quiz.json alone.
func (s *Room) takeIn(c *gin.Context) {
	again := func(wrong string) { s.listQuizzes(c, http.StatusUnprocessableEntity, "", wrong) }
	data, err := fileOf(c)
	var long *http.MaxBytesError
	switch {
	case errors.As(err, &long):
		again("This file is too large: at most 64 MB are taken in.")
		return
	case err != nil || len(data) == 0:
		again("Choose a file first: one that was taken along from here (.zip), a package of QTI 3.0, or a quiz.json.")
		return
	}
	b, lost, err := bundle.Open(data)
	if err != nil {
		again(desk.SentenceOf(err.Error()))
		return
	}
	z, err := s.Store.Definitions.Unpack(c.Request.Context(), b)
	var problem quiz.Problem
	switch {
	case errors.As(err, &problem):
		again("This is no quiz that can be read: " + problem.Error() + ".")
		return
	case err != nil:
		again("It could not be taken in: " + desk.SentenceOf(err.Error()))
		return
	}
	said := "It is here. Signposts, products and places that were here already stayed as they are."
	if len(lost) > 0 {
		said = "It is here. " + excerpt.Of(strings.Join(lost, " "), mostSaid)
	}
	s.Say(c, said, "")
	c.Redirect(http.StatusSeeOther, desk.Address(z))
}

// mostSaid is how many characters of what was lost are said: it goes by a cookie.
const mostSaid = 1200

// takeElsewhere sends a quiz as a package of QTI 3.0.
func (s *Room) takeElsewhere(c *gin.Context) {
	z, q, ok := s.DraftOf(c)
	if !ok {
		return
	}
	b, err := s.Store.Definitions.Pack(c.Request.Context(), z)
	if err != nil {
		s.Fail(c, err)
		return
	}
	var file bytes.Buffer
	if _, err := qti.Write(&file, q, b.Pictures); err != nil {
		s.Fail(c, err)
		return
	}
	c.Header("Content-Disposition", `attachment; filename="`+z.Slug+`-qti.zip"`)
	c.Data(http.StatusOK, "application/zip", file.Bytes())
}

// fileOf reads the file of a form.
func fileOf(c *gin.Context) ([]byte, error) {
	c.Request.Body = http.MaxBytesReader(c.Writer, c.Request.Body, bundle.MaxFile)
	form, err := c.Request.MultipartReader()
	if err != nil {
		return nil, err
	}
	for {
		part, err := form.NextPart()
		if err != nil {
			return nil, err
		}
		if part.FormName() == "file" {
			return io.ReadAll(part)
		}
	}
}
