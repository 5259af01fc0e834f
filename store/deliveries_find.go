package store

import (
	"context"
	"strings"

	"gorm.io/gorm"

	"omphalos/core/quiz"
)

// A Search says which deliveries are looked for: what is "" or 0 is not asked.
type Search struct {
	State    string // Waiting, Delivered, Cancelled, Dead, or Failing: waiting after a try that failed
	QuizID   uint
	FollowUp string
	Kind     quiz.FollowUpKind
	Lane     string // without the workspace
	Words    string // in the recipient, the subject or the reason
	Number   int    // of the response
	Before   uint   // ID: those older than it
	ID       uint
}

// Failing asks for deliveries that wait after a try that failed.
const Failing = "failing"

// Deliveries returns the deliveries that are looked for, the newest first, at most so many.
func (o *Outbox) Deliveries(ctx context.Context, s Search, most int) ([]Delivery, error) {
	var list []Delivery
	err := s.in(o.db(ctx)).Order("id DESC").Limit(most).Find(&list).Error
	return list, found(err, "looking for deliveries")
}

func (s Search) in(db *gorm.DB) *gorm.DB {
	switch s.State {
	case "":
	case Failing:
		db = db.Where("state = 'waiting' AND why <> ''")
	default:
		db = db.Where("state = ?", s.State)
	}
	for column, value := range map[string]string{"follow_up": s.FollowUp, "kind": string(s.Kind)} {
		if value != "" {
			db = db.Where(column+" = ?", value)
		}
	}
	if s.QuizID != 0 {
		db = db.Where("quiz_id = ?", s.QuizID)
	}
	if s.ID != 0 {
		db = db.Where("id = ?", s.ID)
	}
	if s.Number != 0 {
		db = db.Where("number = ?", s.Number)
	}
	if s.Lane != "" {
		db = db.Where("substr(lane, instr(lane, '/') + 1) = ?", s.Lane)
	}
	if words := strings.TrimSpace(s.Words); words != "" {
		like := "%" + strings.NewReplacer(`\`, `\\`, "%", `\%`, "_", `\_`).Replace(words) + "%"
		db = db.Where(`(recipient LIKE ? ESCAPE '\' OR about LIKE ? ESCAPE '\' OR why LIKE ? ESCAPE '\')`, like, like, like)
	}
	if s.Before != 0 {
		db = db.Where("id < ?", s.Before)
	}
	return db
}

// Delivery returns a delivery by its ID.
func (o *Outbox) Delivery(ctx context.Context, id uint) (*Delivery, error) {
	var one Delivery
	err := o.db(ctx).Take(&one, id).Error
	return &one, found(err, "the delivery %d", id)
}

// DeliveriesOf returns what went out, or is to, because of some responses, the newest first.
func (o *Outbox) DeliveriesOf(ctx context.Context, responses ...uint) ([]Delivery, error) {
	var list []Delivery
	err := o.db(ctx).Where("response_id IN ?", responses).Order("made DESC, id DESC").Find(&list).Error
	return list, found(err, "looking for what went out")
}

// Figures are how many deliveries are in each state, with those that fail among those that
// wait.
type Figures struct{ Delivered, Waiting, Failing, Dead, Cancelled int }

func (f *Figures) add(state string, failing bool, n int) {
	switch {
	case state == Delivered:
		f.Delivered += n
	case state == Cancelled:
		f.Cancelled += n
	case state == Dead:
		f.Dead += n
	case failing:
		f.Failing += n
	default:
		f.Waiting += n
	}
}

// Figures returns how the deliveries of a quiz stand, by follow-up; of all quizzes for 0.
func (o *Outbox) Figures(ctx context.Context, quizID uint) (map[string]Figures, error) {
	var rows []struct {
		FollowUp, State string
		Failing         bool
		N               int
	}
	asked := o.db(ctx).Model(&Delivery{}).
		Select("follow_up, state, state = 'waiting' AND why <> '' AS failing, count(*) AS n").
		Group("follow_up, state, failing")
	if quizID != 0 {
		asked = asked.Where("quiz_id = ?", quizID)
	}
	err := asked.Scan(&rows).Error
	by := map[string]Figures{}
	for _, r := range rows {
		f := by[r.FollowUp]
		f.add(r.State, r.Failing, r.N)
		by[r.FollowUp] = f
	}
	return by, found(err, "counting deliveries")
}

// Again has deliveries tried again now that were given up, cancelled by hand or are waiting,
// and returns how many they were. They carry the keys that they had.
func (o *Outbox) Again(ctx context.Context, s Search) (int, error) {
	n := 0
	err := o.rs().alone(ctx, func(tx *gorm.DB) error {
		done := s.in(tx.Model(&Delivery{})).Where("state IN ? AND claimed IS NULL", []string{Dead, Waiting, Cancelled}).
			Updates(map[string]any{"state": Waiting, "due": now(), "first": now(), "ended": nil})
		n = int(done.RowsAffected)
		return done.Error
	})
	o.disk.rang.ring()
	return n, found(err, "sending again")
}

// Cancel cancels deliveries that wait, and returns how many they were.
func (o *Outbox) Cancel(ctx context.Context, s Search, why string) (int, error) {
	n := 0
	err := o.rs().alone(ctx, func(tx *gorm.DB) error {
		done := s.in(tx.Model(&Delivery{})).Where("state = 'waiting' AND claimed IS NULL").
			Updates(map[string]any{"state": Cancelled, "why": why, "ended": now()})
		n = int(done.RowsAffected)
		return done.Error
	})
	return n, found(err, "cancelling")
}

// ResponseOf returns the response of a delivery, whole, with its lead; ErrNotFound where it
// was erased.
func (o *Outbox) ResponseOf(ctx context.Context, of *Delivery) (*Response, error) {
	return o.rs().Response(ctx, of.QuizID, of.Number)
}

// Busy tells whether a delivery is being tried.
func (one *Delivery) Busy() bool { return one.State == Waiting && one.Claimed != nil }
