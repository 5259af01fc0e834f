package learn

import (
	"cmp"
	"log/slog"
	"net/http"

	"github.com/gin-gonic/gin"

	"omphalos/interchange/rows"
	"omphalos/store/slice"
	"omphalos/web/studio/desk"
)

// export sends the slice in a format, by and by: a row for each response, a column for each
// thing by its key, so that they stand in the same order whenever it is asked.
func (s *Room) export(f rows.Format) gin.HandlerFunc {
	return func(c *gin.Context) {
		z, in, ok := s.sliced(c)
		if !ok {
			return
		}
		ctx := c.Request.Context()
		done, ok := s.Sending(c)
		if !ok {
			return
		}
		defer done()
		c.Header("Content-Type", f.Media())
		c.Header("Content-Disposition", `attachment; filename="`+z.Slug+"."+string(f)+`"`)
		c.Status(http.StatusOK)
		to := desk.Slowly(c.Writer)
		out := slice.Out{
			Responses: s.Store.Responses, Quiz: z.ID, Shown: in.quiz, Releases: in.slice.releases,
			Slice: in.slice.Slice, Format: f, Words: c.Query("words") != "",
		}
		if err := cmp.Or(out.Write(ctx, to, func(int) error { return to.Flush() }), to.Flush()); err != nil {
			slog.Error("exporting responses", "error", err)
			desk.Cut(c.Writer)
		}
	}
}

// A file is the slice in a format.
type file struct {
	Name, About, Address string
}

// files are the formats in which a slice can be taken out.
func (s *sentence) files() []file {
	about := map[rows.Format][2]string{
		rows.CSV:      {"CSV", "for any spreadsheet"},
		rows.Workbook: {"Workbook", "XLSX, with the questions and the figures on sheets of their own"},
		rows.Lines:    {"JSON Lines", "for programs"},
		rows.Parquet:  {"Parquet", "for data tools"},
	}
	var list []file
	for _, f := range rows.Formats {
		list = append(list, file{about[f][0], about[f][1], s.beside("responses." + string(f))})
	}
	withWords := s.clone()
	withWords.Set("words", "yes")
	csv := file{"CSV with words", "a second line says what the columns are",
		s.address + "/responses.csv?" + withWords.Encode()}
	return append(list[:1], append([]file{csv}, list[1:]...)...)
}
