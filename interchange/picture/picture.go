// Package picture takes pictures in: JPEG, PNG, GIF and WebP, told by decoding them
// and not by their names, scaled to what a page needs and written anew, so that
// nothing but a picture is kept.
package picture

import (
	"bytes"
	"context"
	"encoding/binary"
	"errors"
	"fmt"
	"image"
	"image/color"
	"image/gif"
	"image/jpeg"
	"image/png"

	"golang.org/x/image/draw"
	_ "golang.org/x/image/webp" // decodes WebP
	"golang.org/x/sync/semaphore"
)

// Bounds of what is taken.
const (
	MaxBytes  = 12 << 20
	MaxPixels = 50_000_000
	MaxFrames = 500  // of an animation
	Widest    = 1600 // of what is kept, in pixels each way

	mostMemory = 160 << 20 // that decoding one may take
	atOnce     = 2         // are decoded, together within mostMemory
)

// Reasons why a picture is not taken.
var (
	ErrKind  = errors.New("this is no JPEG, PNG, GIF or WebP picture")
	ErrLarge = errors.New("this picture is too large")
	ErrBusy  = errors.New("other pictures are being taken in")
)

// A Picture is ready to be kept and shown.
type Picture struct {
	Type          string // "image/jpeg", "image/png" or "image/gif"
	Width, Height int
	Data          []byte
}

// Decoding waits until there is memory for it.
var (
	memory   = semaphore.NewWeighted(mostMemory)
	decoders = semaphore.NewWeighted(atOnce)
)

// Take reads a picture. The error wraps ErrKind or ErrLarge, or ErrBusy where the context
// ends before its turn comes.
func Take(ctx context.Context, data []byte) (*Picture, error) {
	if len(data) > MaxBytes {
		return nil, fmt.Errorf("%w: it has %d MB, at most %d fit", ErrLarge, len(data)>>20, MaxBytes>>20)
	}
	config, format, err := image.DecodeConfig(bytes.NewReader(data))
	if err != nil {
		return nil, ErrKind
	}
	if config.Width < 1 || config.Height < 1 || config.Width > MaxPixels/config.Height {
		return nil, fmt.Errorf(
			"%w: it has %d × %d pixels, at most %d million fit",
			ErrLarge,
			config.Width,
			config.Height,
			MaxPixels/1_000_000,
		)
	}
	need := int64(config.Width) * int64(config.Height) * int64(perPixel(data, config, format))
	if format == "gif" {
		frames, pixels := frames(data)
		need += pixels
		if frames > MaxFrames {
			return nil, fmt.Errorf("%w: it has more than %d frames", ErrLarge, MaxFrames)
		}
	}
	if need > mostMemory {
		return nil, fmt.Errorf(
			"%w to be decoded: save it with at most %d million pixels",
			ErrLarge,
			int64(config.Width)*int64(config.Height)*mostMemory/need/1_000_000,
		)
	}
	if memory.Acquire(ctx, need) != nil {
		return nil, ErrBusy
	}
	defer memory.Release(need)
	if decoders.Acquire(ctx, 1) != nil {
		return nil, ErrBusy
	}
	defer decoders.Release(1)
	return take(data, config, format)
}

// perPixel returns how many bytes decoding takes for each pixel, at the most.
func perPixel(data []byte, config image.Config, format string) int {
	bytes := 4
	switch config.ColorModel {
	case color.GrayModel:
		bytes = 1
	case color.Gray16Model:
		bytes = 2
	case color.YCbCrModel:
		bytes = 3
	case color.RGBA64Model, color.NRGBA64Model:
		bytes = 8
	}
	switch {
	case format == "jpeg" && progressive(data):
		bytes += 16 // its coefficients, four bytes for each of up to four colours
	case format == "png" && len(data) > 28 && data[28] != 0: // interlaced
		bytes *= 2
	}
	return bytes
}

// progressive tells whether a JPEG comes in several scans (ITU-T T.81, B.1.1.3: SOF2).
func progressive(data []byte) bool {
	for at := 2; at+4 <= len(data) && data[at] == 0xff; {
		marker := data[at+1]
		switch {
		case marker == 0xff: // filled up
			at++
			continue
		case marker == 0xc2:
			return true
		case marker >= 0xc0 && marker <= 0xcf && marker != 0xc4 && marker != 0xc8 && marker != 0xcc, marker == 0xda:
			return false
		}
		at += 2 + int(binary.BigEndian.Uint16(data[at+2:]))
	}
	return true // for all that is known
}

// frames counts the frames of a GIF and their pixels, from its blocks (GIF89a, 20 to 26)
// and without decoding them.
func frames(data []byte) (count int, pixels int64) {
	table := func(flags byte) int {
		if flags&0x80 == 0 {
			return 0
		}
		return 3 << (flags&7 + 1)
	}
	if len(data) < 13 {
		return 0, 0
	}
	blocks := func(at int) int {
		for at < len(data) && data[at] != 0 {
			at += 1 + int(data[at])
		}
		return at + 1
	}
	for at := 13 + table(data[10]); at < len(data); {
		switch data[at] {
		case 0x21:
			at = blocks(at + 2)
		case 0x2c:
			if at+10 >= len(data) {
				return count, pixels
			}
			count++
			pixels += int64(binary.LittleEndian.Uint16(data[at+5:])) * int64(binary.LittleEndian.Uint16(data[at+7:]))
			at = blocks(at + 11 + table(data[at+9]))
		default:
			return count, pixels
		}
	}
	return count, pixels
}

func take(data []byte, config image.Config, format string) (*Picture, error) {
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

// animated takes a GIF with its frames.
func animated(data []byte, config image.Config) (*Picture, error) {
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
	if longest > 2*Widest { // coarsely first, of which nothing is seen in the end
		half := image.NewRGBA(image.Rect(0, 0, max(b.Dx()*2*Widest/longest, 1), max(b.Dy()*2*Widest/longest, 1)))
		draw.ApproxBiLinear.Scale(half, half.Bounds(), from, b, draw.Src, nil)
		from, b = half, half.Bounds()
		longest = max(b.Dx(), b.Dy())
	}
	to := image.NewRGBA(image.Rect(0, 0, max(b.Dx()*Widest/longest, 1), max(b.Dy()*Widest/longest, 1)))
	draw.CatmullRom.Scale(to, to.Bounds(), from, b, draw.Src, nil)
	return to
}
