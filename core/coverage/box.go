package coverage

import (
	"slices"
)

// mostBoxes bounds the work.
const mostBoxes = 4096

// A box is a set of cases per column.
type box []uint64

// meet returns what two boxes share, nil for nothing.
func meet(a, b box) box {
	c := make(box, len(a))
	for i := range a {
		if c[i] = a[i] & b[i]; c[i] == 0 {
			return nil
		}
	}
	return c
}

// without takes boxes away from disjoint boxes; what is left is disjoint.
func without(list, away []box) []box {
	for _, b := range away {
		var left []box
		for _, a := range list {
			left = append(left, minus(a, b)...)
		}
		list = left
	}
	return list
}

// minus returns a without b, in disjoint boxes.
func minus(a, b box) []box {
	if meet(a, b) == nil {
		return []box{a}
	}
	var left []box
	rest := slices.Clone(a)
	for i := range a {
		if outside := rest[i] &^ b[i]; outside != 0 {
			piece := slices.Clone(rest)
			piece[i] = outside
			left = append(left, piece)
			rest[i] &= b[i]
		}
	}
	return left
}
