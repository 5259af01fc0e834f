package look_test

import (
	"fmt"
	"image"
	"image/color"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/look"
	"omphalos/core/quiz"
)

// W3C, WCAG 2.2, contrast ratio; #767676 on white is the well-known limit of 4.5.
func TestContrast(t *testing.T) {
	assert.InDelta(t, 21, look.Contrast("#000000", "#ffffff"), 1e-9)
	assert.InDelta(t, 4.54, look.Contrast("#767676", "#ffffff"), 0.005)
	assert.InDelta(t, 1, look.Contrast("#17627a", "#17627a"), 1e-9)
	assert.Zero(t, look.Contrast("red", "#ffffff"))
	assert.Zero(t, look.Contrast("#fff", "#ffffff"))
}

// passes holds every pair of a palette against what it needs.
func passes(t require.TestingT, of string, p look.Palette) {
	for _, pair := range look.Pairs {
		over, under := p.Role(pair.Over), p.Role(pair.Under)
		require.NotEmpty(t, over, pair.Over)
		if ratio := look.Contrast(over, under); ratio < pair.Needs {
			require.Fail(t, of, "%s %s on %s %s: %.2f, needs %v", pair.Over, over, pair.Under, under, ratio, pair.Needs)
		}
	}
}

func TestMadeLooksCanBeRead(t *testing.T) {
	worlds := map[string]quiz.Made{}
	for _, made := range quiz.Mades {
		d := look.Of(&quiz.Look{Made: made})
		passes(t, string(made)+", light", d.Light)
		passes(t, string(made)+", dark", d.Dark)
		world := fmt.Sprint(d.Headings, d.Weight, d.Corners, d.Answers, d.Buttons, d.Progress, d.Ornament, d.Layout)
		assert.NotContains(t, worlds, world, "%s is set like %s", made, worlds[world])
		worlds[world] = made
	}
	assert.Len(t, worlds, 8)
}

// Whatever colours a brand has, what is made of them can be read, in light and dark.
func TestPalettesFromABrandCanBeRead(t *testing.T) {
	random := rand.New(rand.NewPCG(24, 2026))
	for range 10_000 {
		brand := make([]string, 1+random.IntN(4))
		for i := range brand {
			brand[i] = fmt.Sprintf("#%06x", random.IntN(1<<24))
		}
		light, dark := look.From(brand)
		d := look.Of(&quiz.Look{Colours: light, Dark: &dark, Scheme: quiz.AsDevice})
		passes(t, fmt.Sprint(brand, " in the light"), d.Light)
		passes(t, fmt.Sprint(brand, " in the dark"), d.Dark)
	}
}

// Of colours that somebody chose, those that are made from them can be read wherever the
// words themselves can; and the dark that is made from them can always be.
func TestWhatIsMadeOfChosenColoursCanBeRead(t *testing.T) {
	random := rand.New(rand.NewPCG(7, 24))
	any := func() string { return fmt.Sprintf("#%06x", random.IntN(1<<24)) }
	read := 0
	for range 10_000 {
		given := quiz.Colours{Paper: any(), Ink: any(), Accent: any(), Mark: any()}
		p := look.Of(&quiz.Look{Colours: given}).Light
		for _, pair := range []look.Pair{{"on-accent", "accent", 4.5}, {"on-block", "block", 4.5}} {
			assert.GreaterOrEqual(t, look.Contrast(p.Role(pair.Over), p.Role(pair.Under)), pair.Needs, given)
		}
		if look.Contrast(p.Ink, p.Paper) < look.TextContrast {
			continue
		}
		read++
		for _, over := range []string{"soft", "wrong", "right"} {
			assert.GreaterOrEqual(t, look.Contrast(p.Role(over), p.Paper), 4.5, "%s of %v", over, given)
		}
		assert.GreaterOrEqual(t, look.Contrast(p.Link, p.Wash), 4.5, "link of %v", given)
		assert.GreaterOrEqual(t, look.Contrast(p.Edge, p.Paper), 3.0, "edge of %v", given)
	}
	assert.Greater(t, read, 500)
}

func TestSchemes(t *testing.T) {
	own := quiz.Colours{Paper: "#fff8e8", Ink: "#332200"}
	assert.Equal(t, quiz.AsDevice, look.Of(nil).Scheme)
	assert.Equal(t, quiz.DarkOnly, look.Of(&quiz.Look{Made: quiz.Night}).Scheme)
	assert.Equal(t, quiz.LightOnly, look.Of(&quiz.Look{Colours: own}).Scheme, "a paper of one's own stays as it is")
	d := look.Of(&quiz.Look{Colours: own, Scheme: quiz.AsDevice})
	assert.Equal(t, quiz.AsDevice, d.Scheme)
	assert.Equal(t, "#fff8e8", d.Light.Sheet, "and is written on")
	passes(t, "dark of its own", d.Dark)
}

// The colours of a logo: two that stand out on a ground that does not count.
func TestColoursOfALogo(t *testing.T) {
	logo := image.NewNRGBA(image.Rect(0, 0, 120, 40))
	for y := range 40 {
		for x := range 120 {
			switch {
			case x < 60 && y > 5:
				logo.Set(x, y, color.NRGBA{0x1f, 0x45, 0xb5, 255})
			case x < 80 && y > 5:
				logo.Set(x, y, color.NRGBA{0xe0, 0x50, 0x30, 255})
			case x < 100:
				logo.Set(x, y, color.White)
			}
		}
	}
	found := look.ColoursOf(logo)
	require.Equal(t, []string{"#1f45b5", "#e05030"}, found)
	light, dark := look.From(found)
	assert.Equal(t, "#1f45b5", light.Accent, "what can be read already stays as the brand has it")
	assert.NotEmpty(t, dark.Accent)
	assert.Empty(t, look.ColoursOf(image.NewGray(image.Rect(0, 0, 9, 9))))
	assert.Empty(t, look.ColoursOf(image.NewNRGBA(image.Rect(0, 0, 0, 0))))
}
