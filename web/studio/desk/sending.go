package desk

import (
	"bufio"
	"context"
	"net/http"
	"time"

	"github.com/gin-gonic/gin"
	"golang.org/x/sync/semaphore"
)

// exports is how many slices are sent at once: whoever asks meanwhile waits.
var exports = semaphore.NewWeighted(2)

// exportTime is how long a slow line may take for each part that is sent.
const exportTime = time.Minute

// Sending waits for its turn to send a long file, and returns what ends it, or answers that there
// is none just now.
func (s *Desk) Sending(c *gin.Context) (done func(), ok bool) {
	waits, stop := context.WithTimeout(c.Request.Context(), Longest)
	defer stop()
	if exports.Acquire(waits, 1) != nil {
		s.Tell(c, http.StatusServiceUnavailable, "One moment, please",
			"Others are taking responses out just now. Try again in a moment.")
		return nil, false
	}
	return func() { exports.Release(1) }, true
}

// Slowly returns a writer that gives a slow line its time.
func Slowly(w http.ResponseWriter) *bufio.Writer { return bufio.NewWriterSize(patient{w}, 1<<15) }

// A patient writer gives every part its time.
type patient struct{ http.ResponseWriter }

func (w patient) Write(part []byte) (int, error) {
	_ = http.NewResponseController(w.ResponseWriter).SetWriteDeadline(time.Now().Add(exportTime))
	return w.ResponseWriter.Write(part)
}

// Cut ends the connection, so that whoever reads an answer sees that it is not whole.
func Cut(w http.ResponseWriter) {
	if own, wraps := w.(interface{ Unwrap() http.ResponseWriter }); wraps {
		w = own.Unwrap() // Gin's does not let go of what has been written to
	}
	if conn, _, err := http.NewResponseController(w).Hijack(); err == nil {
		_ = conn.Close()
	}
}
