package passage

import (
	"slices"
	"strings"
	"sync"

	"golang.org/x/text/language"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
)

// wordClasses are the ways in which the conditions of a quiz tell the answers to one
// question in words apart. They are found when they are asked for first.
type wordClasses struct {
	once    sync.Once
	clauses []*condition
	list    []wordClass
	whole   bool // there are no others
}

type wordClass struct{ text, name, signature string }

func (w *wordClasses) get(q *question) []wordClass {
	w.once.Do(func() {
		if !slices.ContainsFunc(w.clauses, compares) {
			w.list, w.whole = []wordClass{{text: q.someWords()}}, true
			return
		}
		var texts []string
		texts, w.whole = q.stockOf(w.clauses).classes(w.clauses, q.kept)
		for _, text := range texts {
			w.list = append(w.list, wordClass{text, w.named(text), signatureOf(w.clauses, text)})
		}
	})
	return w.list
}

// known tells whether all ways in which conditions can tell words apart were found.
func (w *wordClasses) known(q *question) bool {
	w.get(q)
	return w.whole
}

// named says which comparisons hold of a text.
func (w *wordClasses) named(text string) string {
	var names []string
	for _, c := range w.clauses {
		op, held := c.op, c.text(text)
		if op == quiz.IsNot {
			op, held = quiz.Is, !held
		}
		if name := string(op) + " " + strings.Join(c.words, ", "); held && compares(c) &&
			!slices.Contains(names, name) {
			names = append(names, name)
		}
	}
	if len(names) == 0 {
		return "else"
	}
	return strings.Join(names, " and ")
}

// name returns the name of the class that a text is of, "" where it is of none known.
func (w *wordClasses) name(q *question, text string) string {
	list := w.get(q)
	if len(list) == 1 {
		return list[0].name
	}
	sig := signatureOf(w.clauses, text)
	for _, c := range list {
		if c.signature == sig {
			return c.name
		}
	}
	return ""
}

// text returns a text of the class with a name.
func (w *wordClasses) text(q *question, name string) string {
	for _, c := range w.get(q) {
		if c.name == name {
			return c.text
		}
	}
	return ""
}

// kept returns a text as it is kept where it is given, and whether it can be.
func (q *question) kept(text string) (string, bool) {
	v, err := q.readTyped(text, func(why error, _ string, _ ...any) (Value, error) { return Value{}, why })
	return v.Text, err == nil && v.State == Given
}

// someWords returns an answer in words.
func (q *question) someWords() string {
	switch q.kind {
	case quiz.Consent:
		return "yes"
	case quiz.Email:
		return "name@example.org"
	case quiz.Phone:
		return "+35312345678"
	case quiz.Appointment:
		return "2026-04-30T09:30:00Z"
	case quiz.Country:
		return "IE"
	}
	least := 1
	if q.low != nil {
		least = min(max(least, int((*q.low+decimal.One-1)/decimal.One)), longestText)
	}
	return strings.Repeat("…", least)
}

// A wordstock is what words can be: those of a tongue, or those of a list.
type wordstock struct {
	tongue *tongue
	list   []string
	whole  bool // the list holds all that there is
}

// stockOf returns what the answer to a question in words can be.
func (q *question) stockOf(clauses []*condition) wordstock {
	switch q.kind {
	case quiz.Consent:
		return wordstock{list: []string{"yes"}, whole: true}
	case quiz.Email:
		return wordstock{tongue: &mail}
	case quiz.Phone, quiz.Appointment:
		return wordstock{list: append(probes(q.kind), variants(clauses)...)}
	}
	t := plain
	if q.kind == quiz.LongText {
		t.most = longestText
	}
	if q.low != nil {
		t.least = max(t.least, int((*q.low+decimal.One-1)/decimal.One))
	}
	if q.high != nil {
		t.most = min(t.most, int(*q.high/decimal.One))
	}
	return wordstock{tongue: &t}
}

