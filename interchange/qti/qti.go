// Package qti writes a quiz as a content package of QTI 3.0 and reads one: the Question and
// Test Interoperability standard of 1EdTech, which other applications for tests and surveys
// read and write. What it has no words for is told, by sentence.
package qti

import (
	"errors"
	"fmt"
	"maps"
	"slices"

	"github.com/beevik/etree"

	"omphalos/core/quiz"
)

// ErrQTI says that a file is no content package of QTI 3.0.
var ErrQTI = errors.New("is no package of QTI 3.0")

// Namespaces of the standard.
const (
	spaceItem     = "http://www.imsglobal.org/xsd/imsqtiasi_v3p0"
	spaceManifest = "http://www.imsglobal.org/xsd/qti/qtiv3p0/imscp_v1p1"
	typeItem      = "imsqti_item_xmlv3p0"
	typeTest      = "imsqti_test_xmlv3p0"
	manifest      = "imsmanifest.xml"
)

// Identifiers of variables. What somebody gets is told by a feedback that shows where the
// outcome variable has its key.
const (
	response = "RESPONSE"
	outcome  = "OUTCOME"
	score    = "SCORE"
)

// kindOf is the attribute, of ours as the standard allows on what is shown, that tells kinds
// apart which the standard asks in the same way.
const kindOf = "data-kind"

// told gathers what could not be said, each sentence once.
type told []string

func (t *told) tell(format string, args ...any) {
	if said := fmt.Sprintf(format, args...); !slices.Contains(*t, said) {
		*t = append(*t, said)
	}
}

// sorted returns keys of a map by the alphabet.
func sorted[V any](m map[string]V) []string { return slices.Sorted(maps.Keys(m)) }

// add makes an element below another with attributes, as pairs of a name and a value.
func add(to *etree.Element, name string, pairs ...string) *etree.Element {
	e := to.CreateElement(name)
	for i := 0; i+1 < len(pairs); i += 2 {
		e.CreateAttr(pairs[i], pairs[i+1])
	}
	return e
}

// words makes an element with a text.
func words(to *etree.Element, name, text string, pairs ...string) *etree.Element {
	e := add(to, name, pairs...)
	e.SetText(text)
	return e
}

// nameOf is how a question is spoken of.
func nameOf(key string, q *quiz.Question) string {
	if q.Label == "" {
		return "“" + key + "”"
	}
	return "“" + q.Label + "”"
}
