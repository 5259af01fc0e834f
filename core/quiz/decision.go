package quiz

import (
	"cmp"
	"slices"

	"omphalos/core/decimal"
)

// A Decision turns answers and scores into one outcome: the first step that
// names one wins, else it is Otherwise.
type Decision struct {
	Steps     map[string]*Step `json:"steps,omitzero"`
	Otherwise string           `json:"otherwise,omitempty"`
}

// A Step of the decision. Which fields apply depends on its Kind.
type Step struct {
	Order float64  `json:"order"`
	Kind  StepKind `json:"kind"`
	Off   bool     `json:"off,omitempty"` // passed over, for trying

	// rule
	When    *Condition `json:"when,omitempty"`
	Outcome string     `json:"outcome,omitempty"`

	// table
	Columns map[string]*Column    `json:"columns,omitzero"`
	Rules   map[string]*TableRule `json:"rules,omitzero"`

	// bands
	Scale  string          `json:"scale,omitempty"`
	Lowest string          `json:"lowest,omitempty"` // outcome below the first cut; none: go on
	Cuts   map[string]*Cut `json:"cuts,omitzero"`

	// leader
	Contenders map[string]*Contender `json:"contenders,omitzero"` // by scale
	Ties       *Ties                 `json:"ties,omitempty"`
	Lead       *decimal.Decimal      `json:"lead,omitempty"`  // least lead over the second
	Least      *decimal.Decimal      `json:"least,omitempty"` // least score
}

// StepKind is how a step decides.
type StepKind string

// The kinds of step.
const (
	RuleStep   StepKind = "rule"
	TableStep  StepKind = "table"
	BandsStep  StepKind = "bands"
	LeaderStep StepKind = "leader"
)

// A Column of a decision table asks one thing.
type Column struct {
	Order float64 `json:"order"`
	Subject
}

// A TableRule names an outcome if all its cells hold. A column without a cell
// is "any".
type TableRule struct {
	Order   float64          `json:"order"`
	Cells   map[string]*Test `json:"cells,omitzero"` // by column
	Outcome string           `json:"outcome"`
}

// A Cut begins a band: scores from At, included, to the next cut get Outcome.
// Without an outcome the band is open and the decision goes on.
type Cut struct {
	At      decimal.Decimal `json:"at"`
	Outcome string          `json:"outcome,omitempty"`
}

// CutKeys returns the keys of the cuts from the lowest score to the highest.
func (s *Step) CutKeys() []string {
	keys := make([]string, 0, len(s.Cuts))
	for k, c := range s.Cuts {
		if c != nil {
			keys = append(keys, k)
		}
	}
	slices.SortFunc(keys, func(a, b string) int {
		return cmp.Or(cmp.Compare(s.Cuts[a].At, s.Cuts[b].At), cmp.Compare(a, b))
	})
	return keys
}

// A Contender of a leader step stands for an outcome. A pull without one
// stands for its own.
type Contender struct {
	Order   float64 `json:"order"`
	Outcome string  `json:"outcome,omitempty"`
}

// Ties say what happens where several contenders lead.
type Ties struct {
	By       TiePolicy `json:"by"`
	Question string    `json:"question,omitempty"` // by question
	Outcome  string    `json:"outcome,omitempty"`  // by outcome
}

// TiePolicy is how a tie is settled.
type TiePolicy string

// The policies; a step without Ties settles by TieOrder.
const (
	TieOrder    TiePolicy = "order"    // the first contender of the step
	TieQuestion TiePolicy = "question" // the one that a question's answer added most to, then order
	TieOutcome  TiePolicy = "outcome"  // an outcome for "between two"
	TieNext     TiePolicy = "next"     // the step names none
)
