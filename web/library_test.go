package web_test

import (
	"net/http"
	"testing"

	"github.com/stretchr/testify/assert"

	"omphalos/web"
)

// The parts that rooms are built from stand on one page, light and dark, for those who
// build rooms; others have no such page.
func TestParts(t *testing.T) {
	t.Parallel()
	a := newAppWith(t, web.Options{Parts: true})
	b := a.newTab(t)
	b.signIn()
	b.open("/studio/parts")
	b.axe("Parts")
	backgrounds := read[[]string](
		b,
		`[...document.querySelectorAll("main section")].map((s) => getComputedStyle(s).backgroundColor)`,
	)
	assert.Len(t, backgrounds, 2)
	assert.NotEqual(t, backgrounds[0], backgrounds[1], "one side is dark")

	r, _ := newApp(t).client(t).signIn().get("/studio/parts")
	assert.Equal(t, http.StatusNotFound, r.StatusCode)
}
