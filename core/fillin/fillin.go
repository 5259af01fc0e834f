// Package fillin replaces {key} in texts and addresses.
//
// A text is Markdown: what is filled in is escaped, so that a respondent's
// words stay words. An address is a URI template of RFC 6570. The two share
// their names: a question's or scale's key, "grid.row", "outcome", "passage",
// "visitor.country" and so on.
package fillin

import (
	"errors"
	"fmt"
	"net/url"
	"regexp"
	"strings"

	"omphalos/core/excerpt"
)

// name is what may stand between the braces: a variable name of RFC 6570 without percent signs.
var name = regexp.MustCompile(`\{([A-Za-z0-9_]+(?:\.[A-Za-z0-9_]+)*)\}`)

// Names returns the names that a text fills in, in order, repeats included.
func Names(text string) []string {
	var names []string
	for _, m := range name.FindAllStringSubmatch(text, -1) {
		names = append(names, m[1])
	}
	return names
}

// Pieces cuts a text into what stands between its fill-ins and, at every second place, a fill-in
// with its braces. Joined they are the text.
func Pieces(text string) []string {
	var list []string
	last := 0
	for _, at := range name.FindAllStringIndex(text, -1) {
		list = append(list, text[last:at[0]], text[at[0]:at[1]])
		last = at[1]
	}
	return append(list, text[last:])
}

// Plain replaces each {name} for which look knows a value. Other braces are left as they are.
func Plain(text string, look func(name string) (value string, known bool)) string {
	return name.ReplaceAllStringFunc(text, func(braced string) string {
		if value, known := look(braced[1 : len(braced)-1]); known {
			return value
		}
		return braced
	})
}

// Text replaces each {name} for which look knows a value, escaped for the
// place in the Markdown where it stands. Other braces are left as they are.
func Text(text string, look func(name string) (value string, known bool)) string {
	places := name.FindAllStringSubmatchIndex(text, -1)
	if places == nil {
		return text
	}
	var b strings.Builder
	last := 0
	for _, p := range places {
		value, known := look(text[p[2]:p[3]])
		if !known {
			continue
		}
		b.WriteString(text[last:p[0]])
		if inLink(text[:p[0]]) {
			b.WriteString(strings.ReplaceAll(url.QueryEscape(value), "+", "%20"))
		} else {
			b.WriteString(Escape(value))
		}
		last = p[1]
	}
	b.WriteString(text[last:])
	return b.String()
}

// inLink tells whether what follows before stands in the address of a Markdown link.
func inLink(before string) bool {
	open := strings.LastIndex(before, "](")
	return open >= 0 && !strings.ContainsAny(before[open+2:], ") \n")
}

// Escape returns s so that Markdown shows it as it is, on one line.
func Escape(s string) string {
	var b strings.Builder
	for _, r := range s {
		switch {
		case r == '\n' || r == '\r' || r == '\t':
			b.WriteByte(' ')
			continue
		case r < 0x80 && strings.ContainsRune("\\`*_{}[]()<>#+-.!|~&\"'$%,/:;=?@^", r):
			b.WriteByte('\\')
		}
		b.WriteRune(r)
	}
	return b.String()
}

// Reasons why an address is refused.
var (
	ErrScheme   = errors.New("must start with https:// or http://")
	ErrHost     = errors.New("needs the name of a site after the //, written out")
	ErrTemplate = errors.New("has braces that are not a fill-in such as {key}")
	ErrLength   = errors.New("is longer than 2,000 characters")
)

// ErrButton says that an address is none that a button may lead to.
var ErrButton = errors.New("must start with https://, http://, mailto: or tel:, with an address or a number behind it")

// An Address is a template of an http or https address whose site is fixed; a button's may be
// one of mailto or tel, too.
type Address struct {
	template *template
	check    func(s string) error // of what it is once it is filled in
}

