package ui

// A Help says in one sentence what something on a page is, where it stands, and where the guide
// says more of it.
type Help struct {
	Key   string
	Asks  string // the question that it answers, read out and shown on its button
	Says  string
	Place string // in the guide
}

// Helps are all there are, by what they are about.
var Helps = []Help{
	{"ownwords", "What are own words?", "Who chooses this answer can write something beside it, as with " +
		"“Other”. You read it in Learn; it weighs nothing.", "write"},
	{"leads", "Where does an answer lead?", "Normally on to the next question. An answer may lead " +
		"elsewhere instead: to a question further down, straight to an outcome, or out of the quiz.", "write"},
	{"thenif", "What is a rule after a question?", "Where the way goes on by more than one answer: by a " +
		"score, by several answers together, by where somebody comes from. It is asked after the ways of " +
		"single answers.", "write"},
	{"hatched", "What does a hatched cell mean?", "Nothing is added: the answer does not touch that " +
		"column. A 0 is a weight like any other, and counts where means are taken.", "weigh"},
	{"pull", "What is a pull?", "How strongly an answer speaks for one outcome: 3 strongly, 1 a little, " +
		"−2 against it. The outcome that is pulled toward most wins.", "weigh"},
	{"column", "What does the box before a scale do?", "It shows or hides the column in your ledger, for " +
		"you and in this browser. The scale counts all the same.", "weigh"},
	{"aim", "What is a share aimed for?", "How many of a hundred you want to get this outcome. Press " +
		"“Place the cuts” below, and the cuts move to where that is nearest to true.", "decide"},
	{"expected", "What does “expected” mean?", "How many of a hundred are expected to answer so. " +
		"Drag the bar where you know better; what you leave open shares the rest evenly.", "weigh"},
}

// HelpOn returns the help on something; a key that is none is a fault of the template.
func HelpOn(key string) Help {
	for _, h := range Helps {
		if h.Key == key {
			return h
		}
	}
	panic("ui: there is no help on " + key)
}
