package starter

// A Ready question is one of the trade's, with answers from the least to the most.
type Ready struct {
	Words   []string `json:"words"` // that bring it up, while they are typed
	Label   string   `json:"label"`
	Answers []string `json:"answers"`
}

// Commonplace are words that any question may have: they say nothing of what it is about.
const Commonplace = "a an and are do does for have how is it many much of on or the to want we what when where " +
	"which who why wish with would you your"

// Questions are offered while a question is typed; their answers are offered while
// answers are.
var Questions = []Ready{
	{
		[]string{"when", "time", "start", "begin", "soon"},
		"When would you like to begin?",
		[]string{"Not this year", "Within a year", "Within three months", "Within a month"},
	},
	{
		[]string{"budget", "money", "spend", "aside", "cost"},
		"What have you set aside for it?",
		[]string{"Nothing yet", "Less than 1,000", "1,000 to 5,000", "5,000 to 20,000", "More than 20,000"},
	},
	{
		[]string{"need", "problem", "why", "bring"},
		"What brings you here?",
		[]string{
			"I am looking around",
			"Something could be better",
			"Something has to change",
			"It has to be solved now",
		},
	},
	{
		[]string{"decide", "decision", "say"},
		"Who decides about it?",
		[]string{"Somebody else", "I am asked", "I do, together with somebody", "I do"},
	},
	{
		[]string{"company", "size", "people", "employees", "large"},
		"How many people work with you?",
		[]string{"Only me", "2 to 10", "11 to 50", "51 to 250", "More than 250"},
	},
	{
		[]string{"role", "job", "position", "do you do"},
		"What do you do there?",
		[]string{
			"I do the work itself",
			"I lead a team",
			"I lead a department",
			"I lead the company",
			"Something else",
		},
	},
	{
		[]string{"agree", "statement", "true"},
		"How far do you agree?",
		[]string{"Not at all", "Hardly", "Partly", "Mostly", "Fully"},
	},
	{
		[]string{"often", "frequency", "how many times"},
		"How often does that happen?",
		[]string{"Never", "A few times a year", "Every month", "Every week", "Every day"},
	},
	{
		[]string{"experience", "know", "tried"},
		"How well do you know it?",
		[]string{"I have never tried", "I have tried once", "I do it now and then", "I do it all the time"},
	},
	{
		[]string{"satisfied", "happy", "content"},
		"How content are you with it?",
		[]string{"Not at all", "Not quite", "It will do", "Content", "Very content"},
	},
	{[]string{"yes", "have you", "do you"}, "Have you done this before?", []string{"Yes", "No"}},
}
