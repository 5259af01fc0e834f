package explore

import (
	"math/big"

	"omphalos/core/program"
)

// Ways returns how many different answers question i can get: of words, and of numbers
// and dates without a limit, as many as conditions tell apart; passing by is one more.
func Ways(p *program.Program, i int) *big.Int {
	q := &p.Questions[i]
	n := big.NewInt(int64(len(q.Answers)))
	all := new(big.Int)
	switch {
	case q.Form == program.OfSome:
		sets := big.NewInt(1) // of k answers: n over k
		for k := 1; k <= q.MaxPicks; k++ {
			sets.Mul(sets, big.NewInt(int64(len(q.Answers)-k+1)))
			sets.Quo(sets, big.NewInt(int64(k)))
			if k >= q.MinPicks {
				all.Add(all, sets)
			}
		}
	case q.Form == program.OfGrid:
		if q.Skippable() { // a row can be left alone
			n.Add(n, big.NewInt(1))
		}
		return all.Exp(n, big.NewInt(int64(len(q.Rows))), nil)
	case q.Form == program.OfAmount && !q.Rated():
		if all.SetInt64(q.Lattice.Count()); q.Lattice.Open() {
			all.SetInt64(int64(len(q.Stretches())))
		}
	default:
		return all.SetInt64(int64(len(q.Values())))
	}
	if q.Skippable() || all.Sign() == 0 {
		all.Add(all, big.NewInt(1))
	}
	return all
}
