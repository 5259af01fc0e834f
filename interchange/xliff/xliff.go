// Package xliff writes what a quiz says, beside what it says so in another language, as XLIFF 2.1
// (OASIS Standard, 2018), which the tools of translators read; and reads what comes back from them.
//
// A unit is a text of the quiz; its id is the text's pointer with dots. What is filled in stands as
// a placeholder, so that nobody translates a key. A text without words is in the state "initial",
// and so is one whose words were written for others than stand there now.
package xliff

import (
	"errors"

	"omphalos/core/quiz"
)

// A Document is what a quiz says in two languages, each a tag of BCP 47.
type Document struct {
	Title    string // of the quiz; not read
	From, To string
	Lines    []Line // in the order of the quiz
}

// A Line is a text, and what it is in the other language.
type Line struct {
	At    quiz.Pointer
	Words string // as it was written
	Said  string // "" for nothing yet
	Done  bool   // Said is of Words, as far as is known
	About string // what it is, for whoever translates it; not read
}

// ErrXLIFF says that a file is no XLIFF that can be read.
var ErrXLIFF = errors.New("can't be read as XLIFF 2")

// MaxSize bounds a file, in bytes.
const MaxSize = 4 << 20

const (
	namespace = "urn:oasis:names:tc:xliff:document:2.0" // of 2.0 and 2.1
	older     = "urn:oasis:names:tc:xliff:document:1."
	initial   = "initial"
)
