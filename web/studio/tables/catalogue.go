package tables

import (
	"cmp"
	"errors"
	"net/http"
	"slices"

	"github.com/gin-gonic/gin"

	"omphalos/core/quiz"
	"omphalos/store"
	"omphalos/web/studio/desk"
)

// A cataloguePage lists the products.
type cataloguePage struct {
	desk.Frame
	Products []productRow
	Edited   store.Product
	New      bool
	Wrong    string
	Removed  string
}

type productRow struct {
	store.Product
	Uses []string // titles of the quizzes that show it
}

func (s *Room) catalogue(c *gin.Context) {
	edited := store.Product{InStock: true, Currency: "EUR"}
	fresh := true
	if key := c.Query("product"); key != "" {
		list, err := s.Store.Definitions.Products(c.Request.Context())
		if err != nil {
			s.Fail(c, err)
			return
		}
		if i := slices.IndexFunc(list, func(p store.Product) bool { return p.Key == key }); i >= 0 {
			edited, fresh = list[i], false
		}
	}
	s.showCatalogue(c, http.StatusOK, edited, fresh, "")
}

func (s *Room) showCatalogue(c *gin.Context, status int, edited store.Product, fresh bool, wrong string) {
	list, err := s.Store.Definitions.Products(c.Request.Context())
	if err != nil {
		s.Fail(c, err)
		return
	}
	uses, err := s.Store.Definitions.ProductUses(c.Request.Context())
	if err != nil {
		s.Fail(c, err)
		return
	}
	page := cataloguePage{Frame: s.Frame(c, "Catalogue", "catalogue", nil), Edited: edited, New: fresh, Wrong: wrong}
	for _, p := range list {
		page.Products = append(page.Products, productRow{p, uses[p.Key]})
	}
	s.Show(c, status, "catalogue", page)
}

func (s *Room) putProduct(c *gin.Context) {
	p := store.Product{
		Key:         cmp.Or(c.PostForm("key"), quiz.KeyOf(c.PostForm("name"))),
		Name:        c.PostForm("name"),
		Text:        c.PostForm("text"),
		Picture:     c.PostForm("picture"),
		Description: c.PostForm("description"),
		Price:       c.PostForm("price"),
		SalePrice:   c.PostForm("sale"),
		Currency:    c.PostForm("currency"),
		Tags:        c.PostForm("tags"),
		Address:     c.PostForm("address"),
		InStock:     c.PostForm("stock") != "",
	}
	list, err := s.Store.Definitions.Products(c.Request.Context())
	if err != nil {
		s.Fail(c, err)
		return
	}
	known := slices.IndexFunc(list, func(other store.Product) bool { return other.Key == p.Key })
	fresh := c.PostForm("fresh") != ""
	if known >= 0 && fresh {
		s.showCatalogue(
			c,
			http.StatusUnprocessableEntity,
			p,
			true,
			"There is a product with this key already. Give this one another.",
		)
		return
	}
	if known >= 0 {
		p.Place = list[known].Place
	}
	err = s.Store.Definitions.PutProducts(c.Request.Context(), []store.Product{p})
	switch {
	case errors.Is(err, store.ErrProduct):
		s.showCatalogue(c, http.StatusUnprocessableEntity, p, fresh, desk.SentenceOf(err.Error()[len("row 1: "):]))
	case err != nil:
		s.Fail(c, err)
	default:
		s.Say(c, "“"+p.Name+"” is in the catalogue.", "")
		c.Redirect(http.StatusSeeOther, "/studio/catalogue")
	}
}

func (s *Room) removeProduct(c *gin.Context) {
	key := c.Param("product")
	step, said, undo := s.Store.Definitions.RemoveProduct, "The product was taken out of the catalogue.",
		"/studio/catalogue/"+key+"/restore"
	if c.FullPath() == "/studio/catalogue/:product/restore" {
		step, said, undo = s.Store.Definitions.RestoreProduct, "The product is back.", ""
	}
	if err := step(c.Request.Context(), key); err != nil {
		s.Fail(c, err)
		return
	}
	s.Say(c, said, undo)
	c.Redirect(http.StatusSeeOther, "/studio/catalogue")
}

var productColumns = []string{
	"key",
	"name",
	"text",
	"picture",
	"description",
	"price",
	"sale price",
	"currency",
	"tags",
	"address",
	"in stock",
}

func (s *Room) exportProducts(c *gin.Context) {
	list, err := s.Store.Definitions.Products(c.Request.Context())
	if err != nil {
		s.Fail(c, err)
		return
	}
	var rows []map[string]string
	for _, p := range list {
		rows = append(
			rows,
			map[string]string{
				"key":         p.Key,
				"name":        p.Name,
				"text":        p.Text,
				"picture":     p.Picture,
				"description": p.Description,
				"price":       p.Price,
				"sale price":  p.SalePrice,
				"currency":    p.Currency,
				"tags":        p.Tags,
				"address":     p.Address,
				"in stock":    yesNo(p.InStock),
			},
		)
	}
	s.sendList(c, "catalogue.csv", productColumns, rows)
}

func (s *Room) importProducts(c *gin.Context) {
	refuse := func(err error) {
		s.showCatalogue(
			c,
			http.StatusUnprocessableEntity,
			store.Product{InStock: true, Currency: "EUR"},
			true,
			desk.SentenceOf(err.Error())+" Nothing was changed.",
		)
	}
	rows, err := readUpload(c, productColumns, []string{"key", "name"})
	if err != nil {
		refuse(err)
		return
	}
	known, err := s.Store.Definitions.Products(c.Request.Context())
	if err != nil {
		s.Fail(c, err)
		return
	}
	var list []store.Product
	for _, r := range rows {
		p := store.Product{
			Key:         r["key"],
			Name:        r["name"],
			Text:        r["text"],
			Picture:     r["picture"],
			Description: r["description"],
			Price:       r["price"],
			SalePrice:   r["sale price"],
			Currency:    r["currency"],
			Tags:        r["tags"],
			Address:     r["address"],
			InStock:     r["in stock"] != "no",
		}
		if i := slices.IndexFunc(known, func(other store.Product) bool { return other.Key == p.Key }); i >= 0 {
			p.Place = known[i].Place
		}
		list = append(list, p)
	}
	if err := s.Store.Definitions.PutProducts(c.Request.Context(), list); err != nil {
		if errors.Is(err, store.ErrProduct) {
			refuse(err)
			return
		}
		s.Fail(c, err)
		return
	}
	s.Say(c, "The products of the file are in the catalogue.", "")
	c.Redirect(http.StatusSeeOther, "/studio/catalogue")
}

func yesNo(yes bool) string {
	if yes {
		return "yes"
	}
	return "no"
}
