package player

import (
	"context"
	"html/template"
	"strconv"
	"strings"

	"github.com/hashicorp/golang-lru/v2/expirable"

	"omphalos/core/quiz"
	"omphalos/store"
	"omphalos/web/assets"
)

// sizes remembers how large pictures are, so that a page says so and nothing on it moves
// when they come.
type sizes struct {
	store *store.Store
	known *expirable.LRU[string, [2]int]
}

// The drawings that ship with the application are all of one size.
const (
	drawingWidth  = 320
	drawingHeight = 200
)

// A shownPicture is a picture with its size, 0 where that is not known.
type shownPicture struct {
	*quiz.Picture
	Width, Height int
}

func (s sizes) of(ctx context.Context, p *quiz.Picture) *shownPicture {
	if p == nil {
		return nil
	}
	if strings.HasPrefix(p.Source, assets.Prefix+"drawing-") {
		return &shownPicture{p, drawingWidth, drawingHeight}
	}
	name, ours := strings.CutPrefix(p.Source, "/pictures/")
	if !ours {
		return &shownPicture{Picture: p}
	}
	size, known := s.known.Get(name)
	if !known {
		var err error
		if size[0], size[1], err = s.store.Definitions.PictureSize(ctx, name); err == nil {
			s.known.Add(name, size)
		}
	}
	return &shownPicture{p, size[0], size[1]}
}

// Size is the size as attributes of an image.
func (p *shownPicture) Size() template.HTMLAttr {
	if p.Width*p.Height == 0 {
		return ""
	}
	return template.HTMLAttr(`width="` + strconv.Itoa(p.Width) + `" height="` + strconv.Itoa(p.Height) + `"`)
}
