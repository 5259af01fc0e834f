package qti

import (
	"archive/zip"
	"fmt"
	"io"
	"path"
	"slices"
	"strconv"
	"strings"

	"github.com/beevik/etree"

	"omphalos/core/quiz"
)

// Write writes a quiz with its pictures, by name, and returns what the standard has no words
// for. The same quiz is always the same bytes.
func Write(to io.Writer, q *quiz.Quiz, pictures map[string][]byte) (lost []string, err error) {
	w := &writer{q: q, pictures: map[string]bool{}}
	files := map[string]*etree.Document{"test.xml": w.test()}
	order := []string{"test.xml"}
	for _, key := range q.QuestionKeys() {
		name := "items/" + key + ".xml"
		files[name], order = w.item(key, q.Questions[key]), append(order, name)
	}
	w.tellRest()
	z := zip.NewWriter(to)
	put := func(name string, write func(io.Writer) error) {
		if err == nil {
			var f io.Writer
			if f, err = z.Create(name); err == nil {
				err = write(f)
			}
		}
	}
	doc := w.manifest(order)
	put(manifest, func(f io.Writer) error { _, err := doc.WriteTo(f); return err })
	for _, name := range order {
		put(name, func(f io.Writer) error { _, err := files[name].WriteTo(f); return err })
	}
	for _, name := range sorted(pictures) {
		if w.pictures[name] {
			put("pictures/"+name, func(f io.Writer) error { _, err := f.Write(pictures[name]); return err })
		}
	}
	if err != nil {
		return nil, fmt.Errorf("writing the package: %w", err)
	}
	return w.lost, z.Close()
}

// Lost returns what the standard has no words for in a quiz.
func Lost(q *quiz.Quiz) []string {
	lost, _ := Write(io.Discard, q, nil) // nothing fails that is not kept
	return lost
}

type writer struct {
	q        *quiz.Quiz
	lost     told
	pictures map[string]bool // that items show
}

func newDocument(root, space string, pairs ...string) (*etree.Document, *etree.Element) {
	doc := etree.NewDocument()
	doc.CreateProcInst("xml", `version="1.0" encoding="UTF-8"`)
	e := add(&doc.Element, root, append([]string{"xmlns", space}, pairs...)...)
	return doc, e
}

func (w *writer) manifest(files []string) *etree.Document {
	doc, root := newDocument("manifest", spaceManifest, "identifier", "quiz")
	meta := add(root, "metadata")
	words(meta, "schema", "QTI Package")
	words(meta, "schemaversion", "3.0.0")
	add(root, "organizations")
	resources := add(root, "resources")
	for _, name := range files {
		id, kind := strings.TrimSuffix(path.Base(name), ".xml"), typeItem
		if name == "test.xml" {
			id, kind = "test-of-the-quiz", typeTest
		}
		r := add(resources, "resource", "identifier", id, "type", kind, "href", name)
		add(r, "file", "href", name)
		if kind == typeTest {
			for _, other := range files[1:] {
				add(r, "dependency", "identifierref", strings.TrimSuffix(path.Base(other), ".xml"))
			}
		}
	}
	for _, name := range sorted(w.pictures) {
		r := add(resources, "resource", "identifier", "picture-"+name, "type", "webcontent", "href", "pictures/"+name)
		add(r, "file", "href", "pictures/"+name)
	}
	doc.Indent(2)
	return doc
}

func (w *writer) test() *etree.Document {
	doc, root := newDocument("qti-assessment-test", spaceItem, "identifier", "quiz", "title", w.q.Title)
	w.declareScales(root, quiz.InOrder(w.q.Scales))
	if len(w.q.Outcomes) > 0 {
		add(root, "qti-outcome-declaration", "identifier", outcome, "cardinality", "single", "base-type", "identifier")
	}
	part := add(root, "qti-test-part", "identifier", "quiz_part", "navigation-mode", "linear",
		"submission-mode", "individual")
	in, section := "\x00", (*etree.Element)(nil)
	for _, key := range w.q.QuestionKeys() {
		q := w.q.Questions[key]
		if q.Section != in {
			in = q.Section
			section = w.section(part, in)
		}
		add(section, "qti-assessment-item-ref", "identifier", key, "href", "items/"+key+".xml")
	}
	w.process(root)
	for _, key := range quiz.InOrder(w.q.Outcomes) {
		o := w.q.Outcomes[key]
		f := add(root, "qti-test-feedback", "identifier", key, "outcome-identifier", outcome, "show-hide",
			"show", "access", "atEnd", "title", o.Name)
		body := add(f, "qti-content-body")
		if o.Headline != "" {
			words(body, "h2", o.Headline)
		}
		paragraphs(body, o.Text)
	}
	doc.Indent(2)
	return doc
}

func (w *writer) section(part *etree.Element, key string) *etree.Element {
	heading := "Questions"
	s := w.q.Sections[key]
	if s != nil && s.Heading != "" {
		heading = s.Heading
	}
	e := add(part, "qti-assessment-section", "identifier", "section_"+key, "title", heading, "visible",
		strconv.FormatBool(s != nil && s.Heading != ""))
	if s != nil && s.Text != "" {
		block := add(e, "qti-rubric-block", "view", "candidate", "use", "instructions")
		paragraphs(add(block, "qti-content-body"), s.Text)
	}
	if s != nil && s.ShowWhen != nil {
		w.lost.tell("The section “%s” is shown to some only: there it is shown to all.", heading)
	}
	return e
}

// declareScales declares what adds up.
func (w *writer) declareScales(to *etree.Element, keys []string) {
	for _, key := range keys {
		s := w.q.Scales[key]
		d := add(to, "qti-outcome-declaration", "identifier", key, "cardinality", "single", "base-type",
			"float", "interpretation", s.Name)
		start := add(d, "qti-default-value")
		words(start, "qti-value", s.Start.String())
	}
}

func orElse(a, b string) string {
	if a == "" {
		return b
	}
	return a
}

func paragraphs(to *etree.Element, text string) {
	for _, p := range strings.Split(text, "\n\n") {
		if p = strings.TrimSpace(p); p != "" {
			words(to, "p", p)
		}
	}
}

// tellRest tells what of a quiz is nowhere in a package.
func (w *writer) tellRest() {
	q := w.q
	for _, o := range q.Outcomes {
		for _, l := range o.Landings {
			if l.Kind != quiz.PageLanding || len(l.Blocks) > 0 {
				w.lost.tell("Where outcomes land – redirects, products, calls to action – is not " +
					"said there: of each its words are.")
			}
		}
	}
	for said, there := range map[string]bool{
		"Contact is not asked for there.":                                q.Contact != nil,
		"The opening is not there.":                                      q.Opening != nil,
		"Colours, typeface and logo are not there.":                      q.Look != nil,
		"What goes out when somebody lands is not there.":                len(q.FollowUps) > 0,
		"Kept rehearsals are not there.":                                 len(q.Rehearsals) > 0,
		"How often and how it is taken, and its language, is not there.": q.Settings != nil,
	} {
		if there {
			w.lost.tell("%s", said)
		}
	}
	slices.Sort(w.lost)
}
