package decimal

import (
	"errors"
	"strings"
	"unicode"
)

// ErrDoubt says that a text is read as two different numbers.
var ErrDoubt = errors.New("can be read in two ways")

// Read reads a number as people type it: with a sign before it, with blanks, apostrophes, points
// or commas between thousands, and decimals behind a comma where comma says that a language
// writes them so, and else behind a point. The other sign is taken for decimals where it can't
// stand between thousands: "2,5" is 2.5 in English, too. The error is ErrDoubt where decimals
// end in a nought and are three, as those of "12.000": then either is returned, 12 and 12000.
func Read(text string, comma bool) (d Decimal, either [2]Decimal, err error) {
	own, other := ".", ","
	if comma {
		own, other = other, own
	}
	plain := strings.Map(func(r rune) rune {
		switch {
		case unicode.IsSpace(r) || r == '\'' || r == '’':
			return -1
		case r == '−':
			return '-'
		}
		return r
	}, text)
	plain = strings.TrimPrefix(plain, "+")
	owns, others := strings.Count(plain, own), strings.Count(plain, other)
	decimals, thousands := own, other
	switch {
	case owns > 1 && others > 1:
		return 0, either, ErrSyntax
	case owns > 1, owns == 1 && others == 1 && strings.Index(plain, own) < strings.Index(plain, other):
		decimals, thousands = other, own
	case others == 1 && owns == 0 && !threes(plain, other):
		decimals, thousands = other, own
	}
	if !grouped(plain, thousands, decimals) {
		return 0, either, ErrSyntax
	}
	if owns == 1 && others == 0 && threes(plain, own) && strings.HasSuffix(plain, "0") {
		whole, _ := Parse(strings.ReplaceAll(plain, own, ""))
		part, err := Parse(strings.Replace(plain, own, ".", 1))
		if err == nil {
			err = ErrDoubt
		}
		return part, [2]Decimal{part, whole}, err
	}
	d, err = Parse(strings.Replace(strings.ReplaceAll(plain, thousands, ""), decimals, ".", 1))
	return d, either, err
}

// threes tells whether a sign can stand between thousands: three digits follow, and one to three
// stand before, no nought first.
func threes(text, sign string) bool {
	head, tail, _ := strings.Cut(strings.TrimPrefix(text, "-"), sign)
	return len(tail) == 3 && len(head) >= 1 && len(head) <= 3 && head[0] != '0'
}

// grouped tells whether a sign stands between thousands alone.
func grouped(text, sign, decimals string) bool {
	whole, _, _ := strings.Cut(strings.TrimPrefix(text, "-"), decimals)
	groups := strings.Split(whole, sign)
	for i, group := range groups {
		if len(groups) > 1 && (i > 0 && len(group) != 3 || len(group) > 3 || group == "") {
			return false
		}
	}
	return true
}
