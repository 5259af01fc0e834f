package slice

import (
	"encoding/json"
	"strconv"
	"strings"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
	"omphalos/store"
	"omphalos/store/tally"
)

// Responses to several releases are counted together, at the places of the newest. What
// earlier ones asked and offered keeps its place; what they said in other words is told apart;
// scores are of those releases alone that weigh alike.

// A Wording is how some releases say something.
type Wording struct {
	Words    string
	Releases []string // their numbers in the database
	Numbers  []int
}

// Wordings are those of each place, the newest first: of questions by their key, of answers by
// "question/answer", of rows by "question/row/", of what an answer is worth by its place and
// Weighing.
type Wordings map[string][]Wording

// A Pool is the newest release of a quiz with what earlier ones asked and offered.
type Pool struct {
	Newest   *quiz.Quiz
	Quiz     *quiz.Quiz      // with what earlier releases had
	Before   []string        // the questions that the newest does not ask
	Gone     map[string]bool // the answers and rows that it does not have, by their place
	Words    Wordings
	Scored   []uint // the releases that weigh as it does
	Releases int    // how many there are
}

// Weighing ends the place of what an answer is worth.
const Weighing = "/weighs"

// weightsWords says what an answer is worth.
func weightsWords(q *quiz.Quiz, adds map[string]decimal.Decimal) string {
	var list []string
	for _, key := range quiz.InOrder(q.Scales) {
		if n := adds[key]; n != 0 {
			list = append(list, n.Signed()+" "+q.Scales[key].Name)
		}
	}
	if len(list) == 0 {
		return "nothing"
	}
	return strings.Join(list, ", ")
}

// PoolOf adds to the newest release what earlier ones asked and offered, as it was last, and
// takes down where they differ. The newest release is the first.
func PoolOf(newest *quiz.Quiz, releases []store.Release) *Pool {
	ever := *newest
	ever.Questions = map[string]*quiz.Question{}
	for key, asked := range newest.Questions {
		ever.Questions[key] = asked
	}
	p := &Pool{Newest: newest, Quiz: &ever, Gone: map[string]bool{}, Words: Wordings{}, Releases: len(releases)}
	all, scoring := p.Words, ""
	for i, r := range releases {
		q, err := r.Read()
		if err != nil {
			continue // its responses are counted all the same
		}
		for _, key := range q.QuestionKeys() {
			asked := q.Questions[key]
			if known := ever.Questions[key]; known == nil {
				ever.Questions[key] = asked
				p.Before = append(p.Before, key)
			} else if i > 0 {
				ever.Questions[key] = p.offered(key, known, asked)
			}
			all.note(key, asked.Label, r)
			for k, a := range asked.Answers {
				all.note(key+"/"+k, a.Label, r)
				all.note(key+"/"+k+Weighing, weightsWords(q, a.Adds), r)
			}
			for k, row := range asked.Rows {
				all.note(key+"/"+k+"/", row.Label, r)
			}
		}
		switch mark := scoringOf(q); {
		case i == 0:
			scoring = mark
			fallthrough
		case mark == scoring:
			p.Scored = append(p.Scored, r.ID)
		}
	}
	return p
}

// ScoredAlike narrows a slice to the responses whose scores come from the weights of the newest
// release.
func (p *Pool) ScoredAlike(in tally.Slice) tally.Slice {
	if len(p.Scored) == p.Releases {
		return in
	}
	ids := make([]string, len(p.Scored))
	for i, id := range p.Scored {
		ids[i] = strconv.FormatUint(uint64(id), 10)
	}
	return in.And(tally.Part{Of: tally.Property{Kind: tally.Release}, Values: ids})
}

func (w Wordings) note(place, words string, r store.Release) {
	id := strconv.FormatUint(uint64(r.ID), 10)
	for i := range w[place] {
		if of := &w[place][i]; of.Words == words {
			of.Releases, of.Numbers = append(of.Releases, id), append(of.Numbers, r.Number)
			return
		}
	}
	w[place] = append(w[place], Wording{words, []string{id}, []int{r.Number}})
}

// offered is a question with the answers and rows that an earlier release had and it has not,
// behind its own.
func (p *Pool) offered(key string, known, earlier *quiz.Question) *quiz.Question {
	with := *known
	last := 0.0
	for _, a := range with.Answers {
		last = max(last, a.Order)
	}
	for _, k := range quiz.InOrder(earlier.Answers) {
		if with.Answers[k] == nil {
			gone := *earlier.Answers[k]
			last++
			gone.Order = last
			with.Answers = added(with.Answers, k, &gone)
			p.Gone[key+"/"+k] = true
		}
	}
	for _, row := range with.Rows {
		last = max(last, row.Order)
	}
	for _, k := range quiz.InOrder(earlier.Rows) {
		if with.Rows[k] == nil {
			gone := *earlier.Rows[k]
			last++
			gone.Order = last
			with.Rows = added(with.Rows, k, &gone)
			p.Gone[key+"/"+k+"/"] = true
		}
	}
	return &with
}

// added is a map with one more; the one that was given stays as it is.
func added[V any](to map[string]V, key string, value V) map[string]V {
	with := make(map[string]V, len(to)+1)
	for k, v := range to {
		with[k] = v
	}
	with[key] = value
	return with
}

// scoringOf is the same text for quizzes in which the same answers come to the same scores.
func scoringOf(q *quiz.Quiz) string {
	type question struct {
		Kind    quiz.Kind
		Limits  *quiz.Limits
		Picks   *quiz.Picks
		Weigh   map[string]*quiz.Weighing
		Cap     map[string]decimal.Decimal
		Answers map[string]map[string]decimal.Decimal
		Rows    map[string]quiz.Row
	}
	of := map[string]question{}
	for key, asked := range q.Questions {
		one := question{Kind: asked.Kind, Limits: asked.Limits, Picks: asked.Picks, Weigh: asked.Weigh, Cap: asked.Cap,
			Answers: map[string]map[string]decimal.Decimal{}, Rows: map[string]quiz.Row{}}
		for k, a := range asked.Answers {
			one.Answers[k] = a.Adds
		}
		for k, row := range asked.Rows {
			one.Rows[k] = quiz.Row{Reversed: row.Reversed, Adds: row.Adds}
		}
		of[key] = one
	}
	scales := map[string]quiz.Scale{}
	for key, s := range q.Scales {
		one := *s
		one.Name, one.Order = "", 0
		scales[key] = one
	}
	text, _ := json.Marshal([]any{of, scales}) // made of what was read from JSON
	return string(text)
}
