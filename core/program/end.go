package program

import (
	"encoding/binary"
)

// A Finish is how passages end. Passages of equal Finishes end alike.
type Finish struct {
	End     End
	Step    int // position of the deciding step, or Otherwise
	Part    int // of the step: the row, the band (0 the lowest) or the contender
	Outcome int
	Landing int
	Tied    string // the steps whose contenders were tied: see Ties
}

// Tied packs the positions of steps for Finish.Tied.
func Tied(steps []uint16) string {
	if len(steps) == 0 {
		return ""
	}
	b := make([]byte, 0, 2*len(steps))
	for _, s := range steps {
		b = binary.LittleEndian.AppendUint16(b, s)
	}
	return string(b)
}

// Ties calls f with the positions of the steps whose contenders were tied, settled or not.
func (f Finish) Ties(each func(step int)) {
	for b := []byte(f.Tied); len(b) > 1; b = b[2:] {
		each(int(binary.LittleEndian.Uint16(b)))
	}
}

// End says how a passage ended.
type End string

// The ends.
const (
	Unfinished End = "unfinished" // there is a question to ask
	Decided    End = "decided"    // the decision named the outcome
	Named      End = "named"      // a then named the outcome
	Parted     End = "parted"     // a then named the outcome, and nothing is kept
)

// Otherwise is Result.Step where no step named an outcome.
const Otherwise = -1
