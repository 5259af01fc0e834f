package fillin

import (
	"strings"
	"unicode/utf8"
)

// A template is a URI template of RFC 6570, all four levels, without associative arrays.
type template struct {
	source string
	parts  []part
	names  []string // each once, in order
}

// A part is literal text, or an expression where the operator or variables are set.
type part struct {
	literal   string
	how       operator
	variables []variable
}

type variable struct {
	name    string
	prefix  int // characters at the most, 0 for all
	explode bool
}

// An operator is a row of the table in RFC 6570, appendix A.
type operator struct {
	first, between string
	named          bool
	ifEmpty        string
	reserved       bool // reserved characters and percent-encoded ones stand as they are
}

var operators = map[byte]operator{
	0:   {between: ","},
	'+': {between: ",", reserved: true},
	'#': {first: "#", between: ",", reserved: true},
	'.': {first: ".", between: "."},
	'/': {first: "/", between: "/"},
	';': {first: ";", between: ";", named: true},
	'?': {first: "?", between: "&", named: true, ifEmpty: "="},
	'&': {first: "&", between: "&", named: true, ifEmpty: "="},
}

// longestPrefix is the most that RFC 6570 lets a prefix be, and a digit less.
const longestPrefix = 9999

// parseTemplate tells false of braces that are no expression.
func parseTemplate(source string) (*template, bool) {
	t := &template{source: source}
	for rest := source; rest != ""; {
		literal, after, found := strings.Cut(rest, "{")
		if strings.ContainsRune(literal, '}') || !utf8.ValidString(literal) {
			return nil, false
		}
		if literal != "" {
			t.parts = append(t.parts, part{literal: literal})
		}
		if !found {
			break
		}
		inside, after, found := strings.Cut(after, "}")
		if !found || inside == "" {
			return nil, false
		}
		p, ok := t.expression(inside)
		if !ok {
			return nil, false
		}
		t.parts, rest = append(t.parts, p), after
	}
	return t, true
}

func (t *template) expression(inside string) (p part, ok bool) {
	p.how = operators[0]
	if how, known := operators[inside[0]]; known {
		p.how, inside = how, inside[1:]
	}
	for _, spec := range strings.Split(inside, ",") {
		v := variable{name: spec}
		if name, exploded := strings.CutSuffix(spec, "*"); exploded {
			v = variable{name: name, explode: true}
		} else if name, digits, cut := strings.Cut(spec, ":"); cut {
			v.name = name
			for _, d := range digits {
				if d < '0' || d > '9' || d == '0' && v.prefix == 0 || v.prefix > longestPrefix/10 {
					return p, false
				}
				v.prefix = v.prefix*10 + int(d-'0')
			}
			if v.prefix == 0 {
				return p, false
			}
		}
		if !name.MatchString("{" + v.name + "}") {
			return p, false
		}
		p.variables = append(p.variables, v)
		known := false
		for _, n := range t.names {
			known = known || n == v.name
		}
		if !known {
			t.names = append(t.names, v.name)
		}
	}
	return p, true
}

// expand fills the template in, as RFC 6570, section 3.2 has it: text that stands in the
// template is percent-encoded where it must be, and values in UTF-8 (RFC 3986, 2.5).
func (t *template) expand(look func(name string) []string) string {
	var b strings.Builder
	for _, p := range t.parts {
		if p.variables == nil {
			encode(&b, p.literal, true)
			continue
		}
		first := true
		for _, v := range p.variables {
			values := look(v.name)
			if len(values) == 0 {
				continue
			}
			if first {
				b.WriteString(p.how.first)
			} else {
				b.WriteString(p.how.between)
			}
			first = false
			p.how.variable(&b, v, values)
		}
	}
	return b.String()
}

func (how operator) variable(b *strings.Builder, v variable, values []string) {
	if v.prefix > 0 && len(values) == 1 {
		if r := []rune(values[0]); len(r) > v.prefix {
			values = []string{string(r[:v.prefix])}
		}
	}
	named := func(value string) {
		b.WriteString(v.name)
		if value == "" {
			b.WriteString(how.ifEmpty)
		} else {
			b.WriteByte('=')
		}
	}
	if how.named && !v.explode {
		named(strings.Join(values, ","))
	}
	for i, value := range values {
		switch {
		case i > 0 && v.explode:
			b.WriteString(how.between)
		case i > 0:
			b.WriteByte(',')
		}
		if how.named && v.explode {
			named(value)
		}
		encode(b, value, how.reserved)
	}
}

const hexadecimal = "0123456789ABCDEF"

// encode writes a text percent-encoded but for unreserved characters, and reserved and
// encoded ones where they may stand.
func encode(b *strings.Builder, text string, reserved bool) {
	for i := 0; i < len(text); i++ {
		c := text[i]
		switch {
		case c >= 'a' && c <= 'z', c >= 'A' && c <= 'Z', c >= '0' && c <= '9', strings.IndexByte("-._~", c) >= 0,
			reserved && strings.IndexByte(":/?#[]@!$&'()*+,;=", c) >= 0,
			reserved && c == '%' && i+2 < len(text) && isHex(text[i+1]) && isHex(text[i+2]):
			b.WriteByte(c)
		default:
			b.WriteByte('%')
			b.WriteByte(hexadecimal[c>>4])
			b.WriteByte(hexadecimal[c&15])
		}
	}
}

func isHex(c byte) bool { return strings.IndexByte("0123456789ABCDEFabcdef", c) >= 0 }
