package explore

import (
	"encoding/binary"
	"math/big"
	"slices"

	"omphalos/core/decimal"
	"omphalos/core/program"
	"omphalos/core/quiz"
)

// A piece is an Effect before it is known how sums are held.
type piece struct {
	value  program.Value
	share  float64
	ways   *big.Int
	own    int
	fed    uint64
	adds   []decimal.Decimal // by scale; 0 where nothing asks for it any more
	counts []int64
	class  int
}

// oneWay is how many ways there are to give most answers. It is never changed.
var oneWay = big.NewInt(1)

// MostPieces bounds how many different answers to one question are told apart.
const MostPieces = program.MostValues + 1

// mostWork bounds how many steps it takes to put the answers to one question together.
const mostWork = 1 << 16

// pieces works out what the answers to question i do. Answers of which nothing can
// tell the difference are one piece.
func (e *Explorer) pieces(i int) ([]piece, error) {
	q, assumed := &e.p.Questions[i], &e.assumed.Each[i]
	e.signed[i] = map[string]int{}
	var list []piece
	var err error
	known, given := e.assumed.Known(i)
	switch {
	case given:
		list = []piece{{value: known, share: 1, ways: oneWay}}
	case q.Form == program.OfSome:
		list, err = e.several(i, &assumed.Picks)
	case q.Form == program.OfGrid:
		list, err = e.grid(i, assumed)
	case q.Form == program.OfAmount && !q.Rated():
		list, err = e.numbersOf(i)
	default:
		if q.Form == program.OfNothing && q.Kind != quiz.Interlude && e.asked[i] >= before(i) && !q.Wordings.Known(q) {
			return nil, ErrWide
		}
		list = make([]piece, 0, len(assumed.Values))
		for k, v := range assumed.Values {
			list = append(list, piece{value: v, share: assumed.Shares[k], ways: oneWay})
		}
	}
	if err != nil || len(e.fed) > 64 {
		return nil, ErrWide
	}
	list = slices.DeleteFunc(list, func(p piece) bool { return !e.assumed.Follows(e.p, i, p.value) })
	for k := range list {
		e.measure(i, &list[k])
	}
	return list, nil
}

// A heap gathers partial answers that nothing can tell apart.
type heap struct {
	at   map[string]int
	list []piece
}

func (h *heap) put(key []byte, p piece) {
	if h.at == nil {
		h.at = map[string]int{}
	}
	if i, known := h.at[string(key)]; known {
		h.list[i].share += p.share
		h.list[i].ways = new(big.Int).Add(h.list[i].ways, p.ways)
		return
	}
	h.at[string(key)] = len(h.list)
	h.list = append(h.list, p)
}

// alive returns the scales that something asks for after question i is answered.
func (e *Explorer) alive(i int) []int {
	var list []int
	for s, until := range e.until {
		if until >= before(i) {
			list = append(list, s)
		}
	}
	return list
}

// part adds to what a partial answer comes to by one more choice, and writes what
// can be told of it.
func (e *Explorer) part(key []byte, p *piece, adds []program.Addition, alive []int) []byte {
	p.adds = slices.Clone(p.adds)
	for _, a := range adds {
		if e.until[a.Scale] < 0 {
			continue
		}
		p.adds[a.Scale] = p.adds[a.Scale].Add(a.Amount)
		if slot := e.fedSlots[a.Scale]; slot != program.None && a.Amount != 0 {
			p.fed |= 1 << slot
		}
	}
	for _, s := range alive {
		key = binary.LittleEndian.AppendUint64(key, uint64(p.adds[s]))
	}
	return binary.LittleEndian.AppendUint64(key, p.fed)
}
