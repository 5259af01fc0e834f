// Package replay walks responses through another version of a quiz: who would land elsewhere, and
// which of the changes between the two versions is to blame.
//
// A change is taken by itself in two ways. Put alone into the version before, it tells how many it
// moves. Taken out of the version after, it is to blame for those who would then be where the version
// before has them. Whom several changes move together, none of which does it alone, are told as that;
// and so are those who got something else than the version before gives, for they came by an earlier
// one.
//
// What a version asks that somebody was not asked counts as skipped.
package replay

import (
	"bytes"
	"encoding/json"
	"fmt"
	"slices"

	"omphalos/core/edit"
	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/core/quiz"
)

// A Replay is two versions of a quiz with the changes between them. It serves any number of
// goroutines, each with a Player of its own.
type Replay struct {
	Before, After *program.Program
	Changes       []Change // those that can move somebody, in the order in which respondents meet them

	versions []*program.Program // see Programs
	shapes   []int              // by version: the first that reads answers as it does
	place    []int              // of the questions after, where they stood before; -1 for new ones
}

// A Change between the versions.
type Change struct {
	edit.Changed
	Alone bool // it can be made by itself

	plus, minus int // positions of versions: the one before with it, the one after without it; -1 for none
}

// mostChanges is how many changes are taken by themselves; of more, all are told together.
const mostChanges = 200

// New compares two versions. An error tells which of them can't be walked.
func New(before, after *quiz.Quiz) (*Replay, error) {
	r := &Replay{}
	var err error
	if r.Before, err = walkable(before); err != nil {
		return nil, fmt.Errorf("the version before: %w", err)
	}
	if r.After, err = walkable(after); err != nil {
		return nil, fmt.Errorf("the version after: %w", err)
	}
	r.versions = []*program.Program{r.Before, r.After}
	for i := range r.After.Questions {
		r.place = append(r.place, r.Before.Position(r.After.Key(i)))
	}
	list, err := edit.Changes(before, after)
	if err != nil {
		return nil, err
	}
	forth, err := edit.Changes(after, before)
	if err != nil {
		return nil, err
	}
	ways := map[quiz.Pointer][]edit.Op{} // what makes a change, by its place
	for _, c := range forth {
		ways[c.Pointer] = c.Back
	}
	list = slices.DeleteFunc(list, func(c edit.Changed) bool { return !moves(c.Pointer) })
	for _, c := range list[:min(len(list), mostChanges)] {
		one := Change{Changed: c, plus: r.version(before, ways[c.Pointer]), minus: r.version(after, c.Back)}
		one.Alone = one.plus >= 0
		r.Changes = append(r.Changes, one)
	}
	r.shapeOf()
	return r, nil
}

// walkable compiles a draft, or what was released once.
func walkable(q *quiz.Quiz) (*program.Program, error) {
	p, err := program.CompileDraft(q, q.Check())
	if err != nil {
		return nil, err
	}
	return p, nil
}

// version compiles a document with a patch, and returns its position; -1 where the patch can't
// stand alone.
func (r *Replay) version(of *quiz.Quiz, patch []edit.Op) int {
	if len(patch) == 0 {
		return -1
	}
	text, err := json.Marshal(patch)
	if err != nil {
		return -1
	}
	change, err := edit.Apply(of.Write(), text)
	if err != nil {
		return -1
	}
	p, err := walkable(change.After)
	if err != nil {
		return -1
	}
	r.versions = append(r.versions, p)
	return len(r.versions) - 1
}

// Programs are the versions that responses are walked through: the one before, the one after,
// and those with single changes.
func (r *Replay) Programs() []*program.Program { return r.versions }

// Visitor tells whether some version asks what is known of the visitor.
func (r *Replay) Visitor() bool {
	return slices.ContainsFunc(r.versions, func(p *program.Program) bool {
		return bytes.Contains(p.Quiz.Write(), []byte(`"visitor":`))
	})
}

