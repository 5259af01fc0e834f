package ui

import (
	"bytes"
	"html/template"
	"text/template/parse"
	"unicode"
)

// lean takes the indentation out of what templates write: it is for those who read the
// templates. Between tags and in words, a break stays one; in the value of an attribute
// there is none.
func lean(t *template.Template) {
	for _, one := range t.Templates() {
		if one.Tree != nil {
			place{}.list(one.Tree.Root)
		}
	}
}

// A place is where in a page a piece of a template stands.
type place struct {
	tag   bool // inside < and >
	quote byte // that ends the value of an attribute, 0 outside
}

// list makes the texts of a list lean and returns the place behind it. Branches of an
// action begin at the same place, and end at the same.
func (p place) list(list *parse.ListNode) place {
	if list == nil {
		return p
	}
	for _, node := range list.Nodes {
		switch n := node.(type) {
		case *parse.TextNode:
			n.Text, p = p.text(n.Text)
		case *parse.IfNode:
			p = p.branches(n.List, n.ElseList)
		case *parse.WithNode:
			p = p.branches(n.List, n.ElseList)
		case *parse.RangeNode:
			p = p.branches(n.List, n.ElseList)
		}
	}
	return p
}

func (p place) branches(list, others *parse.ListNode) place {
	p.list(others)
	return p.list(list)
}

// text makes one text lean, and returns the place behind it.
func (p place) text(text []byte) ([]byte, place) {
	var out []byte
	for len(text) > 0 {
		blank := text[:len(text)-len(bytes.TrimLeftFunc(text, unicode.IsSpace))]
		switch {
		case len(blank) == 0:
			p = p.after(text)
			out, text = append(out, text[0]), text[1:]
			continue
		case !bytes.ContainsRune(blank, '\n'):
			out = append(out, blank...)
		case p.quote == 0:
			out = append(out, '\n')
		case len(out) > 0 && len(blank) < len(text): // between words of a value
			out = append(out, ' ')
		}
		text = text[len(blank):]
	}
	return out, p
}

// after returns the place behind the first character of a text.
func (p place) after(text []byte) place {
	c := text[0]
	switch {
	case p.quote != 0:
		if c == p.quote {
			p.quote = 0
		}
	case !p.tag:
		p.tag = c == '<' && len(text) > 1 && (text[1] >= 'a' && text[1] <= 'z' || text[1] >= 'A' && text[1] <= 'Z')
	case c == '"' || c == '\'':
		p.quote = c
	case c == '>':
		p.tag = false
	}
	return p
}
