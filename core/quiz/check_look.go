package quiz

import (
	"net/url"
	"regexp"
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
	for name, v := range map[string]string{"ink": l.Ink, "paper": l.Paper, "accent": l.Accent} {
		if v != "" && !colour.MatchString(v) {
			c.refuse("colour", At("look", name), "is-not-a-colour", clip(v))
		}
	}
	c.oneOf("/look/typeface", string(l.Typeface), "", string(Commissioner), string(Literata), string(Atkinson))
	c.text("/look/owner", l.Owner, MaxTitle)
	c.picture("/look/logo", l.Logo)
	c.picture("/look/background", l.Background)
	if s := l.Shared; s != nil {
		c.text("/look/shared/title", s.Title, MaxTitle)
		c.text("/look/shared/text", s.Text, MaxText)
		c.picture("/look/shared/picture", s.Picture)
	}
}

func (c *checker) picture(pointer Pointer, p *Picture) {
	if p == nil {
		return
	}
	c.text(pointer+"/description", p.Description, MaxLabel)
	if !strings.HasPrefix(p.Source, "/") || strings.HasPrefix(p.Source, "//") || strings.Contains(p.Source, `\`) {
		if err := fillin.CheckAddress(p.Source); err != nil {
			c.refuse("address", pointer+"/source", "told", err)
		}
	}
}
