package expect

// A Design is how sets of several picks are drawn: of all sets of an allowed size,
// each with a probability in proportion to the product of its members' odds. Given how
// likely each is to be picked, it is the distribution that assumes nothing more (of
// maximum entropy): conditional Poisson sampling, Chen, Dempster & Liu, Weighted finite
// population sampling to maximize entropy, Biometrika 81 (1994) 457–469.
type Design struct {
	Chances     []float64 // per member: odds/(1 + odds), which is how likely it is where any number may be picked
	least, most int       // how many are picked
	mayBeNone   bool      // or none
	none        float64   // the share of none where it is given, else negative
}

// Allowed tells whether so many may be picked.
func (d *Design) Allowed(n int) bool {
	return n >= d.least && n <= d.most || n == 0 && d.mayBeNone
}

// longer returns the chances of 0, 1, … up to most picks with one member more.
func longer(sizes []float64, chance float64, most int) []float64 {
	next := make([]float64, min(len(sizes)+1, most+2))
	for k, share := range sizes {
		next[k] += share * (1 - chance)
		if k+1 < len(next) {
			next[k+1] += share * chance
		}
	}
	return next
}

// Sizes returns, per member, the chances of 0, 1, … picks among it and those behind it,
// whatever is allowed.
func (d *Design) Sizes() [][]float64 {
	list := make([][]float64, len(d.Chances)+1)
	list[len(d.Chances)] = []float64{1}
	for i := len(d.Chances) - 1; i >= 0; i-- {
		list[i] = longer(list[i+1], d.Chances[i], d.most)
	}
	return list
}

// fewer returns the chances of fewer than 0, 1, … picks.
func fewer(sizes []float64) []float64 {
	sums := make([]float64, len(sizes)+1)
	for k, share := range sizes {
		sums[k+1] = sums[k] + share
	}
	return sums
}

// within returns the chance of from to to picks, both included, from that of fewer.
func within(fewer []float64, from, to int) float64 {
	from, to = max(from, 0), min(to, len(fewer)-2)
	if to < from {
		return 0
	}
	return fewer[to+1] - fewer[from]
}

// both returns how likely an allowed number is picked with one member, and without it,
// from the chances of picks before it and behind it.
func (d *Design) both(before, after []float64) (with, without float64) {
	sums := fewer(after)
	for k, share := range before {
		with += share * within(sums, d.least-k-1, d.most-k-1)
		without += share * within(sums, d.least-k, d.most-k)
	}
	if d.mayBeNone {
		without += before[0] * after[0]
	}
	return with, without
}

// Some is the factor from products of chances to shares of sets that are not empty.
func (d *Design) Some(sizes []float64) float64 {
	all := 0.0
	for k, share := range sizes {
		if d.Allowed(k) && (k > 0 || d.none < 0) {
			all += share
		}
	}
	switch {
	case all <= 0:
		return 0
	case d.none >= 0:
		return (1 - d.none) / all
	}
	return 1 / all
}

// ShareOfNone returns the share of the empty set.
func (d *Design) ShareOfNone(sizes []float64) float64 {
	switch {
	case !d.mayBeNone:
		return 0
	case d.none >= 0:
		return d.none
	}
	return sizes[0] * d.Some(sizes)
}

// picked returns how likely each member is to be among those picked, and none at all.
func (d *Design) picked() (list []float64, none float64) {
	after := d.Sizes()
	factor := d.Some(after[0])
	only := *d
	if d.none >= 0 {
		only.mayBeNone = false
	}
	before := []float64{1}
	for i, c := range d.Chances {
		with, _ := only.both(before, after[i+1])
		list = append(list, c*with*factor)
		before = longer(before, c, d.most)
	}
	return list, d.ShareOfNone(after[0])
}
