package release

import (
	"cmp"
	"fmt"
	"image/color"
	"net/http"
	"net/url"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"
	qrcode "github.com/skip2/go-qrcode"

	"omphalos/core/excerpt"
	"omphalos/store"
	"omphalos/web/studio/desk"
	"omphalos/web/ui"
)

// A linkRow is an address of the quiz for one use.
type linkRow struct {
	ID      uint
	Name    string
	Address string
	Query   string
	Code    string // the query that asks for its QR code
	Came    string // how many came by it and finished, "" where that can't be told
}

// linksOf lists the addresses of a quiz: the plain one first.
func (s *Room) linksOf(c *gin.Context, z *store.Quiz) ([]linkRow, error) {
	at := ui.Origin(c.Request, s.Public) + "/q/" + z.Slug
	how := url.Values{}
	for _, name := range []string{"level", "ink", "paper"} {
		if value := c.Query(name); value != "" {
			how.Set(name, value)
		}
	}
	list, err := s.Store.Definitions.Links(c.Request.Context(), z.ID)
	if err != nil {
		return nil, err
	}
	came, err := s.Store.Responses.FinishedBy(c.Request.Context(), z.ID, append([]store.Link{{}}, list...))
	if err != nil {
		return nil, err
	}
	rows := []linkRow{{Name: "Plain", Address: at, Code: how.Encode(), Came: ui.Count(came[0])}}
	for i, l := range list {
		how.Set("link", desk.Itoa(l.ID))
		row := linkRow{ID: l.ID, Name: l.Name, Address: at + "?" + l.Query, Query: l.Query, Code: how.Encode()}
		if n := came[i+1]; n >= 0 {
			row.Came = ui.Count(n)
		}
		rows = append(rows, row)
	}
	return rows, nil
}

// Parameters of a link, by the names of their fields.
var parameters = []string{"source", "medium", "campaign", "term", "content"}

const (
	longestLink = 120
	mostLinks   = 200
)

// addLink keeps a link, or forgets one.
func (s *Room) addLink(c *gin.Context) {
	z, ok := s.QuizOf(c)
	if !ok {
		return
	}
	ctx := c.Request.Context()
	if id, err := strconv.ParseUint(c.PostForm("forget"), 10, 32); err == nil {
		if err := s.Store.Definitions.RemoveLink(ctx, z.ID, uint(id)); err != nil {
			s.Fail(c, err)
			return
		}
		s.Say(c, "It is not listed any more. Its address goes on working.", "")
		c.Redirect(http.StatusSeeOther, desk.Address(z)+"/release#links")
		return
	}
	v := url.Values{}
	for _, name := range parameters {
		if value := strings.TrimSpace(excerpt.Bounded(c.PostForm(name), longestLink)); value != "" {
			v.Set("utm_"+name, value)
		}
	}
	if c.PostForm("start") != "" {
		v.Set("start", "now")
	}
	for _, pair := range strings.FieldsFunc(excerpt.Bounded(c.PostForm("answers"), 2000), func(r rune) bool {
		return r == ',' || r == '\n'
	}) {
		if key, value, is := strings.Cut(strings.TrimSpace(pair), "="); is && key != "" {
			v.Set("a."+key, strings.TrimSpace(value))
		}
	}
	name := strings.TrimSpace(excerpt.Bounded(c.PostForm("name"), longestLink))
	there, err := s.Store.Definitions.Links(ctx, z.ID)
	said := ""
	switch {
	case err != nil:
		s.Fail(c, err)
		return
	case len(v) == 0:
		said = "Say where the link is used: a source, such as spring-letter."
	case len(there) >= mostLinks:
		said = "There are 200 links already. Forget some of them first."
	default:
		if name == "" {
			name = cmp.Or(v.Get("utm_source"), "Link "+strconv.Itoa(len(there)+1))
		}
		if err := s.Store.Definitions.AddLink(ctx, store.Link{QuizID: z.ID, Name: name, Query: v.Encode()}); err != nil {
			s.Fail(c, err)
			return
		}
		said = "The link is ready."
	}
	s.Say(c, said, "")
	c.Redirect(http.StatusSeeOther, desk.Address(z)+"/release#links")
}

