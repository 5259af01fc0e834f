package qti

import (
	"archive/zip"
	"bytes"
	"errors"
	"fmt"
	"io"
	"net/http"
	"path"
	"strconv"
	"strings"

	"github.com/beevik/etree"

	"omphalos/core/quiz"
)

// What a package may hold, so that a small file does not become a large one.
const (
	maxEntries = 2000
	maxXML     = 4 << 20 // bytes of one file
	maxPicture = 12 << 20
	maxAll     = 128 << 20
)

// Is tells whether a file is for Read: an archive with a manifest, or XML.
func Is(data []byte) bool {
	if bytes.HasPrefix(bytes.TrimSpace(data), []byte("<")) {
		return true
	}
	z, err := zip.NewReader(bytes.NewReader(data), int64(len(data)))
	if err != nil {
		return false
	}
	for _, f := range z.File {
		if f.Name == manifest {
			return true
		}
	}
	return false
}

// Read reads a content package, or one item alone, and returns the quiz that it is, its
// pictures by the names under which the quiz has them, and what of it there are no words for
// here. The error wraps ErrQTI.
func Read(data []byte) (q *quiz.Quiz, pictures map[string][]byte, lost []string, err error) {
	r := &reader{files: map[string][]byte{}, pictures: map[string][]byte{}}
	r.q = &quiz.Quiz{Format: quiz.Format, Sections: map[string]*quiz.Section{}, Questions: map[string]*quiz.Question{},
		Scales: map[string]*quiz.Scale{}, Outcomes: map[string]*quiz.Outcome{}}
	if bytes.HasPrefix(bytes.TrimSpace(data), []byte("<")) {
		r.files["item.xml"] = data
		r.items = []place{{href: "item.xml"}}
	} else if err := r.unpack(data); err != nil {
		return nil, nil, nil, err
	}
	for _, at := range r.items {
		if err := r.item(at); err != nil {
			return nil, nil, nil, err
		}
	}
	if len(r.q.Questions) == 0 {
		return nil, nil, nil, fmt.Errorf("the file %w: there is no item in it that can be asked here%s", ErrQTI,
			because(r.lost))
	}
	if r.q.Title == "" {
		r.q.Title = "A quiz from elsewhere"
	}
	r.decide()
	whole, err := quiz.Read(r.q.Write())
	if err != nil {
		return nil, nil, nil, fmt.Errorf("the file %w: %v", ErrQTI, err)
	}
	return whole, r.pictures, r.lost, nil
}

func because(lost []string) string {
	if len(lost) == 0 {
		return ""
	}
	return ". " + lost[0]
}

// A place is where an item lies, and in which section.
type place struct{ href, section string }

type reader struct {
	q        *quiz.Quiz
	files    map[string][]byte
	pictures map[string][]byte
	items    []place
	test     *etree.Element
	lost     told
}

// unpack reads the archive, and finds the items in their order.
func (r *reader) unpack(data []byte) error {
	z, err := zip.NewReader(bytes.NewReader(data), int64(len(data)))
	if err != nil {
		return fmt.Errorf("the file %w: %v", ErrQTI, err)
	}
	if len(z.File) > maxEntries {
		return fmt.Errorf("the file %w: it holds %d files, and at most %d are read", ErrQTI, len(z.File), maxEntries)
	}
	all := 0
	for _, f := range z.File {
		most := maxPicture
		if strings.HasSuffix(f.Name, ".xml") {
			most = maxXML
		}
		content, err := contentOf(f, most)
		if err != nil {
			return err
		}
		if all += len(content); all > maxAll {
			return fmt.Errorf("the file %w: unpacked it is too large", ErrQTI)
		}
		r.files[path.Clean(f.Name)] = content
	}
	root, err := r.parse(manifest)
	if err != nil {
		return err
	}
	var loose []place
	for _, resource := range root.FindElements(".//resource") {
		href := path.Clean(resource.SelectAttrValue("href", ""))
		switch kind := resource.SelectAttrValue("type", ""); {
		case strings.HasPrefix(kind, "imsqti_test"):
			if r.test != nil {
				r.lost.tell("There are several tests in it: the first one is read.")
				continue
			}
			if r.test, err = r.parse(href); err != nil {
				return err
			}
			r.sections(href)
		case strings.HasPrefix(kind, "imsqti_item"):
			loose = append(loose, place{href: href})
		}
	}
	if len(r.items) == 0 {
		r.items = loose
	}
	return nil
}

