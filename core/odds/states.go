package odds

import (
	"math/big"

	"omphalos/core/odds/explore"
	"omphalos/core/program"
)

// A crowd is the passages before one question that have the same Memory, by what
// they have added up.
type crowd struct {
	move    explore.Move // how they came there, or ended
	vectors []explore.Vector
	shares  []float64
	ways    []*big.Int // nil where passages are not counted
	steps   []int32    // nil where no witness is wanted: the step that first led there
	slots   []int32    // a hash table of positions + 1
}

// share returns the share of all in the crowd.
func (c *crowd) share() float64 {
	sum := 0.0
	for _, s := range c.shares {
		sum += s
	}
	return sum
}

func hash(v explore.Vector) uint64 {
	h := (v[0] ^ v[1]*0x9e3779b97f4a7c15) * 0xff51afd7ed558ccd
	return h ^ h>>32
}

// put adds passages and returns their position, and whether they are the first there.
func (c *crowd) put(v explore.Vector, share float64, ways *big.Int) (at int, first bool) {
	if 2*len(c.vectors) >= len(c.slots) {
		c.grow()
	}
	mask := uint64(len(c.slots) - 1)
	for h := hash(v) & mask; ; h = (h + 1) & mask {
		slot := c.slots[h]
		if slot == 0 {
			c.slots[h] = int32(len(c.vectors) + 1)
			c.vectors, c.shares = append(c.vectors, v), append(c.shares, share)
			if ways != nil {
				c.ways = append(c.ways, new(big.Int).Set(ways))
			}
			return len(c.vectors) - 1, true
		}
		if at := int(slot - 1); c.vectors[at] == v {
			c.shares[at] += share
			if ways != nil {
				c.ways[at].Add(c.ways[at], ways)
			}
			return at, false
		}
	}
}

func (c *crowd) grow() {
	c.slots = make([]int32, max(16, 2*len(c.slots)))
	mask := uint64(len(c.slots) - 1)
	for i, v := range c.vectors {
		h := hash(v) & mask
		for c.slots[h] != 0 {
			h = (h + 1) & mask
		}
		c.slots[h] = int32(i + 1)
	}
}

// A place gathers the crowds before one question, or at the end.
type place struct {
	at     map[key]int
	crowds []*crowd
}

// A key tells crowds of a place apart.
type key struct {
	memory  explore.Memory
	end     program.End
	outcome int
}

// crowd returns the crowd of those who move like that, at a place.
func (r *walked) crowd(at int, m explore.Move) *crowd {
	p, k := &r.places[at], key{m.Memory, m.End, m.Outcome}
	if i, found := p.at[k]; found {
		return p.crowds[i]
	}
	if p.at == nil {
		p.at = map[key]int{}
	}
	p.at[k] = len(p.crowds)
	c := new(crowd)
	if n := len(r.spare); n > 0 {
		c, r.spare = r.spare[n-1], r.spare[:n-1]
	}
	c.move = m
	p.crowds = append(p.crowds, c)
	return c
}

// leave gives up what has been led on from a place, for others to come.
func (r *walked) leave(at int) {
	for _, c := range r.places[at].crowds {
		clear(c.slots)
		*c = crowd{vectors: c.vectors[:0], shares: c.shares[:0], ways: c.ways[:0], slots: c.slots}
		r.spare = append(r.spare, c)
	}
	r.places[at] = place{}
}

func (p *place) states() int {
	n := 0
	for _, c := range p.crowds {
		n += len(c.vectors)
	}
	return n
}
