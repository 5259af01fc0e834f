package passage

import (
	"cmp"
	"slices"
	"strings"
	"time"

	"omphalos/core/decimal"
	"omphalos/core/fillin"
	"omphalos/core/quiz"
)

// Words returns the answer to question i as a person reads it: labels, joined
// by commas, the written-in words instead of the label that asks for them. ""
// without an answer.
func (p *Program) Words(i int, v Value) string {
	if v.State != Given {
		return ""
	}
	q, asked := &p.questions[i], p.Question(i)
	label := func(o int16) string { return p.labelOf(i, o, v) }
	switch {
	case q.kind.Choice():
		return label(v.Option)
	case q.kind == quiz.Several:
		words := make([]string, len(v.Picks))
		for j, o := range v.Picks {
			words[j] = label(o)
		}
		return strings.Join(words, ", ")
	case q.kind == quiz.Grid:
		var words []string
		for r, o := range v.Picks {
			if o >= 0 {
				words = append(words, asked.Rows[q.rows[r].key].Label+": "+label(o))
			}
		}
		return strings.Join(words, "; ")
	case q.kind == quiz.Date:
		return quiz.DayText(v.Number)
	case q.kind == quiz.Appointment:
		if at, err := time.Parse(time.RFC3339, v.Text); err == nil {
			return at.In(p.zone).Format("Monday 2 January 2006, 15:04")
		}
	case q.kind.Numeric():
		if asked.Limits != nil && asked.Limits.Unit != "" {
			return v.Number.Words() + " " + asked.Limits.Unit
		}
		return v.Number.Words()
	}
	return v.Text
}

// words is Program.Words where places have names.
func (in *Input) words(p *Program, i int, v Value) string {
	if q := p.Question(i); q.Kind == quiz.Location && v.State == Given && in.Place != nil {
		return cmp.Or(in.Place(q.Table, v.Text), v.Text)
	}
	return p.Words(i, v)
}

// labelOf returns the label of an answer, or what was written in instead.
func (p *Program) labelOf(question int, option int16, v Value) string {
	a := p.Question(question).Answers[p.questions[question].answers[option].key]
	if a.WriteIn && v.Text != "" {
		return v.Text
	}
	return a.Label
}

// ScoreText returns a value of scale i as a person reads it: means, percents,
// formulas and money with their decimals, and the unit or currency.
func (p *Program) ScoreText(i int, value decimal.Decimal) string {
	s, def := &p.scales[i], p.quiz.Scales[p.scales[i].key]
	text := value.String()
	if s.method != quiz.Sum || s.money {
		text = value.Text(s.decimals)
	}
	text = trueMinus(text)
	unit := cmp.Or(def.Unit, def.Currency)
	if s.method == quiz.Percent && unit == "" {
		unit = "%"
	}
	if unit == "" {
		return text
	}
	return text + " " + unit
}

// A Filler looks up what fill-ins stand for at the end of a passage, or on the
// way. Number is the response's, which other systems get: never the passage's own, which
// is the key to it.
type Filler struct {
	p      *Program
	in     Input
	r      *Result
	Number string
}

// Filler returns the Filler for a result of the program.
func (p *Program) Filler(in Input, r *Result, number string) *Filler {
	return &Filler{p, in, r, number}
}

// Text fills in a Markdown text, escaped. What is not answered becomes nothing;
// what the quiz does not know stays in its braces.
func (f *Filler) Text(text string) string {
	return fillin.Text(text, func(name string) (string, bool) {
		values, known := f.look(name, true)
		return strings.Join(values, ", "), known
	})
}

// Plainly fills in a text that is shown as it is: what is filled in is not escaped.
func (f *Filler) Plainly(text string) string {
	return fillin.Plain(text, func(name string) (string, bool) {
		values, known := f.look(name, true)
		return strings.Join(values, ", "), known
	})
}

// Plain returns what one name stands for in a text, unescaped.
func (f *Filler) Plain(name string) string {
	values, _ := f.look(name, true)
	return strings.Join(values, ", ")
}

// Row fills in the row of a signpost: answers stand as their keys.
func (f *Filler) Row(text string) string {
	for _, name := range fillin.Names(text) {
		if values, known := f.look(name, false); known {
			text = strings.ReplaceAll(text, "{"+name+"}", strings.Join(values, ","))
		}
	}
	return text
}

