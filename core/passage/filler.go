package passage

import (
	"slices"
	"strings"

	"omphalos/core/atlas"
	"omphalos/core/decimal"
	"omphalos/core/fillin"
	"omphalos/core/program"
	"omphalos/core/quiz"
)

// A Filler looks up what fill-ins stand for at the end of a passage, or on the
// way. Number is the response's, which other systems get: never the passage's own, which
// is the key to it.
type Filler struct {
	p      *program.Program
	in     Input
	r      *Result
	Number string
}

// NewFiller returns the Filler for a result of the program.
func NewFiller(p *program.Program, in Input, r *Result, number string) *Filler {
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

// Values returns what one name stands for in an address.
func (f *Filler) Values(name string) []string {
	values, _ := f.look(name, false)
	return values
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
	return a.Expand(f.Values)
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
		if code := f.in.Visitor.Fact(fact); words && fact == "country" && code != "" {
			return one(f.country(code))
		}
		return one(f.in.Visitor.Fact(fact))
	}
	if i, isScale := f.p.ScaleIndex[name]; isScale {
		if words {
			return one(f.in.Voice.Figures(f.p.ScoreText(i, f.r.Scores[i])))
		}
		return one(f.r.Scores[i].String())
	}
	switch name {
	case "outcome":
		if words && f.r.End != program.Unfinished {
			return one(f.headline())
		}
		return one(OutcomeKey(f.p, f.r))
	case "response", "passage":
		if name == "response" && f.p.Quiz.Ask(name) != nil {
			break // a question that was called so before the name had a meaning
		}
		return one(f.Number)
	case "score", "highest", "percent":
		return one(f.total(name))
	}
	return f.answer(name, words)
}

// headline is the outcome's, filled in but for the outcome itself.
func (f *Filler) headline() string {
	return fillin.Plain(f.p.Quiz.Outcomes[OutcomeKey(f.p, f.r)].Headline, func(name string) (string, bool) {
		if name == "outcome" {
			return "", false
		}
		values, known := f.look(name, true)
		return strings.Join(values, ", "), known
	})
}

// country names a country in the quiz's language.
func (f *Filler) country(code string) string {
	language := ""
	if s := f.p.Quiz.Settings; s != nil {
		language = s.Language
	}
	return atlas.Name(code, language)
}

func (f *Filler) answer(name string, words bool) ([]string, bool) {
	key, part, _ := strings.Cut(name, ".")
	i, isQuestion := f.p.QuestionIndex[key]
	if !isQuestion {
		contact := f.p.Quiz.Contact
		if contact == nil || contact.Fields[key] == nil {
			return nil, false
		}
		if typed := f.in.Contact[key]; typed != "" {
			if words && contact.Fields[key].Kind == quiz.Country {
				typed = f.country(typed)
			}
			return []string{typed}, true
		}
		return nil, true
	}
	if !slices.Contains(f.r.Seen, i) || i >= len(f.in.Answers) || f.in.Answers[i].State != program.Given {
		return nil, true
	}
	v, q := f.in.Answers[i], &f.p.Questions[i]
	if q.Kind == quiz.Grid && part != "" && part != "label" {
		r, known := q.RowIndex[part]
		if !known || v.Picks[r] < 0 {
			return nil, known
		}
		column := q.Answers[v.Picks[r]].Key
		if words {
			column = f.p.Question(i).Answers[column].Label
		}
		return []string{column}, true
	}
	if named := words || part == "label"; named && q.Kind == quiz.Country {
		return []string{f.country(v.Text)}, true
	}
	if words || part == "label" || q.Kind == quiz.Grid {
		return []string{f.in.words(f.p, i, v)}, true
	}
	return f.p.Typed(i, v).Values, true
}

// total returns the right answers on the passage: how many were given, how many
// there are, and their share in percent.
func (f *Filler) total(what string) string {
	right, all := Right(f.p, f.in, f.r)
	switch what {
	case "score":
		return decimal.FromInt(int64(right)).String()
	case "highest":
		return decimal.FromInt(int64(all)).String()
	}
	return decimal.FromInt(int64(right)).Ratio(100, decimal.FromInt(int64(all)), 0).String()
}