// ParseAddress reads an address template. The error wraps ErrScheme, ErrHost,
// ErrTemplate or ErrLength and names the address.
func ParseAddress(s string) (*Address, error) {
	refuse := func(why error) (*Address, error) { return nil, fmt.Errorf("the address %q %w", excerpt.Of(s, 80), why) }
	if len(s) > longest {
		return refuse(ErrLength)
	}
	rest, ok := cutScheme(s)
	if !ok {
		return refuse(ErrScheme)
	}
	host := rest
	if i := strings.IndexAny(rest, "/?#{"); i >= 0 {
		host = rest[:i]
	}
	// A fill-in right behind the site's name could lengthen it, unless its
	// operator begins a path, a query or a fragment.
	if after := rest[len(host):]; strings.HasPrefix(after, "{") &&
		!strings.HasPrefix(after, "{?") && !strings.HasPrefix(after, "{/") && !strings.HasPrefix(after, "{#") {
		return refuse(ErrHost)
	}
	if u, err := url.Parse("http://" + host); err != nil || u.Hostname() == "" || u.User != nil ||
		strings.ContainsAny(host, " \\") {
		return refuse(ErrHost)
	}
	t, ok := parseTemplate(s)
	if !ok {
		return refuse(ErrTemplate)
	}
	return &Address{t, CheckAddress}, nil
}

// ParseButton is ParseAddress for what a button leads to, which may also be a letter (mailto,
// RFC 6068) or a call (tel, RFC 3966): to whom is written out, the rest may be filled in. The
// error wraps those of ParseAddress, or ErrButton.
func ParseButton(s string) (*Address, error) {
	scheme, rest, _ := strings.Cut(s, ":")
	if scheme = strings.ToLower(scheme); scheme != "mailto" && scheme != "tel" {
		a, err := ParseAddress(s)
		if errors.Is(err, ErrScheme) {
			err = fmt.Errorf("the address %q %w", excerpt.Of(s, 80), ErrButton)
		}
		return a, err
	}
	t, ok := parseTemplate(s)
	whom, _, _ := strings.Cut(rest, "?")
	whom, _, _ = strings.Cut(whom, "{?")
	switch {
	case len(s) > longest:
		return nil, fmt.Errorf("the address %q %w", excerpt.Of(s, 80), ErrLength)
	case !ok:
		return nil, fmt.Errorf("the address %q %w", excerpt.Of(s, 80), ErrTemplate)
	case scheme == "mailto" && !letterTo.MatchString(whom), scheme == "tel" && !callTo.MatchString(rest):
		return nil, fmt.Errorf("the address %q %w", excerpt.Of(s, 80), ErrButton)
	}
	return &Address{t, func(string) error { return nil }}, nil
}

var (
	letterTo = regexp.MustCompile(`^[A-Za-z0-9._%+-]+@[A-Za-z0-9-]+(\.[A-Za-z0-9-]+)+$`)
	callTo   = regexp.MustCompile(`^\+?[0-9][0-9().-]{2,30}$`)
)

func cutScheme(s string) (rest string, ok bool) {
	for _, scheme := range []string{"https://", "http://"} {
		if len(s) >= len(scheme) && strings.EqualFold(s[:len(scheme)], scheme) {
			return s[len(scheme):], true
		}
	}
	return "", false
}

// Names returns the names that the address fills in.
func (a *Address) Names() []string { return a.template.names }

// String returns the template.
func (a *Address) String() string { return a.template.source }

// Expand fills the address in. look gives one value, or several for a question
// with several picks; none leaves the place empty, as RFC 6570 has it. The
// result is checked again: the error wraps ErrScheme, ErrHost or ErrLength.
func (a *Address) Expand(look func(name string) []string) (string, error) {
	s := a.template.expand(look)
	if len(s) > longest {
		return "", fmt.Errorf("the address %q %w once it is filled in", excerpt.Of(s, 80), ErrLength)
	}
	return s, a.check(s)
}

// longest is how many bytes an address has at the most, with and without what is filled in.
const longest = 2000

// CheckAddress tells whether s, without fill-ins, is an address that a
// respondent may be sent to.
func CheckAddress(s string) error {
	if _, ok := cutScheme(s); !ok {
		return fmt.Errorf("the address %q %w", excerpt.Of(s, 80), ErrScheme)
	}
	if u, err := url.Parse(s); err != nil || u.Host == "" {
		return fmt.Errorf("the address %q %w", excerpt.Of(s, 80), ErrHost)
	}
	return nil
}
