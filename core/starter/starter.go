// Package starter lays out quizzes to begin with: each is a whole quiz that can be
// released after its words have been made one's own.
package starter

import (
	"errors"
	"fmt"
	"regexp"
	"strings"

	"omphalos/core/decimal"
	"omphalos/core/odds"
	"omphalos/core/program"
	"omphalos/core/quiz"
)

// A Starter is a way to begin.
type Starter struct {
	Key   string
	Name  string
	About string // one line
	Lines string // what is asked for, a line each; "" where nothing is
	Hint  string // an example of the lines
	Least int    // how many lines it takes
}

// List is the starters in the order in which they are offered.
var List = []Starter{
	{Key: "blank", Name: "Blank", About: "One question, one scale and two outcomes: everything else is yours."},
	{
		Key:   "offers",
		Name:  "From your offers",
		About: "Name what you sell, from the smallest help to the largest: questions, points and cuts are laid out so that each is within reach.",
		Lines: "Your offers, one a line, the smallest help first, and after a colon whom each is for",
		Hint:  "A guide to read: those who want to do it themselves\nA day with us: those who want to learn\nEverything done: those who have no time",
		Least: 2,
	},
	{
		Key:   "keywords",
		Name:  "Keywords",
		About: "Each answer carries a word; the word that is met most often wins. For “what kind of … are you?”.",
		Lines: "The kinds, one a line, and after a colon what they are like",
		Hint:  "The watcher: patient, curious\nThe tinkerer: always building\nThe gatherer: proud of every jar",
		Least: 2,
	},
	{
		Key:   "gate",
		Name:  "Lead gate",
		About: "Three questions tell who is worth a call: budget, need and time. The others are thanked, and nothing of them is kept.",
	},
	{Key: "finder", Name: "Product finder", About: "A few questions pull toward the product that fits best.",
		Lines: "Your products, one a line, and after a colon whom each suits", Hint: "The small hive: balconies and first years\nThe long hive: those who would rather not lift\nThe big hive: large gardens", Least: 2},
}

// ErrLines says that a starter needs other lines than it was given.
var ErrLines = errors.New("needs other lines")

// mostLines is how many offers, kinds or products a starter takes.
const mostLines = 8

// Make lays out the quiz of a starter. The error wraps ErrLines, or says that there
// is no such starter.
func Make(key, title, lines string) (*quiz.Quiz, error) {
	for _, s := range List {
		if s.Key != key {
			continue
		}
		things, err := read(s, lines)
		if err != nil {
			return nil, err
		}
		switch key {
		case "offers":
			return offers(title, things)
		case "keywords":
			return keywords(title, things), nil
		case "gate":
			return gate(title), nil
		case "finder":
			return finder(title, things), nil
		}
		return blank(title), nil
	}
	return nil, fmt.Errorf("there is no starter %q", key)
}

// A thing is an offer, a kind or a product: its name, and whom it is for.
type thing struct{ name, who, key string }

var notKey = regexp.MustCompile(`[^a-z0-9]+`)

func read(s Starter, lines string) ([]thing, error) {
	if s.Lines == "" {
		return nil, nil
	}
	var things []thing
	taken := map[string]bool{}
	for _, line := range strings.Split(lines, "\n") {
		name, who, _ := strings.Cut(line, ":")
		if name = strings.TrimSpace(name); name == "" {
			continue
		}
		if len([]rune(line)) > 300 {
			return nil, fmt.Errorf("%s %w: one of them is too long, at most 300 characters fit", s.Name, ErrLines)
		}
		key := strings.Trim(notKey.ReplaceAllString(strings.ToLower(name), "_"), "_")
		if key == "" || key[0] < 'a' {
			key = "result_" + key
		}
		key = strings.Trim(key[:min(len(key), 24)], "_")
		for base, i := key, 2; taken[key]; i++ {
			key = fmt.Sprintf("%s_%d", base, i)
		}
		taken[key] = true
		things = append(things, thing{name, strings.TrimSpace(who), key})
	}
	if len(things) < s.Least || len(things) > mostLines {
		return nil, fmt.Errorf("%s %w: give %d to %d, one a line", s.Name, ErrLines, s.Least, mostLines)
	}
	return things, nil
}

