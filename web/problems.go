package web

import (
	"log/slog"
	"net/http"
	"runtime/debug"
	"strings"

	"github.com/gin-gonic/gin"

	"omphalos/web/ui"
)

// problems answers what no route does: with a page of the room that was asked, or as JSON
// where that was asked for.
type problems struct{ studio, player ui.Problem }

func (p problems) tell(c *gin.Context, status int, heading, text string) {
	c.Abort()
	switch {
	case strings.Contains(c.GetHeader("Accept"), "application/json") || strings.Contains(c.ContentType(), "json"):
		c.JSON(status, gin.H{"message": heading + ". " + text})
	case strings.HasPrefix(c.Request.URL.Path, "/studio"):
		p.studio(c, status, heading, text)
	default:
		p.player(c, status, heading, text)
	}
}

func (p problems) notThere(c *gin.Context) {
	p.tell(
		c,
		http.StatusNotFound,
		"There is nothing here",
		"The address may be mistyped, or what was here has been taken away.",
	)
}

// notAllowed: the router has told the methods that are, in Allow.
func (p problems) notAllowed(c *gin.Context) {
	p.tell(
		c,
		http.StatusMethodNotAllowed,
		"This can't be done here",
		"The address is there and does not take that. Go back and try from the page that led here.",
	)
}

func (p problems) ours(c *gin.Context, err any) {
	slog.Error("a mistake of ours", "error", err, "stack", string(debug.Stack()))
	p.tell(
		c,
		http.StatusInternalServerError,
		"Something went wrong",
		"That was our mistake, and nothing was changed. Try again; if it stays, tell us when it happened.",
	)
}

// headed answers HEAD wherever GET is answered: the server leaves the body out.
func headed(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if r.Method == http.MethodHead {
			asked := *r
			asked.Method, r = http.MethodGet, &asked
		}
		next.ServeHTTP(w, r)
	})
}

// robots keeps search engines to the openings of quizzes.
const robots = "User-agent: *\nDisallow: /studio\nDisallow: /p/\nDisallow: /standin\n"
