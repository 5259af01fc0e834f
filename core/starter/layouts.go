package starter

import (
	"fmt"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
)

func blank(title string) *quiz.Quiz {
	q := begin(title, "")
	ask(q, "question_1", "", []string{"", ""}, func(int) map[string]decimal.Decimal { return nil })
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
	q.Decision = quiz.Decision{Otherwise: "not_now"} // how answers decide is asked on the sheet
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
	ask(q, "like_you", "Whom would you count yourself among?",
		sayings(things, "%s", "Those who ask for “%s”"), points(2))
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
			Text:     t.said("This is for %s", "Of all that we do, this would help you most."),
			Landings: page("See what it is"),
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
			Text:     t.said("Made for %s", "Of all of them, this one suits you best."),
			Landings: page("Look at it"),
		}
	}
	pulls := func(points int64) func(i int) map[string]decimal.Decimal {
		return func(i int) map[string]decimal.Decimal {
			if i == len(things) { // none of them: on purpose nothing
				return map[string]decimal.Decimal{"to_" + things[0].key: 0}
			}
			return map[string]decimal.Decimal{"to_" + things[i].key: decimal.FromInt(points)}
		}
	}
	ask(q, "first", "Which of these is nearest to what you have in mind?",
		sayings(things, "%s", "Something like “%s”"), pulls(3))
	ask(q, "name", "Going by the name alone, which would you look at first?", sayings(things, "", "%s"), pulls(2))
	ask(q, "without", "Is there one that you can rule out?", append(sayings(things, "", "%s"), "None of them"), pulls(-2))
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
