package store

import (
	"cmp"
	"fmt"
	"strings"

	"golang.org/x/text/language"

	"omphalos/core/fillin"
	"omphalos/core/quiz"
)

// ProductWords are what a product says in another language, and where it leads there. What is
// empty is said as it was written.
type ProductWords struct {
	Name        string `json:"name,omitempty"`
	Text        string `json:"text,omitempty"` // Markdown
	Description string `json:"description,omitempty"`
	Address     string `json:"address,omitempty"`
}

// In returns the product as it is said in a language, a primary subtag of BCP 47: as it was
// written where it has no words in it.
func (p Product) In(language string) Product {
	words := p.Words[language]
	p.Name = cmp.Or(words.Name, p.Name)
	p.Text = cmp.Or(words.Text, p.Text)
	p.Description = cmp.Or(words.Description, p.Description)
	p.Address = cmp.Or(words.Address, p.Address)
	return p
}

// checkWords tidies what a product says in other languages, leaves out what says nothing, and
// tells what is wrong with it.
func (p *Product) checkWords() error {
	kept := map[string]ProductWords{}
	for in, words := range p.Words {
		if base, err := language.ParseBase(in); err != nil || base.String() != in {
			return fmt.Errorf("%q %w: %q is not a language such as de", p.Key, ErrProduct, in)
		}
		for _, field := range []*string{&words.Name, &words.Text, &words.Description, &words.Address} {
			if *field = strings.TrimSpace(*field); len(*field) > quiz.MaxText {
				return fmt.Errorf("it %w: a text is too long", ErrProduct)
			}
		}
		if words.Address != "" {
			if err := fillin.CheckAddress(words.Address); err != nil {
				return fmt.Errorf("%q %w: the address in %s %w", p.Key, ErrProduct, quiz.LanguageName(in), err)
			}
		}
		if words != (ProductWords{}) {
			kept[in] = words
		}
	}
	if p.Words = kept; len(kept) > quiz.MostLanguages {
		return fmt.Errorf("%q %w: it is in more than %d languages", p.Key, ErrProduct, quiz.MostLanguages)
	}
	return nil
}

// wordColumns are the columns of a product's row that may come once more for each language, such
// as "name:de".
var wordColumns = []string{"name", "text", "description", "address"}

func (w *ProductWords) field(column string) *string {
	return map[string]*string{"name": &w.Name, "text": &w.Text, "description": &w.Description,
		"address": &w.Address}[column]
}

// Row returns a product as a row of text, by the columns of a bundle.
func (p *Product) Row() map[string]string {
	row := map[string]string{"key": p.Key, "name": p.Name, "text": p.Text, "picture": p.Picture,
		"description": p.Description, "price": p.Price, "sale_price": p.SalePrice, "currency": p.Currency,
		"tags": p.Tags, "address": p.Address, "in_stock": "no"}
	if p.InStock {
		row["in_stock"] = "yes"
	}
	for in, words := range p.Words {
		for _, column := range wordColumns {
			if said := *words.field(column); said != "" {
				row[column+":"+in] = said
			}
		}
	}
	return row
}

// ProductOf reads a row. A product of which the row says nothing else is in stock.
func ProductOf(row map[string]string) Product {
	p := Product{Key: row["key"], Name: row["name"], Text: row["text"], Picture: row["picture"],
		Description: row["description"], Price: row["price"], SalePrice: row["sale_price"],
		Currency: row["currency"], Tags: row["tags"], Address: row["address"],
		InStock: row["in_stock"] != "no", Words: map[string]ProductWords{}}
	for column, said := range row {
		name, in, other := strings.Cut(column, ":")
		words := p.Words[in]
		if field := words.field(name); other && field != nil {
			*field = said
			p.Words[in] = words
		}
	}
	return p
}
