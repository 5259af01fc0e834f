package finding

import (
	"slices"
	"strings"

	"omphalos/core/decimal"
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
				mend("make-it-a-drop", put(quiz.At("questions", key, "kind"), quiz.Dropdown)),
				"has-many-answers",
				f.label(key),
				n,
			)
		}
		if q.Kind == quiz.Location && q.Table != "" && f.outside.Places != nil && !f.outside.Places(q.Table) {
			f.note(
				"places-missing",
				quiz.At("questions", key, "table"),
				nil,
				"offers-the-places-of",
				f.label(key),
				q.Table,
			)
		}
		if _, left := q.On(f.outside.Today); f.outside.Today != 0 && !left {
			f.note("days-over", quiz.At("questions", key, "limits"), nil, "no-day-is-left", f.label(key))
		}
		if q.Kind == quiz.Appointment && q.Table != "" && f.outside.Calendar != nil && !f.outside.Calendar(q.Table) {
			f.note("calendar-missing", quiz.At("questions", key, "table"), nil, "offers-times-of", f.label(key), q.Table)
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
				mend("always-show-the-section", remove(quiz.At("sections", key, "showWhen"))),
				"the-section-never-shows",
				quote(s.Heading, key),
				f.q.Sentence(s.ShowWhen),
				f.why(s.ShowWhen, underWay),
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
				mend("remove-the-condition", remove(when)),
				"shows-when-that-is",
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
			mend("always-show-it", remove(when)),
			"nobody-comes-to-it",
			f.label(key),
			f.q.Sentence(q.ShowWhen),
			f.why(q.ShowWhen, underWay),
		)
	case section != nil && section.ShowWhen != nil && !f.o.Held[section.ShowWhen].Held:
		f.note("unreachable-question", pointer, nil, "nobody-comes-to-its", f.label(key))
	case i == 0:
		f.note("unreachable-question", pointer, nil, "nobody-comes", f.label(key))
	default:
		f.note(
			"unreachable-question",
			pointer,
			nil,
			"nobody-comes-to-all",
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
		"changes-nothing-its-answers",
		f.label(key),
	)
}

// unfinished tells whether there are errors at a place, which come first.
func (f *finder) unfinished(pointer quiz.Pointer) bool {
	return slices.ContainsFunc(f.list, func(n Finding) bool {
		return n.Level == Error && n.Pointer.Within(pointer)
	})
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

// valueWords says which values can be given.
func valueWords(q *quiz.Question, values quiz.Lattice) string {
	text := decimal.Decimal.Words
	if q.Kind == quiz.Date {
		text = quiz.DayText
	}
	steps := ""
	if q.Limits != nil && q.Limits.Step != nil {
		steps = say("in-steps-of", q.Limits.Step)
	}
	switch {
	case values.Count() == 0:
		return say("limits-leave-nothing")
	case values.Below:
		return say("is-the-highest", text(values.Last), steps)
	case values.Above:
		return say("is-the-lowest", text(values.First), steps)
	}
	return say("values-go-from-to", text(values.First), text(values.Last), steps)
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
				mend("remove-it", remove(pointer)),
				"expects-the-answer-which",
				f.label(key),
				name,
			)
		}
	}
}

func (f *finder) lengths() {
	if n := f.o.Questions(); n > manyQuestions {
		f.note(
			"many-questions",
			"/questions",
			nil,
			"respondents-are-asked-questions",
			n,
		)
	}
}
