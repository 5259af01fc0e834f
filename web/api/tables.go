package api

import (
	"context"
	"net/http"
	"slices"
	"strings"
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

// A Product of the catalogue.
type Product struct {
	Key         string   `json:"key" readOnly:"true" required:"false"`
	Name        string   `json:"name"`
	Text        string   `json:"text,omitempty" doc:"CommonMark."`
	Picture     string   `json:"picture,omitempty"`
	Description string   `json:"description,omitempty" doc:"Of the picture."`
	Price       string   `json:"price,omitempty" doc:"A decimal, such as 249.50."`
	SalePrice   string   `json:"salePrice,omitempty"`
	Currency    string   `json:"currency,omitempty" doc:"ISO 4217."`
	Tags        []string `json:"tags,omitempty"`
	Address     string   `json:"address,omitempty"`
	InStock     bool     `json:"inStock"`
}

// A Place is a row of a table of places.
type Place struct {
	Table     string  `json:"table" readOnly:"true" required:"false"`
	Key       string  `json:"key" readOnly:"true" required:"false"`
	Name      string  `json:"name"`
	Address   string  `json:"address,omitempty" doc:"In words."`
	Latitude  float64 `json:"latitude"`
	Longitude float64 `json:"longitude"`
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

func (a *api) products() {
	one := func(ctx context.Context, key string, kept *store.Product) find[Product] {
		return func() (Product, bool, error) {
			list, err := a.store.Definitions.Products(ctx)
			found, there, err := among(list, err, func(p store.Product) bool { return p.Key == key })
			*kept = found
			return productOf(&found), there, err
		}
	}
	huma.Register(a, path(http.MethodGet, "/products", store.WriteTables, "Tables", "listProducts",
		"The catalogue"), func(ctx context.Context, in *struct{ conditional.Params }) (*Got[List[Product]], error) {
		list, err := a.store.Definitions.Products(ctx)
		if err != nil {
			return nil, problem(err)
		}
		var told []Product
		for i := range list {
			told = append(told, productOf(&list[i]))
		}
		return all(told, &in.Params)
	})
	huma.Register(a, path(http.MethodPut, "/products/{key}", store.WriteTables, "Tables", "putProduct",
		"Put a product into the catalogue, or change it", http.StatusPreconditionFailed),
		func(ctx context.Context, in *struct {
			Key string `path:"key" minLength:"1" maxLength:"60"`
			conditional.Params
			Body Product
		}) (*Got[Product], error) {
			var kept store.Product
			return putting(one(ctx, in.Key, &kept), &in.Params, func(Product) error {
				b := in.Body
				return a.store.Definitions.PutProducts(ctx,
					[]store.Product{{Key: in.Key, Place: kept.Place, Name: b.Name, Text: b.Text,
						Picture: b.Picture, Description: b.Description,
						Price: b.Price, SalePrice: b.SalePrice, Currency: b.Currency,
						Tags: strings.Join(b.Tags, ","), Address: b.Address, InStock: b.InStock}})
			}, store.ErrProduct)
		})
	huma.Register(a, path(http.MethodDelete, "/products/{key}", store.WriteTables, "Tables", "deleteProduct",
		"Take a product out of the catalogue", http.StatusNotFound, http.StatusPreconditionFailed),
		func(ctx context.Context, in *struct {
			Key string `path:"key" minLength:"1" maxLength:"60"`
			conditional.Params
		}) (*struct{}, error) {
			var kept store.Product
			return removing(one(ctx, in.Key, &kept), &in.Params, func() error {
				return a.store.Definitions.RemoveProduct(ctx, in.Key)
			})
		})
}

func productOf(p *store.Product) Product {
	return Product{p.Key, p.Name, p.Text, p.Picture, p.Description, p.Price, p.SalePrice, p.Currency,
		p.TagList(), p.Address, p.InStock}
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
