package player

import (
	"maps"
	"net/http"
	"reflect"
	"slices"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"omphalos/core/fillin"
	"omphalos/core/program"
	"omphalos/core/quiz"
)

// ahead is the parameter of a page that is fetched while the one before it is read. Its value
// is the moment in which the passage was last kept: a page that was fetched is shown only if
// nothing but its own answer has been given since.
const ahead = "ahead"

// Answers that are tried, to tell whether the next page is the same after each.
const (
	mostTried   = 12 // ways to answer a question
	mostSubsets = 3  // answers of which several can be chosen
)

// stamp is the moment in which the passage was last kept, as it stands in an address.
func (j *journey) stamp() string { return strconv.FormatInt(j.passage.Updated.UnixNano(), 36) }

// aheadOf returns the address, but for the stamp, under which the page after a question may be
// fetched ahead, "" where it can't be the same whatever is answered. Whether it is the same is
// told when it is asked for (always).
func (j *journey) aheadOf(at int) string {
	if j.fresh || j.rehearsal != nil || j.passage.Finished || j.tries(at) == nil || j.hasReview([]int{at}) {
		return ""
	}
	seen := j.whole().Seen
	i := slices.Index(seen, at)
	if i < 0 || i+1 >= len(seen) || !j.lasting[seen[i+1]] {
		return ""
	}
	return j.address(seen[i+1]) + "?" + ahead + "="
}

// lasting tells of each question whether its page holds nothing of anybody's and nothing that
// is another in a moment, so that a browser may keep it.
func lasting(p *program.Program) []bool {
	filled := map[quiz.Pointer]bool{} // questions and sections
	for _, text := range p.Quiz.Texts() {
		if keys := text.At.Keys(); len(keys) > 1 && len(fillin.Names(text.Words)) > 0 {
			filled[quiz.At(keys[:2]...)] = true
		}
	}
	list := make([]bool, len(p.Questions))
	for i := range list {
		list[i] = p.Question(i).Kind != quiz.Appointment && !filled[quiz.At("questions", p.Key(i))] &&
			!filled[quiz.At("sections", p.Question(i).Section)]
	}
	return list
}

// tries are all ways to answer a question, nil where they are too many.
func (j *journey) tries(at int) (list []program.Typed) {
	q := j.program.Question(at)
	one := func(value string) { list = append(list, program.Typed{Values: []string{value}}) }
	keys := j.program.AnswerKeys(at)
	switch {
	case q.Kind == quiz.Interlude:
		return []program.Typed{{}}
	case q.Kind.Choice():
		for _, key := range keys {
			one(key)
		}
	case q.Kind == quiz.Several && len(keys) <= mostSubsets:
		for chosen := range 1 << len(keys) {
			var t program.Typed
			for i, key := range keys {
				if chosen>>i&1 == 1 {
					t.Values = append(t.Values, key)
				}
			}
			list = append(list, t)
		}
	case q.Kind == quiz.Rating || q.Kind == quiz.Stars:
		for _, point := range points(q, "") {
			one(point.Value)
		}
	case q.Kind == quiz.Consent:
		one("yes")
	}
	if len(list) > 0 && !j.program.Needs(at) {
		list = append(list, program.Typed{})
	}
	if len(list) > mostTried {
		return nil
	}
	return list
}

// answered is the journey as it would be had a question been answered otherwise.
func (j *journey) answered(at int, t program.Typed) *journey {
	other := *j
	other.typed = maps.Clone(j.typed)
	other.put(j.program.Key(at), t)
	return &other
}

// always returns the page that comes after a question, if it is the same page to the letter
// whatever is answered.
func (j *journey) always(at int) (page questionPage, same bool) {
	for i, t := range j.tries(at) {
		other := j.answered(at, t)
		next, more := other.after(at)
		if !more || !j.lasting[next] {
			return page, false
		}
		one := other.page([]int{next}, nil)
		if i > 0 && !reflect.DeepEqual(one, page) {
			return page, false
		}
		page = one
	}
	return page, len(page.Sections) > 0
}

// fetchesAhead tells whether a browser asks for a page before anybody wants it.
func fetchesAhead(r *http.Request) bool {
	return strings.Contains(r.Header.Get("Sec-Purpose"), "prefetch")
}

// ahead sends the page of a question to a browser that is still on the page before it, or
// nothing where one can't know yet that it will be this one. Under its address it stays what
// it is, so the browser may keep it.
func (p *player) ahead(c *gin.Context, j *journey, at int) {
	path := j.path()
	before := path[len(path)-1]
	if i := slices.Index(path, at); i > 0 {
		before = path[i-1]
	}
	if c.Query(ahead) == j.stamp() && j.aheadOf(before) != "" {
		if page, same := j.always(before); same && page.Action == j.address(at) {
			c.Header("Cache-Control", "private, max-age=300")
			p.show(c, http.StatusOK, "question", page)
			return
		}
	}
	c.Status(http.StatusNoContent)
}

// script tells whether an answer is sent by the script of a page that had the next one fetched.
func script(c *gin.Context) bool {
	return c.GetHeader("Accept") == "text/plain" && c.PostForm(ahead) != ""
}

// goOn leads to the next page of a passage. Where the page before had that one fetched, its
// script asks for the address alone, since a browser that sends a form asks for everything
// anew; the stamp of now, which that page can't know, stands behind.
func (j *journey) goOn(c *gin.Context, address, before string) {
	if script(c) {
		c.String(http.StatusOK, "%s?%s=%s#%s", address, ahead, before, j.stamp())
		return
	}
	c.Redirect(http.StatusSeeOther, address)
}
