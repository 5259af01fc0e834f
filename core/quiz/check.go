package quiz

import (
	"regexp"
	"slices"
	"strings"
	"time"

	"golang.org/x/text/language"

	"omphalos/core/atlas"
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
	"outcome passage visitor query score highest percent id and or not in true false nil let if else min " +
		"max abs round floor ceil",
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
	c.followUps()
	c.translations()
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

func (c *checker) note(code string, pointer Pointer, message string, parts ...any) {
	c.problems = append(c.problems, Problem{Code: code, Pointer: pointer, Message: say(message, parts...)})
}

func (c *checker) refuse(code string, pointer Pointer, message string, parts ...any) {
	c.problems = append(
		c.problems,
		Problem{Code: code, Pointer: pointer, Message: say(message, parts...), Refuse: true},
	)
}

func (c *checker) document() {
	q := c.q
	c.text("/title", q.Title, MaxTitle)
	if strings.TrimSpace(q.Title) == "" {
		c.note("empty", "/title", "the-quiz-has-no")
	}
	c.oneOf("/pace", string(q.Pace), "", string(ByQuestion), string(BySection), string(OnePage))
	if q.Opening != nil {
		c.text("/opening/heading", q.Opening.Heading, MaxLabel)
		c.fillins("/opening/text", q.Opening.Text, MaxText)
		c.text("/opening/button", q.Opening.Button, MaxTitle)
		c.picture("/opening/picture", q.Opening.Picture)
		word(c, "/opening/layout", q.Opening.Layout, Layouts)
	}
	for name, n := range map[string]int{"sections": len(q.Sections), "questions": len(q.Questions),
		"scales": len(q.Scales), "outcomes": len(q.Outcomes), "followUps": len(q.FollowUps)} {
		c.many(At(name), n, "a quiz")
	}
	if len(q.Questions) == 0 {
		c.note("empty", "/questions", "the-quiz-asks-nothing")
	}
	c.look(q.Look)
	if s := q.Settings; s != nil {
		c.oneOf("/settings/review", string(s.Review), "", string(ReviewEach), string(ReviewEnd))
		if _, err := language.Parse(s.Language); s.Language != "" && err != nil {
			c.refuse(
				"language",
				"/settings/language",
				"is-not-a-language",
				clip(s.Language),
			)
		}
		if _, err := time.LoadLocation(s.TimeZone); s.TimeZone != "" && err != nil {
			c.refuse("zone", "/settings/timeZone", "is-not-a-time", clip(s.TimeZone))
		}
		if len(s.Frames) > mostFrames {
			c.refuse(
				"many",
				"/settings/frames",
				"there-are-at-most",
				len(s.Frames),
				mostFrames,
			)
		}
		for _, origin := range s.Frames {
			if !IsOrigin(origin) {
				c.refuse(
					"address",
					"/settings/frames",
					"is-not-the-beginning",
					clip(origin),
				)
			}
		}
		c.repeats(s.Repeats)
		if s.Country != "" && !slices.Contains(atlas.Codes(), s.Country) {
			c.refuse("country", "/settings/country", "is-no-country", clip(s.Country))
		}
		for name, words := range map[string]string{"next": s.Next, "back": s.Back, "finish": s.Finish,
			"timeZone": s.TimeZone} {
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
			"the-key-must-start",
			clip(key),
		)
	case named && slices.Contains(reserved, key):
		c.refuse("key", pointer, "the-key-has-a", key)
	}
}

func (c *checker) oneOf(pointer Pointer, value string, allowed ...string) bool {
	if slices.Contains(allowed, value) {
		return true
	}
	c.refuse(
		"word",
		pointer,
		"is-and-must-be",
		clip(value),
		strings.TrimPrefix(strings.Join(allowed, ", "), ", "),
	)
	return false
}

func (c *checker) amount(pointer Pointer, d decimal.Decimal) {
	if d > largest || d < -largest {
		c.refuse("large", pointer, "is-beyond-a-thousand", d)
	}
}

func (c *checker) section(key string, s *Section) {
	p := At("sections", key)
	c.key(p, key, false)
	c.fillins(p+"/heading", s.Heading, MaxLabel)
	c.fillins(p+"/text", s.Text, MaxText)
	c.picture(p+"/picture", s.Picture)
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
		c.refuse("many", pointer, "there-are-has-at", n, of, Most)
	}
}
