package finding

import (
	"fmt"
	"maps"
	"slices"
	"strings"

	"omphalos/core/decimal"
	"omphalos/core/edit"
	"omphalos/core/fillin"
	"omphalos/core/quiz"
)

const (
	// longList is how many answers are read at a glance; common practice, no source.
	longList = 9
	// manyQuestions is how many questions respondents bear with; common practice, no source.
	manyQuestions = 10
)

func (f *finder) questions() {
	f.sections()
	for i, key := range f.q.QuestionKeys() {
		q := f.q.Questions[key]
		if f.exactPath() {
			f.unreached(i, key, q)
		}
		f.useless(key, q)
		f.unweighted(key, q)
		f.brackets(key, q)
		f.ownAmounts(key, q)
		f.expectations(key, q)
		if n := len(q.Answers); n > longList && q.Kind == quiz.Single {
			f.note(
				"long-list",
				quiz.At("questions", key, "kind"),
				mend("Make it a drop-down", put(quiz.At("questions", key, "kind"), quiz.Dropdown)),
				"%s has %d answers: a drop-down is shorter on a phone.",
				f.label(key),
				n,
			)
		}
		if q.Kind == quiz.Location && q.Table != "" && f.outside.Places != nil && !f.outside.Places(q.Table) {
			f.note(
				"places-missing",
				quiz.At("questions", key, "table"),
				nil,
				"%s offers the places of the table “%s”, which has none: respondents can't answer.",
				f.label(key),
				q.Table,
			)
		}
		f.missing(quiz.At("questions", key), f.label(key), textsOf(quiz.At("questions", key), q))
	}
}

// exactPath tells whether all that can be seen and answered is known: what the odds do
// not hold of it never happens.
func (f *finder) exactPath() bool {
	return f.p != nil && f.o != nil && f.o.ExactPath() && !f.o.Partial
}

// exactEnds tells the same of outcomes and landings.
func (f *finder) exactEnds() bool {
	return f.p != nil && f.o != nil && f.o.ExactOutcomes() && !f.o.Partial
}

// sections whose condition never, or always, holds.
func (f *finder) sections() {
	if !f.exactPath() {
		return
	}
	for _, key := range quiz.InOrder(f.q.Sections) {
		s := f.q.Sections[key]
		if v, asked := f.o.Held[s.ShowWhen]; s.ShowWhen != nil && asked && !v.Held {
			f.note(
				"never-holds",
				quiz.At("sections", key, "showWhen"),
				mend("Always show the section", remove(quiz.At("sections", key, "showWhen"))),
				"The section %s never shows: %s.%s",
				quote(s.Heading, key),
				f.q.Sentence(s.ShowWhen),
				f.why(s.ShowWhen),
			)
		}
	}
}

// unreached notes a question that nobody comes to, and a condition that lets everybody pass.
func (f *finder) unreached(i int, key string, q *quiz.Question) {
	when := quiz.At("questions", key, "showWhen")
	verdict, asked := f.o.Held[q.ShowWhen]
	if _, seen := f.o.Seen[key]; seen {
		if q.ShowWhen != nil && asked && !verdict.Failed {
			f.note(
				"always-holds",
				when,
				mend("Remove the condition", remove(when)),
				"%s shows when %s: that is always so for those who come this far.",
				f.label(key),
				f.q.Sentence(q.ShowWhen),
			)
		}
		return
	}
	pointer := quiz.At("questions", key)
	section := f.q.Sections[q.Section]
	switch {
	case q.ShowWhen != nil && asked && !verdict.Held:
		f.note(
			"unreachable-question",
			pointer,
			mend("Always show it", remove(when)),
			"Nobody comes to %s: it shows when %s, and that never happens.%s",
			f.label(key),
			f.q.Sentence(q.ShowWhen),
			f.why(q.ShowWhen),
		)
	case section != nil && section.ShowWhen != nil && !f.o.Held[section.ShowWhen].Held:
		f.note("unreachable-question", pointer, nil, "Nobody comes to %s: its section never shows.", f.label(key))
	case i == 0:
		f.note("unreachable-question", pointer, nil, "Nobody comes to %s.", f.label(key))
	default:
		f.note(
			"unreachable-question",
			pointer,
			nil,
			"Nobody comes to %s: all ways lead past it, or end before.",
			f.label(key),
		)
	}
}

