package xliff

import (
	"fmt"
	"io"
	"strconv"
	"strings"

	"github.com/beevik/etree"

	"omphalos/core/fillin"
)

// Write writes a document. The same document is always the same bytes.
func Write(w io.Writer, d Document) error {
	doc := etree.NewDocument()
	doc.CreateProcInst("xml", `version="1.0" encoding="UTF-8"`)
	root := doc.CreateElement("xliff")
	root.CreateAttr("xmlns", namespace)
	root.CreateAttr("version", "2.1")
	root.CreateAttr("srcLang", d.From)
	root.CreateAttr("trgLang", d.To)
	file := root.CreateElement("file")
	file.CreateAttr("id", "quiz")
	file.CreateAttr("original", valid(d.Title))
	for _, line := range d.Lines {
		file.CreateText("\n") // a line for each, and nothing within, where space counts
		line.write(file.CreateElement("unit"))
	}
	file.CreateText("\n")
	if _, err := doc.WriteTo(w); err != nil {
		return fmt.Errorf("writing XLIFF: %w", err)
	}
	return nil
}

func (l *Line) write(unit *etree.Element) {
	unit.CreateAttr("id", strings.ReplaceAll(strings.TrimPrefix(string(l.At), "/"), "/", "."))
	if l.About != "" {
		unit.CreateElement("notes").CreateElement("note").SetText(valid(l.About))
	}
	codes := codes{of: map[string]int{}}
	source := codes.content(l.Words, "source")
	target := codes.content(l.Said, "target")
	if len(codes.list) > 0 {
		data := unit.CreateElement("originalData")
		for i, code := range codes.list {
			one := data.CreateElement("data")
			one.CreateAttr("id", "d"+strconv.Itoa(i+1))
			one.SetText(code)
		}
	}
	segment := unit.CreateElement("segment")
	state := initial
	if l.Said != "" && l.Done {
		state = "translated"
	}
	segment.CreateAttr("state", state)
	segment.AddChild(source)
	if l.Said != "" {
		segment.AddChild(target)
	}
}

// codes are what a unit fills in, each written once.
type codes struct {
	list []string
	of   map[string]int // places in the list
}

// content is a text whose fill-ins are placeholders.
func (c *codes) content(text, tag string) *etree.Element {
	e := etree.NewElement(tag)
	e.CreateAttr("xml:space", "preserve")
	seen := map[string]bool{}
	for i, piece := range fillin.Pieces(text) {
		if i%2 == 0 {
			plain(e, piece)
			continue
		}
		at, known := c.of[piece]
		if !known {
			c.list = append(c.list, piece)
			at = len(c.list)
			c.of[piece] = at
		}
		ph := e.CreateElement("ph")
		id := strconv.Itoa(at)
		for n := 2; seen[id]; n++ { // of a code that is filled in twice
			id = fmt.Sprintf("%d-%d", at, n)
		}
		seen[id] = true
		ph.CreateAttr("id", id)
		ph.CreateAttr("dataRef", "d"+strconv.Itoa(at))
		ph.CreateAttr("equiv", piece)
	}
	return e
}

// plain adds a text; characters that XML has none for are written by their code.
func plain(e *etree.Element, text string) {
	begun := 0
	for i, r := range text {
		if inXML(r) {
			continue
		}
		e.CreateText(text[begun:i])
		e.CreateElement("cp").CreateAttr("hex", fmt.Sprintf("%04X", r))
		begun = i + len(string(r))
	}
	if rest := text[begun:]; rest != "" || len(e.Child) == 0 {
		e.CreateText(rest)
	}
}

// inXML tells whether XML 1.0 has a character (Char of its grammar).
func inXML(r rune) bool {
	return r == '\t' || r == '\n' || r >= 0x20 && r != 0xFFFE && r != 0xFFFF
}

func valid(text string) string {
	return strings.Map(func(r rune) rune {
		if inXML(r) {
			return r
		}
		return -1
	}, text)
}
