package quiz

import (
	"errors"
	"fmt"
	"maps"
	"net/url"
	"regexp"
	"slices"
	"strings"
	"time"

	"golang.org/x/text/currency"
	"golang.org/x/text/language"

	"omphalos/core/decimal"
	"omphalos/core/fillin"
	"omphalos/core/formula"
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

const mostFrames = 20

// IsOrigin tells whether a text is an origin (RFC 6454) under http or https: scheme, host
// and, where there is one, port.
func IsOrigin(s string) bool {
	u, err := url.Parse(s)
	return err == nil && (u.Scheme == "https" || u.Scheme == "http") && originHost.MatchString(u.Host) &&
		s == u.Scheme+"://"+u.Host
}

var originHost = regexp.MustCompile(`^[a-z0-9.-]+(:[0-9]{1,5})?$`)

var colour = regexp.MustCompile(`^#[0-9a-fA-F]{6}$`)

func (c *checker) look(l *Look) {
	if l == nil {
		return
	}
	for name, v := range map[string]string{"ink": l.Ink, "paper": l.Paper, "accent": l.Accent} {
		if v != "" && !colour.MatchString(v) {
			c.refuse("colour", At("look", name), "%q is not a colour such as #17627a", clip(v))
		}
	}
	c.oneOf("/look/typeface", string(l.Typeface), "", string(Commissioner), string(Literata), string(Atkinson))
	c.text("/look/owner", l.Owner, MaxTitle)
	c.picture("/look/logo", l.Logo)
	c.picture("/look/background", l.Background)
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

func (c *checker) text(pointer Pointer, s string, most int) {
	if n := len([]rune(s)); n > most {
		c.refuse("long", pointer, "has %d characters; at most %d fit. Shorten it", n, most)
	}
}

func (c *checker) label(pointer Pointer, s string) {
	c.fillins(pointer, s, MaxLabel)
	if strings.TrimSpace(s) == "" {
		c.note("empty", pointer, "has no words yet")
	}
}

// fillins checks a text and that each name it fills in is known.
func (c *checker) fillins(pointer Pointer, s string, most int) {
	c.text(pointer, s, most)
	for _, name := range fillin.Names(s) {
		if !c.fills(name) {
			c.note("fillin", pointer, "{%s} stands for nothing in this quiz", name)
		}
	}
}

// fills tells whether name can be filled in.
func (c *checker) fills(name string) bool {
	if fact, found := strings.CutPrefix(name, "visitor."); found {
		return knownFact(fact)
	}
	switch name {
	case "outcome", "response", "passage", "score", "highest", "percent":
		return true
	}
	key, part, dotted := strings.Cut(name, ".")
	if c.q.Scales[name] != nil {
		return true
	}
	asked := c.q.Ask(key)
	if asked == nil {
		return false
	}
	return !dotted || part == "label" || asked.Rows[part] != nil
}

func knownFact(fact string) bool {
	return slices.Contains(Facts, fact) || (strings.HasPrefix(fact, "query.") && len(fact) > 6)
}

func (c *checker) picture(pointer Pointer, p *Picture) {
	if p == nil {
		return
	}
	c.text(pointer+"/description", p.Description, MaxLabel)
	if !strings.HasPrefix(p.Source, "/") || strings.HasPrefix(p.Source, "//") || strings.Contains(p.Source, `\`) {
		if err := fillin.CheckAddress(p.Source); err != nil {
			c.refuse("address", pointer+"/source", "%v", err)
		}
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

func (c *checker) scale(key string, s *Scale) {
	p := At("scales", key)
	c.key(p, key, true)
	if c.q.Ask(key) != nil {
		c.refuse("key", p, "the key %q is a question's, too; a fill-in could not tell which is meant", key)
	}
	c.text(p+"/name", s.Name, MaxTitle)
	if strings.TrimSpace(s.Name) == "" {
		c.note("empty", p+"/name", "the scale has no name")
	}
	c.text(p+"/unit", s.Unit, MaxTitle)
	c.amount(p+"/start", s.Start)
	c.oneOf(p+"/kind", string(s.Kind), string(Points), string(Keyword), string(Pull), string(Money))
	c.oneOf(p+"/method", string(s.Method), "", string(Sum), string(Mean), string(Percent), string(Formula))
	if s.Decimals != nil && (*s.Decimals < 0 || *s.Decimals > 4) {
		c.refuse("decimals", p+"/decimals", "a scale has 0 to 4 decimals")
	}
	if s.Kind == Money {
		if _, err := currency.ParseISO(s.Currency); err != nil {
			c.refuse("currency", p+"/currency", "%q is not a currency code such as EUR (ISO 4217)", clip(s.Currency))
		}
	}
	if s.Kind == Pull && c.q.Outcomes[s.Outcome] == nil {
		c.note("unknown", p+"/outcome", "the pull is of no outcome; choose one")
	}
	if (s.Kind == Keyword || s.Kind == Pull) && s.Start != 0 {
		c.refuse("start", p+"/start", "keyword counts and pulls start at 0")
	}
	for _, k := range InOrder(s.Fees) {
		c.key(p.Join("fees", k), k, false)
		c.text(p.Join("fees", k, "name"), s.Fees[k].Name, MaxTitle)
		c.amount(p.Join("fees", k, "percent"), s.Fees[k].Percent)
		c.amount(p.Join("fees", k, "fixed"), s.Fees[k].Fixed)
	}
}

// formulas checks each formula, and that none leads back to itself.
func (c *checker) formulas() {
	reads := map[string][]string{}
	names := formula.NamesOf(c.q.FormulaNames())
	for _, key := range InOrder(c.q.Scales) {
		s := c.q.Scales[key]
		if s.Method != Formula {
			continue
		}
		f, err := formula.Compile(s.Formula, names)
		if err != nil {
			c.note("formula", At("scales", key, "formula"), "%s", c.formulaWords(key, err))
			continue
		}
		reads[key] = f.Names()
	}
	for _, key := range slices.Sorted(maps.Keys(reads)) {
		if leadsTo(reads, key, key, map[string]bool{}) {
			c.note("circle", At("scales", key, "formula"), "the formula of %s needs its own value", key)
		}
	}
}

// formulaWords says what is wrong with a formula in the terms of the quiz.
func (c *checker) formulaWords(scale string, err error) string {
	var wrong *formula.Error
	if !errors.As(err, &wrong) {
		return err.Error()
	}
	if asked := c.q.Ask(wrong.Unknown); asked != nil {
		what := "words"
		switch {
		case asked.Kind == Grid:
			what = "a grid"
		case asked.Kind == Several:
			what = "several choices"
		case asked.Kind.HasAnswers():
			what = "a choice"
		case asked.Kind == Date:
			what = "a date"
		}
		return fmt.Sprintf(
			"%s is %s, it has no number, at character %d. Let its answers add to a scale, and name that",
			wrong.Unknown,
			what,
			wrong.At+1,
		)
	}
	if wrong.Unknown != "" {
		for _, name := range c.q.FormulaNames() {
			if strings.EqualFold(name, wrong.Unknown) || name != scale && oneOff(name, wrong.Unknown) {
				return fmt.Sprintf("%v; %s is meant, perhaps", err, name)
			}
		}
	}
	return err.Error()
}

// oneOff tells whether two names differ by one letter that is other, more, or less, or
// by two that have changed places.
func oneOff(a, b string) bool {
	if len(a) > len(b) {
		a, b = b, a
	}
	i := 0
	for i < len(a) && a[i] == b[i] {
		i++
	}
	switch len(b) - len(a) {
	case 0:
		return i == len(a) || a[i+1:] == b[i+1:] ||
			i+1 < len(a) && a[i] == b[i+1] && a[i+1] == b[i] && a[i+2:] == b[i+2:]
	case 1:
		return a[i:] == b[i+1:]
	}
	return false
}

func leadsTo(reads map[string][]string, from, to string, seen map[string]bool) bool {
	for _, next := range reads[from] {
		if next == to {
			return true
		}
		if !seen[next] {
			seen[next] = true
			if leadsTo(reads, next, to, seen) {
				return true
			}
		}
	}
	return false
}

// FormulaNames returns what a formula may name: scales, and questions whose
// value is a number.
func (q *Quiz) FormulaNames() []string {
	names := InOrder(q.Scales)
	for _, k := range q.QuestionKeys() {
		if q.Questions[k].Kind.Numeric() {
			names = append(names, k)
		}
	}
	return names
}

// many refuses more of something than there may be.
func (c *checker) many(pointer Pointer, n int, of string) {
	if n > Most {
		c.refuse("many", pointer, "there are %d; %s has at most %d", n, of, Most)
	}
}
