package tables

import (
	"cmp"
	"errors"
	"maps"
	"net/http"
	"slices"
	"strings"

	"github.com/gin-gonic/gin"

	"omphalos/core/quiz"
	"omphalos/interchange/bundle"
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
	Others   []productWords // what the edited one says in other languages
}

// productWords is what a product says in another language.
type productWords struct {
	Language, Name string // "de", "German"
	store.ProductWords
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
	uses, languages, err := s.Store.Definitions.ProductUses(c.Request.Context())
	if err != nil {
		s.Fail(c, err)
		return
	}
	page := cataloguePage{Frame: s.Frame(c, "Catalogue", "catalogue", nil), Edited: edited, New: fresh, Wrong: wrong}
	for _, p := range list {
		page.Products = append(page.Products, productRow{p, uses[p.Key]})
	}
	if len(languages) > 0 {
		languages = languages[1:] // in that of most quizzes it is written
	}
	for in := range edited.Words {
		languages = append(languages, in)
	}
	slices.Sort(languages)
	for _, in := range slices.Compact(languages) {
		page.Others = append(page.Others, productWords{in, quiz.LanguageName(in), edited.Words[in]})
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
		Words:       map[string]store.ProductWords{},
	}
	for _, in := range c.PostFormArray("in") {
		p.Words[in] = store.ProductWords{Name: c.PostForm(in + ".name"), Text: c.PostForm(in + ".text"),
			Description: c.PostForm(in + ".description"), Address: c.PostForm(in + ".address")}
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

// productColumns are those of a bundle, as a spreadsheet has them.
func productColumns() []string {
	var list []string
	for _, column := range bundle.Columns["products"] {
		list = append(list, strings.ReplaceAll(column, "_", " "))
	}
	return list
}

// respelt returns a row with other names of its columns.
func respelt(row map[string]string, from, to string) map[string]string {
	other := map[string]string{}
	for column, value := range row {
		other[strings.ReplaceAll(column, from, to)] = value
	}
	return other
}

func (s *Room) exportProducts(c *gin.Context) {
	list, err := s.Store.Definitions.Products(c.Request.Context())
	if err != nil {
		s.Fail(c, err)
		return
	}
	var rows []map[string]string
	for _, p := range list {
		rows = append(rows, respelt(p.Row(), "_", " "))
	}
	s.sendList(c, "catalogue.csv", productColumns(), rows)
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
	rows, err := readUpload(c, productColumns(), []string{"key", "name"})
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
	for _, row := range rows {
		full, place := map[string]string{}, 0
		if i := slices.IndexFunc(known, func(p store.Product) bool { return p.Key == row["key"] }); i >= 0 {
			full, place = known[i].Row(), known[i].Place // what the file has no column for stays
		}
		maps.Copy(full, respelt(row, " ", "_"))
		p := store.ProductOf(full)
		p.Place = place
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
