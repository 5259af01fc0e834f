package starter

import (
	"fmt"
	"regexp"
	"strings"

	"omphalos/core/decimal"
	"omphalos/core/odds"
	"omphalos/core/program"
	"omphalos/core/quiz"
)

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

// said puts whom a thing is for into a sentence, or gives another where that is not told.
func (t thing) said(with, without string) string {
	if t.who == "" {
		return without
	}
	return fmt.Sprintf(with, strings.TrimRight(t.who, ".")) + "."
}

// sayings are answers, one a thing: with whom it is for, where that is told and wanted,
// else with its name.
func sayings(things []thing, with, without string) []string {
	var answers []string
	for _, t := range things {
		if t.who != "" && with != "" {
			answers = append(answers, capital(fmt.Sprintf(with, t.who)))
		} else {
			answers = append(answers, fmt.Sprintf(without, t.name))
		}
	}
	return answers
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
		Scales: map[string]*quiz.Scale{}, Outcomes: map[string]*quiz.Outcome{},
		Decision: quiz.Decision{Steps: map[string]*quiz.Step{}}}
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
		for at == 0 || len(cuts) > 0 && points[at].Score <= cuts[len(cuts)-1] ||
			at < len(points)-(n-i) && below+points[at].Share/2 < want {
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
		Ties:       &quiz.Ties{By: quiz.TieQuestion, Question: "friends"},
	}
	for i, t := range things {
		q.Scales["word_"+t.key] = &quiz.Scale{Order: float64(i + 1), Name: t.name, Kind: quiz.Keyword}
		leader.Contenders["word_"+t.key] = &quiz.Contender{Order: float64(i + 1), Outcome: t.key}
		q.Outcomes[t.key] = &quiz.Outcome{
			Order:    float64(i + 1),
			Name:     t.name,
			Headline: t.name,
			Text:     t.said("You are %s", "Most of what you chose points here."),
			Landings: page("See what suits you"),
		}
	}
	word := func(i int) map[string]decimal.Decimal {
		return map[string]decimal.Decimal{"word_" + things[i].key: decimal.One}
	}
	ask(q, "friends", "What would your friends say of you?",
		sayings(things, "%s", "That I am “%s”, through and through"), word)
	ask(q, "day", "If you were one of these for a day, which?", sayings(things, "", "%s"), word)
	ask(q, "beside", "Whom would you like beside you on a long day?", sayings(things, "Somebody who is %s",
		"Somebody like “%s”"), word)
	q.Decision = quiz.Decision{Otherwise: things[0].key, Steps: map[string]*quiz.Step{"leader": leader}}
	return q
}
