// Package pictures takes pictures in, and shows those that were used before.
package pictures

import (
	"context"
	"embed"
	"errors"
	"io"
	"log/slog"
	"net/http"

	"github.com/gin-gonic/gin"

	"omphalos/core/quiz"
	"omphalos/interchange/picture"
	"omphalos/store"
	"omphalos/web/assets"
	"omphalos/web/studio/desk"
	"omphalos/web/ui"
)

// Templates are the parts by which a picture is shown and chosen.
//
//go:embed *.html
var Templates embed.FS

// A Room takes pictures in, and shows those that were used before.
type Room struct {
	*desk.Desk
}

// New returns the room at a desk.
func New(d *desk.Desk) *Room { return &Room{d.With(Templates)} }

// Routes are the room's, each with what it takes.
func (s *Room) Routes() []ui.Route {
	return []ui.Route{
		ui.Get("/pictures", s.pictures),
	}
}

// Long are the routes that have a time of their own.
func (s *Room) Long() []ui.Route {
	return []ui.Route{
		ui.Post("/pictures", ui.Raw, s.addPicture),
	}
}

// PicturesPath is where pictures are sent to.
const PicturesPath = "/studio/pictures"

// A PicturePart is a picture on the sheet, or the place for one.
type PicturePart struct {
	*quiz.Picture
	Path quiz.Pointer
	Of   string // what it belongs to, for what is read out
}

// Remove is the patch that takes it away.
func (p PicturePart) Remove() string { return desk.Removal(p.Path) }

// Crops tells whether a page may cut off a part of it: of all but a logo.
func (p PicturePart) Crops() bool { return p.Path.Key() != "logo" }

// At is the point that no crop cuts off.
func (p PicturePart) At() quiz.Focus {
	if p.Picture == nil || p.Picture.Focus == nil {
		return quiz.Focus{X: 50, Y: 50}
	}
	return *p.Picture.Focus
}

// PictureOf returns what shows a picture at a place of the document; of says whose it is.
func PictureOf(p *quiz.Picture, path quiz.Pointer, of string) PicturePart {
	return PicturePart{p, path, of}
}

// drawings are the pictures that ship with the application.
var drawings = []quiz.Picture{
	drawing("orchard", "Two hives beside an orchard"),
	drawing("yard", "Two hives and their bees, painted on a tile"),
	drawing("fair", "A stack of boxes under bunting"),
	drawing("cell", "A cell of a comb among stars"),
	drawing("apples", "Two apples"),
	drawing("cherries", "Two cherries"),
	drawing("berries", "Blue berries"),
	drawing("meadow", "A bare meadow"),
	drawing("garden", "A house with a row of shrubs"),
	drawing("roof", "A hive on a roof"),
	drawing("field", "A meadow in flower"),
	drawing("longhive", "A long hive on legs"),
	drawing("deephive", "A hive of two deep boxes"),
	drawing("lighthive", "A hive of three half boxes"),
	drawing("watching", "Somebody beside a hive"),
	drawing("building", "A hive that is being built"),
	drawing("jars", "Three jars of honey"),
	drawing("guarding", "A comb behind a shield"),
	drawing("hive", "A hive"),
	drawing("boxes", "A hive of four half boxes"),
	drawing("onlegs", "A long hive on its legs"),
	drawing("tools", "A smoker and a hive tool"),
	drawing("blossom", "A blossom"),
	drawing("jar", "A jar of honey"),
	drawing("path", "A way that forks"),
	drawing("scale", "A pair of scales"),
	drawing("net", "A knotted net"),
}

func drawing(name, description string) quiz.Picture {
	return quiz.Picture{Source: assets.Prefix + "drawing-" + name + ".svg", Description: description}
}

// mostPictures is how many pictures used before are offered.
const mostPictures = 48

// pictures lists what there is to choose from, as a piece of a page.
func (s *Room) pictures(c *gin.Context) {
	list, err := s.Store.Definitions.Pictures(c.Request.Context(), mostPictures)
	if err != nil {
		s.Fail(c, err)
		return
	}
	var used []quiz.Picture
	for _, p := range list {
		used = append(used, quiz.Picture{Source: "/pictures/" + p.Name})
	}
	html, err := s.Views.Part("problem", "pictures", map[string]any{"Used": used, "Drawings": drawings})
	if err != nil {
		s.Fail(c, err)
		return
	}
	c.Data(http.StatusOK, "text/html; charset=utf-8", html)
}

// addPicture takes a picture, which is the whole body of the request.
func (s *Room) addPicture(c *gin.Context) {
	data, err := io.ReadAll(http.MaxBytesReader(c.Writer, c.Request.Body, picture.MaxBytes+1))
	var taken *picture.Picture
	if err == nil {
		ctx, stop := context.WithTimeout(c.Request.Context(), desk.Longest)
		defer stop()
		taken, err = picture.Take(ctx, data)
	}
	var long *http.MaxBytesError
	switch {
	case errors.As(err, &long), errors.Is(err, picture.ErrLarge) && len(data) > picture.MaxBytes:
		c.JSON(
			http.StatusRequestEntityTooLarge,
			gin.H{"message": "This picture is too large: at most 12 MB fit. Save it smaller and take it again."},
		)
		return
	case errors.Is(err, picture.ErrBusy):
		c.Header("Retry-After", "2")
		c.JSON(
			http.StatusServiceUnavailable,
			gin.H{"message": "Other pictures are being taken in just now. Try again in a moment."},
		)
		return
	case err != nil:
		c.JSON(http.StatusUnprocessableEntity, gin.H{"message": desk.SentenceOf(err.Error())})
		return
	}
	kept, err := s.Store.Definitions.AddPicture(
		c.Request.Context(),
		store.Picture{Type: taken.Type, Width: taken.Width, Height: taken.Height, Data: taken.Data},
	)
	if err != nil {
		slog.Error("keeping a picture", "error", err)
		c.JSON(
			http.StatusServiceUnavailable,
			gin.H{"message": "The picture could not be kept just now. Try again in a moment."},
		)
		return
	}
	c.JSON(http.StatusOK, gin.H{"source": "/pictures/" + kept.Name, "width": kept.Width, "height": kept.Height})
}