func contentOf(f *zip.File, most int) ([]byte, error) {
	opened, err := f.Open()
	if err != nil {
		return nil, fmt.Errorf("the file %w: %v", ErrQTI, err)
	}
	defer opened.Close()
	data, err := io.ReadAll(io.LimitReader(opened, int64(most)+1))
	if err != nil {
		return nil, fmt.Errorf("the file %w: %v", ErrQTI, err)
	}
	if len(data) > most {
		return nil, fmt.Errorf("the file %w: %s is too large", ErrQTI, f.Name)
	}
	return data, nil
}

var errEmpty = errors.New("is empty")

func (r *reader) parse(name string) (*etree.Element, error) {
	data, there := r.files[name]
	if !there {
		return nil, fmt.Errorf("the file %w: %s is missing in it", ErrQTI, name)
	}
	doc := etree.NewDocument()
	err := doc.ReadFromBytes(data)
	if err == nil && doc.Root() == nil {
		err = errEmpty
	}
	if err != nil {
		return nil, fmt.Errorf("the file %w: %s can't be read: %v", ErrQTI, name, err)
	}
	return doc.Root(), nil
}

// sections takes up the sections of the test with the items that they refer to.
func (r *reader) sections(href string) {
	r.q.Title = clip(r.test.SelectAttrValue("title", ""), quiz.MaxTitle)
	for i, s := range r.test.FindElements(".//qti-assessment-section") {
		key := freeKey(r.q.Sections, strings.TrimPrefix(s.SelectAttrValue("identifier", ""), "section_"), "section")
		section := &quiz.Section{Order: float64(i + 1)}
		if s.SelectAttrValue("visible", "true") == "true" {
			section.Heading = clip(s.SelectAttrValue("title", ""), quiz.MaxLabel)
		}
		if rubric := s.SelectElement("qti-rubric-block"); rubric != nil {
			section.Text = clip(strings.Join(paragraphsOf(rubric), "\n\n"), quiz.MaxText)
		}
		for _, ref := range s.SelectElements("qti-assessment-item-ref") {
			r.items = append(r.items, place{path.Join(path.Dir(href), ref.SelectAttrValue("href", "")), key})
			if ref.SelectElement("qti-pre-condition") != nil || ref.SelectElement("qti-branch-rule") != nil {
				r.lost.tell("Items that are asked of some only are asked of all here: say on the sheet of whom.")
			}
		}
		if s.SelectElement("qti-selection") != nil || s.SelectElement("qti-ordering") != nil {
			r.lost.tell("Items that are drawn or shuffled are asked all, in order.")
		}
		r.q.Sections[key] = section
	}
	for _, name := range []string{"qti-time-limits", "qti-stylesheet"} {
		if r.test.FindElement(".//"+name) != nil {
			r.lost.tell("%s is passed over.", map[string]string{"qti-time-limits": "A limit of time",
				"qti-stylesheet": "A style sheet"}[name])
		}
	}
}

