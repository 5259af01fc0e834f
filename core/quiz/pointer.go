package quiz

import (
	"slices"
	"strings"
)

// A Pointer is a place in a document, "" the document itself, as a JSON Pointer (RFC 6901):
// the keys on the way there, each behind a slash. A key that holds a slash or a
// tilde has it written as ~1 or ~0.
type Pointer string

var (
	pointerEscapes = strings.NewReplacer("~", "~0", "/", "~1")
	pointerWords   = strings.NewReplacer("~1", "/", "~0", "~")
)

// At returns the place that keys lead to from the document.
func At(keys ...string) Pointer { return Pointer("").Join(keys...) }

// Join returns the place that keys lead to from here.
func (p Pointer) Join(keys ...string) Pointer {
	long := len(p)
	for _, key := range keys {
		long += 1 + len(key)
	}
	joined := append(make([]byte, 0, long), p...)
	for _, key := range keys {
		joined = append(joined, '/')
		if strings.ContainsAny(key, "~/") {
			key = pointerEscapes.Replace(key)
		}
		joined = append(joined, key...)
	}
	return Pointer(joined)
}

// Keys returns the keys on the way, none for the document itself.
func (p Pointer) Keys() []string {
	if p == "" {
		return nil
	}
	keys := strings.Split(strings.TrimPrefix(string(p), "/"), "/")
	if strings.Contains(string(p), "~") {
		for i, key := range keys {
			keys[i] = pointerWords.Replace(key)
		}
	}
	return keys
}

// Split returns the place above and the last key; of the document itself both are "".
func (p Pointer) Split() (parent Pointer, key string) {
	i := strings.LastIndexByte(string(p), '/')
	if i < 0 {
		return "", pointerWords.Replace(string(p))
	}
	return p[:i], pointerWords.Replace(string(p[i+1:]))
}

// Parent returns the place above.
func (p Pointer) Parent() Pointer {
	parent, _ := p.Split()
	return parent
}

// Key returns the last key, "" of the document itself.
func (p Pointer) Key() string {
	_, key := p.Split()
	return key
}

// Within tells whether the place is another or lies in it.
func (p Pointer) Within(other Pointer) bool {
	return p == other || strings.HasPrefix(string(p), string(other)) && p[len(other)] == '/'
}

// Fits tells whether the place is of a form: "/questions/*/answers/*" is an answer of a
// question. A star stands for any one key; two at the end for any number of further ones.
func (p Pointer) Fits(form string) bool {
	keys := p.Keys()
	for i, want := range Pointer(form).Keys() {
		switch {
		case want == "**":
			return true
		case i >= len(keys), want != "*" && want != keys[i]:
			return false
		}
	}
	return len(keys) == len(Pointer(form).Keys())
}

// FitsAny is Fits of one of several forms.
func (p Pointer) FitsAny(forms ...string) bool { return slices.ContainsFunc(forms, p.Fits) }

// In returns what stands at the place in a document of maps, as encoding/json reads one, and
// false where nothing does.
func (p Pointer) In(document any) (any, bool) {
	for _, key := range p.Keys() {
		object, _ := document.(map[string]any)
		inner, there := object[key]
		if !there {
			return nil, false
		}
		document = inner
	}
	return document, true
}
