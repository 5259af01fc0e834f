package api

import (
	"context"
	"net/http"
	"strings"

	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/conditional"

	"omphalos/store"
)

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

	Words map[string]store.ProductWords `json:"words,omitempty" doc:"By primary subtag (BCP 47); without, they stay."`
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
				if b.Words == nil { // whoever asks may not know of them
					b.Words = kept.Words
				}
				return a.store.Definitions.PutProducts(ctx,
					[]store.Product{{Key: in.Key, Place: kept.Place, Name: b.Name, Text: b.Text,
						Picture: b.Picture, Description: b.Description,
						Price: b.Price, SalePrice: b.SalePrice, Currency: b.Currency,
						Tags: strings.Join(b.Tags, ","), Address: b.Address, InStock: b.InStock, Words: b.Words}})
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
		p.TagList(), p.Address, p.InStock, p.Words}
}
