// Package explore walks all passages of a quiz at once. Passages that nothing later can
// tell apart are one, so that the work grows with what can be told apart and not with the
// passages; package odds adds up what comes of it.
//
// The rules are those of package program: an Explorer moves one program.Course from
// question to question and asks its conditions, its decision and its landings, as a
// passage does. What it leaves out is sound by the place where it says so: what nothing
// later asks for (liveness.go), what can't change an outcome any more (narrow.go), what
// no condition tells apart (effects.go, strangers.go).
package explore

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"slices"

	"omphalos/core/decimal"
	"omphalos/core/expect"
	"omphalos/core/program"
	"omphalos/core/quiz"
)

// An Explorer walks all passages of a program at once for package odds. Where
// passages stand is told in two parts: a Memory, the few earlier answers that
// something later asks for, and a Vector, what has been added up so far. Passages
// with the same Memory go the same ways unless the way depends on a score, so that
// most steps are worked out once for all Vectors beside it.
//
// What an Explorer keeps depends on what it is made for; it forgets what nothing
// later asks for, and what can't change the outcome any more. It serves one
// goroutine at a time.
type Explorer struct {
	p *program.Program
	w program.Course

	purpose purpose
	tracks  []int // the scales whose distributions are wanted
	assumed *expect.Assumption

	until     []int                  // per scale: the last place that asks for it, −1 for none
	asked     []int                  // per question: the last place that asks for its answer, −1 for none
	clauses   [][]*program.Condition // per question: those that ask for its answer
	numbers   []bool                 // per question: a formula reads it
	settles   [][]int                // per question: the contenders between which it settles a tie
	alone     []bool                 // per scale: only comparisons ask for it
	leads     []int                  // per scale: how many steps have it as a contender
	compared  [][]comparison         // per scale
	fedSlots  []int                  // per scale: its place among the bits that tell what was fed, or none
	fedCount  int
	kept      []int // questions whose answers are remembered
	class     []int // per question on the walk: the class of its answer
	fed       []bool
	strangers []*program.Visitor
	stranger  int // which of them is on the walk
	partial   bool

	classes [][]program.Value
	signed  []map[string]int
	effects [][]Effect
	runs    [][]Run

	fields    []field
	masks     []Vector
	clamps    []clamp
	standings []standing
	start     Vector

	filled   [][]int  // per question: those whose answers its texts fill in
	filledAt [][]int  // per outcome
	missed   [][2]int // until settle
	missing  map[[2]int]bool

	// Lands, where set, is called for other landings of the outcome that a Finish
	// has, with the facts of a visitor who would get there.
	Lands func(outcome, landing int, facts map[string]string)

	landings []facing // per outcome
	pending  []verdict
	verdicts map[*program.Condition]Verdict
	held     map[*program.TableRule]Verdict
	memory   []byte
}

type purpose uint8

const (
	forPath purpose = iota
	forEnds
	forScales
)

// ErrWide says that a question has too many different answers, or that too much
// is added up, for all passages to be walked at once.
var ErrWide = errors.New("too many different answers or sums to follow all passages at once")

// Path returns an Explorer, for walks of so many steps at the most, of which questions are seen and what answered:
// of a Finish only End and, where a then named it, Outcome are true. The error is
// ErrWide or the context's.
func Path(ctx context.Context, p *program.Program, a *expect.Assumption, most int) (*Explorer, error) {
	return explore(ctx, p, a, forPath, most, nil)
}

// Ends returns an Explorer of outcomes and landings. The error is ErrWide.
func Ends(ctx context.Context, p *program.Program, a *expect.Assumption, most int) (*Explorer, error) {
	return explore(ctx, p, a, forEnds, most, nil)
}

// Scales returns an Explorer of scales: of a Finish only End is true, and Score.
// The error is ErrWide or the context's.
func Scales(ctx context.Context, p *program.Program, a *expect.Assumption, most int, scales []int) (*Explorer, error) {
	return explore(ctx, p, a, forScales, most, scales)
}

