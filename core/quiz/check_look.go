package quiz

import (
	"net/url"
	"regexp"
	"slices"
	"strings"

	"omphalos/core/fillin"
)

const mostFrames = 20

// IsOrigin tells whether a text is an origin (RFC 6454) under http or https: scheme, host
// and, where there is one, port.
func IsOrigin(s string) bool {
	u, err := url.Parse(s)
	return err == nil && (u.Scheme == "https" || u.Scheme == "http") && originHost.MatchString(u.Host) &&
		s == u.Scheme+"://"+u.Host
}

var originHost = regexp.MustCompile(`^[a-z0-9.-]+(:[0-9]{1,5})?$`)

var colour = regexp.MustCompile(`^#[0-9a-fA-F]{6}$`)

func (c *checker) look(l *Look) {
	if l == nil {
		return
	}
	c.colours("/look", &l.Colours)
	if l.Dark != nil {
		c.colours("/look/dark", l.Dark)
	}
	if l.Kept != "" {
		c.key("/look/kept", l.Kept, false)
	}
	word(c, "/look/made", l.Made, Mades)
	word(c, "/look/scheme", l.Scheme, Schemes)
	word(c, "/look/typeface", l.Typeface, Typefaces)
	word(c, "/look/headings", l.Headings, Typefaces)
	word(c, "/look/weight", l.Weight, Weights)
	word(c, "/look/corners", l.Corners, CornerForms)
	word(c, "/look/density", l.Density, Densities)
	word(c, "/look/width", l.Width, Widths)
	word(c, "/look/align", l.Align, Aligns)
	word(c, "/look/answers", l.Answers, AnswerForms)
	word(c, "/look/buttons", l.Buttons, ButtonForms)
	word(c, "/look/progress", l.Progress, Progresses)
	word(c, "/look/ornament", l.Ornament, Ornaments)
	word(c, "/look/layout", l.Layout, Layouts)
	c.text("/look/owner", l.Owner, MaxTitle)
	c.picture("/look/logo", l.Logo)
	c.picture("/look/background", l.Background)
	c.shared("/look/shared", l.Shared)
}

func (c *checker) shared(pointer Pointer, s *Shared) {
	if s == nil {
		return
	}
	c.text(pointer+"/title", s.Title, MaxTitle)
	c.text(pointer+"/text", s.Text, MaxText)
	c.picture(pointer+"/picture", s.Picture)
}

func (c *checker) colours(pointer Pointer, l *Colours) {
	for _, one := range []struct{ name, value string }{
		{"paper", l.Paper}, {"sheet", l.Sheet}, {"ink", l.Ink}, {"accent", l.Accent}, {"mark", l.Mark},
	} {
		if one.value != "" && !colour.MatchString(one.value) {
			c.refuse("colour", pointer.Join(one.name), "is-not-a-colour", clip(one.value))
		}
	}
}

// word checks that a part is one of those there are, or empty.
func word[T ~string](c *checker, pointer Pointer, value T, allowed []T) {
	if value != "" && !slices.Contains(allowed, value) {
		texts := make([]string, len(allowed))
		for i, one := range allowed {
			texts[i] = string(one)
		}
		c.oneOf(pointer, string(value), texts...)
	}
}

func (c *checker) picture(pointer Pointer, p *Picture) {
	if p == nil {
		return
	}
	c.text(pointer+"/description", p.Description, MaxLabel)
	if f := p.Focus; f != nil && (f.X < 0 || f.X > 100 || f.Y < 0 || f.Y > 100) {
		c.refuse("focus", pointer+"/focus", "is-outside-the-picture", f.X, f.Y)
	}
	if !strings.HasPrefix(p.Source, "/") || strings.HasPrefix(p.Source, "//") || strings.Contains(p.Source, `\`) {
		if err := fillin.CheckAddress(p.Source); err != nil {
			c.refuse("address", pointer+"/source", "told", err)
		}
	}
}
