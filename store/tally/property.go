package tally

// A Property is something that responses have: a kind, with the key of the question or the
// scale where it is one of those, and the row in a grid.
type Property struct {
	Kind     Kind
	Key, Row string
}

// A Kind of property.
type Kind string

// The kinds with sets: each response has one value, or none, or of Answer and Chosen several.
const (
	Outcome  Kind = "outcome"
	Landing  Kind = "landing"
	End      Kind = "end"
	Release  Kind = "release" // its number in the database
	Source   Kind = "source"
	Medium   Kind = "medium"
	Campaign Kind = "campaign"
	Country  Kind = "country"
	Language Kind = "language"
	Device   Kind = "device"
	Answer   Kind = "answer"   // of a question: the keys of the answers
	Answered Kind = "answered" // of a question: "" where it was answered
	Asked    Kind = "asked"    // of a question: "" where it was on the passage, answered or not
)

// The kinds with sets of what may still come after a response is finished. They are not
// written with a segment: Mark adds them.
const (
	Contact Kind = "contact" // "yes" where somebody said who they are
	Pressed Kind = "pressed" // of what was shown at the end
	Said    Kind = "said"    // of a question that asks who somebody is: "" where they said it
)

// The kinds of leads, beside those that they have in common with responses.
const (
	State    Kind = "state"
	Owner    Kind = "owner"    // the number of a user, "0" for nobody
	Quiz     Kind = "quiz"     // its number
	Standing Kind = "standing" // of the outcome
	Next     Kind = "next"     // the day of the next step, in days since 1970
	Reach    Kind = "reach"    // thousandths of the ruler
)

func (k Kind) later() bool { return k == Contact || k == Pressed || k == Said }

// The kinds with columns.
const (
	Finished Kind = "finished" // Unix time in seconds
	Seconds  Kind = "seconds"  // from the beginning to the end
	Score    Kind = "score"    // of a scale, in millionths
	Amount   Kind = "amount"   // answer to a question with numbers, in millionths; days since 1970 of a date
	Spent    Kind = "spent"    // seconds at a question
)

// Column tells whether the kind has values that are numbers.
func (k Kind) Column() bool {
	return k == Finished || k == Seconds || k == Score || k == Amount || k == Spent || k == Next || k == Reach
}

// Rest is the value under which further values of a property are counted where a segment has
// more than mostValues: addresses bring along whatever somebody wrote into them.
const Rest = "…"

const mostValues = 2000
