package quiz

// A Then says where a passage goes. Go tells the way, To the key of the
// question, section or outcome.
type Then struct {
	Go Way    `json:"go"`
	To string `json:"to,omitempty"`
}

// Way is how a passage goes on.
type Way string

// The ways.
const (
	ToQuestion Way = "question"
	ToSection  Way = "section"
	Decide     Way = "decide"  // end, and let the decision choose
	ToOutcome  Way = "outcome" // end with this outcome
	PartWays   Way = "part"    // end with this outcome and keep nothing
)

// A ThenRule goes its way if its condition holds, or always without one.
type ThenRule struct {
	Order float64    `json:"order"`
	When  *Condition `json:"when,omitempty"`
	Then
}
