// Package sheet is the room in which a quiz is designed: the sheet with its margins, what
// an edit changes of it, and the map. It is rendered in parts, each of which is a function
// of the document, its odds and its findings.
package sheet

import (
	"context"
	"embed"
	"fmt"

	lru "github.com/hashicorp/golang-lru/v2"

	"omphalos/store"
	"omphalos/web/studio/desk"
	"omphalos/web/studio/pictures"
	"omphalos/web/ui"
)

//go:embed *.html
var templates embed.FS

// A Room is where a quiz is designed, and its map.
type Room struct {
	*desk.Desk
	keys     *lru.Cache[string, map[string]bool]  // by quiz and release: keys of its questions
	rendered *lru.Cache[string, []*rendered]      // by sheet.kept: what was sent last, the newest first
	newest   *lru.Cache[string, []store.Response] // by quiz, number of responses and the last of them: the newest
	fates    *lru.Cache[string, []string]         // where responses would land, by quiz, revision and the newest
}

// New returns the room at a desk.
func New(d *desk.Desk) *Room {
	s := &Room{Desk: d.With(pictures.Templates, templates)}
	s.keys, _ = lru.New[string, map[string]bool](mostNewest)
	s.fates, _ = lru.New[string, []string](mostFates)
	s.newest, _ = lru.New[string, []store.Response](mostNewest)
	s.rendered, _ = lru.New[string, []*rendered](mostRendered)
	return s
}

// Routes are the room's, each with what it takes.
func (s *Room) Routes() []ui.Route {
	routes := []ui.Route{
		ui.Get("/quizzes/:quiz", s.sheet),
		ui.Get("/quizzes/:quiz/map", s.showMap),
		ui.Get("/quizzes/:quiz/map.svg", s.downloadMap),
		ui.Get("/quizzes/:quiz/versions/:number", s.version),
		ui.Get("/quizzes/:quiz/draft", s.draft),
		ui.Get("/quizzes/:quiz/follow-ups/:key", s.showLetter),
		ui.Get("/quizzes/:quiz/follow-ups/:key/body", s.letterBody),
		ui.Get("/quizzes/:quiz/languages", s.languages),
		ui.Post("/quizzes/:quiz/languages", ui.Form, s.changeLanguages),
		ui.Get("/quizzes/:quiz/languages/:file", s.languageFile),
		ui.Post("/quizzes/:quiz/languages/file", ui.Form, s.takeLanguage),
		ui.Get("/quizzes/:quiz/questions", s.questions),
		ui.Get("/quizzes/:quiz/look/reads", s.reads),
		ui.Get("/quizzes/:quiz/look/pages", s.showings),
		ui.Get("/quizzes/:quiz/look/logo", s.logoColours),
		ui.Post("/quizzes/:quiz/look/keep", ui.JSON, s.keepLook),
		ui.Post("/quizzes/:quiz/lines", ui.JSON, s.many),
		ui.Post("/quizzes/:quiz/lead", ui.Form, s.leave),
		ui.Post("/quizzes/:quiz/reuse/:other/:key", ui.JSON, s.reuse),
		ui.Patch("/quizzes/:quiz/draft", ui.JSON, s.patch),
		ui.Post("/quizzes/:quiz/acts", ui.JSON, s.act),
		ui.Post("/quizzes/:quiz/aim/:step", ui.JSON, s.aim),
		ui.Get("/quizzes/:quiz/tables/:file", s.downloadTable),
		ui.Post("/quizzes/:quiz/tables/:file", ui.JSON, s.takeTable),
		ui.Post("/quizzes/:quiz/undo", ui.JSON, s.undo),
		ui.Post("/quizzes/:quiz/redo", ui.JSON, s.redo),
	}
	if s.Parts {
		routes = append(routes, ui.Get("/parts", s.library))
	}
	return routes
}

// Hearing are the routes of pages that are open, whether somebody is there or not.
func (s *Room) Hearing() []ui.Route {
	return []ui.Route{ui.Get("/quizzes/:quiz/news", s.news)}
}

// fixed returns the keys of questions that the public release of a quiz has: responses know
// them by these.
func (s *Room) fixed(ctx context.Context, z *store.Quiz) (map[string]bool, error) {
	if z.Released == 0 {
		return nil, nil
	}
	at := fmt.Sprintf("%d/%d", z.ID, z.Released)
	if keys, known := s.keys.Get(at); known {
		return keys, nil
	}
	r, err := s.Store.Definitions.ReleaseNumber(ctx, z.ID, z.Released)
	if err != nil {
		return nil, err
	}
	q, err := r.Read()
	if err != nil {
		return nil, err
	}
	keys := map[string]bool{}
	for key := range q.Questions {
		keys[key] = true
	}
	s.keys.Add(at, keys)
	return keys, nil
}
