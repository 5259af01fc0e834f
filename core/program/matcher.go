package program

import (
	"slices"
	"strings"
)

// A matcher tells which of some words stand in a text.
type matcher struct {
	words    []string
	alphabet map[rune]int
	runes    []rune
	next     [][]int  // per node and letter
	found    []uint64 // per node: the words that end there
}

func (m *matcher) letter(r rune) int {
	i, known := m.alphabet[r]
	if !known {
		i = len(m.runes)
		m.alphabet[r], m.runes = i, append(m.runes, r)
	}
	return i
}

// add tells false where there are too many words.
func (m *matcher) add(word string) bool {
	if slices.Contains(m.words, word) {
		return true
	}
	if len(m.words) == 64 {
		return false
	}
	m.words = append(m.words, word)
	for _, r := range word {
		m.letter(r)
	}
	return true
}

func (m *matcher) build() {
	node := func() int {
		row := make([]int, len(m.runes))
		for i := range row {
			row[i] = -1
		}
		m.next, m.found = append(m.next, row), append(m.found, 0)
		return len(m.next) - 1
	}
	node()
	for w, word := range m.words {
		at := 0
		for _, r := range word {
			l := m.alphabet[r]
			if m.next[at][l] < 0 {
				to := node()
				m.next[at][l] = to
			}
			at = m.next[at][l]
		}
		m.found[at] |= 1 << w
	}
	fail := make([]int, len(m.next))
	var queue []int
	for l, to := range m.next[0] {
		if to < 0 {
			m.next[0][l] = 0
			continue
		}
		queue = append(queue, to)
	}
	for len(queue) > 0 {
		at := queue[0]
		queue = queue[1:]
		m.found[at] |= m.found[fail[at]]
		for l, to := range m.next[at] {
			if to < 0 {
				m.next[at][l] = m.next[fail[at]][l]
				continue
			}
			fail[to] = m.next[fail[at]][l]
			queue = append(queue, to)
		}
	}
}

// search goes through all texts of a tongue, the shorter first, as far as what has
// been found in them differs.
func (m *matcher) search(t *tongue, other rune) (list []string, all bool) {
	m.letter('\x02')
	m.letter('\x03')
	m.build()
	begin, end := m.alphabet['\x02'], m.alphabet['\x03']
	type state struct {
		tongue, node int
		found        uint64
	}
	type step struct {
		state state
		from  int
		r     rune
	}
	start := state{0, m.next[0][begin], m.found[m.next[0][begin]]}
	steps := []step{{start, -1, 0}}
	seen := map[state]bool{start: true}
	ended := map[uint64]bool{}
	text := func(at int) string {
		var runes []rune
		for ; steps[at].from >= 0; at = steps[at].from {
			runes = append(runes, steps[at].r)
		}
		slices.Reverse(runes)
		return string(runes)
	}
	runes := m.runes
	if other != 0 {
		runes = append([]rune{other}, runes...)
	}
	layer, length := 1, 0 // how many steps are of the length that is gone through
	for at := 0; at < len(steps); at++ {
		if at == layer {
			layer, length = len(steps), length+1
		}
		s := steps[at].state
		if length > 0 && t.ends(s.tongue) {
			last := m.next[s.node][end]
			found, short := s.found|m.found[last], t.least-length
			if short > 0 {
				found = s.found // what is put before it keeps it from being a word as a whole
			}
			if !ended[found] && (short <= 0 || other != 0) {
				ended[found] = true
				list = append(list, strings.Repeat(string(other), max(short, 0))+text(at))
			}
		}
		if length == t.most {
			continue
		}
		for _, r := range runes {
			to := state{t.step(s.tongue, r), 0, s.found}
			if to.tongue < 0 || r == '\x02' || r == '\x03' {
				continue
			}
			if l, known := m.alphabet[r]; known {
				to.node = m.next[s.node][l]
				to.found |= m.found[to.node]
			}
			if !seen[to] {
				seen[to] = true
				steps = append(steps, step{to, at, r})
			}
		}
		if len(steps) > mostTextStates {
			return list, false
		}
	}
	return list, true
}
