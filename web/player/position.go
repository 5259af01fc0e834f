package player

import (
	"slices"

	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/store"
)

// reckoned is where a journey has come to, each part worked out when it is first asked and
// kept until something else is typed.
type reckoned struct {
	known *passage.Input
	upTo  *passage.Result // the walk up to the first question without an answer
	all   *passage.Result // the walk if all that are to come were skipped
	way   []int
}

// put has something typed for a question.
func (j *journey) put(key string, t program.Typed) {
	j.typed[key] = t
	j.reckoned = reckoned{}
}

// placeName returns what a place of a table is called.
func (j *journey) placeName(table, key string) string {
	return j.player.store.Definitions.PlaceName(j.ctx, table, key)
}

// input returns what was typed as answers. What is not valid any more counts
// as not asked. The answers must not be changed.
func (j *journey) input() passage.Input {
	if j.known != nil {
		return *j.known
	}
	in := passage.Input{Answers: make(program.Answers, len(j.program.Questions)), Visitor: j.visitor,
		Place: j.placeName, Voice: j.tongue().voice(), Zone: j.zoneOf}
	for key, t := range j.typed {
		if i := j.program.Position(key); i >= 0 {
			in.Answers[i], _ = j.program.Read(i, t)
		}
	}
	for i, key := range j.program.ContactKeys() {
		if v, err := j.program.ReadContact(i, j.typed[key]); err == nil && v.State == program.Given {
			if in.Contact == nil {
				in.Contact = map[string]string{}
			}
			in.Contact[key] = v.Text
		}
	}
	j.known = &in
	return in
}

// walk returns where the passage has come to.
func (j *journey) walk() *passage.Result {
	if j.upTo == nil {
		in := j.input()
		in.Stop = true
		j.upTo = passage.Walk(j.program, in)
	}
	return j.upTo
}

// whole returns the passage if all questions that are to come were skipped.
func (j *journey) whole() *passage.Result {
	if j.all == nil {
		j.all = passage.Walk(j.program, j.input())
	}
	return j.all
}

// upToNow is the page up to which the passage has come, by the last part of its address.
func (j *journey) upToNow() string {
	if j.wantsContact(quiz.BeforeResult) {
		return contactPage
	}
	path := j.path()
	return j.program.Key(j.together(path[len(path)-1])[0])
}

// stayed takes down how long somebody was on a page: since they were last heard of, or since
// the page was made where it is the first.
func (j *journey) stayed(page []int) {
	if j.rehearsal != nil || j.passage.Finished {
		return
	}
	since := j.passage.Updated
	if j.fresh {
		since = store.NumberedAt(j.passage.ID)
	}
	keys := make([]string, len(page))
	for i, at := range page {
		keys[i] = j.program.Key(at)
	}
	j.passage.Stay(keys, since)
}

// path returns the questions passed through so far and, unless the passage is
// at its end, those on the page to ask. It must not be changed.
func (j *journey) path() []int {
	if j.way != nil {
		return j.way
	}
	r := j.walk()
	path := slices.Clone(r.Seen)
	if r.End == program.Unfinished {
		for _, at := range passage.Together(j.program, j.whole().Seen, r.Next) {
			if !slices.Contains(path, at) {
				path = append(path, at)
			}
		}
	}
	j.way = path
	return path
}

// together returns the questions that are asked on one page with another.
func (j *journey) together(at int) []int { return passage.Together(j.program, j.path(), at) }
