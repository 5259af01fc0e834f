package formula

// A size bounds how many digits the exact value of a part of a formula can have: bits
// of the fraction's top, and its bottom as a power of a million and bits beside that.
type size struct{ top, tens, rest int }

// mostBits bounds what computing a formula costs.
const mostBits = 1024

const millionBits = 20

func (a size) bottom() int { return a.tens*millionBits + a.rest }

func (a size) bits() int { return a.top + a.bottom() }

// plus is the size of a sum: decimals share a bottom, other fractions multiply theirs.
func (a size) plus(b size) size {
	tens := max(a.tens, b.tens)
	return size{
		top:  max(a.top+(tens-a.tens)*millionBits+b.rest, b.top+(tens-b.tens)*millionBits+a.rest) + 1,
		tens: tens, rest: a.rest + b.rest,
	}
}

func (a size) times(b size) size { return size{a.top + b.top, a.tens + b.tens, a.rest + b.rest} }

func (a size) inverse() size { return size{top: a.bottom(), rest: a.top} }

func (a size) or(b size) size {
	return size{max(a.top, b.top), max(a.tens, b.tens), max(a.rest, b.rest)}
}
