package studio

import (
	"cmp"
	"errors"
	"net/http"
	"slices"

	"github.com/gin-gonic/gin"

	"omphalos/core/quiz"
	"omphalos/interchange/listing"
	"omphalos/store"
	"omphalos/web/ui"
)

// A tablesRoom is what all quizzes share: signposts, places and the catalogue.
type tablesRoom struct {
	*Desk
}

func newTablesRoom(d *Desk) *tablesRoom { return &tablesRoom{d} }

// routes are the room's, each with what it takes.
func (s *tablesRoom) routes() []ui.Route {
	return []ui.Route{
		ui.Get("/signposts", s.signposts),
		ui.Post("/signposts", ui.Form, s.putSignpost),
		ui.Get("/signposts.csv", s.exportSignposts),
		ui.Post("/signposts/import", ui.Form, s.importSignposts),
		ui.Get("/places", s.places),
		ui.Post("/places", ui.Form, s.putPlace),
		ui.Post("/places/delete", ui.Form, s.removePlace),
		ui.Get("/places.csv", s.exportPlaces),
		ui.Post("/places/import", ui.Form, s.importPlaces),
		ui.Get("/catalogue", s.catalogue),
		ui.Post("/catalogue", ui.Form, s.putProduct),
		ui.Get("/catalogue.csv", s.exportProducts),
		ui.Post("/catalogue/import", ui.Form, s.importProducts),
		ui.Post("/catalogue/:product/delete", ui.Form, s.removeProduct),
		ui.Post("/catalogue/:product/restore", ui.Form, s.removeProduct),
	}
}

type signpostsPage struct {
	frame
	Tables  []board
	Changes []store.SignpostChange
	Wrong   string
	Typed   store.Signpost
}

// A board is a table of signposts.
type board struct {
	Name string
	Rows []store.Signpost
}

const changesShown = 20

func (s *tablesRoom) signposts(c *gin.Context) {
	s.showSignposts(c, http.StatusOK, store.Signpost{Table: c.Query("table")}, "")
}

func (s *tablesRoom) showSignposts(c *gin.Context, status int, typed store.Signpost, wrong string) {
	list, err := s.store.Definitions.Signposts(c.Request.Context())
	if err != nil {
		s.fail(c, err)
		return
	}
	page := signpostsPage{frame: s.frame(c, "Signposts", "signposts", nil), Wrong: wrong, Typed: typed}
	for _, r := range list {
		if n := len(page.Tables); n == 0 || page.Tables[n-1].Name != r.Table {
			page.Tables = append(page.Tables, board{Name: r.Table})
		}
		last := &page.Tables[len(page.Tables)-1]
		last.Rows = append(last.Rows, r)
	}
	if page.Changes, err = s.store.Definitions.SignpostChanges(c.Request.Context(), changesShown); err != nil {
		s.fail(c, err)
		return
	}
	s.show(c, status, "signposts", page)
}

// putSignpost keeps one row: new, with another address, or without one to take it away.
func (s *tablesRoom) putSignpost(c *gin.Context) {
	row := store.Signpost{Table: c.PostForm("table"), Row: c.PostForm("row"), Address: c.PostForm("address")}
	if c.PostForm("do") == "remove" {
		row.Address = ""
	} else if row.Address == "" {
		s.showSignposts(c, http.StatusUnprocessableEntity, row, "Type the address that this key leads to, such as https://example.org/visit.")
		return
	}
	if err := s.store.Definitions.PutSignposts(c.Request.Context(), []store.Signpost{row}, s.user(c)); err != nil {
		s.refuseSignposts(c, row, err)
		return
	}
	s.say(c, "Kept. It counts at once, for released quizzes too.", "")
	c.Redirect(http.StatusSeeOther, "/studio/signposts")
}

func (s *tablesRoom) refuseSignposts(c *gin.Context, typed store.Signpost, err error) {
	if errors.Is(err, store.ErrSignpost) {
		s.showSignposts(c, http.StatusUnprocessableEntity, typed, sentenceOf(err.Error())+" Nothing was changed.")
		return
	}
	s.fail(c, err)
}

var signpostColumns = []string{"table", "key", "address"}

func (s *tablesRoom) exportSignposts(c *gin.Context) {
	list, err := s.store.Definitions.Signposts(c.Request.Context())
	if err != nil {
		s.fail(c, err)
		return
	}
	var rows []map[string]string
	for _, r := range list {
		rows = append(rows, map[string]string{"table": r.Table, "key": r.Row, "address": r.Address})
	}
	s.sendList(c, "signposts.csv", signpostColumns, rows)
}

func (s *tablesRoom) importSignposts(c *gin.Context) {
	rows, err := readUpload(c, signpostColumns, signpostColumns)
	if err != nil {
		s.showSignposts(
			c,
			http.StatusUnprocessableEntity,
			store.Signpost{},
			sentenceOf(err.Error())+" Nothing was changed.",
		)
		return
	}
	var list []store.Signpost
	for _, r := range rows {
		list = append(list, store.Signpost{Table: r["table"], Row: r["key"], Address: r["address"]})
	}
	if err := s.store.Definitions.PutSignposts(c.Request.Context(), list, s.user(c)); err != nil {
		s.refuseSignposts(c, store.Signpost{}, err)
		return
	}
	s.say(c, "The rows of the file are kept; rows that it does not name stay as they were.", "")
	c.Redirect(http.StatusSeeOther, "/studio/signposts")
}

