package learn

import (
	"bufio"
	"cmp"
	"context"
	"log/slog"
	"net/http"
	"time"

	"github.com/gin-gonic/gin"
	"golang.org/x/sync/semaphore"

	"omphalos/interchange/rows"
	"omphalos/store/slice"
	"omphalos/web/studio/desk"
)

// exports is how many slices are sent at once: whoever asks meanwhile waits.
var exports = semaphore.NewWeighted(2)

// exportTime is how long a slow line may take for each part that is sent.
const exportTime = time.Minute

// export sends the slice in a format, by and by: a row for each response, a column for each
// thing by its key, so that they stand in the same order whenever it is asked.
func (s *Room) export(f rows.Format) gin.HandlerFunc {
	return func(c *gin.Context) {
		z, in, ok := s.sliced(c)
		if !ok {
			return
		}
		ctx := c.Request.Context()
		waits, stop := context.WithTimeout(ctx, desk.Longest)
		defer stop()
		if exports.Acquire(waits, 1) != nil {
			s.Tell(c, http.StatusServiceUnavailable, "One moment, please", "Others are taking responses out just now. Try again in a moment.")
			return
		}
		defer exports.Release(1)
		c.Header("Content-Type", f.Media())
		c.Header("Content-Disposition", `attachment; filename="`+z.Slug+"."+string(f)+`"`)
		c.Status(http.StatusOK)
		to := bufio.NewWriterSize(patient{c.Writer}, 1<<15)
		out := slice.Out{
			Responses: s.Store.Responses, Quiz: z.ID, Shown: in.quiz, Releases: in.slice.releases,
			Slice: in.slice.Slice, Format: f, Words: c.Query("words") != "",
		}
		if err := cmp.Or(out.Write(ctx, to, func(int) error { return to.Flush() }), to.Flush()); err != nil {
			slog.Error("exporting responses", "error", err)
			cut(c.Writer)
		}
	}
}

// A patient writer gives every part its time.
type patient struct{ http.ResponseWriter }

func (w patient) Write(part []byte) (int, error) {
	_ = http.NewResponseController(w.ResponseWriter).SetWriteDeadline(time.Now().Add(exportTime))
	return w.ResponseWriter.Write(part)
}

// cut ends the connection, so that whoever reads an answer sees that it is not whole.
func cut(w http.ResponseWriter) {
	if own, wraps := w.(interface{ Unwrap() http.ResponseWriter }); wraps {
		w = own.Unwrap() // Gin's does not let go of what has been written to
	}
	if conn, _, err := http.NewResponseController(w).Hijack(); err == nil {
		_ = conn.Close()
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
	csv := file{"CSV with words", "a second line says what the columns are", s.address + "/responses.csv?" + withWords.Encode()}
	return append(list[:1], append([]file{csv}, list[1:]...)...)
}
