package sheet

import (
	"bytes"
	"errors"
	"net/http"
	"strings"

	"github.com/gin-gonic/gin"

	"omphalos/core/edit"
	"omphalos/core/quiz"
	"omphalos/interchange/decision"
	"omphalos/store"
	"omphalos/web/studio/desk"
)

// tableFile splits "step_1.csv" into the step's key and the format.
func tableFile(c *gin.Context) (key, format string) {
	key, format, _ = strings.Cut(c.Param("file"), ".")
	return key, format
}

// downloadTable sends a decision table as CSV or DMN.
func (s *Room) downloadTable(c *gin.Context) {
	z, q, ok := s.DraftOf(c)
	if !ok {
		return
	}
	key, format := tableFile(c)
	step := q.Decision.Steps[key]
	if step == nil || step.Kind != quiz.TableStep {
		s.Fail(c, store.ErrNotFound)
		return
	}
	var err error
	var file bytes.Buffer
	kind := "text/csv; charset=utf-8"
	switch format {
	case "csv":
		err = decision.WriteCSV(&file, q, step)
	case "dmn":
		kind = "application/xml"
		err = decision.WriteDMN(&file, q, key, step)
	default:
		err = store.ErrNotFound
	}
	if errors.Is(err, decision.ErrTable) {
		s.Say(c, desk.SentenceOf(err.Error()), "")
		c.Redirect(http.StatusSeeOther, desk.Address(z))
		return
	}
	if err != nil {
		s.Fail(c, err)
		return
	}
	c.Header("Content-Disposition", `attachment; filename="`+key+`.`+format+`"`)
	c.Data(http.StatusOK, kind, file.Bytes())
}

// takeTable replaces the columns and rules of a decision table by those of a file.
func (s *Room) takeTable(c *gin.Context) {
	z, base, body, ok := s.changing(c)
	if !ok {
		return
	}
	key, format := tableFile(c)
	q, err := z.Document()
	if err != nil || q.Decision.Steps[key] == nil || z.Revision != base {
		s.refuse(c, z.ID, store.ErrStale)
		return
	}
	read := decision.ReadCSV
	if format == "dmn" {
		read = decision.ReadDMN
	}
	table, err := read(bytes.NewReader(body), q)
	if err != nil {
		c.JSON(http.StatusUnprocessableEntity, update{Message: desk.SentenceOf(err.Error())})
		return
	}
	path := quiz.At("decision", "steps", key)
	s.make(
		c,
		z,
		base,
		[]byte(
			desk.PatchText(
				[]edit.Op{
					{Op: "add", Path: path + "/columns", Value: table.Columns},
					{Op: "add", Path: path + "/rules", Value: table.Rules},
				},
			),
		),
		path,
	)
}
