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
	arrivals map[*program.Condition]Verdict
	memory   []byte
}

type purpose uint8

const (
	forPath purpose = iota
	forEnds
	forArrivals
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

// Arrivals returns an Explorer of what is asked of those who have landed, beside outcomes
// and landings: see Arrived. The error is ErrWide.
func Arrivals(ctx context.Context, p *program.Program, a *expect.Assumption, most int) (*Explorer, error) {
	return explore(ctx, p, a, forArrivals, most, nil)
}

// lands tells whether passages are followed to where they land.
func (e *Explorer) lands() bool { return e.purpose == forEnds || e.purpose == forArrivals }

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

func explore(ctx context.Context, p *program.Program, a *expect.Assumption, why purpose, most int,
	scales []int) (*Explorer, error) {
	e := &Explorer{
		p:        p,
		w:        *p.Course(),
		purpose:  why,
		tracks:   scales,
		assumed:  a,
		verdicts: map[*program.Condition]Verdict{},
		held:     map[*program.TableRule]Verdict{},
		arrivals: map[*program.Condition]Verdict{},
	}
	e.w.Visitor, e.w.Answers = a.Visitor, make(program.Answers, len(p.Questions))
	e.w.Watch = e.watch
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
