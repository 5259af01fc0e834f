package explore

import (
	"omphalos/core/program"
)

// A Memory is what is remembered of earlier answers, and of the visitor, where
// something later asks for it. Equal Memories are the same.
type Memory string

// memorize returns what is remembered before question i.
func (e *Explorer) memorize(i int) Memory {
	b := e.memory[:0]
	if len(e.strangers) > 1 {
		b = append(b, byte(e.stranger), byte(e.stranger>>8))
	}
	for _, fed := range e.fed {
		if fed {
			b = append(b, 1)
		} else {
			b = append(b, 0)
		}
	}
	for _, k := range e.kept {
		if k >= i || !e.w.Seen[k] || e.asked[k] < before(i) {
			b = append(b, 0, 0)
			continue
		}
		c := e.class[k] + 1
		b = append(b, byte(c), byte(c>>8))
	}
	e.memory = b
	return Memory(b)
}

// recall puts a Memory into the walk.
func (e *Explorer) recall(m Memory) {
	w, at := &e.w, 0
	if len(e.strangers) > 1 {
		e.stranger = int(m[0]) | int(m[1])<<8
		at = 2
	}
	w.Visitor, w.Outcome = e.strangers[e.stranger], program.None
	w.Moved()
	for i := range e.fed {
		e.fed[i] = m[at] == 1
		at++
	}
	clear(w.Seen)
	for _, k := range e.kept {
		if c := int(m[at]) | int(m[at+1])<<8; c > 0 {
			w.Seen[k], w.Answers[k], e.class[k] = true, e.classes[k][c-1], c-1
		}
		at += 2
	}
}

// Visitor returns the visitor of passages with a Memory.
func (e *Explorer) Visitor(m Memory) *program.Visitor {
	if len(e.strangers) > 1 {
		return e.strangers[int(m[0])|int(m[1])<<8]
	}
	return e.strangers[0]
}
