package sheet

import (
	"fmt"

	"omphalos/core/quiz"
	"omphalos/web/studio/pictures"
)

// A sectionPart heads the questions of a section.
type sectionPart struct {
	*quiz.Section
	Path   quiz.Pointer
	Key    string
	Number int
	Thread threadRow
	When   whenPart
	Mind   *mind
	Shown  pictures.PicturePart
	First  bool
	Last   bool
}

// headed tells whether sections are told apart on the sheet: a single one without
// words is not seen.
func (sh *Sheet) headed() bool {
	if len(sh.Doc.Sections) > 1 {
		return true
	}
	for _, s := range sh.Doc.Sections {
		return s.Heading != "" || s.Text != "" || s.Picture != nil || s.ShowWhen != nil
	}
	return false
}

func (sh *Sheet) section(i int, key string, before threadRow) sectionPart {
	s := sh.Doc.Sections[key]
	p := sectionPart{
		Section: s,
		Key:     key,
		Path:    quiz.At("sections", key),
		Number:  i + 1,
		Thread:  before,
		Mind:    sh.mind(quiz.At("sections", key)),
		First:   i == 0,
		Last:    i == len(sh.Doc.Sections)-1,
	}
	p.Shown = pictures.PictureOf(s.Picture, p.Path+"/picture", fmt.Sprintf("section %d", p.Number))
	p.When = sh.when(p.Path+"/showWhen", fmt.Sprintf("section %d shows", p.Number), s.ShowWhen)
	return p
}
