package quiz

import (
	"fmt"
	"regexp"
	"slices"
	"strings"
	"time"

	"golang.org/x/text/language"

	"omphalos/core/decimal"
)

// The longest texts that a document may hold, in characters.
const (
	MaxTitle = 200
	MaxLabel = 4000
	MaxText  = 20000
)

// Most is how many of each kind of thing a quiz may have, and how many answers
// a question, so that every computation is bounded.
const Most = 1000

// largest is the size that a single weight, factor, cut or limit may have.
const largest = 1_000_000_000 * decimal.One

var keyShape = regexp.MustCompile(`^[a-z][a-z0-9_]{0,59}$`)

// reserved names can't be keys of questions and scales: fill-ins and formulas
// give them another meaning.
var reserved = strings.Fields(
	"outcome passage visitor query score highest percent id and or not in true false nil let if else min max abs round floor ceil",
)

// Check returns everything that is wrong with what a document says, in the
// order of the sheet. A document without problems can be compiled and released.
func (q *Quiz) Check() []Problem {
	c := checker{q: q, position: map[string]int{}, questions: q.QuestionKeys()}
	for i, k := range c.questions {
		c.position[k] = i
	}
	c.document()
	for _, k := range InOrder(q.Sections) {
		c.section(k, q.Sections[k])
	}
	for _, k := range c.questions {
		c.question("/questions", k, q.Questions[k])
	}
	for _, k := range InOrder(q.Scales) {
		c.scale(k, q.Scales[k])
	}
	c.formulas()
	c.decision()
	c.contact()
	for _, k := range InOrder(q.Outcomes) {
		c.outcome(k, q.Outcomes[k])
	}
	return c.problems
}

// Refused returns the problems of Check that a draft can't be given.
func Refused(problems []Problem) []Problem {
	var refused []Problem
	for _, p := range problems {
		if p.Refuse {
			refused = append(refused, p)
		}
	}
	return refused
}

type checker struct {
	q         *Quiz
	questions []string
	position  map[string]int
	problems  []Problem
}

func (c *checker) note(code string, pointer Pointer, format string, args ...any) {
	c.problems = append(c.problems, Problem{Code: code, Pointer: pointer, Message: fmt.Sprintf(format, args...)})
}

func (c *checker) refuse(code string, pointer Pointer, format string, args ...any) {
	c.problems = append(
		c.problems,
		Problem{Code: code, Pointer: pointer, Message: fmt.Sprintf(format, args...), Refuse: true},
	)
}

func (c *checker) document() {
	q := c.q
	c.text("/title", q.Title, MaxTitle)
	if strings.TrimSpace(q.Title) == "" {
		c.note("empty", "/title", "the quiz has no title")
	}
	c.oneOf("/pace", string(q.Pace), "", string(ByQuestion), string(BySection), string(OnePage))
	if q.Opening != nil {
		c.text("/opening/heading", q.Opening.Heading, MaxLabel)
		c.fillins("/opening/text", q.Opening.Text, MaxText)
		c.text("/opening/button", q.Opening.Button, MaxTitle)
		c.picture("/opening/picture", q.Opening.Picture)
	}
	for name, n := range map[string]int{"sections": len(q.Sections), "questions": len(q.Questions), "scales": len(q.Scales), "outcomes": len(q.Outcomes)} {
		c.many(At(name), n, "a quiz")
	}
	if len(q.Questions) == 0 {
		c.note("empty", "/questions", "the quiz asks nothing yet; add a question")
	}
	c.look(q.Look)
	if s := q.Settings; s != nil {
		c.oneOf("/settings/review", string(s.Review), "", string(ReviewEach), string(ReviewEnd))
		if _, err := language.Parse(s.Language); s.Language != "" && err != nil {
			c.refuse(
				"language",
				"/settings/language",
				"%q is not a language tag such as en or de-AT (BCP 47)",
				clip(s.Language),
			)
		}
		if _, err := time.LoadLocation(s.TimeZone); s.TimeZone != "" && err != nil {
			c.refuse("zone", "/settings/timeZone", "%q is not a time zone such as Europe/Dublin", clip(s.TimeZone))
		}
		if len(s.Frames) > mostFrames {
			c.refuse(
				"many",
				"/settings/frames",
				"there are %d; at most %d pages may show the quiz",
				len(s.Frames),
				mostFrames,
			)
		}
		for _, origin := range s.Frames {
			if !IsOrigin(origin) {
				c.refuse(
					"address",
					"/settings/frames",
					"%q is not the beginning of an address such as https://www.example.org, without a path",
					clip(origin),
				)
			}
		}
		for name, words := range map[string]string{"next": s.Next, "back": s.Back, "finish": s.Finish, "timeZone": s.TimeZone} {
			c.text(At("settings", name), words, MaxTitle)
		}
	}
}

// key checks the shape of a key; named ones are what fill-ins and formulas can name.
func (c *checker) key(pointer Pointer, key string, named bool) {
	switch {
	case !keyShape.MatchString(key):
		c.refuse(
			"key",
			pointer,
			"the key %q must start with a small letter and go on in small letters, digits and _, 60 at most",
			clip(key),
		)
	case named && slices.Contains(reserved, key):
		c.refuse("key", pointer, "the key %q has a meaning of its own; take another", key)
	}
}

func (c *checker) oneOf(pointer Pointer, value string, allowed ...string) bool {
	if slices.Contains(allowed, value) {
		return true
	}
	c.refuse(
		"word",
		pointer,
		"is %q, and must be one of: %s",
		clip(value),
		strings.TrimPrefix(strings.Join(allowed, ", "), ", "),
	)
	return false
}

func (c *checker) amount(pointer Pointer, d decimal.Decimal) {
	if d > largest || d < -largest {
		c.refuse("large", pointer, "%s is beyond a thousand million either way", d)
	}
}

func (c *checker) section(key string, s *Section) {
	p := At("sections", key)
	c.key(p, key, false)
	c.fillins(p+"/heading", s.Heading, MaxLabel)
	c.fillins(p+"/text", s.Text, MaxText)
	first := len(c.questions)
	for i, k := range c.questions {
		if c.q.Questions[k].Section == key {
			first = i
			break
		}
	}
	c.condition(p+"/showWhen", s.ShowWhen, first, false)
}

// many refuses more of something than there may be.
func (c *checker) many(pointer Pointer, n int, of string) {
	if n > Most {
		c.refuse("many", pointer, "there are %d; %s has at most %d", n, of, Most)
	}
}
