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

// A shownPicture is a picture with its size, 0 where that is not known.
type shownPicture struct {
	*quiz.Picture
	Width, Height int
}

func (s sizes) of(ctx context.Context, p *quiz.Picture) *shownPicture {
	if p == nil {
		return nil
	}
	if drawing, shipped := strings.CutPrefix(p.Source, assets.Prefix); shipped {
		width, height := assets.Size(drawing)
		return &shownPicture{p, width, height}
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

// Focus is the class of the point that no crop cuts off, "" for the middle.
func (p *shownPicture) Focus() string {
	if p.Picture.Focus == nil {
		return ""
	}
	return focusClass(*p.Picture.Focus)
}

// Size is the size as attributes of an image.
func (p *shownPicture) Size() template.HTMLAttr {
	if p.Width*p.Height == 0 {
		return ""
	}
	return template.HTMLAttr(`width="` + strconv.Itoa(p.Width) + `" height="` + strconv.Itoa(p.Height) + `"`)
}
