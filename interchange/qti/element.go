package qti

import (
	"crypto/sha256"
	"encoding/hex"
	"strconv"
	"strings"

	"github.com/beevik/etree"

	"omphalos/core/decimal"
	"omphalos/core/excerpt"
	"omphalos/core/quiz"
)

func declarationOf(root, ask *etree.Element) *etree.Element {
	for _, d := range root.SelectElements("qti-response-declaration") {
		if d.SelectAttrValue("identifier", "") == ask.SelectAttrValue("response-identifier", "") {
			return d
		}
	}
	return nil
}

func baseOf(d *etree.Element) string {
	if d == nil {
		return ""
	}
	return d.SelectAttrValue("base-type", "")
}

func picksOf(ask *etree.Element) *quiz.Picks {
	p := &quiz.Picks{Min: atLeast(ask, "min-choices"), Max: atLeast(ask, "max-choices")}
	if p.Min <= 1 {
		p.Min = 0 // that is "required"
	}
	if *p == (quiz.Picks{}) {
		return nil
	}
	return p
}

func atLeast(e *etree.Element, name string) int {
	n, err := strconv.Atoi(e.SelectAttrValue(name, "0"))
	if err != nil || n < 0 {
		return 0
	}
	return n
}

func boundOf(e *etree.Element, name string) (*quiz.Bound, bool) {
	n, err := decimal.Parse(e.SelectAttrValue(name, ""))
	return quiz.NumberBound(n), err == nil
}

func numberOf(e *etree.Element) (decimal.Decimal, bool) {
	if e == nil {
		return 0, false
	}
	n, err := decimal.Parse(strings.TrimSpace(e.Text()))
	return n, err == nil
}

// pictureOutside returns the first picture of a body that is not in an answer.
func pictureOutside(body *etree.Element) *etree.Element {
	for _, img := range body.FindElements(".//img") {
		inside := false
		for up := img.Parent(); up != nil && up != body; up = up.Parent() {
			inside = inside || strings.HasSuffix(up.Tag, "-choice")
		}
		if !inside {
			return img
		}
	}
	return nil
}

// linesOf returns the paragraphs of an element, without those of answers.
func linesOf(e *etree.Element) []string {
	var lines []string
	var line strings.Builder
	end := func() {
		if s := strings.Join(strings.Fields(line.String()), " "); s != "" {
			lines = append(lines, s)
		}
		line.Reset()
	}
	var walk func(*etree.Element)
	walk = func(e *etree.Element) {
		block := !inline[e.Tag]
		if block {
			end()
		}
		for _, t := range e.Child {
			switch t := t.(type) {
			case *etree.CharData:
				line.WriteString(t.Data)
			case *etree.Element:
				if !strings.HasSuffix(t.Tag, "-choice") && t.Tag != "qti-simple-match-set" {
					walk(t)
				}
			}
		}
		if block {
			end()
		}
	}
	walk(e)
	return lines
}

// inline are the elements that stand within a line.
var inline = map[string]bool{"em": true, "strong": true, "b": true, "i": true, "span": true, "a": true, "sub": true,
	"sup": true, "code": true, "small": true, "img": true, "qti-text-entry-interaction": true,
	"qti-inline-choice-interaction": true}

func plain(e *etree.Element) string { return strings.Join(linesOf(e), " ") }

// paragraphsOf returns the lines of an element but for its heading.
func paragraphsOf(e *etree.Element) []string {
	whole := e.Copy()
	if h := whole.FindElement(".//h2"); h != nil {
		h.Parent().RemoveChild(h)
	}
	return linesOf(whole)
}

func clip(s string, most int) string { return excerpt.Of(strings.TrimSpace(s), most) }

// freeKey makes a key of an identifier that is not taken yet.
func freeKey[V any](taken map[string]V, id, otherwise string) string {
	base := quiz.KeyOf(id)
	if base == "" {
		base = otherwise
	}
	key := base
	for n := 2; ; n++ {
		if _, there := taken[key]; !there {
			return key
		}
		key = base + "_" + strconv.Itoa(n)
	}
}

// pictureName is the name that the application gives a picture of this content.
func pictureName(data []byte) string {
	sum := sha256.Sum256(data)
	return hex.EncodeToString(sum[:16])
}
