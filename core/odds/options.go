package odds

import (
	"cmp"
	"context"

	"omphalos/core/expect"
	"omphalos/core/program"
)

// Options say what odds are told under, and what they may cost.
type Options struct {
	Visitor *program.Visitor // nil: nothing is known
	Shares  expect.Shares    // nil: as the quiz's marketer expects; empty: even
	Given   program.Answers  // what has been answered already: the odds are of going on from there; nil for nothing

	Steps  int    // the most steps from a state to the next for each walk; 0: MostSteps
	Sample int    // passages of a sample; 0: SampleSize; below 0: none, and ErrSteps instead
	Seed   uint64 // of the sample

	// Context ends the work: then the error is its. Exact ends what is to be told
	// exactly: then a sample is drawn. Nil never does.
	Context, Exact context.Context
}

const (
	// MostSteps bounds each walk to some 100 ms and 30 MB.
	MostSteps = 1 << 20
	// mostStates bounds the memory of each walk, whatever its steps, to some 150 MB.
	mostStates = 1 << 19
	// affordable is what drawing a passage may cost, see passage.Program.Cost: of dearer
	// ones a sample has fewer, down to the fewest.
	affordable = 2000
	fewest     = 256
	// mostPoints bounds the scores of all sampled scales together.
	mostPoints = 1 << 18
	// SampleSize makes the standard error of any share at most 0.002.
	SampleSize = 1 << 16
)

// whole returns the options with what is meant where nothing is said.
func (o Options) whole() Options {
	o.Steps = cmp.Or(o.Steps, MostSteps)
	if o.Context == nil {
		o.Context = context.Background()
	}
	if o.Exact == nil {
		o.Exact = o.Context
	}
	return o
}
