package store

import (
	"cmp"
	"context"
	"maps"
	"slices"

	"omphalos/core/passage"
	"omphalos/core/quiz"
)

// ProductUses tells, by product, the titles of the quizzes whose drafts show it by its
// key or by one of its tags; and the languages in which such quizzes are, that of most of them
// first.
func (d *Definitions) ProductUses(ctx context.Context) (uses map[string][]string, languages []string, err error) {
	products, err := d.Products(ctx)
	if err != nil {
		return nil, nil, err
	}
	quizzes, err := d.Drafts(ctx)
	if err != nil {
		return nil, nil, err
	}
	uses = map[string][]string{}
	written, in := map[string]int{}, map[string]bool{}
	for _, z := range quizzes {
		q, err := z.Document()
		if err != nil {
			return nil, nil, err
		}
		any := false
		for _, p := range products {
			if shows(q, &p) {
				uses[p.Key], any = append(uses[p.Key], q.Title), true
			}
		}
		if !any {
			continue
		}
		written[q.Language()]++
		for _, language := range q.Languages() {
			in[language] = true
		}
	}
	languages = slices.SortedFunc(maps.Keys(in), func(a, b string) int {
		return cmp.Or(written[b]-written[a], cmp.Compare(a, b))
	})
	return uses, languages, nil
}

func shows(q *quiz.Quiz, p *Product) bool {
	for _, o := range q.Outcomes {
		for _, l := range o.Landings {
			if l.Kind == quiz.ProductsLanding && p.ShownBy(l.Products) {
				return true
			}
		}
	}
	return false
}

// ShownBy tells whether a landing can show the product, by its key or by one of its tags.
func (p *Product) ShownBy(shown *quiz.Products) bool {
	if shown == nil {
		return false
	}
	tags := p.TagList()
	return slices.ContainsFunc(shown.Named, func(n quiz.Named) bool { return n.Key == p.Key }) ||
		slices.ContainsFunc(shown.Tags, func(n quiz.Named) bool { return slices.Contains(tags, n.Key) })
}

// Shown returns the products that a landing shows: those that are named, in that order,
// then those with a tag, in the catalogue's order, without those out of stock; at most
// most, 0 for all.
func (d *Definitions) Shown(ctx context.Context, named, tags []string, most int) ([]Product, error) {
	if len(named)+len(tags) == 0 {
		return nil, nil
	}
	may := d.db(ctx).Where("key IN ?", named)
	for _, tag := range tags { // of which TagList tells which are meant
		may = may.Or("tags LIKE ?", "%"+tag+"%")
	}
	var all []Product
	if err := d.db(ctx).Where("in_stock").Where(may).Order("place, key").Find(&all).Error; err != nil {
		return nil, found(err, "looking for products")
	}
	var shown []Product
	take := func(p Product) {
		if p.InStock && !slices.ContainsFunc(shown, func(other Product) bool { return other.Key == p.Key }) {
			shown = append(shown, p)
		}
	}
	for _, key := range named {
		for _, p := range all {
			if p.Key == key {
				take(p)
			}
		}
	}
	for _, p := range all {
		if slices.ContainsFunc(p.TagList(), func(tag string) bool { return slices.Contains(tags, tag) }) {
			take(p)
		}
	}
	if most > 0 && len(shown) > most {
		shown = shown[:most]
	}
	return shown, nil
}

// ProductsOn returns the products that a landing shows after a Walker's last passage, as Shown
// does, as they are said in a language.
func (d *Definitions) ProductsOn(
	ctx context.Context,
	w *passage.Walker,
	l *quiz.Landing,
	language string,
) ([]Product, error) {
	named, tags := w.Products()
	most := 0
	if l.Products != nil {
		most = l.Products.Most
	}
	list, err := d.Shown(ctx, named, tags, most)
	for i, p := range list {
		list[i] = p.In(language)
	}
	return list, err
}
