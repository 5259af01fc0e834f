package qti

import (
	"archive/zip"
	"bytes"
	"errors"
	"fmt"
	"io"
	"net/http"
	"path"
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