// Alike returns the scales in groups of which all come from the same in the end: they
// are followed together.
func Alike(p *program.Program) [][]int {
	var groups [][]int
	at := map[string]int{}
	for i := range p.Scales {
		from := p.Scales[i].Feeders
		if p.Scales[i].Method != quiz.Formula {
			from = []program.Operand{{Scale: i, Question: program.None}}
		}
		key := fmt.Sprint(slices.SortedFunc(slices.Values(from), func(a, b program.Operand) int {
			return cmp.Or(cmp.Compare(a.Scale, b.Scale), cmp.Compare(a.Question, b.Question))
		}))
		k, known := at[key]
		if !known {
			k = len(groups)
			at[key], groups = k, append(groups, nil)
		}
		groups[k] = append(groups[k], i)
	}
	return groups
}

func explore(ctx context.Context, p *program.Program, a *expect.Assumption, why purpose, most int, scales []int) (*Explorer, error) {
	e := &Explorer{
		p:        p,
		w:        *p.Course(),
		purpose:  why,
		tracks:   scales,
		assumed:  a,
		verdicts: map[*program.Condition]Verdict{},
		held:     map[*program.TableRule]Verdict{},
	}
	e.w.Visitor, e.w.Answers = a.Visitor, make(program.Answers, len(p.Questions))
	e.w.Watch = func(c *program.Condition, held bool) { e.pending = append(e.pending, verdict{c, held}) }
	e.liveness()
	e.meet()
	room := mostAmounts
	for i := range p.Questions {
		most -= e.width(i) // each is a step for one state at least
		if room -= e.width(i) * len(p.Scales); most < 0 || room < 0 {
			return nil, ErrWide
		}
	}
	pieces := make([][]piece, len(p.Questions))
	for i := range p.Questions {
		var err error
		if pieces[i], err = e.pieces(i); err != nil {
			return nil, err
		}
		if err = ctx.Err(); err != nil {
			return nil, err
		}
	}
	if err := e.lay(pieces); err != nil {
		return nil, err
	}
	clear(e.w.Seen)
	return e, nil
}

// Partial tells whether there are kinds of visitor that are not followed: what nobody
// else gets to may be reached by them.
func (e *Explorer) Partial() bool { return e.partial }

// mostAmounts bounds what all answers together are said to add, by answer and scale.
const mostAmounts = 1 << 22

// A Memory is what is remembered of earlier answers, and of the visitor, where
// something later asks for it. Equal Memories are the same.
type Memory string

// A Move says where passages go from a question.
type Move struct {
	Next    int // position of the question they come to, −1 at the end
	Memory  Memory
	End     program.End
	Outcome int // named by a then, or −1
	Rule    int // position of the question's then rule that led on, or −1
}

// Start calls f for each kind of visitor that the path or the decision tells
// apart, with the share that the assumed visitor has: 1 for one of them, and 0 for
// the others, whose passages can happen all the same.
func (e *Explorer) Start(f func(m Move, v Vector, share float64)) {
	for i := range e.strangers {
		clear(e.w.Seen)
		clear(e.fed)
		e.stranger, e.w.Visitor = i, e.strangers[i]
		share := 0.0
		if i == 0 {
			share = 1
		}
		e.load(e.start)
		first := program.Turn{Next: e.w.Ahead(0, program.None), End: program.Unfinished, Outcome: program.None}
		if first.Next == len(e.p.Questions) {
			first.End = program.Decided
		}
		m := e.arrive(first)
		e.settle()
		m.Rule = program.None
		f(m, e.Narrow(e.at(m), e.start), share)
	}
}

// Step returns where an effect leads from a question for all Vectors beside a
// Memory, or false where that depends on scores: then StepAt tells.
func (e *Explorer) Step(question int, m Memory, f *Effect) (Move, bool) {
	e.recall(m)
	e.w.Scored = false
	to := e.move(question, f)
	if e.w.Scored {
		e.pending, e.missed = e.pending[:0], e.missed[:0]
		return Move{}, false
	}
	e.settle()
	return to, true
}

// StepAt returns where an effect leads from a question for one Vector, which has
// the effect added to it.
func (e *Explorer) StepAt(question int, m Memory, f *Effect, v Vector) Move {
	e.recall(m)
	e.load(v)
	to := e.move(question, f)
	e.settle()
	return to
}

func (e *Explorer) at(m Move) int {
	if m.Next < 0 {
		return len(e.p.Questions)
	}
	return m.Next
}

