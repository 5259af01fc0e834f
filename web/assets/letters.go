package assets

import (
	_ "embed"
	"encoding/json"
	"fmt"
	"strings"
)

// A Lettering is the characters that one file of each typeface has: typeface-part.woff2.
type Lettering struct {
	Part   string
	Always bool   // every page may need it, for what is typed
	Ranges string // as unicode-range of CSS has them
	spans  [][2]rune
}

// Has tells whether a character is in the file.
func (l Lettering) Has(r rune) bool {
	for _, span := range l.spans {
		if span[0] <= r && r <= span[1] {
			return true
		}
	}
	return false
}

//go:embed letters.json
var letters []byte

// Letterings are the files of each typeface, as build.mjs makes them: what English is written
// with first, then what else western Europe needs, then the rest of Latin, then other scripts,
// which not every typeface has.
var Letterings = readLetterings()

func readLetterings() []Lettering {
	var parts []struct {
		Part   string
		Always bool
		Ranges []string
	}
	if err := json.Unmarshal(letters, &parts); err != nil {
		panic("assets: letters.json: " + err.Error()) // it ships with it
	}
	var list []Lettering
	for _, part := range parts {
		l := Lettering{Part: part.Part, Always: part.Always, Ranges: strings.Join(part.Ranges, ",")}
		for _, one := range strings.Split(l.Ranges, ",") {
			var span [2]rune
			if n, _ := fmt.Sscanf(one, "U+%x-%x", &span[0], &span[1]); n < 2 {
				span[1] = span[0]
			}
			l.spans = append(l.spans, span)
		}
		list = append(list, l)
	}
	return list
}
