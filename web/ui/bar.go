package ui

import (
	"fmt"
	"io"
)

// Bar adds a rectangle to a path of SVG: bars of one colour are drawn as one path, since a
// hundred rectangles are slow to send and to bring onto a page.
func Bar(path io.Writer, x, y, width, height float64) {
	fmt.Fprintf(path, "M%.2f %.2fh%.2fv%.2fh-%.2fz", x, y, width, height, width)
}