// useless notes a question whose answer makes no difference to anything.
func (f *finder) useless(key string, q *quiz.Question) {
	if !(q.Kind.HasAnswers() || q.Kind.Numeric()) || len(q.Then) > 0 || weighs(q) || f.askedFor(key) ||
		f.unfinished(quiz.At("questions", key)) ||
		!f.weighing() {
		return
	}
	for _, a := range q.Answers {
		if a.Then != nil || a.Right || a.WriteIn {
			return
		}
	}
	f.note(
		"changes-nothing",
		quiz.At("questions", key),
		nil,
		"%s changes nothing: its answers weigh nothing, lead nowhere and nothing asks for them. Every question costs respondents; weigh it or leave it out.",
		f.label(key),
	)
}

// weighing tells whether weighing has begun: before, no question changes anything yet.
func (f *finder) weighing() bool {
	for _, q := range f.q.Questions {
		if weighs(q) {
			return true
		}
	}
	return false
}

// unfinished tells whether there are errors at a place, which come first.
func (f *finder) unfinished(pointer quiz.Pointer) bool {
	return slices.ContainsFunc(f.list, func(n Finding) bool {
		return n.Level == Error && n.Pointer.Within(pointer)
	})
}

func weighs(q *quiz.Question) bool {
	for _, a := range q.Answers {
		if counts(a) {
			return true
		}
	}
	for _, r := range q.Rows {
		for _, adds := range r.Adds {
			for _, d := range adds {
				if d != 0 {
					return true
				}
			}
		}
	}
	return len(q.Weigh) > 0
}

func counts(a *quiz.Answer) bool {
	for _, d := range a.Adds {
		if d != 0 {
			return true
		}
	}
	return false
}

// askedFor tells whether a condition, a formula, a tie or a text asks for a question.
func (f *finder) askedFor(key string) bool {
	if f.asked == nil {
		f.asked = map[string]bool{}
		for _, p := range f.placed() {
			each(p.pointer, p.c, func(_ quiz.Pointer, c *quiz.Condition) { f.asked[c.Answer] = true })
		}
		for _, s := range f.q.Decision.Steps {
			for _, c := range s.Columns {
				f.asked[c.Answer] = true
			}
			if s.Ties != nil {
				f.asked[s.Ties.Question] = true
			}
		}
		for _, t := range f.texts() {
			for _, name := range fillin.Names(t.text) {
				name, _, _ = strings.Cut(name, ".")
				f.asked[name] = true
			}
		}
		for _, s := range f.q.Scales {
			for _, name := range strings.FieldsFunc(s.Formula, func(r rune) bool {
				return r != '_' && (r < '0' || r > '9') && (r < 'a' || r > 'z')
			}) {
				f.asked[name] = true
			}
		}
	}
	return f.asked[key]
}

// unweighted notes answers without a weight beside answers that have one.
func (f *finder) unweighted(key string, q *quiz.Question) {
	if !q.Kind.HasAnswers() || q.Kind == quiz.Grid || !weighs(q) {
		return
	}
	var bare []string
	scales := map[string]bool{}
	for _, k := range quiz.InOrder(q.Answers) {
		for scale := range q.Answers[k].Adds {
			scales[scale] = true
		}
		if len(q.Answers[k].Adds) == 0 {
			bare = append(bare, k)
		}
	}
	if len(bare) == 0 {
		return
	}
	var changes []edit.Op
	for _, k := range bare {
		adds := map[string]decimal.Decimal{}
		for scale := range scales {
			adds[scale] = 0
		}
		changes = append(changes, put(quiz.At("questions", key, "answers", k, "adds"), adds))
	}
	names := make([]string, len(bare))
	for i, k := range bare {
		names[i] = quote(q.Answers[k].Label, k)
	}
	has := "has no weight"
	if len(bare) > 1 {
		has = "have no weight"
	}
	f.note("unweighted", quiz.At("questions", key, "answers", bare[0], "adds"), mend("Write 0", changes...),
		"%s: %s %s, and other answers do.", f.label(key), listed(names, 3), has)
}

