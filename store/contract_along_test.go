package store

import (
	"bytes"
	"fmt"
	"image"
	"image/png"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/quiz"
	"omphalos/core/quiztest"
	"omphalos/interchange/bundle"
)

// A quiz with its picture, sign, product and place goes from one workspace into another, to
// the byte; what is there already stays as it is.
func quizzesAreTakenAlong(t *testing.T, s *Store) {
	d, ctx := s.Definitions, t.Context()
	var drawn bytes.Buffer
	require.NoError(t, png.Encode(&drawn, image.NewRGBA(image.Rect(0, 0, 3, 2))))
	kept, err := d.AddPicture(ctx, Picture{Type: "image/png", Width: 3, Height: 2, Data: drawn.Bytes()})
	require.NoError(t, err)
	m := quiztest.New("lead")
	m.Ask("where", quiz.Location).Table = "yards"
	m.Questions["where"].Picture = &quiz.Picture{Source: "/pictures/" + kept.Name, Description: "A yard"}
	m.Outcomes["lead"].Landings = map[string]*quiz.Landing{
		"shop": {Order: 1, Kind: quiz.ProductsLanding,
			When: &quiz.Condition{Subject: quiz.Subject{Visitor: "country"}, Test: quiz.Test{Op: quiz.Is,
				Value: quiz.Words("IE")}},
			Products: &quiz.Products{Named: []quiz.Named{{Key: "hive"}}}},
		"sign": {Order: 2, Kind: quiz.RedirectLanding, Signpost: &quiz.Signpost{Table: "visits", Row: "all"}},
	}
	m.Ask("when", quiz.Appointment).Table = "visits"
	visits := NewCalendar("visits", "Europe/Dublin")
	visits.Hours[2], visits.Minutes = "9–12", 45
	require.NoError(t, d.PutCalendar(ctx, visits))
	require.NoError(t, d.PutCalendar(ctx, NewCalendar("others", "UTC")))
	m.Quiz.Rehearsals = map[string]*quiz.Rehearsal{"one": {Order: 1, Name: "One", Outcome: "lead"}}
	z, err := d.AddQuiz(ctx, m.Quiz)
	require.NoError(t, err)
	require.NoError(t, d.PutSignposts(ctx,
		[]Signpost{{Table: "visits", Row: "all", Address: "https://example.org/visit"},
			{Table: "others", Row: "x", Address: "https://example.org/x"}}, 1))
	require.NoError(t, d.PutProducts(ctx, []Product{{Key: "hive", Name: "A hive", Price: "12.50",
		Currency: "EUR", Words: map[string]ProductWords{"de": {Name: "Ein Stock"}}}, {Key: "jar", Name: "A jar"}}))
	require.NoError(t, d.PutPlaces(ctx, []Place{{Table: "yards", Key: "cork", Name: "Cork", Latitude: 51.9,
		Longitude: -8.5}}))
	packed, err := d.Pack(ctx, z)
	require.NoError(t, err)
	assert.Len(t, packed.Tables["signposts"], 1, "what it uses, and no more")
	assert.Len(t, packed.Tables["products"], 1)
	var file bytes.Buffer
	require.NoError(t, bundle.Write(&file, packed))

	other := open(t, filepath.Join(t.TempDir(), "other.db"))
	require.NoError(t, other.Definitions.PutSignposts(ctx,
		[]Signpost{{Table: "visits", Row: "all", Address: "https://example.org/ours"}}, 1))
	read, err := bundle.Read(file.Bytes())
	require.NoError(t, err)
	got, err := other.Definitions.Unpack(ctx, read)
	require.NoError(t, err)
	assert.Equal(t, z.Draft, got.Draft, "to the byte, its rehearsals too")
	at, err := other.Definitions.SignpostAt(ctx, "visits", "all")
	require.NoError(t, err)
	assert.Equal(t, "https://example.org/ours", at, "what was there stays")
	hours, err := other.Definitions.Calendars(ctx)
	require.NoError(t, err)
	require.Len(t, hours, 1, "that which it uses")
	assert.Equal(t, "9:00–12:00 45", fmt.Sprint(hours[0].Hours[2], " ", hours[0].Minutes))
	assert.Equal(t, "Cork", other.Definitions.PlaceName(ctx, "yards", "cork"))
	products, err := other.Definitions.Products(ctx)
	require.NoError(t, err)
	require.Len(t, products, 1)
	assert.Equal(t, "12.50 EUR", products[0].PriceText())
	assert.Equal(t, "Ein Stock", products[0].In("de").Name)
	picture, err := other.Definitions.Picture(ctx, kept.Name)
	require.NoError(t, err)
	assert.Equal(t, drawn.Bytes(), picture.Data)
	again, err := other.Definitions.Pack(ctx, got)
	require.NoError(t, err)
	assert.Equal(t, packed.Pictures, again.Pictures)

	read.Pictures = map[string][]byte{kept.Name: []byte("<svg onload='x'/>")}
	_, err = other.Definitions.Unpack(ctx, read)
	assert.ErrorIs(t, err, bundle.ErrBundle, "what is no picture is not kept")
	read.Document = []byte("{}")
	_, err = other.Definitions.Unpack(ctx, read)
	assert.ErrorAs(t, err, new(quiz.Problem))
}
