package explore

import (
	"encoding/binary"
	"slices"
	"strconv"

	"omphalos/core/decimal"
	"omphalos/core/expect"
	"omphalos/core/program"
	"omphalos/core/quiz"
)

// several goes through the answers one by one: each is picked or not.
func (e *Explorer) several(i int, d *expect.Design) ([]piece, error) {
	q, alive := &e.p.Questions[i], e.alive(i)
	asked := make([]bool, len(q.Answers))
	for _, c := range e.clauses[i] {
		for _, o := range c.Options {
			asked[o] = true
		}
	}
	left, work := []piece{{share: 1, ways: oneWay, own: program.None, adds: make([]decimal.Decimal, len(e.p.Scales))}}, 0
	var key []byte
	for o, a := range q.Answers {
		var h heap
		for _, p := range left {
			for _, pick := range []bool{false, true} {
				next, adds := p, []program.Addition(nil)
				next.share *= 1 - d.Chances[o]
				if pick {
					if len(p.value.Picks) == q.MaxPicks {
						continue
					}
					next.share = p.share * d.Chances[o]
					next.value.Picks = append(slices.Clone(p.value.Picks), int16(o))
					adds = a.Adds
					if a.Then != nil && p.own == program.None {
						next.own = o
					}
				}
				key = e.part(key[:0], &next, adds, alive)
				key = binary.LittleEndian.AppendUint16(key, uint16(len(next.value.Picks)))
				key = binary.LittleEndian.AppendUint16(key, uint16(next.own+1))
				for _, picked := range next.value.Picks {
					if asked[picked] {
						key = binary.LittleEndian.AppendUint16(key, uint16(picked))
					}
				}
				h.put(key, next)
			}
		}
		left = h.list
		if work += len(left); len(left) > MostPieces || work > mostWork {
			return nil, ErrWide
		}
	}
	left = slices.DeleteFunc(left, func(p piece) bool {
		n := len(p.value.Picks)
		return n == 0 && !q.Skippable() || n > 0 && n < q.MinPicks
	})
	return finished(left, d, func(v *program.Value) int { return len(v.Picks) }), nil
}

// finished turns products of chances into shares; count tells how many are picked. A
// set that can be given but that the design never draws has a share of 0.
func finished(left []piece, d *expect.Design, count func(*program.Value) int) []piece {
	sizes := d.Sizes()[0]
	factor := d.Some(sizes)
	for k := range left {
		p := &left[k]
		p.value.State = program.Given
		switch n := count(&p.value); {
		case n == 0:
			p.value, p.share = program.Value{State: program.Skipped}, d.ShareOfNone(sizes)
		case d.Allowed(n):
			p.share *= factor
		default:
			p.share = 0
		}
	}
	if len(left) == 0 { // a draft without enough answers
		return []piece{{value: program.Value{State: program.Skipped}, share: 1, ways: oneWay}}
	}
	return left
}

// grid goes through the rows one by one: each is answered by a column, or left alone
// where that is allowed.
func (e *Explorer) grid(i int, assumed *expect.Frequencies) ([]piece, error) {
	q, alive, d := &e.p.Questions[i], e.alive(i), &assumed.Picks
	if len(q.Rows) == 0 || len(q.Answers) == 0 {
		return []piece{{value: program.Value{State: program.Skipped}, share: 1, ways: oneWay}}, nil
	}
	left, work := []piece{{share: 1, ways: oneWay, adds: make([]decimal.Decimal, len(e.p.Scales))}}, 0
	var key []byte
	for r, columns := range assumed.Rows {
		var h heap
		for _, p := range left {
			for o := -1; o < len(columns); o++ {
				if o < 0 && !q.Skippable() {
					continue
				}
				next, adds := p, []program.Addition(nil)
				next.value.Picks = append(slices.Clone(p.value.Picks), int16(o))
				if o >= 0 {
					next.share *= d.Chances[r] * columns[o]
					next.value.State = program.Given // some row is answered
					adds = q.Rows[r].Adds[o]
				} else {
					next.share *= 1 - d.Chances[r]
				}
				key = append(e.part(key[:0], &next, adds, alive), byte(next.value.State))
				key = e.counted(key, i, next.value.Picks)
				if !d.Allowed(1) || !d.Allowed(len(q.Rows)) {
					key = append(key, byte(answered(&next.value)))
				}
				for _, c := range e.clauses[i] {
					if c.Row > r {
						continue
					}
					held := c.WithoutAnswer()
					if column := next.value.Picks[c.Row]; column >= 0 {
						held = c.Option(column)
					}
					key = strconv.AppendBool(key, held)
				}
				h.put(key, next)
			}
		}
		left = h.list
		if work += len(left) * len(columns); len(left) > MostPieces || work > mostWork {
			return nil, ErrWide
		}
	}
	return finished(left, d, answered), nil
}

// answered returns how many rows of a grid are answered.
func answered(v *program.Value) (rows int) {
	for _, o := range v.Picks {
		if o >= 0 {
			rows++
		}
	}
	return rows
}

// counted writes how many rows of a grid count for each mean that something asks for.
func (e *Explorer) counted(key []byte, i int, picks []int16) []byte {
	if !e.p.Averages {
		return key
	}
	for s, until := range e.until {
		if e.p.Scales[s].Method != quiz.Mean || until < before(i) {
			continue
		}
		n := 0
		for r, o := range picks {
			if o >= 0 && slices.Contains(e.p.Questions[i].Rows[r].Feeds, s) {
				n++
			}
		}
		key = binary.LittleEndian.AppendUint16(key, uint16(n))
	}
	return key
}