// capital begins a line with a capital.
func capital(line string) string {
	r := []rune(line)
	return strings.ToUpper(string(r[:1])) + string(r[1:])
}

func page(action string) map[string]*quiz.Landing {
	return map[string]*quiz.Landing{"page": {Order: 1, Kind: quiz.PageLanding, Blocks: map[string]*quiz.Block{
		"next": {Order: 1, Kind: quiz.ActionBlock, Label: action, Address: "https://www.example.com/"}}}}
}

// begin returns a quiz with an opening and nothing asked.
func begin(title, text string) *quiz.Quiz {
	return &quiz.Quiz{Format: quiz.Format, Title: title, Opening: &quiz.Opening{Heading: title, Text: text},
		Sections: map[string]*quiz.Section{"main": {Order: 1}}, Questions: map[string]*quiz.Question{},
		Scales: map[string]*quiz.Scale{}, Outcomes: map[string]*quiz.Outcome{}, Decision: quiz.Decision{Steps: map[string]*quiz.Step{}}}
}

// ask adds a single choice; adds gives what the i-th answer adds.
func ask(
	q *quiz.Quiz,
	key, label string,
	answers []string,
	adds func(i int) map[string]decimal.Decimal,
) *quiz.Question {
	to := &quiz.Question{
		Order:    float64(len(q.Questions) + 1),
		Section:  "main",
		Kind:     quiz.Single,
		Label:    label,
		Required: true,
		Answers:  map[string]*quiz.Answer{},
	}
	for i, a := range answers {
		to.Answers[fmt.Sprintf("answer_%d", i+1)] = &quiz.Answer{Order: float64(i + 1), Label: a, Adds: adds(i)}
	}
	q.Questions[key] = to
	return to
}

func blank(title string) *quiz.Quiz {
	q := begin(title, "")
	ask(q, "question_1", "", []string{"", ""}, func(int) map[string]decimal.Decimal { return nil })
	q.Scales["points"] = &quiz.Scale{Order: 1, Name: "Points", Kind: quiz.Points}
	q.Outcomes["good_fit"] = &quiz.Outcome{
		Order:    1,
		Name:     "Good fit",
		Standing: quiz.Fit,
		Landings: map[string]*quiz.Landing{"page": {Order: 1, Kind: quiz.PageLanding}},
	}
	q.Outcomes["not_now"] = &quiz.Outcome{
		Order:    2,
		Name:     "Not now",
		Standing: quiz.NotAFit,
		Landings: map[string]*quiz.Landing{"page": {Order: 1, Kind: quiz.PageLanding}},
	}
	q.Decision = quiz.Decision{
		Otherwise: "not_now",
		Steps: map[string]*quiz.Step{"bands": {Order: 1, Kind: quiz.BandsStep, Scale: "points",
			Lowest: "not_now", Cuts: map[string]*quiz.Cut{"cut_1": {At: decimal.One, Outcome: "good_fit"}}}},
	}
	return q
}