// A codeLook is how codes are drawn.
type codeLook struct{ Level, Ink, Paper string }

func lookOf(c *gin.Context) codeLook {
	l := codeLook{c.DefaultQuery("level", "medium"), "#" + strings.TrimPrefix(c.DefaultQuery("ink", "000000"),
		"#"), "#" + strings.TrimPrefix(c.DefaultQuery("paper", "ffffff"), "#")}
	if _, known := levels[l.Level]; !known {
		l.Level = "medium"
	}
	return l
}

// levels are how much of a code may be lost.
var levels = map[string]qrcode.RecoveryLevel{"low": qrcode.Low, "medium": qrcode.Medium, "high": qrcode.High,
	"highest": qrcode.Highest}

// code sends the QR code of a link (ISO/IEC 18004), as a drawing or as a picture.
func (s *Room) code(c *gin.Context) {
	z, ok := s.QuizOf(c)
	if !ok {
		return
	}
	rows, err := s.linksOf(c, z)
	if err != nil {
		s.Fail(c, err)
		return
	}
	address := rows[0].Address
	for _, row := range rows {
		if row.ID > 0 && desk.Itoa(row.ID) == c.Query("link") {
			address = row.Address
		}
	}
	level, known := levels[c.Query("level")]
	if !known {
		level = qrcode.Medium
	}
	q, err := qrcode.New(address, level)
	if err != nil {
		s.Fail(c, fmt.Errorf("making the code of %q: %w", address, err))
		return
	}
	ink, paper := colourOf(c.Query("ink"), color.Black), colourOf(c.Query("paper"), color.White)
	name := z.Slug
	if c.Query("save") != "" {
		c.Header("Content-Disposition", `attachment; filename="`+name+"."+c.Param("kind")+`"`)
	}
	switch c.Param("kind") {
	case "svg":
		c.Data(http.StatusOK, "image/svg+xml", drawn(q.Bitmap(), ink, paper))
	case "png":
		q.ForegroundColor, q.BackgroundColor = ink, paper
		png, err := q.PNG(codeSize)
		if err != nil {
			s.Fail(c, err)
			return
		}
		c.Data(http.StatusOK, "image/png", png)
	default:
		s.Fail(c, store.ErrNotFound)
	}
}

// codeSize is how wide a code is as a picture, in pixels: enough for print.
const codeSize = 1024

// drawn draws the dark fields of a code, one path a row.
func drawn(fields [][]bool, ink, paper color.Color) []byte {
	var b strings.Builder
	n := len(fields)
	fmt.Fprintf(&b, `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 %d %d" shape-rendering="crispEdges">`, n, n)
	fmt.Fprintf(&b, `<path fill="%s" d="M0 0h%dv%dH0z"/><path fill="%s" d="`, hex(paper), n, n, hex(ink))
	for y, row := range fields {
		for x := 0; x < n; x++ {
			if !row[x] {
				continue
			}
			from := x
			for x < n && row[x] {
				x++
			}
			fmt.Fprintf(&b, "M%d %dh%dv1H%dz", from, y, x-from, from)
		}
	}
	b.WriteString(`"/></svg>`)
	return []byte(b.String())
}

func hex(c color.Color) string {
	r, g, b, _ := c.RGBA()
	return fmt.Sprintf("#%02x%02x%02x", r>>8, g>>8, b>>8)
}

// colourOf reads a colour such as 17232a, or takes another.
func colourOf(s string, instead color.Color) color.Color {
	n, err := strconv.ParseUint(strings.TrimPrefix(s, "#"), 16, 32)
	if err != nil || len(strings.TrimPrefix(s, "#")) != 6 {
		return instead
	}
	return color.RGBA{uint8(n >> 16), uint8(n >> 8), uint8(n), 255}
}
