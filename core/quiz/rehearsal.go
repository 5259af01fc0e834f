package quiz

// A Rehearsal is a passage that is kept for testing: what somebody answers, who they are,
// and what they must get. It is walked again at every change; no respondent has to do with it.
type Rehearsal struct {
	Order   float64           `json:"order"`
	Name    string            `json:"name"`
	Answers map[string]*Given `json:"answers,omitzero"` // by question or field of contact; others are passed by
	Visitor map[string]string `json:"visitor,omitzero"` // facts by name: of Facts, or "query.NAME"
	Outcome string            `json:"outcome"`          // that must be reached: its key
	Landing string            `json:"landing,omitempty"`
	Parts   bool              `json:"partsWays,omitempty"` // nothing is kept of them
}

// Given is what is answered to one question, as it is chosen or typed.
type Given struct {
	Values []string          `json:"values,omitzero"` // keys of answers, or what is typed
	Words  string            `json:"words,omitempty"` // own words with an answer
	Rows   map[string]string `json:"rows,omitzero"`   // of a grid: the column's key by row
}

func (r *Rehearsal) place() float64 { return r.Order }
