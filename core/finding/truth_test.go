package finding_test

import (
	"fmt"
	"math/rand/v2"
	"reflect"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"omphalos/core/decimal"
	"omphalos/core/finding"
	"omphalos/core/odds"
	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/core/quiztest"
)

// A witnessed passage is what one respondent came to, and what was asked of them.
type witnessed struct {
	seen    []string
	end     program.End
	outcome string
	landing string
	step    string // that decided, "" for otherwise
	part    string
	scores  map[string]decimal.Decimal
	held    map[*quiz.Condition]bool // conditions and their parts, where they were asked
}

// witness walks a passage along a Course of its own, and asks each part of what is asked on
// the way, at the decision, and of those who have landed.
func witness(p *program.Program, in passage.Input) witnessed {
	c := p.Course()
	c.Begin(in.Answers, in.Visitor, in.Contact, nil)
	w := witnessed{end: program.Decided, scores: map[string]decimal.Decimal{}, held: map[*quiz.Condition]bool{}}
	var ask func(of *program.Condition)
	ask = func(of *program.Condition) {
		if of == nil {
			return
		}
		w.held[of.Source] = of.Holds(c)
		for _, part := range of.Parts {
			ask(part)
		}
	}
	c.Watch = func(of *program.Condition, _ bool) { ask(of) }
	for i := c.Ahead(0, program.None); i < len(p.Questions); {
		c.Seen[i] = true
		w.seen = append(w.seen, p.Key(i))
		c.Weigh(&p.Questions[i], &in.Answers[i])
		c.Moved()
		to := c.Leave(i, &in.Answers[i])
		if i = to.Next; to.End != program.Unfinished {
			w.end, c.Outcome = to.End, to.Outcome
			break
		}
	}
	var scores []decimal.Decimal
	for i, key := range p.ScaleKeys() {
		scores = append(scores, c.Score(i))
		w.scores[key] = c.Score(i)
	}
	if w.end == program.Decided {
		for i := range p.Steps {
			ask(p.Steps[i].When)
		}
		if step := c.Decide(scores); step != program.Otherwise {
			w.step, w.part = p.StepKey(step), p.PartKey(step, c.Part)
		}
	}
	landing := c.Land()
	w.outcome, w.landing = p.OutcomeAt(c.Outcome), p.LandingAt(c.Outcome, landing)
	for _, b := range p.Outcomes[c.Outcome].Landings[landing].Blocks {
		ask(b.When)
	}
	if w.end != program.Parted {
		ask(p.ContactWhen)
		for _, f := range p.FollowUps {
			ask(f.When)
		}
	}
	return w
}

var (
	reasonNobody = regexp.MustCompile(`Nobody comes to “?(q\d)”?\.`)
	reasonAnswer = regexp.MustCompile(`Nobody who gets this far has answered “?(q\d)”? that way`)
	reasonScore  = regexp.MustCompile(`Nobody who gets this far has such a score on (\w+)`)
	reasonRange  = regexp.MustCompile(`(\w+) goes from (\S+) to (\S+?)( at the end)?\.( |$)`)
)

// What findings say of everybody is said of respondents at random: whatever is told "never",
// "always" or "nobody", none of five hundred is otherwise, and the reasons that are given are
// so for them, too. Quizzes send respondents to outcomes by name, screen them out, and ask
// conditions of landings, blocks, contact and mail.
func TestWhatIsSaidIsTrue(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		m := quiztest.Draw(t, quiztest.Limits{Questions: 5, Answers: 3})
		list, p, _ := finding.Of(m.Quiz, odds.Options{}, finding.Outside{})
		r := rand.New(rand.NewPCG(rapid.Uint64().Draw(t, "seed"), 1))
		var all []witnessed
		for range 500 {
			in := quiztest.RandomAnswers(r, p)
			if p.Quiz.Contact != nil && r.IntN(2) == 0 {
				in.Contact = map[string]string{"mail": "ann@example.org"}
			}
			w := witness(p, in)
			got := passage.Walk(p, in)
			require.Equal(t, passage.OutcomeKey(p, got), w.outcome, "the witness walks as passages do")
			require.Equal(t, passage.LandingKey(p, got), w.landing)
			all = append(all, w)
		}
		for _, f := range list {
			about := fmt.Sprintf("%s %s: %s\n%s", f.Code, f.Pointer, f.Sentence, m.Write())
			for _, w := range all {
				require.True(t, agrees(p.Quiz, f, w), "%s\n%+v", about, w)
			}
			for _, at := range reasonNobody.FindAllStringSubmatch(f.Sentence, -1) {
				require.False(t, slices.ContainsFunc(all, func(w witnessed) bool {
					return slices.Contains(w.seen, at[1])
				}), about)
			}
			reasons(t, p.Quiz, f, all, about)
		}
	})
}

// asked returns the condition at a place of the document, nil for none.
func asked(q *quiz.Quiz, at quiz.Pointer) *quiz.Condition {
	v := reflect.ValueOf(q)
	for _, key := range at.Keys() {
		for v.Kind() == reflect.Pointer && !v.IsNil() {
			v = v.Elem()
		}
		switch v.Kind() {
		case reflect.Struct:
			of := v
			v = of.FieldByNameFunc(func(name string) bool {
				field, _ := of.Type().FieldByName(name)
				tag, _, _ := strings.Cut(field.Tag.Get("json"), ",")
				return tag == key
			})
		case reflect.Map:
			v = v.MapIndex(reflect.ValueOf(key))
		case reflect.Slice:
			i, _ := strconv.Atoi(key)
			v = v.Index(i)
		}
		if !v.IsValid() {
			return nil
		}
	}
	c, _ := v.Interface().(*quiz.Condition)
	return c
}

