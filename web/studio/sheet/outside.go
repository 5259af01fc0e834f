package sheet

import (
	"context"
	"slices"

	"omphalos/core/edit"
	"omphalos/core/quiz"
	"omphalos/store"
	"omphalos/web/studio/desk"
)

// A productChoice is a product or a tag that a landing may show.
type productChoice struct {
	Name, Patch string
	Chosen      bool
	Gone        bool // it is not in the catalogue
}

// products lists the catalogue and its tags, with what a landing shows.
func (sh *Sheet) products(l *quiz.Landing, path quiz.Pointer) (named, tags []productChoice) {
	var now quiz.Products
	if l.Products != nil {
		now = *l.Products
	}
	toggle := func(key, name string, list []quiz.Named, put func(p *quiz.Products, list []quiz.Named)) productChoice {
		next := slices.DeleteFunc(slices.Clone(list), func(n quiz.Named) bool { return n.Key == key })
		chosen := len(next) < len(list)
		if !chosen {
			next = append(next, quiz.Named{Key: key})
		}
		after := now
		put(&after, next)
		return productChoice{
			Name:   name,
			Chosen: chosen,
			Patch:  desk.PatchText([]edit.Op{{Op: "add", Path: path + "/products", Value: after}}),
		}
	}
	putNamed := func(p *quiz.Products, list []quiz.Named) { p.Named = list }
	putTags := func(p *quiz.Products, list []quiz.Named) { p.Tags = list }
	seen := map[string]bool{}
	for _, p := range sh.catalogue {
		named = append(named, toggle(p.Key, p.Name, now.Named, putNamed))
		seen[p.Key] = true
		for _, tag := range p.TagList() {
			if !seen["#"+tag] {
				seen["#"+tag] = true
				tags = append(tags, toggle(tag, tag, now.Tags, putTags))
			}
		}
	}
	for _, n := range now.Named {
		if !seen[n.Key] {
			c := toggle(n.Key, n.Key, now.Named, putNamed)
			c.Gone = true
			named = append(named, c)
		}
	}
	for _, n := range now.Tags {
		if !seen["#"+n.Key] {
			c := toggle(n.Key, n.Key, now.Tags, putTags)
			c.Gone = true
			tags = append(tags, c)
		}
	}
	return named, tags
}

// tables reads what lies outside the document, for the sheet and its findings.
func (s *Room) tables(ctx context.Context, sh *Sheet) error {
	var err error
	if sh.signposts, err = s.Store.Definitions.Signposts(ctx); err != nil {
		return err
	}
	if sh.catalogue, err = s.Store.Definitions.Products(ctx); err != nil {
		return err
	}
	if sh.placed, err = s.Store.Definitions.PlaceTables(ctx); err != nil {
		return err
	}
	if sh.looks, err = s.Store.Definitions.KeptLooks(ctx); err != nil {
		return err
	}
	if sh.calendars, err = s.Store.Definitions.Calendars(ctx); err != nil {
		return err
	}
	return s.beyondOf(ctx, sh)
}

func (sh *Sheet) calendarOpen(name string) bool {
	return slices.ContainsFunc(sh.calendars, func(c store.Calendar) bool { return c.Name == name && c.Ever() })
}

func (sh *Sheet) placesThere(table string) bool { return slices.Contains(sh.placed, table) }

func (sh *Sheet) signpostUp(table, row string) bool {
	return slices.ContainsFunc(sh.signposts, func(s store.Signpost) bool { return s.Table == table && s.Row == row })
}

// productsUnsaid counts the products that a landing can show and that say nothing in a language.
func (sh *Sheet) productsUnsaid(shown *quiz.Products, language string) (n int) {
	for i := range sh.catalogue {
		if p := &sh.catalogue[i]; p.ShownBy(shown) && p.Words[language].Name == "" {
			n++
		}
	}
	return n
}

func (sh *Sheet) productThere(key string) bool {
	return slices.ContainsFunc(sh.catalogue, func(p store.Product) bool { return p.Key == key })
}
