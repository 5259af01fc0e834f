// Package picture takes pictures in: JPEG, PNG, GIF and WebP, told by decoding them
// and not by their names, scaled to what a page needs and written anew, so that
// nothing but a picture is kept.
package picture

import (
	"bytes"
	"errors"
	"fmt"
	"image"
	"image/gif"
	"image/jpeg"
	"image/png"

	"golang.org/x/image/draw"
	_ "golang.org/x/image/webp" // decodes WebP
)

// Bounds of what is taken.
const (
	MaxBytes  = 12 << 20
	MaxPixels = 50_000_000 // decoded: 200 MB at the most
	Widest    = 1600       // of what is kept, in pixels each way
)

// Reasons why a picture is not taken.
var (
	ErrKind  = errors.New("this is no JPEG, PNG, GIF or WebP picture")
	ErrLarge = errors.New("this picture is too large")
)

// A Picture is ready to be kept and shown.
type Picture struct {
	Type          string // "image/jpeg", "image/png" or "image/gif"
	Width, Height int
	Data          []byte
}

// Take reads a picture. The error wraps ErrKind or ErrLarge.
func Take(data []byte) (*Picture, error) {
	if len(data) > MaxBytes {
		return nil, fmt.Errorf("%w: it has %d MB, at most %d fit", ErrLarge, len(data)>>20, MaxBytes>>20)
	}
	config, format, err := image.DecodeConfig(bytes.NewReader(data))
	if err != nil {
		return nil, ErrKind
	}
	if config.Width < 1 || config.Height < 1 || config.Width > MaxPixels/config.Height {
		return nil, fmt.Errorf("%w: it has %d × %d pixels, at most %d million fit", ErrLarge, config.Width, config.Height, MaxPixels/1_000_000)
	}
	if format == "gif" && max(config.Width, config.Height) <= Widest {
		return animated(data, config)
	}
	decoded, _, err := image.Decode(bytes.NewReader(data))
	if err != nil {
		return nil, fmt.Errorf("%w: it breaks off: %v", ErrKind, err)
	}
	decoded = scaled(decoded)
	p := &Picture{Type: "image/jpeg", Width: decoded.Bounds().Dx(), Height: decoded.Bounds().Dy()}
	var out bytes.Buffer
	if seen, ok := decoded.(interface{ Opaque() bool }); ok && seen.Opaque() {
		err = jpeg.Encode(&out, decoded, &jpeg.Options{Quality: 84})
	} else {
		p.Type, err = "image/png", png.Encode(&out, decoded)
	}
	if err != nil {
		return nil, fmt.Errorf("writing the picture: %w", err)
	}
	p.Data = out.Bytes()
	return p, nil
}

// mostFrames bounds all pixels of an animation.
const mostFrames = 4 * MaxPixels

// animated takes a GIF with its frames.
func animated(data []byte, config image.Config) (*Picture, error) {
	frames := bytes.Count(data, []byte{0x2c}) // each frame begins with one; there may be fewer
	if frames > mostFrames/(config.Width*config.Height) {
		return nil, fmt.Errorf("%w: its frames have too many pixels", ErrLarge)
	}
	all, err := gif.DecodeAll(bytes.NewReader(data))
	if err != nil {
		return nil, fmt.Errorf("%w: it breaks off: %v", ErrKind, err)
	}
	var out bytes.Buffer
	if err := gif.EncodeAll(&out, all); err != nil {
		return nil, fmt.Errorf("writing the picture: %w", err)
	}
	return &Picture{"image/gif", config.Width, config.Height, out.Bytes()}, nil
}

// scaled makes a picture as small as a page needs it.
func scaled(from image.Image) image.Image {
	b := from.Bounds()
	longest := max(b.Dx(), b.Dy())
	if longest <= Widest {
		return from
	}
	to := image.NewRGBA(image.Rect(0, 0, max(b.Dx()*Widest/longest, 1), max(b.Dy()*Widest/longest, 1)))
	draw.CatmullRom.Scale(to, to.Bounds(), from, b, draw.Src, nil)
	return to
}