// ownAmounts notes rows whose own amounts stand in some columns only: they are instead
// of the columns' in all of them.
func (f *finder) ownAmounts(key string, q *quiz.Question) {
	for _, k := range quiz.InOrder(q.Rows) {
		own := map[string]int{}
		for _, adds := range q.Rows[k].Adds {
			for scale := range adds {
				own[scale]++
			}
		}
		for _, scale := range slices.Sorted(maps.Keys(own)) {
			var lost []string
			for _, column := range quiz.InOrder(q.Answers) {
				if _, has := q.Rows[k].Adds[column][scale]; !has && q.Answers[column].Adds[scale] != 0 {
					lost = append(lost, quote(q.Answers[column].Label, column))
				}
			}
			if len(lost) > 0 {
				f.note(
					"own-amounts",
					quiz.At("questions", key, "rows", k, "adds"),
					nil,
					"%s: the row %s has amounts of its own on %s, so that %s add nothing to it there. Give the row an amount for each column.",
					f.label(key),
					quote(q.Rows[k].Label, k),
					f.scale(scale),
					listed(lost, 3),
				)
			}
		}
	}
}

// listed joins words, the first few of many.
func listed(words []string, most int) string {
	if len(words) > most {
		return fmt.Sprintf("%s and %d more", strings.Join(words[:most], ", "), len(words)-most)
	}
	if len(words) > 1 {
		return strings.Join(words[:len(words)-1], ", ") + " and " + words[len(words)-1]
	}
	return strings.Join(words, "")
}

// brackets that no value which can be given lies in.
func (f *finder) brackets(key string, q *quiz.Question) {
	values := q.Lattice()
	for scale, w := range q.Weigh {
		keys := quiz.InOrderOfBrackets(w.Brackets)
		for i, k := range keys {
			low, high := decimal.Min, decimal.Max
			if b := w.Brackets[k]; b.From != nil {
				low = b.From.Value()
			}
			if i+1 < len(keys) {
				high = w.Brackets[keys[i+1]].From.Value() - 1
			}
			if w.Reversed {
				ends, bottom := q.Bounds()
				if ends == nil || bottom == nil {
					continue
				}
				low, high = ends.Add(*bottom).Sub(high), ends.Add(*bottom).Sub(low)
			}
			if values.Within(low, high).Count() > 0 {
				continue
			}
			pointer := quiz.At("questions", key, "weigh", scale, "brackets", k)
			f.note(
				"unreachable-answer",
				pointer,
				mend("Remove the bracket", remove(pointer)),
				"%s: nothing that can be answered is in the bracket %s; %s.",
				f.label(key),
				bracketWords(w.Brackets, keys, i),
				valueWords(q, values),
			)
		}
	}
}

func bracketWords(brackets map[string]*quiz.Bracket, keys []string, i int) string {
	from, last := brackets[keys[i]].From, i+1 == len(keys)
	switch {
	case from == nil && last:
		return "of all values"
	case from == nil:
		return "below " + brackets[keys[i+1]].From.Words()
	case last:
		return "from " + from.Words()
	}
	return fmt.Sprintf("from %s to below %s", from.Words(), brackets[keys[i+1]].From.Words())
}

// valueWords says which values can be given.
func valueWords(q *quiz.Question, values quiz.Lattice) string {
	text := decimal.Decimal.Words
	if q.Kind == quiz.Date {
		text = quiz.DayText
	}
	steps := ""
	if q.Limits != nil && q.Limits.Step != nil {
		steps = fmt.Sprintf(", in steps of %s", q.Limits.Step)
	}
	switch {
	case values.Count() == 0:
		return "its limits leave no value at all"
	case values.Below:
		return text(values.Last) + " is the highest" + steps
	case values.Above:
		return text(values.First) + " is the lowest" + steps
	}
	return fmt.Sprintf("values go from %s to %s%s", text(values.First), text(values.Last), steps)
}

