package quiz

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"strconv"
	"strings"
	"unicode/utf16"
	"unicode/utf8"
)

// deepestJSON is how deep values may stand in one another.
const deepestJSON = 100

// Parse reads one JSON value (RFC 8259) into maps, lists, strings, json.Numbers, bools
// and nil, and takes no liberties: what is not UTF-8, an object with a key twice, a text
// with NUL or half of a surrogate pair are refused, each with its place. A byte order
// mark at the beginning is passed over. The error is a Problem.
func Parse(data []byte) (any, error) {
	data = bytes.TrimPrefix(data, []byte("\ufeff"))
	if len(data) >= 2 && (data[0] == 0xfe && data[1] == 0xff || data[0] == 0xff && data[1] == 0xfe) {
		return nil, Problem{Code: "encoding", Message: "is UTF-16; save it as UTF-8", Refuse: true}
	}
	r := reader{d: json.NewDecoder(bytes.NewReader(data)), data: data}
	r.d.UseNumber()
	tree, err := r.value("", 0)
	if err == nil {
		if _, more := r.d.Token(); more != io.EOF {
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
	at := r.d.InputOffset()
	if syntax := (*json.SyntaxError)(nil); errors.As(err, &syntax) {
		at = syntax.Offset
	}
	if errors.Is(err, io.EOF) || errors.Is(err, io.ErrUnexpectedEOF) {
		err = errors.New("it ends too early")
	}
	line := 1 + bytes.Count(data[:min(int(at), len(data))], []byte("\n"))
	return nil, Problem{Code: "json", Message: fmt.Sprintf("is not JSON, at line %d: %v", line, err), Refuse: true}
}

type reader struct {
	d    *json.Decoder
	data []byte
}

// value reads the value at a pointer.
func (r *reader) value(at Pointer, depth int) (any, error) {
	if depth > deepestJSON {
		return nil, Problem{
			Code:    "deep",
			Pointer: at,
			Message: fmt.Sprintf("is nested more than %d deep", deepestJSON),
			Refuse:  true,
		}
	}
	from := r.d.InputOffset()
	token, err := r.d.Token()
	if err != nil {
		return nil, err
	}
	switch token := token.(type) {
	case json.Delim:
		if token == '{' {
			return r.object(at, depth)
		}
		return r.list(at, depth)
	case string:
		return token, r.text(at, from)
	}
	return token, nil
}

func (r *reader) object(at Pointer, depth int) (any, error) {
	object := map[string]any{}
	for r.d.More() {
		from := r.d.InputOffset()
		token, err := r.d.Token()
		if err != nil {
			return nil, err
		}
		key, _ := token.(string)
		inside := at.Join(key)
		if err := r.text(inside, from); err != nil {
			return nil, err
		}
		if _, twice := object[key]; twice {
			return nil, Problem{
				Code:    "twice",
				Pointer: inside,
				Message: fmt.Sprintf("the key %q is there twice", clip(key)),
				Refuse:  true,
			}
		}
		if object[key], err = r.value(inside, depth+1); err != nil {
			return nil, err
		}
	}
	_, err := r.d.Token()
	return object, err
}

func (r *reader) list(at Pointer, depth int) (any, error) {
	list := []any{}
	for r.d.More() {
		v, err := r.value(at.Join(strconv.Itoa(len(list))), depth+1)
		if err != nil {
			return nil, err
		}
		list = append(list, v)
	}
	_, err := r.d.Token()
	return list, err
}

// text looks at a string as it is written, between an offset and where reading stands.
func (r *reader) text(at Pointer, from int64) error {
	raw := r.data[from:r.d.InputOffset()]
	refuse := func(format string, args ...any) error {
		return Problem{
			Code:    "encoding",
			Pointer: Pointer(strings.ToValidUTF8(string(at), "�")),
			Message: fmt.Sprintf(format, args...),
			Refuse:  true,
		}
	}
	if !utf8.Valid(raw) {
		return refuse("is not UTF-8; save the document as UTF-8")
	}
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
			return refuse("holds the character NUL")
		case utf16.IsSurrogate(first):
			if len(raw) < 6 || raw[0] != '\\' || raw[1] != 'u' ||
				utf16.DecodeRune(first, unit(raw[2:])) == utf8.RuneError {
				return refuse(`holds \u%04x, half of a pair of surrogates`, first)
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
