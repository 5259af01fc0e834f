package postcard

import (
	"bytes"
	"fmt"
	"image"
	_ "image/gif" // pictures that were taken in
	_ "image/jpeg"
	_ "image/png"

	"github.com/srwiley/oksvg"
	"github.com/srwiley/rasterx"
)

// drawnAt is how wide drawings are made, in pixels.
const drawnAt = 900

// Picture reads a picture for a card: JPEG, PNG or GIF as they are kept, or a drawing (SVG)
// that ships with the application.
func Picture(data []byte) (image.Image, error) {
	if !bytes.Contains(data[:min(len(data), 200)], []byte("<svg")) {
		img, _, err := image.Decode(bytes.NewReader(data))
		if err != nil {
			return nil, fmt.Errorf("reading a picture: %w", err)
		}
		return img, nil
	}
	icon, err := oksvg.ReadIconStream(bytes.NewReader(data), oksvg.IgnoreErrorMode)
	if err != nil || icon.ViewBox.W <= 0 || icon.ViewBox.H <= 0 {
		return nil, fmt.Errorf("reading a drawing: %w", err)
	}
	w, h := drawnAt, int(drawnAt*icon.ViewBox.H/icon.ViewBox.W)
	img := image.NewRGBA(image.Rect(0, 0, w, h))
	icon.SetTarget(0, 0, float64(w), float64(h))
	icon.Draw(rasterx.NewDasher(w, h, rasterx.NewScannerGV(w, h, img, img.Bounds())), 1)
	return img, nil
}
