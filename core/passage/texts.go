package passage

import (
	"slices"
	"strings"
	"sync"
	"unicode"

	"golang.org/x/text/language"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
)

// A tongue is what words of one kind can be: all texts that its steps lead through.
type tongue struct {
	step        func(state int, r rune) int // −1: no text goes on so
	ends        func(state int) bool
	others      string // runes that stand for any that no condition names, the first that is free
	least, most int    // characters
}

var (
	// plain is a text that begins and ends with something that is seen.
	plain = tongue{
		step: func(state int, r rune) int {
			switch {
			case !unicode.IsSpace(r):
				return 1
			case state == 0:
				return -1
			}
			return 2
		},
		ends:   func(state int) bool { return state == 1 },
		others: "…·¤§¶†‡", least: 1, most: 2000,
	}
	// mail is the form of an e-mail address that emailShape tells.
	mail = tongue{
		step:   mailStep,
		ends:   func(state int) bool { return state == 5 },
		others: "xyzwqvkjabcdefghilmnoprstu0123456789",
		least:  1,
		most:   254,
	}
	// subtag is a primary language subtag (BCP 47).
	subtag = tongue{
		step: func(state int, r rune) int {
			if r < 'a' || r > 'z' {
				return -1
			}
			return state + 1
		},
		ends:   func(state int) bool { return state == 2 || state == 3 },
		others: "xyzwqvkjabcdefghilmnoprstu", least: 2, most: 3,
	}
)

func mailStep(state int, r rune) int {
	label := r < unicode.MaxASCII && (unicode.IsLetter(r) || unicode.IsDigit(r)) || r == '-'
	switch {
	case state <= 1 && (label || strings.ContainsRune(".!#$%&'*+/=?^_{|}~", r)):
		return 1
	case state == 1 && r == '@':
		return 2
	case (state == 2 || state == 3) && label:
		return 3
	case (state == 3 || state == 5) && r == '.':
		return 4
	case state >= 4 && label:
		return 5
	}
	return -1
}

// mostTextStates bounds the search for texts.
const mostTextStates = 1 << 13

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

// texts finds the shortest text for each set of words that can be found in one, among
// them the texts that are just such a word. All words are looked for at once (Aho &
// Corasick, Efficient String Matching, CACM 1975), beginning and end of a text being
// characters of their own, so that a text that is a word is one that holds it whole.
func (t *tongue) texts(clauses []*condition) (list []string, whole bool) {
	m := matcher{alphabet: map[rune]int{}}
	whole = true
	for _, c := range clauses {
		if ordering(c.op) {
			list, whole = append(list, variants(clauses)...), false
		}
		for _, word := range c.words {
			switch c.op {
			case quiz.Is, quiz.IsNot, quiz.IsOneOf:
				whole = m.add("\x02"+word+"\x03") && whole
			case quiz.Contains, quiz.Includes:
				whole = m.add(word) && whole
			}
		}
	}
	if !whole { // too many words, or comparisons that no search answers
		for _, c := range clauses {
			for i := range c.words {
				list = append(list, c.source.Value.Items[i].String())
			}
		}
		return append(list, "…"), false
	}
	other := rune(0)
	for _, r := range t.others {
		if _, named := m.alphabet[r]; !named {
			other = r
			break
		}
	}
	if other == 0 {
		whole = false
	}
	for _, r := range "@.a" { // what a form may ask for
		m.letter(r)
	}
	found, all := m.search(t, other)
	return append(list, found...), whole && all
}

// A matcher tells which of some words stand in a text.
type matcher struct {
	words    []string
	alphabet map[rune]int
	runes    []rune
	next     [][]int  // per node and letter
	found    []uint64 // per node: the words that end there
}

func (m *matcher) letter(r rune) int {
	i, known := m.alphabet[r]
	if !known {
		i = len(m.runes)
		m.alphabet[r], m.runes = i, append(m.runes, r)
	}
	return i
}

// add tells false where there are too many words.
func (m *matcher) add(word string) bool {
	if slices.Contains(m.words, word) {
		return true
	}
	if len(m.words) == 64 {
		return false
	}
	m.words = append(m.words, word)
	for _, r := range word {
		m.letter(r)
	}
	return true
}

func (m *matcher) build() {
	node := func() int {
		row := make([]int, len(m.runes))
		for i := range row {
			row[i] = -1
		}
		m.next, m.found = append(m.next, row), append(m.found, 0)
		return len(m.next) - 1
	}
	node()
	for w, word := range m.words {
		at := 0
		for _, r := range word {
			l := m.alphabet[r]
			if m.next[at][l] < 0 {
				to := node()
				m.next[at][l] = to
			}
			at = m.next[at][l]
		}
		m.found[at] |= 1 << w
	}
	fail := make([]int, len(m.next))
	var queue []int
	for l, to := range m.next[0] {
		if to < 0 {
			m.next[0][l] = 0
			continue
		}
		queue = append(queue, to)
	}
	for len(queue) > 0 {
		at := queue[0]
		queue = queue[1:]
		m.found[at] |= m.found[fail[at]]
		for l, to := range m.next[at] {
			if to < 0 {
				m.next[at][l] = m.next[fail[at]][l]
				continue
			}
			fail[to] = m.next[fail[at]][l]
			queue = append(queue, to)
		}
	}
}

// search goes through all texts of a tongue, the shorter first, as far as what has
// been found in them differs.
func (m *matcher) search(t *tongue, other rune) (list []string, all bool) {
	m.letter('\x02')
	m.letter('\x03')
	m.build()
	begin, end := m.alphabet['\x02'], m.alphabet['\x03']
	type state struct {
		tongue, node int
		found        uint64
	}
	type step struct {
		state state
		from  int
		r     rune
	}
	start := state{0, m.next[0][begin], m.found[m.next[0][begin]]}
	steps := []step{{start, -1, 0}}
	seen := map[state]bool{start: true}
	ended := map[uint64]bool{}
	text := func(at int) string {
		var runes []rune
		for ; steps[at].from >= 0; at = steps[at].from {
			runes = append(runes, steps[at].r)
		}
		slices.Reverse(runes)
		return string(runes)
	}
	runes := m.runes
	if other != 0 {
		runes = append([]rune{other}, runes...)
	}
	layer, length := 1, 0 // how many steps are of the length that is gone through
	for at := 0; at < len(steps); at++ {
		if at == layer {
			layer, length = len(steps), length+1
		}
		s := steps[at].state
		if length > 0 && t.ends(s.tongue) {
			last := m.next[s.node][end]
			found, short := s.found|m.found[last], t.least-length
			if short > 0 {
				found = s.found // what is put before it keeps it from being a word as a whole
			}
			if !ended[found] && (short <= 0 || other != 0) {
				ended[found] = true
				list = append(list, strings.Repeat(string(other), max(short, 0))+text(at))
			}
		}
		if length == t.most {
			continue
		}
		for _, r := range runes {
			to := state{t.step(s.tongue, r), 0, s.found}
			if to.tongue < 0 || r == '\x02' || r == '\x03' {
				continue
			}
			if l, known := m.alphabet[r]; known {
				to.node = m.next[s.node][l]
				to.found |= m.found[to.node]
			}
			if !seen[to] {
				seen[to] = true
				steps = append(steps, step{to, at, r})
			}
		}
		if len(steps) > mostTextStates {
			return list, false
		}
	}
	return list, true
}
