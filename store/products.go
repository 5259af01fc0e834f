package store

import (
	"context"
	"errors"
	"fmt"
	"regexp"
	"strings"
	"time"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"

	"omphalos/core/decimal"
	"omphalos/core/fillin"
	"omphalos/core/program"
	"omphalos/core/quiz"
)

// A Product of the catalogue. Prices are decimals in the currency (ISO 4217), "" for
// none.
type Product struct {
	WorkspaceID WorkspaceID `gorm:"primaryKey;autoIncrement:false"`
	Key         string      `gorm:"primaryKey"`
	Place       int         // in the catalogue
	Name        string
	Text        string // Markdown
	Picture     string // source
	Description string // of the picture
	Price       string
	SalePrice   string
	Currency    string
	Tags        string // comma-separated
	Address     string
	InStock     bool
	Words       map[string]ProductWords `gorm:"serializer:json"` // in other languages: primary subtags of BCP 47
	Updated     time.Time
	DeletedAt   gorm.DeletedAt `gorm:"index"`
}

// PriceText returns the price with the decimals of its currency (ISO 4217) and its code, ""
// for none.
func (p *Product) PriceText() string { return money(p.Price, p.Currency) }

// SalePriceText is PriceText of the sale price.
func (p *Product) SalePriceText() string { return money(p.SalePrice, p.Currency) }

func money(price, currency string) string {
	amount, err := decimal.Parse(price)
	if price == "" || err != nil {
		return ""
	}
	return amount.Text(program.CurrencyPlaces(currency)) + " " + currency
}

// TagList returns the product's tags.
func (p *Product) TagList() []string {
	var tags []string
	for tag := range strings.SplitSeq(p.Tags, ",") {
		if tag = strings.TrimSpace(tag); tag != "" {
			tags = append(tags, tag)
		}
	}
	return tags
}

// ErrProduct says that a product can't be kept.
var ErrProduct = errors.New("can't be kept")

var productKey, currency = regexp.MustCompile(`^[a-z][a-z0-9_]{0,59}$`), regexp.MustCompile(`^[A-Z]{3}$`)

// check tidies a product and says what is wrong with it.
func (p *Product) check() error {
	if p.Picture != "" && (!strings.HasPrefix(p.Picture, "/") || strings.HasPrefix(p.Picture, "//")) {
		return fmt.Errorf(
			"%q %w: its picture is on another site, from where it can't be shown: save it, and take it in here",
			p.Key,
			ErrProduct,
		)
	}
	for _, field := range []*string{&p.Key, &p.Name, &p.Text, &p.Picture, &p.Description, &p.Price,
		&p.SalePrice, &p.Currency, &p.Tags, &p.Address} {
		*field = strings.TrimSpace(*field)
		if len(*field) > quiz.MaxText {
			return fmt.Errorf("it %w: a text is too long", ErrProduct)
		}
	}
	p.Currency = strings.ToUpper(p.Currency)
	switch {
	case !productKey.MatchString(p.Key):
		return fmt.Errorf("%q %w: a key has small letters, digits and _ and begins with a letter", p.Key, ErrProduct)
	case p.Name == "":
		return fmt.Errorf("%q %w: it needs a name", p.Key, ErrProduct)
	case (p.Price != "" || p.SalePrice != "") && !currency.MatchString(p.Currency):
		return fmt.Errorf("%q %w: a price needs a currency such as EUR (ISO 4217)", p.Key, ErrProduct)
	}
	for _, price := range []*string{&p.Price, &p.SalePrice} {
		if *price == "" {
			continue
		}
		d, _, err := decimal.Read(*price, false)
		if err != nil && !errors.Is(err, decimal.ErrDoubt) || d < 0 {
			return fmt.Errorf("%q %w: the price %q is not an amount such as 49.90", p.Key, ErrProduct, *price)
		}
		*price = d.String()
	}
	if p.Price != "" && p.SalePrice != "" {
		if price, sale := decimal.Must(p.Price), decimal.Must(p.SalePrice); sale > price {
			return fmt.Errorf("%q %w: the sale price %s is above the price %s", p.Key, ErrProduct, p.SalePrice, p.Price)
		}
	}
	if p.Address != "" {
		if err := fillin.CheckAddress(p.Address); err != nil {
			return fmt.Errorf("%q %w: the address %w", p.Key, ErrProduct, err)
		}
	}
	if p.Picture != "" && !strings.HasPrefix(p.Picture, "/pictures/") && !strings.HasPrefix(p.Picture, "/assets/") {
		return fmt.Errorf("%q %w: the picture is not one of the application’s; choose one there", p.Key, ErrProduct)
	}
	return p.checkWords()
}

// Products returns the catalogue in its order.
func (d *Definitions) Products(ctx context.Context) ([]Product, error) {
	var list []Product
	err := d.db(ctx).Order("place, key").Find(&list).Error
	return list, found(err, "listing the products")
}

// PutProducts keeps products, all or none. The error wraps ErrProduct and says what is
// wrong with which row (counted from 1).
func (d *Definitions) PutProducts(ctx context.Context, list []Product) error {
	seen := map[string]int{}
	for i := range list {
		if err := list[i].check(); err != nil {
			return fmt.Errorf("row %d: %w", i+1, err)
		}
		if first, again := seen[list[i].Key]; again {
			return fmt.Errorf("row %d: %q %w: row %d has the same key", i+1, list[i].Key, ErrProduct, first)
		}
		seen[list[i].Key] = i + 1
	}
	return found(d.db(ctx).Transaction(func(tx *gorm.DB) error {
		last := 0
		if err := tx.Model(&Product{}).Select("coalesce(max(place), 0)").Scan(&last).Error; err != nil {
			return err
		}
		for i := range list {
			if list[i].Updated = now(); list[i].Place == 0 {
				last++
				list[i].Place = last
			}
		}
		return tx.Clauses(clause.OnConflict{UpdateAll: true}).CreateInBatches(list, perStatement).Error
	}), "keeping products")
}

// RemoveProduct takes a product out of the catalogue; RestoreProduct brings it back.
func (d *Definitions) RemoveProduct(ctx context.Context, key string) error {
	return found(d.db(ctx).Where("key = ?", key).Delete(&Product{}).Error, "removing a product")
}

// RestoreProduct brings a product back that was removed.
func (d *Definitions) RestoreProduct(ctx context.Context, key string) error {
	return found(
		d.db(ctx).Unscoped().Model(&Product{}).Where("key = ?", key).Update("deleted_at", nil).Error,
		"restoring a product",
	)
}