var errNoFile = errors.New("choose a CSV file first")

// readUpload reads the list in an uploaded file.
func readUpload(c *gin.Context, known, needed []string) ([]map[string]string, error) {
	file, err := c.FormFile("file")
	if err != nil {
		return nil, errNoFile
	}
	f, err := file.Open()
	if err != nil {
		return nil, err
	}
	defer f.Close()
	return listing.Read(f, known, needed)
}

func (s *tablesRoom) sendList(c *gin.Context, name string, columns []string, rows []map[string]string) {
	c.Header("Content-Type", "text/csv; charset=utf-8")
	c.Header("Content-Disposition", `attachment; filename="`+name+`"`)
	if err := listing.Write(c.Writer, columns, rows); err != nil {
		_ = c.Error(err)
	}
}

// A cataloguePage lists the products.
type cataloguePage struct {
	frame
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

func (s *tablesRoom) catalogue(c *gin.Context) {
	edited := store.Product{InStock: true, Currency: "EUR"}
	fresh := true
	if key := c.Query("product"); key != "" {
		list, err := s.store.Definitions.Products(c.Request.Context())
		if err != nil {
			s.fail(c, err)
			return
		}
		if i := slices.IndexFunc(list, func(p store.Product) bool { return p.Key == key }); i >= 0 {
			edited, fresh = list[i], false
		}
	}
	s.showCatalogue(c, http.StatusOK, edited, fresh, "")
}

func (s *tablesRoom) showCatalogue(c *gin.Context, status int, edited store.Product, fresh bool, wrong string) {
	list, err := s.store.Definitions.Products(c.Request.Context())
	if err != nil {
		s.fail(c, err)
		return
	}
	uses, err := s.store.Definitions.ProductUses(c.Request.Context())
	if err != nil {
		s.fail(c, err)
		return
	}
	page := cataloguePage{frame: s.frame(c, "Catalogue", "catalogue", nil), Edited: edited, New: fresh, Wrong: wrong}
	for _, p := range list {
		page.Products = append(page.Products, productRow{p, uses[p.Key]})
	}
	s.show(c, status, "catalogue", page)
}

func (s *tablesRoom) putProduct(c *gin.Context) {
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
	list, err := s.store.Definitions.Products(c.Request.Context())
	if err != nil {
		s.fail(c, err)
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
	err = s.store.Definitions.PutProducts(c.Request.Context(), []store.Product{p})
	switch {
	case errors.Is(err, store.ErrProduct):
		s.showCatalogue(c, http.StatusUnprocessableEntity, p, fresh, sentenceOf(err.Error()[len("row 1: "):]))
	case err != nil:
		s.fail(c, err)
	default:
		s.say(c, "“"+p.Name+"” is in the catalogue.", "")
		c.Redirect(http.StatusSeeOther, "/studio/catalogue")
	}
}

func (s *tablesRoom) removeProduct(c *gin.Context) {
	key := c.Param("product")
	step, said, undo := s.store.Definitions.RemoveProduct, "The product was taken out of the catalogue.", "/studio/catalogue/"+key+"/restore"
	if c.FullPath() == "/studio/catalogue/:product/restore" {
		step, said, undo = s.store.Definitions.RestoreProduct, "The product is back.", ""
	}
	if err := step(c.Request.Context(), key); err != nil {
		s.fail(c, err)
		return
	}
	s.say(c, said, undo)
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

func (s *tablesRoom) exportProducts(c *gin.Context) {
	list, err := s.store.Definitions.Products(c.Request.Context())
	if err != nil {
		s.fail(c, err)
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

func (s *tablesRoom) importProducts(c *gin.Context) {
	refuse := func(err error) {
		s.showCatalogue(
			c,
			http.StatusUnprocessableEntity,
			store.Product{InStock: true, Currency: "EUR"},
			true,
			sentenceOf(err.Error())+" Nothing was changed.",
		)
	}
	rows, err := readUpload(c, productColumns, []string{"key", "name"})
	if err != nil {
		refuse(err)
		return
	}
	known, err := s.store.Definitions.Products(c.Request.Context())
	if err != nil {
		s.fail(c, err)
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
	if err := s.store.Definitions.PutProducts(c.Request.Context(), list); err != nil {
		if errors.Is(err, store.ErrProduct) {
			refuse(err)
			return
		}
		s.fail(c, err)
		return
	}
	s.say(c, "The products of the file are in the catalogue.", "")
	c.Redirect(http.StatusSeeOther, "/studio/catalogue")
}

func yesNo(yes bool) string {
	if yes {
		return "yes"
	}
	return "no"
}
