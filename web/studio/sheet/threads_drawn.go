package sheet

import (
	"cmp"
	"slices"

	"omphalos/core/quiz"
)

type pieceShape string

const (
	passing pieceShape = "pass" // from top to bottom
	leaving pieceShape = "out"  // from the text into the lane
	coming  pieceShape = "in"   // from the lane to the text
	falling pieceShape = "fall" // from the middle of the lane to the bottom
	ending  pieceShape = "end"  // from the top to the middle of the lane
	parting pieceShape = "fork" // from a knot into a lane beside it
)

const (
	marginWidth = 112
	trunkX      = 92 // the lane of the ordinary way
	laneStep    = 13
)

// allot gives each thread off the trunk the nearest lane that is free over all
// its rows; short threads first, so that long ones run outside.
func (m *margin) allot() {
	var off []*thread
	for i := range m.threads {
		if !m.threads[i].trunk {
			off = append(off, &m.threads[i])
		}
	}
	slices.SortStableFunc(off, func(a, b *thread) int {
		return cmp.Or(cmp.Compare(a.to-a.from, b.to-b.from), cmp.Compare(b.from, a.from))
	})
	for i, t := range off {
		for t.lane = 1; ; t.lane++ {
			free := true
			for _, other := range off[:i] {
				if other.lane == t.lane && other.from < t.to && t.from < other.to {
					free = false
				}
			}
			if free {
				break
			}
		}
	}
}

func (t *thread) x() float64 {
	if t.trunk {
		return trunkX
	}
	return max(trunkX-laneStep*float64(t.lane), 4)
}

// strokeWidth is the thickness of a thread in pixels: 1.25 for nobody, 7 for all.
func strokeWidth(share float64) float64 { return 1.25 + 5.75*share }

func (m *margin) draw() map[quiz.Pointer]threadRow {
	rows := make([]threadRow, len(m.names))
	for i := range rows {
		rows[i] = threadRow{Knot: m.knots[i], KnotX: trunkX}
	}
	for _, t := range m.threads {
		for i := t.from; i <= t.to; i++ {
			shape := passing
			switch {
			case i == t.from && t.straight && t.trunk:
				shape = falling
			case i == t.from && t.straight:
				shape = parting
			case i == t.from:
				shape = leaving
			case i == t.to && t.trunk:
				shape = ending
			case i == t.to:
				shape = coming
			case t.trunk && !t.straight:
				continue // the trunk itself passes here
			}
			if i == t.to && t.trunk && !t.straight {
				continue
			}
			p := piece{Shape: shape, X: t.x(), Width: strokeWidth(t.share), Class: t.class, Name: t.name}
			if !t.trunk {
				p.End = m.names[t.to]
			}
			rows[i].Pieces = append(rows[i].Pieces, p)
		}
	}
	by := make(map[quiz.Pointer]threadRow, len(rows))
	for i, name := range m.names {
		by[name] = rows[i]
	}
	return by
}

// Under is the path margin beside the rows that follow one without a place of
// their own on the way: what goes on from it, passing.
func (r threadRow) Under() threadRow { return r.going(falling, leaving, parting) }

// above is the same for the rows before one: what comes to it, passing.
func (r threadRow) above() threadRow { return r.going(ending, coming) }

func (r threadRow) going(shapes ...pieceShape) threadRow {
	var to threadRow
	for _, p := range r.Pieces {
		if p.Shape == passing || slices.Contains(shapes, p.Shape) {
			p.Shape = passing
			to.Pieces = append(to.Pieces, p)
		}
	}
	return to
}
