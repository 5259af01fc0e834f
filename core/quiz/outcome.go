package quiz

import "strings"

// An Outcome is one of the few results that a respondent can get.
type Outcome struct {
	Order     float64   `json:"order"`
	Name      string    `json:"name"` // private, for the studio
	Standing  Standing  `json:"standing,omitempty"`
	Headline  string    `json:"headline,omitempty"`
	Text      string    `json:"text,omitempty"`
	Picture   *Picture  `json:"picture,omitempty"`
	Layout    Layout    `json:"layout,omitempty"`
	ShowScore string    `json:"showScore,omitempty"` // the scale that the respondent sees
	ShowAs    ScoreForm `json:"showAs,omitempty"`    // how scores are drawn
	Shared    *Shared   `json:"shared,omitempty"`    // where the outcome is passed on
	ShowWhy   bool      `json:"showWhy,omitempty"`   // the respondent may see the explanation
	NoReview  bool      `json:"noReview,omitempty"`  // right answers are not shown with this result

	Landings map[string]*Landing `json:"landings,omitzero"`
}

// ScoreForm is how scores are drawn for a respondent.
type ScoreForm string

// The forms of scores; an empty one is OnRuler, of the scale that ShowScore names.
const (
	OnRuler   ScoreForm = "ruler"   // the band on a line from the lowest to the highest
	AsBars    ScoreForm = "bars"    // every scale from its lowest to its highest
	AsWheel   ScoreForm = "wheel"   // the same, as a wheel
	AsLeaders ScoreForm = "leaders" // what contended to decide, and how near it came
)

// ScoreForms lists the forms, in the order in which they are offered.
var ScoreForms = []ScoreForm{OnRuler, AsBars, AsWheel, AsLeaders}

// Standing is what an outcome says of a lead.
type Standing string

// The standings; an empty Standing is none.
const (
	Fit      Standing = "fit"
	KeepWarm Standing = "keep warm"
	NotAFit  Standing = "not a fit"
)

// A Landing is what an outcome does for the respondent. Of an outcome's
// landings the first whose condition holds is taken; the last has none.
type Landing struct {
	Order float64     `json:"order"`
	When  *Condition  `json:"when,omitempty"`
	Kind  LandingKind `json:"kind"`

	Blocks   map[string]*Block `json:"blocks,omitzero"`    // of a page
	Products *Products         `json:"products,omitempty"` // of products

	// of a redirect: an address, or a row of signposts
	Address  string    `json:"address,omitempty"`
	Signpost *Signpost `json:"signpost,omitempty"`
	After    int       `json:"after,omitempty"` // seconds, 0 to 30
}

// LandingKind is where a landing leads.
type LandingKind string

// The kinds of landing.
const (
	PageLanding     LandingKind = "page"
	ProductsLanding LandingKind = "products"
	RedirectLanding LandingKind = "redirect"
)

// A Block of a page is shown if its condition holds.
type Block struct {
	Order    float64    `json:"order"`
	Kind     BlockKind  `json:"kind"`
	When     *Condition `json:"when,omitempty"`
	Text     string     `json:"text,omitempty"`     // Markdown of a text
	Picture  *Picture   `json:"picture,omitempty"`  // of a picture
	Label    string     `json:"label,omitempty"`    // of an action or a link
	Address  string     `json:"address,omitempty"`  // of an action or a link
	Signpost *Signpost  `json:"signpost,omitempty"` // instead of the address
	Scale    string     `json:"scale,omitempty"`    // of a bill: a money scale
}

// BlockKind is what a block shows.
type BlockKind string

// The kinds of block.
const (
	TextBlock    BlockKind = "text"
	PictureBlock BlockKind = "picture"
	ActionBlock  BlockKind = "action" // a call to action
	LinkBlock    BlockKind = "link"
	BillBlock    BlockKind = "bill"
)

// Products are named by key, or picked by tag; each may have a condition.
type Products struct {
	Named []Named `json:"named,omitzero"`
	Tags  []Named `json:"tags,omitzero"`
	Most  int     `json:"most,omitempty"` // how many at the most; 0: all
}

// Named is the key of a product, or a tag, with an optional condition.
type Named struct {
	Key  string     `json:"key"`
	When *Condition `json:"when,omitempty"`
}

// A Signpost is a row of a table of addresses, looked up at the moment of
// redirecting. Row may hold fill-ins, such as "{visitor.country}".
type Signpost struct {
	Table string `json:"table"`
	Row   string `json:"row"`
}

// Button returns what stands on a call to action or a link, named by the keys of its landing
// and its own ("page.guide"); the name where there is none.
func (q *Quiz) Button(name string) string {
	landing, key, _ := strings.Cut(name, ".")
	for _, k := range InOrder(q.Outcomes) {
		if l := q.Outcomes[k].Landings[landing]; l != nil && l.Blocks[key] != nil {
			return l.Blocks[key].Label
		}
	}
	return name
}
