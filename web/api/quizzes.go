package api

import (
	"context"
	"encoding/json"
	"net/http"
	"slices"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/conditional"

	"omphalos/store"
)

// A Quiz as other systems see it.
type Quiz struct {
	ID        uint           `json:"id"`
	Title     string         `json:"title"`
	Address   string         `json:"address" doc:"Where respondents take it, once it is released; a path of this server."`
	Revision  int            `json:"revision" doc:"Of the draft: each edit counts."`
	Released  int            `json:"released" doc:"The number of the public release, 0 for none."`
	Responses int            `json:"responses"`
	Outcomes  map[string]int `json:"outcomes" doc:"How many responses got each outcome, by its key."`
	Updated   time.Time      `json:"updated"`
}

// A Release of a quiz.
type Release struct {
	Number int       `json:"number"`
	Made   time.Time `json:"made"`
	Note   string    `json:"note,omitempty"`
	Public bool      `json:"public" doc:"It is what respondents get."`
}

// A ReleasedQuiz is a release with what was released.
type ReleasedQuiz struct {
	Release
	Document json.RawMessage `json:"document" doc:"The quiz, in the format omphalos/quiz@1."`
}

// RawDocument is any object: the format has a schema of its own.
func (ReleasedQuiz) TransformSchema(_ huma.Registry, s *huma.Schema) *huma.Schema {
	s.Properties["document"] = &huma.Schema{Type: "object", AdditionalProperties: true,
		Description: "The quiz, in the format omphalos/quiz@1."}
	return s
}

// OfQuiz names a quiz.
type OfQuiz struct {
	Quiz uint `path:"quiz" minimum:"1" doc:"Number of the quiz."`
}

func (a *api) quizzes() {
	huma.Register(a, path(http.MethodGet, "/quizzes", store.ReadQuizzes, "Quizzes", "listQuizzes",
		"All quizzes, by their numbers"), func(ctx context.Context, in *struct {
		Paging
		conditional.Params
	}) (*Got[List[Quiz]], error) {
		listed, err := a.store.Definitions.Quizzes(ctx)
		if err != nil {
			return nil, problem(err)
		}
		var list []Quiz
		for i := range listed {
			if int(listed[i].ID) > in.After {
				list = append(list, quizOf(&listed[i]))
			}
		}
		slices.SortFunc(list, func(a, b Quiz) int { return int(a.ID) - int(b.ID) })
		return got(pageOf(list, in.Paging, func(q Quiz) int { return int(q.ID) }), &in.Params)
	})
	huma.Register(a, path(http.MethodGet, "/quizzes/{quiz}", store.ReadQuizzes, "Quizzes", "getQuiz",
		"One quiz", http.StatusNotFound), func(ctx context.Context, in *struct {
		OfQuiz
		conditional.Params
	}) (*Got[Quiz], error) {
		listed, err := a.store.Definitions.Quizzes(ctx)
		if err != nil {
			return nil, problem(err)
		}
		i := slices.IndexFunc(listed, func(z store.Listed) bool { return z.ID == in.Quiz })
		if i < 0 {
			return nil, problem(store.ErrNotFound)
		}
		return got(quizOf(&listed[i]), &in.Params)
	})
	huma.Register(a, path(http.MethodGet, "/quizzes/{quiz}/releases", store.ReadQuizzes, "Quizzes",
		"listReleases", "The releases of a quiz, the newest first", http.StatusNotFound),
		func(ctx context.Context, in *struct {
			OfQuiz
			conditional.Params
		}) (*Got[List[Release]], error) {
			z, err := a.store.Definitions.Quiz(ctx, in.Quiz)
			if err != nil {
				return nil, problem(err)
			}
			releases, err := a.store.Definitions.Releases(ctx, in.Quiz)
			if err != nil {
				return nil, problem(err)
			}
			list := []Release{}
			for i := range releases {
				list = append(list, releaseOf(z, &releases[i]))
			}
			return got(List[Release]{Items: list}, &in.Params)
		})
	huma.Register(a, path(http.MethodGet, "/quizzes/{quiz}/releases/{number}", store.ReadQuizzes, "Quizzes",
		"getRelease", "One release, with what was released", http.StatusNotFound), func(ctx context.Context, in *struct {
		OfQuiz
		Number int `path:"number" minimum:"1"`
		conditional.Params
	}) (*Got[ReleasedQuiz], error) {
		z, err := a.store.Definitions.Quiz(ctx, in.Quiz)
		if err != nil {
			return nil, problem(err)
		}
		r, err := a.store.Definitions.ReleaseNumber(ctx, in.Quiz, in.Number)
		if err != nil {
			return nil, problem(err)
		}
		return got(ReleasedQuiz{releaseOf(z, r), json.RawMessage(r.Document)}, &in.Params)
	})
}

func quizOf(z *store.Listed) Quiz {
	q := Quiz{ID: z.ID, Title: z.Title, Revision: z.Revision, Released: z.Released, Responses: z.Responses,
		Outcomes: map[string]int{}, Updated: z.Updated.UTC()}
	if z.Slug != "" {
		q.Address = "/q/" + z.Slug
	}
	for _, c := range z.Counts {
		q.Outcomes[c.Outcome] = c.Count
	}
	return q
}

func releaseOf(z *store.Quiz, r *store.Release) Release {
	return Release{Number: r.Number, Made: r.Made.UTC(), Note: r.Note, Public: r.Number == z.Released}
}