// offers lays out a scored quiz, stacked from the smallest offer to the largest: the
// cuts stand where the shares of the offers come nearest to each other.
func offers(title string, things []thing) (*quiz.Quiz, error) {
	q := begin(title, "A few short questions tell what would help you most.")
	q.Scales["help"] = &quiz.Scale{Order: 1, Name: "Help wanted", Kind: quiz.Points}
	points := func(each int64) func(i int) map[string]decimal.Decimal {
		return func(i int) map[string]decimal.Decimal {
			return map[string]decimal.Decimal{"help": decimal.FromInt(int64(i) * each)}
		}
	}
	var whom []string
	for _, t := range things {
		line := t.who
		if line == "" {
			line = "Somebody for whom “" + t.name + "” would be enough"
		}
		whom = append(whom, capital(line))
	}
	ask(q, "like_you", "Which sounds most like you?", whom, points(2))
	ask(
		q,
		"time",
		"How much time of your own do you have for it?",
		[]string{"A few hours a week", "An hour now and then", "Hardly any"},
		points(2),
	)
	ask(q, "need", "How soon must it work?", []string{"Some day", "This year", "This month"}, points(2))
	ask(
		q,
		"done",
		"What have you tried so far?",
		[]string{"Quite a lot, and it went well", "A little", "Nothing yet"},
		points(1),
	)
	ask(q, "budget", "What have you set aside for it?", []string{"Nothing yet", "A little", "What it takes"}, points(3))
	step := &quiz.Step{
		Order:  1,
		Kind:   quiz.BandsStep,
		Scale:  "help",
		Lowest: things[0].key,
		Cuts:   map[string]*quiz.Cut{},
	}
	for i, t := range things {
		q.Outcomes[t.key] = &quiz.Outcome{
			Order:    float64(i + 1),
			Name:     t.name,
			Standing: quiz.Fit,
			Headline: t.name,
			Text:     t.who,
			Landings: page("Go on"),
		}
		if i > 0 { // for now anywhere: the shares are told below
			step.Cuts[fmt.Sprintf("cut_%d", i)] = &quiz.Cut{At: decimal.FromInt(int64(i)), Outcome: t.key}
		}
	}
	q.Decision = quiz.Decision{Otherwise: things[0].key, Steps: map[string]*quiz.Step{"bands": step}}
	cuts, err := even(q, "help", len(things))
	if err != nil {
		return nil, fmt.Errorf("balancing the offers: %w", err)
	}
	for i, at := range cuts {
		step.Cuts[fmt.Sprintf("cut_%d", i+1)].At = at
	}
	return q, nil
}

// even returns n − 1 cuts between which the shares of scores are as alike as they can
// be taken one after the other.
func even(q *quiz.Quiz, scale string, n int) ([]decimal.Decimal, error) {
	p, err := program.CompileDraft(q, q.Check())
	if err != nil {
		return nil, err
	}
	o, err := odds.Of(p, odds.Options{})
	if err != nil {
		return nil, err
	}
	points := o.Scores[scale].Points
	var cuts []decimal.Decimal
	below, at := 0.0, 0
	for i := 1; i < n; i++ {
		want := float64(i) / float64(n)
		// Each band keeps a score at least, and so does each after it.
		for at == 0 || len(cuts) > 0 && points[at].Score <= cuts[len(cuts)-1] || at < len(points)-(n-i) && below+points[at].Share/2 < want {
			below += points[at].Share
			at++
		}
		cuts = append(cuts, points[at].Score)
	}
	return cuts, nil
}

// keywords lays out a quiz in which every answer carries the word of one kind.
func keywords(title string, things []thing) *quiz.Quiz {
	q := begin(title, "There are no right answers.")
	leader := &quiz.Step{
		Order:      1,
		Kind:       quiz.LeaderStep,
		Contenders: map[string]*quiz.Contender{},
		Ties:       &quiz.Ties{By: quiz.TieQuestion, Question: "weekend"},
	}
	for i, t := range things {
		q.Scales["word_"+t.key] = &quiz.Scale{Order: float64(i + 1), Name: t.name, Kind: quiz.Keyword}
		leader.Contenders["word_"+t.key] = &quiz.Contender{Order: float64(i + 1), Outcome: t.key}
		q.Outcomes[t.key] = &quiz.Outcome{
			Order:    float64(i + 1),
			Name:     t.name,
			Headline: t.name,
			Text:     t.who,
			Landings: page("What suits you"),
		}
	}
	each(q, things, func(t thing) map[string]decimal.Decimal {
		return map[string]decimal.Decimal{"word_" + t.key: decimal.One}
	})
	q.Decision = quiz.Decision{Otherwise: things[0].key, Steps: map[string]*quiz.Step{"leader": leader}}
	return q
}

// each asks three questions with an answer for each thing.
func each(q *quiz.Quiz, things []thing, adds func(thing) map[string]decimal.Decimal) {
	for _, asked := range [][2]string{{"weekend", "A free weekend. What would you do?"}, {"friends", "What do your friends ask you about?"}, {"shelf", "What stands on your shelf?"}} {
		answers := make([]string, len(things))
		for i, t := range things {
			answers[i] = "Something for " + t.name
		}
		ask(q, asked[0], asked[1], answers, func(i int) map[string]decimal.Decimal { return adds(things[i]) })
	}
}

