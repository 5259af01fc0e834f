package xliff

import (
	"cmp"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"github.com/beevik/etree"

	"omphalos/core/quiz"
)

// Read reads a document that Write wrote, and that a translator's tool may have split into
// segments, marked and commented. A unit of which a segment has no words has none. The error
// wraps ErrXLIFF and says what is wrong.
func Read(data []byte) (Document, error) {
	var d Document
	if len(data) > MaxSize {
		return d, fmt.Errorf("the file %w: it has more than %d MB", ErrXLIFF, MaxSize>>20)
	}
	doc := etree.NewDocument()
	if err := doc.ReadFromBytes(data); err != nil {
		return d, fmt.Errorf("the file %w: %v", ErrXLIFF, err)
	}
	root := doc.Root()
	switch {
	case root == nil || root.Tag != "xliff":
		return d, fmt.Errorf("the file %w: it does not begin with <xliff>", ErrXLIFF)
	case strings.HasPrefix(root.NamespaceURI(), older) || strings.HasPrefix(root.SelectAttrValue("version", ""), "1."):
		return d, fmt.Errorf("the file %w: it is of version 1, save it as version 2", ErrXLIFF)
	case !strings.HasPrefix(root.SelectAttrValue("version", ""), "2."):
		return d, fmt.Errorf("the file %w: it names no version 2", ErrXLIFF)
	}
	d.From, d.To = root.SelectAttrValue("srcLang", ""), root.SelectAttrValue("trgLang", "")
	if d.From == "" || d.To == "" {
		return d, fmt.Errorf("the file %w: it does not say from which language into which (srcLang, trgLang)", ErrXLIFF)
	}
	for _, unit := range root.FindElements(".//unit") {
		line, err := readUnit(unit)
		if err != nil {
			return d, err
		}
		d.Lines = append(d.Lines, line)
	}
	return d, nil
}

func readUnit(unit *etree.Element) (Line, error) {
	id := unit.SelectAttrValue("id", "")
	l := Line{At: quiz.Pointer("/" + strings.ReplaceAll(id, ".", "/")), Done: true}
	data := map[string]string{}
	for _, one := range unit.FindElements("originalData/data") {
		data[one.SelectAttrValue("id", "")] = one.Text()
	}
	type piece struct {
		order int
		words string
	}
	var said []piece
	whole := true
	for _, part := range unit.ChildElements() {
		segment := part.Tag == "segment"
		if !segment && part.Tag != "ignorable" {
			continue
		}
		source, err := words(part.SelectElement("source"), data, 0)
		if err != nil {
			return l, fmt.Errorf("the text %q of the file %w: %v", id, ErrXLIFF, err)
		}
		l.Words += source
		target := part.SelectElement("target")
		text, err := words(target, data, 0)
		if err != nil {
			return l, fmt.Errorf("the text %q of the file %w: %v", id, ErrXLIFF, err)
		}
		order := len(said) + 1
		switch {
		case target == nil && !segment: // what stands between segments is the same in any language
			text = source
		case text == "" && segment && strings.TrimSpace(source) != "":
			whole = false
		case target != nil:
			if n, err := strconv.Atoi(target.SelectAttrValue("order", "")); err == nil {
				order = n
			}
		}
		if segment && part.SelectAttrValue("state", initial) == initial {
			l.Done = false
		}
		said = append(said, piece{order, text})
	}
	if slices.SortStableFunc(said, func(a, b piece) int { return cmp.Compare(a.order, b.order) }); whole {
		for _, one := range said {
			l.Said += one.words
		}
	}
	l.Words, l.Said = tidy(l.Words), tidy(l.Said)
	return l, nil
}

func tidy(text string) string { return strings.TrimSpace(strings.ReplaceAll(text, "\r\n", "\n")) }

// deepest is how deep marks may lie in each other.
const deepest = 40

// words are what a source or a target says; data is what its codes stand for.
func words(e *etree.Element, data map[string]string, deep int) (string, error) {
	if e == nil {
		return "", nil
	}
	if deep > deepest {
		return "", fmt.Errorf("its marks lie too deep in each other")
	}
	var b strings.Builder
	for _, child := range e.Child {
		switch c := child.(type) {
		case *etree.CharData:
			b.WriteString(c.Data)
		case *etree.Element:
			inside, err := words(c, data, deep+1)
			if err != nil {
				return "", err
			}
			code := func(ref, instead string) string {
				if text, known := data[c.SelectAttrValue(ref, "")]; known {
					return text
				}
				return c.SelectAttrValue(instead, "")
			}
			switch c.Tag {
			case "ph", "sc", "ec":
				b.WriteString(cmp.Or(code("dataRef", "equiv"), c.SelectAttrValue("disp", "")))
			case "pc":
				b.WriteString(code("dataRefStart", "equivStart") + inside + code("dataRefEnd", "equivEnd"))
			case "cp":
				if n, err := strconv.ParseUint(c.SelectAttrValue("hex", ""), 16, 21); err == nil {
					b.WriteRune(rune(n))
				}
			case "mrk":
				b.WriteString(inside)
			}
		}
	}
	return b.String(), nil
}
