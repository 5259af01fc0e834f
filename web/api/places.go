package api

import (
	"context"
	"net/http"

	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/conditional"

	"omphalos/store"
)

// A Place is a row of a table of places.
type Place struct {
	Table     string  `json:"table" readOnly:"true" required:"false"`
	Key       string  `json:"key" readOnly:"true" required:"false"`
	Name      string  `json:"name"`
	Address   string  `json:"address,omitempty" doc:"In words."`
	Latitude  float64 `json:"latitude"`
	Longitude float64 `json:"longitude"`
}

func (a *api) places() {
	one := func(ctx context.Context, at OfRow) find[Place] {
		return func() (Place, bool, error) {
			list, err := a.store.Definitions.Places(ctx, at.Table)
			found, there, err := among(list, err, func(p store.Place) bool { return p.Key == at.Key })
			return placeOf(found), there, err
		}
	}
	huma.Register(a, path(http.MethodGet, "/places/{table}", store.WriteTables, "Tables", "listPlaces",
		"The places of a table"), func(ctx context.Context, in *struct {
		Table string `path:"table" minLength:"1" maxLength:"100"`
		conditional.Params
	}) (*Got[List[Place]], error) {
		list, err := a.store.Definitions.Places(ctx, in.Table)
		if err != nil {
			return nil, problem(err)
		}
		var told []Place
		for _, p := range list {
			told = append(told, placeOf(p))
		}
		return all(told, &in.Params)
	})
	huma.Register(a, path(http.MethodPut, "/places/{table}/{key}", store.WriteTables, "Tables", "putPlace",
		"Put a place into a table, or change it", http.StatusPreconditionFailed), func(ctx context.Context, in *struct {
		OfRow
		conditional.Params
		Body Place
	}) (*Got[Place], error) {
		return putting(one(ctx, in.OfRow), &in.Params, func(Place) error {
			b := in.Body
			return a.store.Definitions.PutPlaces(ctx,
				[]store.Place{{Table: in.Table, Key: in.Key, Name: b.Name, Address: b.Address,
					Latitude: b.Latitude, Longitude: b.Longitude}})
		}, store.ErrPlace)
	})
	huma.Register(a, path(http.MethodDelete, "/places/{table}/{key}", store.WriteTables, "Tables",
		"deletePlace", "Take a place out of a table", http.StatusNotFound, http.StatusPreconditionFailed),
		func(ctx context.Context, in *struct {
			OfRow
			conditional.Params
		}) (*struct{}, error) {
			return removing(one(ctx, in.OfRow), &in.Params, func() error {
				return a.store.Definitions.RemovePlace(ctx, in.Table, in.Key)
			})
		})
}

func placeOf(p store.Place) Place {
	return Place{p.Table, p.Key, p.Name, p.Address, p.Latitude, p.Longitude}
}