// finder lays out a quiz whose answers pull toward products, and against others.
func finder(title string, things []thing) *quiz.Quiz {
	q := begin(title, "A minute, and you know which one fits.")
	leader := &quiz.Step{
		Order:      1,
		Kind:       quiz.LeaderStep,
		Contenders: map[string]*quiz.Contender{},
		Ties:       &quiz.Ties{By: quiz.TieQuestion, Question: "first"},
	}
	for i, t := range things {
		q.Scales["to_"+t.key] = &quiz.Scale{Order: float64(i + 1), Name: t.name, Kind: quiz.Pull, Outcome: t.key}
		leader.Contenders["to_"+t.key] = &quiz.Contender{Order: float64(i + 1)}
		q.Outcomes[t.key] = &quiz.Outcome{
			Order:    float64(i + 1),
			Name:     t.name,
			Headline: t.name,
			Text:     t.who,
			Landings: page("Look at it"),
		}
	}
	for n, asked := range [][2]string{{"first", "What matters most to you?"}, {"place", "Where will it be used?"}, {"often", "How often?"}} {
		answers := make([]string, len(things))
		for i, t := range things {
			answers[i] = "As for " + t.name
			if n == 0 && t.who != "" {
				answers[i] = capital(t.who)
			}
		}
		ask(q, asked[0], asked[1], answers, func(i int) map[string]decimal.Decimal {
			adds := map[string]decimal.Decimal{"to_" + things[i].key: decimal.FromInt(int64(3 - n))}
			if other := (i + 1) % len(things); n == 2 && len(things) > 2 {
				adds["to_"+things[other].key] = -decimal.One
			}
			return adds
		})
	}
	q.Decision = quiz.Decision{Otherwise: things[0].key, Steps: map[string]*quiz.Step{"leader": leader}}
	return q
}

// gate lays out three questions of which two can end the quiz at once.
func gate(title string) *quiz.Quiz {
	q := begin(title, "Three questions, so that a call is worth your time.")
	q.Scales["fit"] = &quiz.Scale{Order: 1, Name: "Fit", Kind: quiz.Points}
	points := func(list ...int64) func(i int) map[string]decimal.Decimal {
		return func(i int) map[string]decimal.Decimal {
			return map[string]decimal.Decimal{"fit": decimal.FromInt(list[i])}
		}
	}
	budget := ask(
		q,
		"budget",
		"What have you set aside for it?",
		[]string{"Less than 1,000", "1,000 to 5,000", "More than 5,000"},
		points(0, 4, 8),
	)
	budget.Answers["answer_1"].Then = &quiz.Then{Go: quiz.PartWays, To: "not_yet"}
	ask(
		q,
		"need",
		"What brings you here?",
		[]string{"I am looking around", "Something has to change", "It has to be solved now"},
		points(0, 3, 6),
	)
	ask(
		q,
		"when",
		"When would you like to begin?",
		[]string{"Next year", "In some months", "This month"},
		points(0, 2, 4),
	)
	q.Outcomes["call"] = &quiz.Outcome{
		Order:    1,
		Name:     "Worth a call",
		Standing: quiz.Fit,
		Headline: "Let us talk",
		Text:     "Choose a time that suits you.",
		Landings: page("Choose a time"),
	}
	q.Outcomes["warm"] = &quiz.Outcome{
		Order:    2,
		Name:     "Keep warm",
		Standing: quiz.KeepWarm,
		Headline: "Something to read first",
		Text:     "This helps you to decide.",
		Landings: page("Read the guide"),
	}
	q.Outcomes["not_yet"] = &quiz.Outcome{
		Order:    3,
		Name:     "Not yet",
		Standing: quiz.NotAFit,
		Headline: "We would not be the right ones yet",
		Text:     "Thank you for being open. Here is what helps without us.",
		Landings: page("Help yourself"),
	}
	q.Decision = quiz.Decision{
		Otherwise: "warm",
		Steps: map[string]*quiz.Step{"bands": {Order: 1, Kind: quiz.BandsStep, Scale: "fit", Lowest: "warm",
			Cuts: map[string]*quiz.Cut{"cut_1": {At: decimal.FromInt(12), Outcome: "call"}}}},
	}
	return q
}
