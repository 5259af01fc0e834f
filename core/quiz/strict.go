package quiz

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"slices"
	"strconv"
	"strings"
	"unicode/utf16"
	"unicode/utf8"

	"github.com/go-json-experiment/json/jsontext"
)

// deepestJSON is how deep values may stand in one another.
const deepestJSON = 100

// Parse reads one JSON value (RFC 8259) into maps, lists, strings, json.Numbers, bools
// and nil, and takes no liberties: what is not UTF-8, an object with a key twice, a text
// with NUL or half of a surrogate pair are refused, each with its place. A byte order
// mark at the beginning is passed over. The error is a Problem.
func Parse(data []byte) (any, error) { return parse(data, "") }

// parse is Parse of what stands at a place.
func parse(data []byte, at Pointer) (any, error) {
	data = bytes.TrimPrefix(data, []byte("\ufeff"))
	if len(data) >= 2 && (data[0] == 0xfe && data[1] == 0xff || data[0] == 0xff && data[1] == 0xfe) {
		return nil, Problem{Code: "encoding", Message: "is UTF-16; save it as UTF-8", Refuse: true}
	}
	// What is no JSON but for its letters and keys is told here, in words of ours.
	r := reader{jsontext.NewDecoder(
		bytes.NewBuffer(data), jsontext.AllowDuplicateNames(true), jsontext.AllowInvalidUTF8(true),
	), at}
	tree, err := r.value()
	if err == nil {
		if _, more := r.d.ReadToken(); more != io.EOF {
			err = errors.New("there is more after its end")
		}
	}
	var p Problem
	switch {
	case err == nil:
		return tree, nil
	case errors.As(err, &p):
		return nil, p
	}
	offset := r.d.InputOffset()
	if syntax := (*jsontext.SyntacticError)(nil); errors.As(err, &syntax) {
		offset, err = syntax.ByteOffset, syntax.Err
	}
	if errors.Is(err, io.EOF) || errors.Is(err, io.ErrUnexpectedEOF) {
		err = errors.New("it ends too early")
	}
	line := 1 + bytes.Count(data[:min(int(offset), len(data))], []byte("\n"))
	return nil, Problem{Code: "json", Pointer: at, Message: fmt.Sprintf("is not JSON, at line %d: %v", line,
		err), Refuse: true}
}

type reader struct {
	d  *jsontext.Decoder
	at Pointer // of what is read
}

// refuse tells what is wrong with what was read last.
func (r reader) refuse(code, format string, args ...any) error {
	at := Pointer(strings.ToValidUTF8(string(r.d.StackPointer()), "�"))
	return Problem{Code: code, Pointer: r.at + at, Message: fmt.Sprintf(format, args...), Refuse: true}
}

func (r reader) value() (any, error) {
	switch r.d.PeekKind() {
	case '{':
		return r.object()
	case '[':
		return r.list()
	case '"':
		return r.text()
	}
	token, err := r.d.ReadToken()
	if err != nil {
		return nil, err
	}
	switch token.Kind() {
	case '0':
		return json.Number(token.String()), nil
	case 't', 'f':
		return token.Bool(), nil
	}
	return nil, nil
}

func (r reader) object() (any, error) {
	if err := r.enter(); err != nil {
		return nil, err
	}
	object := map[string]any{}
	for r.d.PeekKind() == '"' {
		key, err := r.text()
		if err != nil {
			return nil, err
		}
		if _, twice := object[key]; twice {
			return nil, r.refuse("twice", "the key %q is there twice", clip(key))
		}
		if object[key], err = r.value(); err != nil {
			return nil, err
		}
	}
	_, err := r.d.ReadToken()
	return object, err
}

func (r reader) list() (any, error) {
	if err := r.enter(); err != nil {
		return nil, err
	}
	list := []any{}
	for !slices.Contains([]jsontext.Kind{']', 0}, r.d.PeekKind()) {
		v, err := r.value()
		if err != nil {
			return nil, err
		}
		list = append(list, v)
	}
	_, err := r.d.ReadToken()
	return list, err
}

// enter goes into an object or a list.
func (r reader) enter() error {
	if r.d.StackDepth()+len(r.at.Keys()) > deepestJSON {
		return r.refuse("deep", "is nested more than %d deep", deepestJSON)
	}
	_, err := r.d.ReadToken()
	return err
}

// text reads a string, and looks at it as it is written.
func (r reader) text() (string, error) {
	raw, err := r.d.ReadValue()
	if err != nil {
		return "", err
	}
	if !utf8.Valid(raw) {
		return "", r.refuse("encoding", "is not UTF-8; save the document as UTF-8")
	}
	if bytes.IndexByte(raw, '\\') < 0 {
		return string(raw[1 : len(raw)-1]), nil
	}
	if err := r.escaped(raw); err != nil {
		return "", err
	}
	text, err := jsontext.AppendUnquote(nil, raw)
	return string(text), err
}

// escaped looks at what is written as \uXXXX.
func (r reader) escaped(raw []byte) error {
	for {
		i := bytes.IndexByte(raw, '\\')
		if i < 0 {
			return nil
		}
		if raw = raw[i+1:]; raw[0] != 'u' {
			raw = raw[1:]
			continue
		}
		first := unit(raw[1:])
		raw = raw[5:]
		switch {
		case first == 0:
			return r.refuse("encoding", "holds the character NUL")
		case utf16.IsSurrogate(first):
			if len(raw) < 6 || raw[0] != '\\' || raw[1] != 'u' ||
				utf16.DecodeRune(first, unit(raw[2:])) == utf8.RuneError {
				return r.refuse("encoding", `holds \u%04x, half of a pair of surrogates`, first)
			}
			raw = raw[6:]
		}
	}
}

// unit reads four hexadecimal digits.
func unit(digits []byte) rune {
	n, _ := strconv.ParseUint(string(digits[:4]), 16, 32) // the decoder has read them before
	return rune(n)
}
