package ui

import (
	"bytes"
	"errors"
	"io"
	"net/http"
	"os"
	"strings"

	"github.com/gin-gonic/gin"
	"golang.org/x/sync/semaphore"
)

// A Body is what a request may bring.
type Body int

// The bodies, each with a bound of its own in bytes and its answer: a page, or JSON.
const (
	Nothing Body = iota // a page
	Form                // of fields, or with a file: a page
	Answers             // a form of a respondent's: a page
	JSON                // JSON
	Raw                 // a file by itself, read by the handler within a bound of its own: JSON
)

var bounds = map[Body]int64{Nothing: 4 << 10, Form: 2 << 20, Answers: 512 << 10, JSON: 2 << 20}

// A Route is a way into a room.
type Route struct {
	Method, Path string
	Takes        Body
	Handle       gin.HandlerFunc
}

// Get returns a route that brings nothing.
func Get(path string, handle gin.HandlerFunc) Route {
	return Route{http.MethodGet, path, Nothing, handle}
}

// Post returns a route that does something with what it takes.
func Post(path string, takes Body, handle gin.HandlerFunc) Route {
	return Route{http.MethodPost, path, takes, handle}
}

// Patch is Post for a part of what is there.
func Patch(path string, takes Body, handle gin.HandlerFunc) Route {
	return Route{http.MethodPatch, path, takes, handle}
}

// A Problem tells somebody what is wrong with a request.
type Problem func(c *gin.Context, status int, heading, text string)

const takes = "takes"

// AnswersJSON tells whether a request's route answers with JSON.
func AnswersJSON(c *gin.Context) bool {
	body, _ := c.Get(takes)
	return body == JSON || body == Raw
}

// Serve adds routes to a router. A body that is longer than its route takes, is cut off,
// comes too slowly or is no form is told so.
func Serve(r gin.IRouter, routes []Route, tell Problem) {
	for _, route := range routes {
		r.Handle(route.Method, route.Path, route.taking(tell), route.Handle)
	}
}

func (route Route) taking(tell Problem) gin.HandlerFunc {
	return func(c *gin.Context) {
		c.Set(takes, route.Takes)
		most, bounded := bounds[route.Takes]
		if !bounded {
			return
		}
		if c.Request.ContentLength > most {
			c.Request.Close = true
			tooMuch(c, tell, most)
			return
		}
		c.Request.Body = http.MaxBytesReader(c.Writer, c.Request.Body, most)
		if route.Takes != Form && route.Takes != Answers {
			return
		}
		err := route.waits(c)
		if c.IsAborted() {
			return
		}
		defer route.ends(c)
		if err == nil {
			err = c.Request.ParseForm()
		}
		if strings.HasPrefix(c.ContentType(), "multipart/") {
			err = errors.Join(err, c.Request.ParseMultipartForm(most))
		}
		var long *http.MaxBytesError
		switch {
		case err == nil:
		case errors.As(err, &long):
			tooMuch(c, tell, most)
		case errors.Is(err, os.ErrDeadlineExceeded):
			c.Abort()
			tell(
				c,
				http.StatusRequestTimeout,
				"That took too long",
				"What you sent did not arrive in time. Go back: it is still there, and can be sent again.",
			)
		case errors.Is(err, io.ErrUnexpectedEOF), errors.Is(err, io.EOF):
			c.Abort()
			tell(
				c,
				http.StatusBadRequest,
				"That was cut off",
				"Only a part of what you sent arrived. Go back: it is still there, and can be sent again.",
			)
		default:
			c.Abort()
			tell(c, http.StatusBadRequest, "That can't be read", "What was sent is no form. Go back and send it again.")
		}
	}
}

// Forms of respondents that are much longer than usual are handled one at a time, so that
// they keep nobody waiting who sends a usual one.
var long = semaphore.NewWeighted(1)

const (
	usual = 64 << 10 // bytes
	turn  = "turn"
)

// waits has a long form wait for its turn, once it has arrived.
func (route Route) waits(c *gin.Context) error {
	if route.Takes != Answers || c.Request.ContentLength >= 0 && c.Request.ContentLength <= usual {
		return nil
	}
	body, err := io.ReadAll(c.Request.Body)
	if err != nil {
		return err
	}
	if long.Acquire(c.Request.Context(), 1) != nil {
		c.Abort() // whoever sent it has gone
		return nil
	}
	c.Set(turn, true)
	c.Request.Body = io.NopCloser(bytes.NewReader(body))
	return nil
}

// ends handles what had to wait, and lets the next one come.
func (route Route) ends(c *gin.Context) {
	if c.GetBool(turn) {
		defer long.Release(1)
		c.Next()
	}
}

func tooMuch(c *gin.Context, tell Problem, most int64) {
	c.Abort()
	size := "2 MB"
	if most == bounds[Answers] {
		size = "500 KB"
	} else if most == bounds[Nothing] {
		size = "4 KB"
	}
	tell(
		c,
		http.StatusRequestEntityTooLarge,
		"That was too much",
		"At most "+size+" can be sent here at once. Go back, and send less, or in parts.",
	)
}