func (e *Explorer) move(question int, f *Effect) Move {
	w := &e.w
	w.Seen[question], w.Answers[question], e.class[question] = true, f.Value, f.class
	w.Moved()
	for i := range e.fed {
		e.fed[i] = e.fed[i] || f.fed>>i&1 == 1
	}
	t := w.Leave(question, &f.Value)
	to := e.arrive(t)
	to.Rule = t.Rule
	return to
}

// arrive takes down where passages have come to.
func (e *Explorer) arrive(t program.Turn) Move {
	if t.End == program.Unfinished {
		e.miss(e.filled[t.Next], t.Next)
		return Move{Next: t.Next, Memory: e.memorize(t.Next), Outcome: program.None}
	}
	return Move{Next: -1, Memory: e.memorize(len(e.p.Questions)), End: t.End, Outcome: t.Outcome}
}

// memorize returns what is remembered before question i.
func (e *Explorer) memorize(i int) Memory {
	b := e.memory[:0]
	if len(e.strangers) > 1 {
		b = append(b, byte(e.stranger), byte(e.stranger>>8))
	}
	for _, fed := range e.fed {
		if fed {
			b = append(b, 1)
		} else {
			b = append(b, 0)
		}
	}
	for _, k := range e.kept {
		if k >= i || !e.w.Seen[k] || e.asked[k] < before(i) {
			b = append(b, 0, 0)
			continue
		}
		c := e.class[k] + 1
		b = append(b, byte(c), byte(c>>8))
	}
	e.memory = b
	return Memory(b)
}

// recall puts a Memory into the walk.
func (e *Explorer) recall(m Memory) {
	w, at := &e.w, 0
	if len(e.strangers) > 1 {
		e.stranger = int(m[0]) | int(m[1])<<8
		at = 2
	}
	w.Visitor, w.Outcome = e.strangers[e.stranger], program.None
	w.Moved()
	for i := range e.fed {
		e.fed[i] = m[at] == 1
		at++
	}
	clear(w.Seen)
	for _, k := range e.kept {
		if c := int(m[at]) | int(m[at+1])<<8; c > 0 {
			w.Seen[k], w.Answers[k], e.class[k] = true, e.classes[k][c-1], c-1
		}
		at += 2
	}
}

// Finish returns how the passages at the end with a Memory and a Vector finish.
func (e *Explorer) Finish(m Move, v Vector) program.Finish {
	e.recall(m.Memory)
	e.load(v)
	w := &e.w
	w.Outcome = m.Outcome
	f := program.Finish{End: m.End, Step: program.Otherwise, Outcome: m.Outcome}
	if e.purpose != forEnds {
		return f
	}
	if m.End == program.Decided {
		scores := e.scores()
		w.Ties = w.Ties[:0]
		f.Step = w.Decide(scores)
		if f.Step != program.Otherwise {
			f.Part = w.Part
		}
		f.Tied = program.Tied(w.Ties)
		e.judge()
	}
	f.Outcome = w.Outcome
	e.miss(e.filledAt[f.Outcome], f.Outcome)
	f.Landing = e.land()
	e.settle()
	return f
}

// scores returns the scores that the decision asks for; the others are 0.
func (e *Explorer) scores() []decimal.Decimal {
	scores := make([]decimal.Decimal, len(e.p.Scales))
	for i := range scores {
		if e.until[i] >= before(len(e.p.Questions)) {
			scores[i] = e.w.Score(i)
		}
	}
	return scores
}

// Scores calls f with the score at the end of each scale that is followed.
func (e *Explorer) Scores(m Move, v Vector, f func(scale int, score decimal.Decimal)) {
	e.recall(m.Memory)
	e.load(v)
	for _, scale := range e.tracks {
		f(scale, e.w.Score(scale))
	}
}

// Length returns how many questions passages with a Vector have been asked.
// Explorers of the path count them.
func (e *Explorer) Length(v Vector) int {
	i := slices.IndexFunc(e.fields, func(f field) bool { return f.of == asLength })
	return int(e.fields[i].get(v))
}

// Visitor returns the visitor of passages with a Memory.
func (e *Explorer) Visitor(m Memory) *program.Visitor {
	if len(e.strangers) > 1 {
		return e.strangers[int(m[0])|int(m[1])<<8]
	}
	return e.strangers[0]
}