// agrees tells whether a passage is as a finding says all are.
func agrees(q *quiz.Quiz, f finding.Finding, w witnessed) bool {
	keys := f.Pointer.Keys()
	switch f.Code {
	case "never-holds", "always-holds":
		if c := asked(q, f.Pointer); c != nil {
			held, was := w.held[c]
			return !was || held == (f.Code == "always-holds")
		}
		return f.Code == "always-holds" || w.step != keys[2] || w.part != f.Key // a row of a table
	case "unreachable-question":
		return !slices.Contains(w.seen, f.Key)
	case "unreachable-outcome":
		return w.outcome != f.Key
	case "unreachable-landing":
		return w.outcome != keys[1] || w.landing != f.Key
	case "band-out-of-reach", "shadowed":
		part := f.Key
		switch {
		case keys[len(keys)-1] == "lowest":
			part = ""
		case len(keys) == 3: // a whole step
			return w.step != f.Key
		}
		return w.step != keys[2] || w.part != part
	case "contact-unasked":
		return w.end == program.Parted || !w.held[asked(q, f.Pointer)]
	}
	return true
}

// reasons holds what a finding gives as its reason against those who were asked.
func reasons(t *rapid.T, q *quiz.Quiz, f finding.Finding, all []witnessed, about string) {
	c := asked(q, f.Pointer)
	if c == nil {
		c = asked(q, f.Pointer+"/when")
	}
	if c == nil {
		c = asked(q, f.Pointer+"/showWhen")
	}
	for _, is := range []struct {
		said *regexp.Regexp
		of   func(c *quiz.Condition) string
	}{
		{reasonAnswer, func(c *quiz.Condition) string { return c.Answer }},
		{reasonScore, func(c *quiz.Condition) string { return c.Scale }},
	} {
		for _, at := range is.said.FindAllStringSubmatch(f.Sentence, -1) {
			require.NotNil(t, c, about)
			require.True(t, somePart(c, func(part *quiz.Condition) bool {
				return is.of(part) == at[1] && !slices.ContainsFunc(all, func(w witnessed) bool { return w.held[part] })
			}), "%s: %s", about, at[0])
		}
	}
	for _, at := range reasonRange.FindAllStringSubmatch(f.Sentence, -1) {
		low, high := numberIn(at[2]), numberIn(at[3])
		for _, w := range all {
			_, arrived := w.held[c]
			if score, of := w.scores[at[1]]; of && arrived {
				require.True(t, low <= score && score <= high, "%s: %s is %s", about, at[1], score)
			}
		}
	}
}

func numberIn(s string) decimal.Decimal {
	d, err := decimal.Parse(strings.TrimSuffix(s, "."))
	if err != nil {
		panic(strconv.Quote(s))
	}
	return d
}

func somePart(c *quiz.Condition, is func(part *quiz.Condition) bool) bool {
	if is(c) {
		return true
	}
	_, parts := c.Group()
	return slices.ContainsFunc(parts, func(part *quiz.Condition) bool { return somePart(part, is) })
}

// Those who are sent to an outcome by name arrive there, too: what only they meet is not
// "never", and what only others reach is told.
func TestFindingsAreOfThoseWhoArrive(t *testing.T) {
	m := plain()
	m.Questions["crop"].Answers["plums"].Then = &quiz.Then{Go: quiz.ToOutcome, To: "yes"}
	below := &quiz.Condition{Subject: quiz.Subject{Scale: "need"},
		Test: quiz.Test{Op: quiz.LessThan, Value: quiz.Amount(decimal.FromInt(4))}}
	yes, no := m.Outcomes["yes"], m.Outcomes["no"]
	yes.Landings["page"].Order = 1
	yes.Landings["named"] = &quiz.Landing{Kind: quiz.PageLanding, When: below, Blocks: map[string]*quiz.Block{
		"plums": {Kind: quiz.TextBlock, Text: "Plums", When: is("crop", "plums")},
		"pears": {Order: 1, Kind: quiz.TextBlock, Text: "Pears", When: is("crop", "pears")},
	}}
	no.Landings["page"].Blocks = map[string]*quiz.Block{
		"now": {Kind: quiz.LinkBlock, Label: "Now", Address: "https://example.org", When: is("when", "later")}}
	list := found(t, m.Write())
	at := func(code string, pointer quiz.Pointer) string {
		if f := with(list, code, pointer); f != nil {
			return f.Sentence
		}
		return ""
	}
	require.Empty(t, at("unreachable-landing", "/outcomes/yes/landings/named"))
	require.Empty(t, at("never-holds", "/outcomes/yes/landings/named/when"), "half of all with the outcome get it")
	require.Equal(t, "This holds for everyone who gets this far: “crop” is “plums”.",
		at("always-holds", "/outcomes/yes/landings/named/blocks/plums/when"))
	require.Equal(t, "This holds for nobody who gets this far: “crop” is “pears”. "+
		"Nobody who gets this far has answered “crop” that way.",
		at("never-holds", "/outcomes/yes/landings/named/blocks/pears/when"))
	require.Equal(t, "This holds for everyone who gets this far: “when” is “later”.",
		at("always-holds", "/outcomes/no/landings/page/blocks/now/when"))
}