// Contacts tells whether some version asks who somebody is before it decides.
func (r *Replay) Contacts() bool {
	return slices.ContainsFunc(r.versions, func(p *program.Program) bool {
		if c := p.Quiz.Contact; c != nil && c.Place != quiz.AfterResult {
			return true
		}
		for i := range p.Questions {
			if p.Question(i).Kind.Personal() {
				return true
			}
		}
		return false
	})
}

// words are what nobody is moved by.
var words = []string{
	"label", "text", "heading", "title", "name", "button", "note", "picture", "description", "placeholder",
	"help", "reason", "look",
	"opening", "headline", "details", "privacy", "currency", "unit",
}

// moves tells whether a change at a place can move somebody to another outcome.
func moves(at quiz.Pointer) bool {
	keys := at.Keys()
	if len(keys) == 0 {
		return true
	}
	switch keys[0] {
	case "title", "opening", "look", "contact", "pace", "rehearsals", "expected":
		return false
	case "outcomes": // which there are, and not what they show
		return len(keys) <= 2
	}
	return !slices.Contains(words, keys[len(keys)-1])
}

// A Response is somebody's answers, as each version reads them.
type Response struct {
	Number int
	Was    string                          // the outcome that they got; "" to have the version before tell it
	Group  string                          // of which they are counted by themselves, too; "" for none
	Asked  func(question string) bool      // whether they were asked; nil where the version before tells it
	Input  func(version int) passage.Input // by the position of a program in Programs
}

// A Move is from an outcome to another, or to the same.
type Move struct{ Before, After string }

// A Mover is a response that would land elsewhere.
type Mover struct {
	Number int
	Move
	Blame int // position of the change, or Several, or Earlier
}

// What is to blame beside single changes.
const (
	Several = -1 // changes together
	Earlier = -2 // somebody got something by an earlier version that the one before would not give
)

// Sums are what a replay came to.
type Sums struct {
	Count   int
	Flow    map[Move]int
	Groups  map[string]map[Move]int // flows of groups
	Touched int                     // who would be asked something that they were not asked
	Moves   []int                   // by change: whom it moves by itself
	Tried   int                     // responses for which that was looked at
	Blamed  []int                   // by change: who lands elsewhere because of it
	Several int                     // who lands elsewhere because of several
	Earlier int                     // who would land there by the version before, too
	Movers  []Mover
}

// Sums returns empty ones, to which others can be added.
func (r *Replay) Sums() *Sums {
	return &Sums{Flow: map[Move]int{}, Groups: map[string]map[Move]int{}, Moves: make([]int, len(r.Changes)),
		Blamed: make([]int, len(r.Changes))}
}

// Moved is how many land elsewhere.
func (s *Sums) Moved() int {
	n := s.Several + s.Earlier
	for _, blamed := range s.Blamed {
		n += blamed
	}
	return n
}

// Add adds what another part of the responses came to; of movers as many as are wanted.
func (s *Sums) Add(other *Sums, most int) {
	s.Count, s.Touched, s.Tried = s.Count+other.Count, s.Touched+other.Touched, s.Tried+other.Tried
	s.Several, s.Earlier = s.Several+other.Several, s.Earlier+other.Earlier
	for move, n := range other.Flow {
		s.Flow[move] += n
	}
	for group, flow := range other.Groups {
		for move, n := range flow {
			s.count(group, move, n)
		}
	}
	for i := range other.Moves {
		s.Moves[i] += other.Moves[i]
		s.Blamed[i] += other.Blamed[i]
	}
	s.Movers = append(s.Movers, other.Movers...)
	slices.SortFunc(s.Movers, func(a, b Mover) int { return b.Number - a.Number })
	s.Movers = s.Movers[:min(len(s.Movers), most)]
}

// count counts moves within a group.
func (s *Sums) count(group string, move Move, n int) {
	if s.Groups[group] == nil {
		s.Groups[group] = map[Move]int{}
	}
	s.Groups[group][move] += n
}