// expectations of answers that are not there any more.
func (f *finder) expectations(key string, q *quiz.Question) {
	if f.p == nil || len(q.Expect) == 0 || !f.p.Named(f.p.Position(key)) {
		return
	}
	names := f.p.Names(f.p.Position(key))
	for name := range q.Expect {
		if !slices.Contains(names, name) {
			pointer := quiz.At("questions", key, "expect", name)
			f.note(
				"stale-expectation",
				pointer,
				mend("Remove it", remove(pointer)),
				"%s expects the answer “%s”, which is not there.",
				f.label(key),
				name,
			)
		}
	}
}

// A text stands at a place of the document.
type text struct {
	pointer quiz.Pointer
	text    string
}

func textsOf(pointer quiz.Pointer, q *quiz.Question) []text {
	list := []text{{pointer + "/label", q.Label}, {pointer + "/help", q.Help}}
	for _, k := range quiz.InOrder(q.Answers) {
		list = append(list, text{pointer.Join("answers", k, "label"), q.Answers[k].Label})
	}
	return list
}

func outcomeTexts(pointer quiz.Pointer, o *quiz.Outcome) []text {
	list := []text{{pointer + "/headline", o.Headline}, {pointer + "/text", o.Text}}
	for _, l := range quiz.InOrder(o.Landings) {
		landing := o.Landings[l]
		for _, b := range quiz.InOrder(landing.Blocks) {
			p := pointer.Join("landings", l, "blocks", b)
			list = append(
				list,
				text{p + "/text", landing.Blocks[b].Text},
				text{p + "/label", landing.Blocks[b].Label},
				text{p + "/address", landing.Blocks[b].Address},
			)
		}
		list = append(list, text{pointer.Join("landings", l, "address"), landing.Address})
	}
	return list
}

// texts returns all texts that fill something in.
func (f *finder) texts() []text {
	var list []text
	for k, s := range f.q.Sections {
		list = append(
			list,
			text{quiz.At("sections", k, "heading"), s.Heading},
			text{quiz.At("sections", k, "text"), s.Text},
		)
	}
	for k, q := range f.q.Questions {
		list = append(list, textsOf(quiz.At("questions", k), q)...)
	}
	for k, o := range f.q.Outcomes {
		list = append(list, outcomeTexts(quiz.At("outcomes", k), o)...)
	}
	return list
}

// missing notes fill-ins of answers that some of those who read them have not given.
func (f *finder) missing(place quiz.Pointer, name string, texts []text) {
	if f.o == nil {
		return
	}
	for _, key := range f.o.Missing[string(place)] {
		asked := f.q.Questions[key]
		pointer := place
		for _, t := range texts {
			if slices.ContainsFunc(
				fillin.Names(t.text),
				func(n string) bool { n, _, _ = strings.Cut(n, "."); return n == key },
			) {
				pointer = t.pointer
				break
			}
		}
		if f.o.Seen[key] > 1-1e-9 && !asked.Required {
			f.note(
				"fill-in-missing",
				pointer,
				mend("Make "+f.label(key)+" required", put(quiz.At("questions", key, "required"), true)),
				"%s fills in the answer to %s, which respondents may pass by: nothing would stand there.",
				name,
				f.label(key),
			)
			continue
		}
		f.note(
			"fill-in-missing",
			pointer,
			nil,
			"%s fills in the answer to %s, which some of those who read it have not been asked, or passed by: nothing would stand there.",
			name,
			f.label(key),
		)
	}
}

func (f *finder) lengths() {
	if n := f.o.Questions(); n > manyQuestions {
		f.note(
			"many-questions",
			"/questions",
			nil,
			"Respondents are asked %.1f questions on average. Every further one costs finishes; a handful is common practice.",
			n,
		)
	}
}