// stockOfFact returns what a fact of the visitor can be where it is known.
func stockOfFact(name string, clauses []*condition) wordstock {
	switch name {
	case "country":
		return wordstock{list: Countries(), whole: true}
	case "weekday":
		return wordstock{list: weekdays, whole: true}
	case "device":
		return wordstock{list: []string{"phone", "tablet", "desktop"}, whole: true}
	case "time":
		return wordstock{list: minutes(), whole: true}
	case "date":
		return wordstock{
			list: days(clauses),
			whole: !slices.ContainsFunc(
				clauses,
				func(c *condition) bool { return c.op == quiz.Contains || c.op == quiz.Includes },
			),
		}
	case "language":
		return wordstock{tongue: &subtag}
	}
	return wordstock{tongue: &plain}
}

// Countries returns the codes of ISO 3166-1 alpha-2 in their order. They must not be changed.
var Countries = sync.OnceValue(func() []string {
	var list []string
	for a := 'A'; a <= 'Z'; a++ {
		for b := 'A'; b <= 'Z'; b++ {
			code := string(a) + string(b)
			if region, err := language.ParseRegion(code); err == nil && region.IsCountry() && region.String() == code {
				list = append(list, code)
			}
		}
	}
	return list
})

var minutes = sync.OnceValue(func() []string {
	var list []string
	for m := range 24 * 60 {
		list = append(
			list,
			string([]byte{byte('0' + m/600), byte('0' + m/60%10), ':', byte('0' + m%60/10), byte('0' + m%10)}),
		)
	}
	return list
})

// days returns the days that comparisons name, and those beside them.
func days(clauses []*condition) []string {
	list := []string{"2026-01-01"}
	for _, c := range clauses {
		for _, word := range c.words {
			if day, err := quiz.ParseDay(word); err == nil {
				list = append(list, quiz.DayText(day), quiz.DayText(day-decimal.One), quiz.DayText(day+decimal.One))
			}
		}
	}
	return list
}

// probes are answers of kinds whose form is checked, some of many.
func probes(k quiz.Kind) []string {
	if k == quiz.Appointment {
		return []string{"2026-04-30T09:30:00Z", "2026-10-01T14:00:00+01:00"}
	}
	return examplePhones()
}

// classes returns one text for each way in which clauses can tell texts apart, and
// whether there are no others. kept, where set, returns a text as it is kept, and
// whether it can be given.
func (s wordstock) classes(clauses []*condition, kept func(string) (string, bool)) (list []string, whole bool) {
	candidates, whole := s.list, s.whole
	if s.tongue != nil {
		candidates, whole = s.tongue.texts(clauses)
	}
	told := map[string]bool{}
	for _, text := range candidates {
		if kept != nil {
			var given bool
			if text, given = kept(text); !given {
				continue
			}
		}
		if sig := signatureOf(clauses, text); !told[sig] {
			told[sig] = true
			list = append(list, text)
		}
	}
	return list, whole || !slices.ContainsFunc(clauses, compares)
}

// compares tells whether a clause looks at the words themselves.
func compares(c *condition) bool { return c.op != quiz.IsAnswered && c.op != quiz.IsSkipped }

func signatureOf(clauses []*condition, text string) string {
	sig := make([]byte, len(clauses))
	for i, c := range clauses {
		if c.text(text) {
			sig[i] = 1
		}
	}
	return string(sig)
}

// variants returns words that comparisons name, and some beside them.
func variants(clauses []*condition) []string {
	var list []string
	for _, c := range clauses {
		for i := range c.words {
			word := c.source.Value.Items[i].String() // as it was written
			list = append(list, word)
			if ordering(c.op) {
				list = append(list, "!", word+"~")
				if c.numeric {
					list = append(list, c.numbers[i].Sub(decimal.One).String(), c.numbers[i].Add(decimal.One).String())
				}
			}
		}
	}
	return list
}

func ordering(op quiz.Op) bool {
	switch op {
	case quiz.AtLeast, quiz.AtMost, quiz.MoreThan, quiz.LessThan, quiz.Between:
		return true
	}
	return false
}
