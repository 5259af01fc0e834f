package quiz

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"reflect"

	"omphalos/core/excerpt"
)

// MaxSize is the length in bytes that a document may have.
const MaxSize = 4 << 20

// A Problem is something wrong with a document: Pointer (RFC 6901) says where,
// Message what is wrong and what to do.
type Problem struct {
	Code    string  `json:"code"`
	Pointer Pointer `json:"pointer"`
	Message string  `json:"message"`
	// Refuse marks what is wrong in itself, such as an address that is none, and
	// is not let into a draft. The rest is unfinished, and keeps a draft from
	// being released.
	Refuse bool `json:"refuse,omitempty"`
}

func (p Problem) Error() string {
	if p.Pointer == "" {
		return "the document: " + p.Message
	}
	return string(p.Pointer) + ": " + p.Message
}

// Read reads a document, in today's words or in those of an earlier version. The error is a
// Problem: it names the place of the first thing that is not of the format, an unknown field included. What the
// document means is not looked at; Check does that.
func Read(data []byte) (*Quiz, error) {
	if p := TooLong(data); p != nil {
		return nil, *p
	}
	tree, err := Parse(data)
	if err != nil {
		return nil, err
	}
	if object, ok := tree.(map[string]any); ok {
		if format, ok := object["format"].(string); ok && format != Format {
			return nil, Problem{
				Code:    "format",
				Pointer: "/format",
				Message: fmt.Sprintf("is %q; the versions that can be read are: %s", clip(format), Format),
				Refuse:  true,
			}
		}
	}
	if upgrade(tree) {
		if data, err = json.Marshal(tree); err != nil {
			return nil, Problem{Code: "format", Message: err.Error(), Refuse: true}
		}
	}
	if wrong := match(tree, reflect.TypeFor[Quiz](), false); wrong != nil {
		return nil, wrong[0]
	}
	q := new(Quiz)
	if err := json.Unmarshal(bytes.TrimPrefix(data, []byte("\ufeff")), q); err != nil {
		return nil, Problem{Code: "format", Message: err.Error(), Refuse: true}
	}
	return q, nil
}

// TooLong is what is wrong with a document that has more than MaxSize bytes; else nil.
func TooLong(data []byte) *Problem {
	if len(data) <= MaxSize {
		return nil
	}
	message := fmt.Sprintf("has %d bytes; at most %d are read", len(data), MaxSize)
	return &Problem{Code: "size", Message: message, Refuse: true}
}

// ReadQuestion reads a question as it stands in a document of today under a key. The error is
// as that of Read.
func ReadQuestion(key string, data []byte) (*Question, error) {
	at := At("questions", key)
	tree, err := parse(data, at)
	if err != nil {
		return nil, err
	}
	if wrong := match(tree, reflect.TypeFor[Question](), false); wrong != nil {
		wrong[0].Pointer = at + wrong[0].Pointer
		return nil, wrong[0]
	}
	q := new(Question)
	if err := json.Unmarshal(data, q); err != nil {
		return nil, Problem{Code: "format", Pointer: at, Message: err.Error(), Refuse: true}
	}
	return q, nil
}

// Write writes the document in its one canonical form: fields in the order of
// the Go types, keys sorted, indented by two spaces, a line feed at the end.
func (q *Quiz) Write() []byte {
	var b bytes.Buffer
	e := json.NewEncoder(&b)
	e.SetEscapeHTML(false)
	e.SetIndent("", "  ")
	if err := e.Encode(q); err != nil {
		panic("quiz: writing a document: " + err.Error()) // no type of the model can fail
	}
	return b.Bytes()
}

// Mistakes returns everything in a document that is not of the format, in the order of its
// fields: the first of them is the error of Read. Nil is a document that can be read.
func Mistakes(data []byte) []Problem {
	_, err := Read(data)
	if err == nil {
		return nil
	}
	if tree, wrong := Parse(data); wrong == nil {
		upgrade(tree)
		if all := match(tree, reflect.TypeFor[Quiz](), true); len(all) > 1 {
			return all
		}
	}
	var p Problem
	if !errors.As(err, &p) {
		p = Problem{Code: "format", Message: err.Error(), Refuse: true}
	}
	return []Problem{p}
}

func clip(s string) string { return excerpt.Of(s, 61) }
