package ui

import (
	"bytes"
	"html/template"
	"text/template/parse"
	"unicode"
)

// lean takes out of templates what is laid out for those who read them, so that pages hold
// what the words and the tags say and no more. A break between words or tags stays one; it
// goes where an element has just begun or is about to end, and in the value of an attribute.
func lean(t *template.Template) {
	for _, one := range t.Templates() {
		if one.Tree != nil {
			place{}.list(one.Tree.Root)
			trimEnds(one.Tree.Root, false)
		}
	}
}

// A place is where in a page a piece of a template stands.
type place struct {
	tag   bool   // inside < and >
	quote byte   // that ends the value of an attribute, 0 outside
	name  string // of the tag, while inside
	slash bool   // the tag ends as it begins, as <br/> does
	begun bool   // an element has just begun, and nothing stands in it yet
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
		case *parse.ActionNode:
			p.begun = p.begun && len(n.Pipe.Decl) > 0
		default:
			p.begun = false
		}
	}
	return p
}

func (p place) branches(list, others *parse.ListNode) place {
	b := p.list(others)
	a := p.list(list)
	a.begun = a.begun && b.begun
	return a
}

// text makes one text lean, and returns the place behind it.
func (p place) text(text []byte) ([]byte, place) {
	var out []byte
	for len(text) > 0 {
		blank := text[:len(text)-len(bytes.TrimLeftFunc(text, unicode.IsSpace))]
		rest := text[len(blank):]
		switch {
		case len(blank) == 0:
			p = p.after(text)
			out, text = append(out, text[0]), text[1:]
			continue
		case !bytes.ContainsRune(blank, '\n'):
			out = append(out, blank...)
		case p.quote != 0:
			if len(out) > 0 && len(rest) > 0 { // between words of a value
				out = append(out, ' ')
			}
		case p.tag:
			out = append(out, ' ')
		case !p.begun && !bytes.HasPrefix(rest, []byte("</")):
			out = append(out, '\n')
		}
		text = rest
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
		p.begun = false
		if c == '<' && len(text) > 1 && text[1] != '!' && text[1] > ' ' {
			p.tag, p.slash = true, text[1] == '/'
			p.name, _, _ = cutName(text[1:])
		}
	case c == '"' || c == '\'':
		p.quote = c
	case c == '/':
		p.slash = true
	case c == '>':
		p.tag = false
		p.begun = !p.slash && p.name != "textarea" && p.name != "pre" // there, the first break goes by itself
	default:
		p.slash = p.slash && (p.name == "" || text[0] == ' ')
	}
	return p
}

// cutName returns the name at the beginning of a tag; "" of a closing one.
func cutName(tag []byte) (name string, rest []byte, found bool) {
	end := bytes.IndexFunc(tag, func(r rune) bool { return !unicode.IsLetter(r) && !unicode.IsDigit(r) && r != '-' })
	if end < 0 {
		return string(tag), nil, len(tag) > 0
	}
	return string(tag[:end]), tag[end:], end > 0
}

// trimEnds takes away the breaks before the end of an element, be there ends of actions
// between them. Closing tells whether a closing tag follows the list; it returns whether
// the list begins with one.
func trimEnds(list *parse.ListNode, closing bool) bool {
	if list == nil {
		return closing
	}
	for i := len(list.Nodes) - 1; i >= 0; i-- {
		switch n := list.Nodes[i].(type) {
		case *parse.TextNode:
			trimmed := bytes.TrimRightFunc(n.Text, unicode.IsSpace)
			if closing && bytes.ContainsRune(n.Text[len(trimmed):], '\n') {
				n.Text = trimmed
			}
			if len(trimmed) > 0 {
				closing = bytes.HasPrefix(bytes.TrimLeftFunc(trimmed, unicode.IsSpace), []byte("</"))
			}
		case *parse.IfNode:
			closing = trimBranches(n.List, n.ElseList, closing)
		case *parse.WithNode:
			closing = trimBranches(n.List, n.ElseList, closing)
		case *parse.RangeNode: // what follows an item may be another one
			closing = trimBranches(n.List, n.ElseList, false) && closing
		case *parse.ActionNode:
			closing = closing && len(n.Pipe.Decl) > 0
		default:
			closing = false
		}
	}
	return closing
}

func trimBranches(list, others *parse.ListNode, closing bool) bool {
	a := trimEnds(list, closing)
	b := trimEnds(others, closing)
	return a && b
}
