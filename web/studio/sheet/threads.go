package sheet

import (
	"slices"

	"omphalos/core/odds"
	"omphalos/core/quiz"
	"omphalos/web/studio/desk"
)

// The path margin is drawn row by row: every row of the sheet, however high
// its text makes it, carries the pieces of the threads that begin, pass or end
// beside it. A thread keeps to one lane from its first row to its last, so the
// pieces meet without any measuring.

// A threadRow is what the path margin shows beside one row. X and widths are in
// pixels of a margin that is marginWidth wide; a row is 100 high.
type threadRow struct {
	ID     string  // of the element, where it is sent by itself
	Knot   bool    // the diamond of a step of the way
	KnotX  float64 // its middle
	Pieces []piece
	Loose  quiz.Pointer // path of the then that is re-routed by dragging here
}

// A piece is one stroke in one row.
type piece struct {
	Shape pieceShape
	X     float64 // of the lane
	Width float64
	Class string       // "next", "jump", "part", "to-0" … for outcomes
	Name  quiz.Pointer // of the thread, to light it as a whole: the row that it begins at
	End   quiz.Pointer // the row that it leads to, where that is not the next on the trunk
}

// A thread leads from one row to a later one.
type thread struct {
	from, to int // rows
	share    float64
	class    string
	name     quiz.Pointer
	straight bool // begins at a knot, not at the text
	trunk    bool // keeps to the trunk
	lane     int  // 1 is the nearest to the trunk
}

// A margin works out the threads of a sheet.
type margin struct {
	rows    map[quiz.Pointer]int // row by pointer
	names   []quiz.Pointer
	threads []thread
	knots   map[int]bool
}

// threads returns the path margin of a quiz, by the pointer of the row:
// "/opening", "/questions/crop", "/questions/crop/answers/apples",
// "/decision", "/outcomes/a". o may be nil.
func threads(q *quiz.Quiz, o *odds.Odds) map[quiz.Pointer]threadRow {
	m := margin{rows: map[quiz.Pointer]int{}, knots: map[int]bool{}}
	questions := q.QuestionKeys()
	m.row("/opening", true)
	for _, k := range questions {
		m.row(quiz.At("questions", k), true)
		for _, a := range quiz.InOrder(q.Questions[k].Answers) {
			m.row(quiz.At("questions", k, "answers", a), false)
		}
	}
	m.row("/decision", true)
	outcomes := quiz.InOrder(q.Outcomes)
	for _, k := range outcomes {
		m.row(quiz.At("outcomes", k), false)
	}
	m.connect(q, questions, o)
	m.decide(q, outcomes, o)
	m.allot()
	return m.draw()
}

func (m *margin) row(pointer quiz.Pointer, knot bool) {
	m.rows[pointer] = len(m.names)
	m.knots[len(m.names)] = knot
	m.names = append(m.names, pointer)
}

// connect adds the ordinary way, knot by knot, and a thread for each answer.
func (m *margin) connect(q *quiz.Quiz, questions []string, o *odds.Odds) {
	here := quiz.Pointer("/opening")
	for i, k := range append(slices.Clone(questions), "") {
		next := quiz.At("questions", k)
		if k == "" {
			next = "/decision"
		}
		m.threads = append(
			m.threads,
			thread{
				from:     m.rows[here],
				to:       m.rows[next],
				share:    1,
				class:    "next",
				name:     here,
				straight: true,
				trunk:    true,
			},
		)
		here = next
		if k == "" {
			break
		}
		after := quiz.Pointer("/decision")
		if i+1 < len(questions) {
			after = quiz.At("questions", questions[i+1])
		}
		m.answers(q, k, after, o)
	}
}

func (m *margin) answers(q *quiz.Quiz, question string, after quiz.Pointer, o *odds.Odds) {
	answers := quiz.InOrder(q.Questions[question].Answers)
	for _, k := range answers {
		a := q.Questions[question].Answers[k]
		pointer := quiz.At("questions", question, "answers", k)
		t := thread{
			from:  m.rows[pointer],
			to:    m.rows[after],
			share: 1 / float64(len(answers)),
			class: "next",
			name:  pointer,
			trunk: true,
		}
		if o != nil {
			t.share = o.Answers[question][k]
		}
		if a.Then != nil {
			if to, known := m.rows[target(q, a.Then)]; known && to > t.from {
				t.to, t.class, t.trunk = to, "jump", false
				if a.Then.Go == quiz.PartWays {
					t.class = "part"
				}
			}
		}
		m.threads = append(m.threads, t)
	}
}

// target returns the row that a then leads to.
func target(q *quiz.Quiz, t *quiz.Then) quiz.Pointer {
	switch t.Go {
	case quiz.ToQuestion:
		return quiz.At("questions", t.To)
	case quiz.ToSection:
		for _, k := range q.QuestionKeys() {
			if q.Questions[k].Section == t.To {
				return quiz.At("questions", k)
			}
		}
	case quiz.ToOutcome, quiz.PartWays:
		return quiz.At("outcomes", t.To)
	}
	return "/decision"
}

// decide adds a thread from the decision to each outcome that it can name.
func (m *margin) decide(q *quiz.Quiz, outcomes []string, o *odds.Odds) {
	for i, k := range outcomes {
		share := 0.0
		if o != nil {
			share = o.Outcomes[k]
		}
		if !named(q, k) {
			continue
		}
		m.threads = append(
			m.threads,
			thread{from: m.rows["/decision"], to: m.rows[quiz.At("outcomes", k)], share: share,
				class: desk.Hue(i), name: quiz.At("outcomes", k), straight: true},
		)
	}
}

// named tells whether the decision names the outcome anywhere.
func named(q *quiz.Quiz, outcome string) bool {
	if q.Decision.Otherwise == outcome {
		return true
	}
	for _, s := range q.Decision.Steps {
		if s.Outcome == outcome || s.Lowest == outcome {
			return true
		}
		for _, c := range s.Cuts {
			if c.Outcome == outcome {
				return true
			}
		}
		for _, r := range s.Rules {
			if r.Outcome == outcome {
				return true
			}
		}
		for k, c := range s.Contenders {
			if c.Outcome == outcome || (c.Outcome == "" && q.Scales[k] != nil && q.Scales[k].Outcome == outcome) {
				return true
			}
		}
	}
	return false
}