// decide takes up the outcomes that the test's feedback tells of, and the bands that decide.
func (r *reader) decide() {
	if r.test == nil {
		return
	}
	for i, f := range r.test.SelectElements("qti-test-feedback") {
		id := f.SelectAttrValue("identifier", "")
		key := freeKey(r.q.Outcomes, id, "outcome")
		o := &quiz.Outcome{Order: float64(i + 1), Name: clip(f.SelectAttrValue("title", id), quiz.MaxTitle),
			Landings: map[string]*quiz.Landing{"page": {Order: 1, Kind: quiz.PageLanding}}}
		if h := f.FindElement(".//h2"); h != nil {
			o.Headline = clip(plain(h), quiz.MaxLabel)
		}
		o.Text = clip(strings.Join(paragraphsOf(f), "\n\n"), quiz.MaxText)
		r.q.Outcomes[key] = o
	}
	process := r.test.SelectElement("qti-outcome-processing")
	if process == nil {
		return
	}
	for _, c := range process.SelectElements("qti-outcome-condition") {
		if !r.bands(c) {
			r.lost.tell("A condition of the outcome processing can't be said here: say on the sheet how it is decided.")
		}
	}
	for _, set := range process.SelectElements("qti-set-outcome-value") {
		if key := r.sets(set); key != "" {
			r.q.Decision.Otherwise = key
		}
	}
}

// sets returns the outcome that is set, "" for none.
func (r *reader) sets(set *etree.Element) string {
	value := set.SelectElement("qti-base-value")
	if set.SelectAttrValue("identifier", "") != outcome || value == nil {
		return ""
	}
	if key := strings.TrimSpace(value.Text()); r.q.Outcomes[key] != nil {
		return key
	}
	return ""
}

// bands reads a condition that asks whether a scale is at least this or that, from above, and
// tells whether it was one.
func (r *reader) bands(c *etree.Element) bool {
	step := &quiz.Step{Order: float64(len(r.q.Decision.Steps) + 1), Kind: quiz.BandsStep, Cuts: map[string]*quiz.Cut{}}
	for i, b := range c.ChildElements() {
		set := b.SelectElement("qti-set-outcome-value")
		if set == nil {
			return false
		}
		key := r.sets(set)
		if b.Tag == "qti-outcome-else" {
			step.Lowest = key
			r.q.Decision.Otherwise = key
			continue
		}
		at := b.SelectElement("qti-gte")
		if at == nil || at.SelectElement("qti-variable") == nil {
			return false
		}
		from, ok := numberOf(at.SelectElement("qti-base-value"))
		scale := r.scaleOf(at.SelectElement("qti-variable").SelectAttrValue("identifier", ""))
		if !ok || scale == "" || step.Scale != "" && step.Scale != scale {
			return false
		}
		step.Scale = scale
		step.Cuts["cut_"+strconv.Itoa(i+1)] = &quiz.Cut{At: from, Outcome: key}
	}
	if len(step.Cuts) == 0 {
		return false
	}
	if r.q.Decision.Steps == nil {
		r.q.Decision.Steps = map[string]*quiz.Step{}
	}
	r.q.Decision.Steps["bands_"+strconv.Itoa(len(r.q.Decision.Steps)+1)] = step
	return true
}

// scaleOf returns the scale that is declared under an identifier, "" for none.
func (r *reader) scaleOf(id string) string {
	if key := quiz.KeyOf(id); r.q.Scales[key] != nil {
		return key
	}
	return ""
}

// picture takes a picture up and returns how the quiz shows it, nil for none.
func (r *reader) picture(from string, img *etree.Element) *quiz.Picture {
	if img == nil {
		return nil
	}
	source := img.SelectAttrValue("src", "")
	p := &quiz.Picture{Description: clip(img.SelectAttrValue("alt", ""), quiz.MaxLabel)}
	if strings.HasPrefix(source, "https://") || strings.HasPrefix(source, "http://") {
		p.Source = source
		return p
	}
	data, there := r.files[path.Join(path.Dir(from), source)]
	if kind := http.DetectContentType(data); !there || kind != "image/png" && kind != "image/jpeg" && kind != "image/gif" {
		r.lost.tell("A picture, %s, is left out: it is not there, or is no PNG, JPEG or GIF.", path.Base(source))
		return nil
	}
	name := pictureName(data)
	r.pictures[name] = data
	p.Source = "/pictures/" + name
	return p
}
