package store

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"image"
	"maps"
	"net/http"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"omphalos/core/quiz"
	"omphalos/interchange/bundle"
)

// picturesIn finds the pictures of the application in a document.
var picturesIn = regexp.MustCompile(`"/pictures/([a-z0-9]+)"`)

// Pack returns the draft of a quiz with what it needs: its pictures, the rows of signposts and
// places and calendars that it uses, and the products that it can show with their pictures.
func (d *Definitions) Pack(ctx context.Context, z *Quiz) (bundle.Bundle, error) {
	q, err := z.Document()
	if err != nil {
		return bundle.Bundle{}, fmt.Errorf("reading the draft of quiz %d: %w", z.ID, err)
	}
	b := bundle.Bundle{Document: q.Write(), Pictures: map[string][]byte{}, Tables: map[string][]map[string]string{}}
	if err := d.packTables(ctx, q, &b); err != nil {
		return b, err
	}
	names := picturesIn.FindAllStringSubmatch(string(b.Document), -1)
	for _, row := range b.Tables["products"] {
		names = append(names, picturesIn.FindAllStringSubmatch(strconv.Quote(row["picture"]), -1)...)
	}
	for _, m := range names {
		p, err := d.Picture(ctx, m[1])
		if errors.Is(err, ErrNotFound) {
			continue // it is not there here either
		}
		if err != nil {
			return b, err
		}
		b.Pictures[p.Name] = p.Data
	}
	return b, nil
}

func (d *Definitions) packTables(ctx context.Context, q *quiz.Quiz, b *bundle.Bundle) error {
	u := looksUpOf(q)
	put := func(table string, row map[string]string) { b.Tables[table] = append(b.Tables[table], row) }
	signs, err := d.Signposts(ctx)
	if err != nil {
		return err
	}
	for _, s := range signs {
		if u.signposts[s.Table] {
			put("signposts", map[string]string{"table": s.Table, "key": s.Row, "address": s.Address})
		}
	}
	products, err := d.Products(ctx)
	if err != nil {
		return err
	}
	for _, p := range products {
		tagged := slices.ContainsFunc(strings.Split(p.Tags, ","), func(tag string) bool {
			return u.tags[strings.TrimSpace(tag)]
		})
		if !u.products[p.Key] && !tagged {
			continue
		}
		put("products", p.Row())
	}
	for _, table := range slices.Sorted(maps.Keys(u.places)) {
		places, err := d.Places(ctx, table)
		if err != nil {
			return err
		}
		for _, p := range places {
			put("places", map[string]string{"table": p.Table, "key": p.Key, "name": p.Name, "address": p.Address,
				"latitude":  strconv.FormatFloat(p.Latitude, 'f', -1, 64),
				"longitude": strconv.FormatFloat(p.Longitude, 'f', -1, 64)})
		}
	}
	calendars, err := d.Calendars(ctx)
	for _, c := range calendars {
		if u.calendars[c.Name] {
			put("calendars", c.Row())
		}
	}
	return err
}

// Unpack takes a quiz in, with what it needs. Rows that are here already stay as they are. The
// error is a quiz.Problem where the document is no quiz, or wraps bundle.ErrBundle.
func (d *Definitions) Unpack(ctx context.Context, b bundle.Bundle) (*Quiz, error) {
	q, err := quiz.Read(b.Document)
	if err != nil {
		return nil, err
	}
	if refused := quiz.Refused(q.Check()); len(refused) > 0 {
		return nil, refused[0]
	}
	for _, name := range slices.Sorted(maps.Keys(b.Pictures)) {
		if err := d.takePicture(ctx, name, b.Pictures[name]); err != nil {
			return nil, err
		}
	}
	if err := d.unpackTables(ctx, b); err != nil {
		return nil, err
	}
	return d.AddQuiz(ctx, q)
}

// takePicture keeps a picture that is what its name says, of a kind that is shown.
func (d *Definitions) takePicture(ctx context.Context, name string, data []byte) error {
	kind := http.DetectContentType(data)
	config, _, err := image.DecodeConfig(bytes.NewReader(data))
	if !slices.Contains([]string{"image/png", "image/jpeg", "image/gif"}, kind) || err != nil {
		return fmt.Errorf("the file %w: the picture %s is no PNG, JPEG or GIF", bundle.ErrBundle, name)
	}
	kept, err := d.AddPicture(ctx, Picture{Type: kind, Width: config.Width, Height: config.Height, Data: data})
	if err == nil && kept.Name != name {
		return fmt.Errorf("the file %w: the picture %s is not what its name says", bundle.ErrBundle, name)
	}
	return err
}

func (d *Definitions) unpackTables(ctx context.Context, b bundle.Bundle) error {
	var signs []Signpost
	for _, row := range b.Tables["signposts"] {
		there, err := d.SignpostAt(ctx, row["table"], row["key"])
		if err != nil {
			return err
		}
		if there == "" {
			signs = append(signs, Signpost{Table: row["table"], Row: row["key"], Address: row["address"]})
		}
	}
	if err := d.PutSignposts(ctx, signs, 0); err != nil {
		return err
	}
	products, err := d.Products(ctx)
	if err != nil {
		return err
	}
	var more []Product
	for _, row := range b.Tables["products"] {
		if slices.ContainsFunc(products, func(p Product) bool { return p.Key == row["key"] }) {
			continue
		}
		more = append(more, ProductOf(row))
	}
	if len(more) > 0 {
		if err := d.PutProducts(ctx, more); err != nil {
			return err
		}
	}
	var places []Place
	for _, row := range b.Tables["places"] {
		if d.PlaceName(ctx, row["table"], row["key"]) != "" {
			continue
		}
		north, err1 := strconv.ParseFloat(row["latitude"], 64)
		east, err2 := strconv.ParseFloat(row["longitude"], 64)
		if err1 != nil || err2 != nil {
			return fmt.Errorf("the file %w: the place %q has no position", bundle.ErrBundle, row["key"])
		}
		places = append(places, Place{Table: row["table"], Key: row["key"], Name: row["name"],
			Address: row["address"], Latitude: north, Longitude: east})
	}
	if len(places) > 0 {
		if err := d.PutPlaces(ctx, places); err != nil {
			return err
		}
	}
	for _, row := range b.Tables["calendars"] {
		if err := d.takeCalendar(ctx, row); err != nil {
			return err
		}
	}
	return nil
}

// takeCalendar keeps a calendar that is not here yet.
func (d *Definitions) takeCalendar(ctx context.Context, row map[string]string) error {
	if _, err := d.Calendar(ctx, row["name"]); !errors.Is(err, ErrNotFound) {
		return err
	}
	c, err := CalendarOf(func(column string) string { return row[column] })
	if err == nil {
		err = d.PutCalendar(ctx, c)
	}
	if errors.Is(err, ErrCalendar) {
		return fmt.Errorf("the file %w: %w", bundle.ErrBundle, err)
	}
	return err
}
