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
		p, err := picture.Take(t.Context(), c.data)
		require.NoError(t, err)
		assert.Equal(t, c.kind, p.Type)
		assert.Equal(t, [2]int{c.w, c.h}, [2]int{p.Width, p.Height})
		shown, _, err := image.DecodeConfig(bytes.NewReader(p.Data))
		require.NoError(t, err)
		assert.Equal(t, c.w, shown.Width)
	}
}

// blinking is a GIF of so many frames of so many pixels, with next to nothing in them.
func blinking(frames, w, h uint16) []byte {
	data := append([]byte("GIF89a"), byte(w), byte(w>>8), byte(h), byte(h>>8), 0x80, 0, 0, 0, 0, 0, 255, 255, 255)
	for range frames {
		data = append(data, 0x2c, 0, 0, 0, 0, byte(w), byte(w>>8), byte(h), byte(h>>8), 0, 2, 2, 0x44, 0x01, 0)
	}
	return append(data, 0x3b)
}

// claiming is a PNG that claims to be so many pixels wide and high.
func claiming(png []byte, pixels uint32) []byte {
	claims := bytes.Clone(png)
	binary.BigEndian.PutUint32(claims[16:], pixels)
	binary.BigEndian.PutUint32(claims[20:], pixels)
	binary.BigEndian.PutUint32(claims[29:], crc32.ChecksumIEEE(claims[12:29]))
	return claims
}

// What is no picture, breaks off, is too long, or would fill the memory when decoded
// (a few bytes that claim 60,000 × 60,000 pixels) is not taken.
func TestWhatIsNotTaken(t *testing.T) {
	good := encoded(t, drawn(400, 400, 255), "png")
	bomb := claiming(good, 60_000)
	// 36 million pixels in several scans take 20 bytes each; 16 bits a colour take 8.
	scans := encoded(t, drawn(400, 400, 255), "jpeg")
	at := bytes.Index(scans, []byte{0xff, 0xc0})
	scans[at+1] = 0xc2
	binary.BigEndian.PutUint16(scans[at+5:], 6000)
	binary.BigEndian.PutUint16(scans[at+7:], 6000)
	deep := claiming(encoded(t, image.NewNRGBA64(image.Rect(0, 0, 2, 2)), "png"), 6000)
	for _, c := range []struct {
		data []byte
		why  error
	}{
		{[]byte("<svg onload=alert(1)>"), picture.ErrKind},
		{nil, picture.ErrKind},
		{good[:len(good)/2], picture.ErrKind},
		{bomb, picture.ErrLarge},
		{make([]byte, 30<<20), picture.ErrLarge},
		{blinking(50_000, 1, 1), picture.ErrLarge},
		{blinking(400, 1000, 1000), picture.ErrLarge}, // frames that together fill the memory
		{scans, picture.ErrLarge},
		{deep, picture.ErrLarge},
	} {
		_, err := picture.Take(t.Context(), c.data)
		assert.ErrorIs(t, err, c.why)
	}
}

// A picture as large as is taken, from a few bytes.
func BenchmarkTakeTheLargest(b *testing.B) {
	data := encoded(b, image.NewGray(image.Rect(0, 0, 7000, 7000)), "png")
	b.ReportMetric(float64(len(data))/1000, "KB-in")
	for b.Loop() {
		if _, err := picture.Take(b.Context(), data); err != nil {
			b.Fatal(err)
		}
	}
}
