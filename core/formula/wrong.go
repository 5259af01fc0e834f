package formula

import (
	"errors"
	"fmt"
	"regexp"
	"strings"
	"unicode"

	"github.com/expr-lang/expr/file"
)

// An Error says what is wrong with a formula and where.
type Error struct {
	At      int    // offset in characters, from 0
	Message string // a sentence without a full stop
	Unknown string // the name that stands for nothing, where that is it
}

func (e *Error) Error() string { return fmt.Sprintf("%s, at character %d", e.Message, e.At+1) }

var (
	unexpected   = regexp.MustCompile(`^unexpected token (\w+)(?:\("(.*)"\))?`)
	unknownName  = regexp.MustCompile(`^unknown name (\w+)`)
	unrecognized = regexp.MustCompile(`^unrecognized character: U\+\w+ '(.)'`)
	counted      = regexp.MustCompile(`arguments to call (\w+)`)
)

// instead tells how characters are written that formulas do not know.
var instead = map[string]string{
	"×": "*",
	"·": "*",
	"÷": "/",
	"−": "-",
	"–": "-",
	"≥": ">=",
	"≤": "<=",
	"≠": "!=",
	"=": "==",
	"＝": "==",
}

// readable says in the words of a quiz what the parser found wrong with a formula.
func readable(source string, err error) error {
	var at *file.Error
	if !errors.As(err, &at) {
		return &Error{Message: "This can't be read as a formula"}
	}
	place := max(at.From, 0)
	said := func(format string, args ...any) error {
		return &Error{At: place, Message: fmt.Sprintf(format, args...)}
	}
	if m := unexpected.FindStringSubmatch(at.Message); m != nil {
		return &Error{At: place, Message: misplaced(source, place, m[1], m[2])}
	}
	if m := unknownName.FindStringSubmatch(at.Message); m != nil {
		return &Error{At: place, Unknown: m[1], Message: fmt.Sprintf("There is no scale and no number “%s” here", m[1])}
	}
	if m := unrecognized.FindStringSubmatch(at.Message); m != nil {
		if known, found := instead[m[1]]; found {
			return said("“%s” is written %s", m[1], known)
		}
		return said("“%s” has no meaning in a formula", m[1])
	}
	if m := counted.FindStringSubmatch(at.Message); m != nil {
		if m[1] == "min" || m[1] == "max" {
			return said("%s takes one number or more, in brackets", m[1])
		}
		return said("%s takes one number, in brackets", m[1])
	}
	switch {
	case strings.Contains(at.Message, "used as condition"):
		return said("A condition before ? compares numbers, such as need > 3")
	case strings.Contains(at.Message, "string"), strings.Contains(at.Message, "literal not terminated"):
		return said("A formula counts with numbers, not with words in quotation marks")
	case strings.HasPrefix(at.Message, "invalid operation"):
		return said("This joins what does not belong together: + - * / join numbers, and, or, not join comparisons")
	}
	return said("This can't be read as part of a formula")
}

// misplaced says why a token can't stand at a place.
func misplaced(source string, at int, kind, token string) string {
	runes := []rune(source)
	before := lastWord(runes[:min(at, len(runes))])
	if kind == "EOF" {
		before = lastWord(runes)
		switch {
		case before == "":
			return "The formula is empty: name a scale or a question whose answer is a number"
		case strings.Count(source, "(") > strings.Count(source, ")") && !strings.ContainsAny(before, "+-*/(<>=?:"):
			return "A bracket ( is not closed"
		}
		return fmt.Sprintf("Something is missing after “%s”", before)
	}
	switch {
	case token == "=":
		return "Equality is written =="
	case token == ")":
		return "There is no bracket ( before this )"
	case token == ",":
		return "A decimal is written with a point, such as 1.5"
	case before == "" || kind == "Operator" && strings.ContainsAny(before, "+-*/(<>=?:"):
		return fmt.Sprintf("Something is missing before “%s”", token)
	case kind == "Identifier" || kind == "Number":
		return fmt.Sprintf("Something is missing between “%s” and “%s”, such as + or *", before, token)
	}
	return fmt.Sprintf("“%s” has no meaning here", token)
}

// lastWord returns the last name, number or sign of a text.
func lastWord(runes []rune) string {
	text := []rune(strings.TrimSpace(string(runes)))
	start := len(text)
	word := func(r rune) bool { return unicode.IsLetter(r) || unicode.IsDigit(r) || r == '_' || r == '.' }
	for start > 0 && word(text[start-1]) {
		start--
	}
	if start == len(text) {
		start = max(start-1, 0)
	}
	return string(text[start:])
}

// words returns the words of a text that may be names.
func words(source string) []string {
	return strings.FieldsFunc(source, func(r rune) bool {
		return r != '_' && !unicode.IsLetter(r) && !unicode.IsDigit(r)
	})
}
