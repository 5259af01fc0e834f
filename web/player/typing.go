package player

import (
	"errors"
	"net/url"
	"slices"
	"strings"
	"unicode"

	"omphalos/core/decimal"
	"omphalos/core/program"
	"omphalos/core/quiz"
)

// Names of the fields of a form: "answer.crop", "words.crop", "row.hours.monday".
const (
	answerField = "answer."
	wordsField  = "words."
)

func rowField(question, row string) string { return "row." + question + "." + row }

// read takes the typed answers out of a form, and returns the positions of the
// questions that it asked.
func (j *journey) read(form url.Values) (asked []int) {
	for _, key := range form["asked"] {
		at := j.program.Position(key)
		if at < 0 || slices.Contains(asked, at) {
			continue
		}
		asked = append(asked, at)
		t := program.Typed{Values: form[answerField+key], WriteIn: form.Get(wordsField + key)}
		for _, row := range j.program.RowKeys(at) {
			if t.Rows == nil {
				t.Rows = map[string]string{}
			}
			t.Rows[row] = form.Get(rowField(key, row))
		}
		if j.program.Question(at).Kind.Numeric() && len(t.Values) == 1 {
			t.Values[0] = j.number(at, t.Values[0])
		}
		j.put(key, t)
	}
	return asked
}

// number returns a number as it is kept, from how the language of the page writes it. What can't
// be read stays as it was typed, and what is read in two ways is remembered.
func (j *journey) number(at int, typed string) string {
	n, either, err := decimal.Read(typed, j.tongue().comma())
	if errors.Is(err, decimal.ErrDoubt) {
		if j.doubts == nil {
			j.doubts = map[int][2]decimal.Decimal{}
		}
		j.doubts[at] = either
	}
	if err != nil {
		return typed
	}
	return n.String()
}

// wrongs says what is wrong with what was typed for questions.
func (j *journey) wrongs(asked []int) map[int]string {
	wrongs := map[int]string{}
	for _, at := range asked {
		if either, doubted := j.doubts[at]; doubted {
			wrongs[at] = j.tongue().say("This can be read as %s or as %s. Write one of these.", either[0].String(),
				either[1].String())
			continue
		}
		j.complete(at)
		value, err := j.program.Read(at, j.typed[j.program.Key(at)])
		var refused *program.Refused
		switch {
		case errors.As(err, &refused):
			wrongs[at] = j.tongue().refused(refused)
		case value.State != program.Given && j.program.Needs(at):
			wrongs[at] = j.tongue().say("This one is needed. Answer it to go on.")
		case value.State == program.Given:
			if wrong := j.player.refuses(j, at, value); wrong != "" {
				wrongs[at] = wrong
			}
		}
	}
	if len(wrongs) == 0 && len(asked) > 0 && j.whole().Beyond {
		at := asked[len(asked)-1]
		for _, i := range asked {
			if j.program.Question(i).Kind.Numeric() {
				at = i
			}
		}
		wrongs[at] = j.tongue().say("This is more than can be counted with. Give a number nearer to 0.")
	}
	return wrongs
}

// home is the country whose telephone numbers need no code: the visitor's, or that of the quiz.
func (j *journey) home() string {
	if s := j.program.Quiz.Settings; j.visitor.Country == "" && s != nil {
		return s.Country
	}
	return j.visitor.Country
}

// complete makes of a phone number typed as one dials it at home the whole one, where the
// visitor's country is known.
func (j *journey) complete(at int) {
	key := j.program.Key(at)
	if t := j.typed[key]; j.program.Question(at).Kind == quiz.Phone && len(t.Values) == 1 {
		if whole, possible := program.Phone(t.Values[0], j.home()); possible {
			j.put(key, program.Typed{Values: []string{whole}})
		}
	}
}

// sentence begins with a capital and ends with a full stop.
func sentence(words string) string {
	r := []rune(words)
	if len(r) == 0 {
		return ""
	}
	r[0] = unicode.ToUpper(r[0])
	if !strings.ContainsRune(".!?", r[len(r)-1]) {
		r = append(r, '.')
	}
	return string(r)
}
