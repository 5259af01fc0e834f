package api

import (
	"context"
	"net/http"
	"slices"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/conditional"

	"omphalos/store"
)

// A Signpost is a row of a table of addresses.
type Signpost struct {
	Table   string    `json:"table" readOnly:"true"`
	Key     string    `json:"key" readOnly:"true"`
	Address string    `json:"address" doc:"Where it leads: http or https, may hold fill-ins (RFC 6570)."`
	Updated time.Time `json:"updated" readOnly:"true" required:"false"`
}

// OfRow names a row of a table.
type OfRow struct {
	Table string `path:"table" minLength:"1" maxLength:"100"`
	Key   string `path:"key" minLength:"1" maxLength:"100"`
}

// A found row, whether it is there, and what was in the way.
type find[T any] func() (row T, there bool, err error)

// among finds a row in a list.
func among[T any](list []T, err error, is func(T) bool) (row T, there bool, _ error) {
	if i := slices.IndexFunc(list, is); i >= 0 {
		return list[i], true, err
	}
	return row, false, err
}

// putting changes a row where it is still what the client thinks, and answers with what it is
// then.
func putting[T any](row find[T], asked *conditional.Params, put func(now T) error, refused ...error) (*Got[T], error) {
	now, there, err := row()
	if err != nil {
		return nil, problem(err)
	}
	if err := unchanged(now, there, asked); err != nil {
		return nil, err
	}
	if err := put(now); err != nil {
		return nil, problem(err, refused...)
	}
	if now, _, err = row(); err != nil {
		return nil, problem(err)
	}
	return got(now, &conditional.Params{})
}

// removing takes a row away where it is still what the client thinks.
func removing[T any](row find[T], asked *conditional.Params, remove func() error, refused ...error) (*struct{}, error) {
	now, there, err := row()
	if err == nil && !there {
		err = store.ErrNotFound
	}
	if err != nil {
		return nil, problem(err)
	}
	if err := unchanged(now, true, asked); err != nil {
		return nil, err
	}
	return nil, problem(remove(), refused...)
}

// all answers with a list that is no longer than a page.
func all[T any](list []T, asked *conditional.Params) (*Got[List[T]], error) {
	if list == nil {
		list = []T{}
	}
	return got(List[T]{Items: list}, asked)
}

func (a *api) signposts() {
	read := func(ctx context.Context) ([]Signpost, error) {
		list, err := a.store.Definitions.Signposts(ctx)
		var told []Signpost
		for _, s := range list {
			told = append(told, Signpost{s.Table, s.Row, s.Address, s.Updated.UTC()})
		}
		return told, err
	}
	one := func(ctx context.Context, at OfRow) find[Signpost] {
		return func() (Signpost, bool, error) {
			list, err := read(ctx)
			return among(list, err, func(s Signpost) bool { return s.Table == at.Table && s.Key == at.Key })
		}
	}
	huma.Register(a, path(http.MethodGet, "/signposts", store.WriteTables, "Tables", "listSignposts",
		"All signposts"), func(ctx context.Context, in *struct{ conditional.Params }) (*Got[List[Signpost]], error) {
		list, err := read(ctx)
		if err != nil {
			return nil, problem(err)
		}
		return all(list, &in.Params)
	})
	huma.Register(a, path(http.MethodPut, "/signposts/{table}/{key}", store.WriteTables, "Tables",
		"putSignpost", "Put a signpost up, or change where it leads", http.StatusPreconditionFailed),
		func(ctx context.Context, in *struct {
			OfRow
			conditional.Params
			Body struct {
				Address string `json:"address" minLength:"1" doc:"Where it leads: http or https, may hold fill-ins (RFC 6570)."`
			}
		}) (*Got[Signpost], error) {
			return putting(one(ctx, in.OfRow), &in.Params, func(Signpost) error {
				return a.store.Definitions.PutSignposts(ctx,
					[]store.Signpost{{Table: in.Table, Row: in.Key, Address: in.Body.Address}}, user(ctx))
			}, store.ErrSignpost)
		})
	huma.Register(a, path(http.MethodDelete, "/signposts/{table}/{key}", store.WriteTables, "Tables",
		"deleteSignpost", "Take a signpost down", http.StatusNotFound, http.StatusPreconditionFailed),
		func(ctx context.Context, in *struct {
			OfRow
			conditional.Params
		}) (*struct{}, error) {
			return removing(one(ctx, in.OfRow), &in.Params, func() error {
				return a.store.Definitions.PutSignposts(ctx, []store.Signpost{{Table: in.Table, Row: in.Key}}, user(ctx))
			}, store.ErrSignpost)
		})
}
