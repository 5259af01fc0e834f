package picture_test

import (
	"bytes"
	"encoding/binary"
	"hash/crc32"
	"image"
	"image/color"
	"image/gif"
	"image/jpeg"
	"image/png"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/interchange/picture"
)

func drawn(w, h int, a uint8) image.Image {
	m := image.NewNRGBA(image.Rect(0, 0, w, h))
	for x := range w {
		for y := range h {
			m.Set(x, y, color.NRGBA{uint8(x), uint8(y), 90, a})
		}
	}
	return m
}

func encoded(t testing.TB, m image.Image, as string) []byte {
	var b bytes.Buffer
	switch as {
	case "png":
		require.NoError(t, png.Encode(&b, m))
	case "jpeg":
		require.NoError(t, jpeg.Encode(&b, m, nil))
	case "gif":
		require.NoError(t, gif.Encode(&b, m, nil))
	}
	return b.Bytes()
}

// Pictures are told by what they are, made as small as a page needs them, and keep
// what can be seen through.
func TestTake(t *testing.T) {
	for _, c := range []struct {
		data []byte
		kind string
		w, h int
	}{
		{encoded(t, drawn(3200, 800, 255), "png"), "image/jpeg", 1600, 400},
		{encoded(t, drawn(300, 200, 255), "jpeg"), "image/jpeg", 300, 200},
		{encoded(t, drawn(300, 200, 120), "png"), "image/png", 300, 200},
		{encoded(t, drawn(60, 40, 255), "gif"), "image/gif", 60, 40},
	} {
		p, err := picture.Take(c.data)
		require.NoError(t, err)
		assert.Equal(t, c.kind, p.Type)
		assert.Equal(t, [2]int{c.w, c.h}, [2]int{p.Width, p.Height})
		shown, _, err := image.DecodeConfig(bytes.NewReader(p.Data))
		require.NoError(t, err)
		assert.Equal(t, c.w, shown.Width)
	}
}

// What is no picture, breaks off, is too long, or would fill the memory when decoded
// (a few bytes that claim 60,000 × 60,000 pixels) is not taken.
func TestWhatIsNotTaken(t *testing.T) {
	good := encoded(t, drawn(400, 400, 255), "png")
	bomb := bytes.Clone(good)
	binary.BigEndian.PutUint32(bomb[16:], 60000)
	binary.BigEndian.PutUint32(bomb[20:], 60000)
	binary.BigEndian.PutUint32(bomb[29:], crc32.ChecksumIEEE(bomb[12:29]))
	for _, c := range []struct {
		data []byte
		why  error
	}{
		{[]byte("<svg onload=alert(1)>"), picture.ErrKind},
		{nil, picture.ErrKind},
		{good[:len(good)/2], picture.ErrKind},
		{bomb, picture.ErrLarge},
		{make([]byte, 30<<20), picture.ErrLarge},
	} {
		_, err := picture.Take(c.data)
		assert.ErrorIs(t, err, c.why)
	}
}