// Address fills in an address template, where answers stand as their keys, or
// as their words with ".label" behind the question's key. The error wraps
// fillin.ErrScheme or fillin.ErrHost.
func (f *Filler) Address(a *fillin.Address) (string, error) {
	return a.Expand(func(name string) []string {
		values, _ := f.look(name, false)
		return values
	})
}

// look returns the values that a name stands for and whether it stands for anything.
func (f *Filler) look(name string, words bool) (values []string, known bool) {
	one := func(s string) ([]string, bool) {
		if s == "" {
			return nil, true
		}
		return []string{s}, true
	}
	if fact, found := strings.CutPrefix(name, "visitor."); found {
		return one(f.in.Visitor.Fact(fact))
	}
	if i, isScale := f.p.scaleIndex[name]; isScale {
		if words {
			return one(f.p.ScoreText(i, f.r.Scores[i]))
		}
		return one(f.r.Scores[i].String())
	}
	switch name {
	case "outcome":
		if words && f.r.End != Unfinished {
			return one(f.p.quiz.Outcomes[f.p.OutcomeKey(f.r)].Headline)
		}
		return one(f.p.OutcomeKey(f.r))
	case "response", "passage":
		if name == "response" && f.p.quiz.Ask(name) != nil {
			break // a question that was called so before the name had a meaning
		}
		return one(f.Number)
	case "score", "highest", "percent":
		return one(f.total(name))
	}
	return f.answer(name, words)
}

func (f *Filler) answer(name string, words bool) ([]string, bool) {
	key, part, _ := strings.Cut(name, ".")
	i, isQuestion := f.p.questionIndex[key]
	if !isQuestion {
		contact := f.p.quiz.Contact
		if contact == nil || contact.Fields[key] == nil {
			return nil, false
		}
		if typed := f.in.Contact[key]; typed != "" {
			return []string{typed}, true
		}
		return nil, true
	}
	if !slices.Contains(f.r.Seen, i) || i >= len(f.in.Answers) || f.in.Answers[i].State != Given {
		return nil, true
	}
	v, q := f.in.Answers[i], &f.p.questions[i]
	if q.kind == quiz.Grid && part != "" && part != "label" {
		r, known := q.rowIndex[part]
		if !known || v.Picks[r] < 0 {
			return nil, known
		}
		column := q.answers[v.Picks[r]].key
		if words {
			column = f.p.Question(i).Answers[column].Label
		}
		return []string{column}, true
	}
	if words || part == "label" || q.kind == quiz.Grid {
		return []string{f.in.words(f.p, i, v)}, true
	}
	return f.p.Typed(i, v).Values, true
}

// total returns the right answers on the passage: how many were given, how many
// there are, and their share in percent.
func (f *Filler) total(what string) string {
	right, all := f.p.Right(f.in, f.r)
	switch what {
	case "score":
		return decimal.FromInt(int64(right)).String()
	case "highest":
		return decimal.FromInt(int64(all)).String()
	}
	return decimal.FromInt(int64(right)).Ratio(100, decimal.FromInt(int64(all)), 0).String()
}

// Right counts the questions on the passage that have right answers (all), and
// those of them that were answered rightly: by a right answer, and for several
// picks by all right ones and no other.
func (p *Program) Right(in Input, r *Result) (right, all int) {
	for _, i := range r.Seen {
		if !p.HasRight(i) {
			continue
		}
		all++
		if i < len(in.Answers) && p.IsRight(i, in.Answers[i]) {
			right++
		}
	}
	return right, all
}

// HasRight tells whether question i has a right answer.
func (p *Program) HasRight(i int) bool {
	for _, a := range p.Question(i).Answers {
		if a.Right {
			return true
		}
	}
	return false
}

// IsRight tells whether v answers question i rightly.
func (p *Program) IsRight(i int, v Value) bool {
	q, asked := &p.questions[i], p.Question(i)
	if v.State != Given {
		return false
	}
	if q.kind.Choice() {
		return asked.Answers[q.answers[v.Option].key].Right
	}
	if q.kind != quiz.Several {
		return false
	}
	chosen := map[string]bool{}
	for _, o := range v.Picks {
		chosen[q.answers[o].key] = true
	}
	for k, a := range asked.Answers {
		if a.Right != chosen[k] {
			return false
		}
	}
	return true
}
