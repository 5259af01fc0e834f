package release

import (
	"fmt"
	"html"
	"net/url"
	"strings"

	"github.com/gin-gonic/gin"

	"omphalos/core/quiz"
)

// A sharePart says how a quiz is put into somebody else's page.
type sharePart struct {
	As              string // block, popup or bar
	After, Scrolled string // seconds, percent
	Leaving, Phones bool
	Words, Button   string
	Snippet         string
	Try             string // address of the stand-in page that shows it, "" where there is none
	Frames          []string
	Public          bool
	Skipped, Named  string // addresses of the quiz past its opening, and telling where people come from
}

// shareOf reads how the quiz is to be shown from the address of the page.
func shareOf(c *gin.Context, home, standIns, slug, title string, released *quiz.Quiz) sharePart {
	p := sharePart{As: "block", After: "25", Phones: true, Words: title, Button: "Begin"}
	if as := c.Query("as"); as == "popup" || as == "bar" {
		p.As = as
		p.After = c.DefaultQuery("after", p.After)
		p.Scrolled = c.Query("scrolled")
		p.Leaving = c.Query("leaving") != ""
		p.Phones = c.Query("phones") != "no"
		if words := c.Query("words"); words != "" {
			p.Words = words
		}
		if button := c.Query("button"); button != "" {
			p.Button = button
		}
	}
	if released != nil {
		p.Public = true
		if released.Settings != nil {
			p.Frames = released.Settings.Frames
		}
	}
	p.Skipped = home + "/q/" + slug + "?start=now"
	p.Named = home + "/q/" + slug + "?utm_source=letter&utm_campaign=spring"
	attributes := [][2]string{{"data-quiz", slug}, {"data-title", title}}
	if p.As != "block" {
		attributes = append(attributes, [2]string{"data-as", p.As})
	}
	switch p.As {
	case "popup":
		for _, when := range [][2]string{{"data-after", p.After}, {"data-scrolled", p.Scrolled}} {
			if when[1] != "" {
				attributes = append(attributes, when)
			}
		}
		if p.Leaving {
			attributes = append(attributes, [2]string{"data-leaving", ""})
		}
	case "bar":
		attributes = append(attributes, [2]string{"data-words", p.Words}, [2]string{"data-button", p.Button})
	}
	if p.As != "block" && !p.Phones {
		attributes = append(attributes, [2]string{"data-phones", "no"})
	}
	var snippet strings.Builder
	try := url.Values{}
	fmt.Fprintf(&snippet, `<script async src="%s/embed.js"`, home)
	for _, a := range attributes {
		fmt.Fprintf(&snippet, ` %s="%s"`, a[0], html.EscapeString(a[1]))
		try.Set(strings.TrimPrefix(a[0], "data-"), a[1])
	}
	p.Snippet = snippet.String() + "></script>"
	if standIns != "" {
		p.Try = standIns + "/standin/host?" + try.Encode()
	}
	return p
}
