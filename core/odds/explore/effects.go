package explore

import (
	"math/big"

	"omphalos/core/decimal"
	"omphalos/core/program"
)

// An Effect is what one or several answers to a question do.
type Effect struct {
	Share float64       // of those who see the question
	Ways  *big.Int      // how many different answers have this effect
	Value program.Value // one of them
	Own   int           // the answer whose then leads on, or −1
	Each  []Answered    // the answers that have it, where they are listed one by one: of choices, ratings and words

	delta Vector
	fed   uint64
	adds  []decimal.Decimal
	class int
}

// Answered is one of the answers that have an effect.
type Answered struct {
	Value program.Value
	Share float64
}

// Effects returns what the answers to question i do, merged.
func (e *Explorer) Effects(i int) []Effect { return e.effects[i] }

// merge puts pieces together that do the same, as effects on the fields.
func (e *Explorer) merge(i int, pieces []piece) []Effect {
	type same struct {
		delta      Vector
		class, own int
		fed        uint64
	}
	at := make(map[same]int, len(pieces))
	merged := make([]Effect, 0, len(pieces))
	for k := range pieces {
		p := &pieces[k]
		f := Effect{Share: p.share, Value: p.value, Own: p.own, Ways: p.ways, fed: p.fed, adds: p.adds, class: p.class}
		for n := range e.fields {
			e.fields[n].add(&f.delta, e.amount(&e.fields[n], i, p)/e.fields[n].unit)
		}
		key := same{f.delta, f.class, f.Own, f.fed}
		m, found := at[key]
		if !found {
			m = len(merged)
			at[key] = m
			merged = append(merged, f)
		}
		if e.p.Questions[i].Listed() {
			merged[m].Each = append(merged[m].Each, Answered{p.value, p.share})
		}
		if !found {
			continue
		}
		merged[m].Share += f.Share
		merged[m].Ways = new(big.Int).Add(merged[m].Ways, f.Ways)
	}
	return merged
}
