package sheet

import (
	"html/template"

	"github.com/gin-gonic/gin"

	"omphalos/core/edit"
	"omphalos/core/excerpt"
	"omphalos/core/quiz"
	"omphalos/store"
	"omphalos/web/studio/desk"
)

// A versionPage shows the sheet of one release, or of the draft, to look at only; beside
// another one it tells at each place what was there before.
type versionPage struct {
	desk.Frame
	Of, Since int // numbers of releases; 0 is the draft
	Compared  bool
	Name      string
	SinceName string
	Numbers   []int
	Parts     map[string]template.HTML
	Order     []string
	Ends      []string
	Steps     []string
	Goes      []string
	Notes     map[string][]edit.Changed // by part
	Gone      []edit.Changed            // at places that are not there any more
}

// The longest words of what stood somewhere, in letters.
const longestWas = 300

// version shows the sheet as it was in a release, with ?since= what it has that another has not.
func (s *Room) version(c *gin.Context) {
	z, ok := s.QuizOf(c)
	if !ok {
		return
	}
	releases, err := s.Store.Definitions.Releases(c.Request.Context(), z.ID)
	if err != nil {
		s.Fail(c, err)
		return
	}
	of, known := desk.VersionOf(z, releases, c.Param("number"))
	if !known {
		s.Fail(c, store.ErrNotFound)
		return
	}
	page := versionPage{Frame: s.Frame(c, z.Title, "release", z), Parts: map[string]template.HTML{},
		Notes: map[string][]edit.Changed{}}
	page.Of, page.Name = of.Number, of.Name()
	for i := range releases {
		page.Numbers = append(page.Numbers, releases[i].Number)
	}
	sh, err := s.At(c, of)
	if err != nil {
		s.Fail(c, err)
		return
	}
	sh.version = of.Name()
	r, err := s.render(sh)
	if err != nil {
		s.Fail(c, err)
		return
	}
	page.Order, page.Ends, page.Steps, page.Goes = r.orders["questions"], r.orders["outcomes"],
		r.orders["steps"], r.orders["followUps"]
	for _, id := range r.order {
		page.Parts[id] = template.HTML(r.whole(id))
	}
	if since, known := desk.VersionOf(z, releases, c.Query("since")); known {
		page.Since, page.SinceName, page.Compared = since.Number, since.Name(), true
		before, err := since.Quiz.Document()
		if err == nil {
			err = page.compare(sh, before)
		}
		if err != nil {
			s.Fail(c, err)
			return
		}
	}
	s.Show(c, 200, "version", page)
}

// At reads the sheet of a version, with nobody's eyes and without what was rehearsed.
func (s *Room) At(c *gin.Context, v desk.Version) (*Sheet, error) {
	return s.read(c, v.Quiz, eyesPart{}, false)
}

// Since tells what a sheet has that a document has not; long words that stood somewhere are cut.
func (sh *Sheet) Since(before *quiz.Quiz) ([]edit.Changed, error) {
	list, err := edit.Changes(before, edit.Written(sh.Doc))
	for i := range list {
		list[i].Before, list[i].After = excerpt.Of(list[i].Before, longestWas), excerpt.Of(list[i].After, longestWas)
	}
	return list, err
}

// compare puts what is another than before at its place.
func (p *versionPage) compare(sh *Sheet, before *quiz.Quiz) error {
	list, err := sh.Since(before)
	if err != nil {
		return err
	}
	for _, one := range list {
		at := sh.Jump(one.Pointer)
		if _, there := p.Parts[at]; there {
			p.Notes[at] = append(p.Notes[at], one)
		} else {
			p.Gone = append(p.Gone, one)
		}
	}
	return nil
}
