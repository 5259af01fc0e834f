package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"maps"
	"time"

	"omphalos/core/program"
)

// A Passage is a respondent's way through a release, as far as it has come. On disk are those
// under way; of one that is finished there is the response.
type Passage struct {
	ID          string      `gorm:"primaryKey"` // PassageNumber
	WorkspaceID WorkspaceID `gorm:"primaryKey;autoIncrement:false"`
	QuizID      uint        `gorm:"not null"`
	ReleaseID   uint        `gorm:"not null"`
	Slug        string      // the quiz's address
	Answers     string      // JSON of Typed by question
	Visitor     string      // JSON of passage.Visitor
	Started     time.Time
	Updated     time.Time
	Finished    bool   `gorm:"-"`
	Framed      bool   `gorm:"not null;default:false"` // begun inside another page
	Device      string `gorm:"not null;default:''"`    // Token that the device which began it keeps, "" of older ones
	Place       string `gorm:"not null"`               // the key of the question up to which it has come
	Seconds     int    `gorm:"not null"`               // from the beginning until now
	Trail       string `gorm:"not null"`               // JSON of Stops
	Came        Came   `gorm:"embedded;embeddedPrefix:by_"`

	fresh bool // not on disk yet
}

// Begin makes a passage through a release under a number, or under a new one where it
// is "". Nothing is on disk before SaveTyped or Finish.
func Begin(number string, r *Release, slug string, visitor program.Visitor) *Passage {
	if number == "" {
		number = PassageNumber()
	}
	return &Passage{
		ID:          number,
		WorkspaceID: r.WorkspaceID,
		QuizID:      r.QuizID,
		ReleaseID:   r.ID,
		Slug:        slug,
		Answers:     "{}",
		Visitor:     toJSON(visitor),
		Started:     now(),
		Updated:     now(),
		Device:      Token(),
		Came:        cameBy(&visitor),
		fresh:       true,
	}
}

// Start begins a passage through a release and keeps it.
func (rs *Responses) Start(ctx context.Context, r *Release, slug string, visitor program.Visitor) (*Passage, error) {
	p := Begin("", r, slug, visitor)
	return p, rs.SaveTyped(ctx, p, nil)
}

// Passage returns the passage with an ID.
func (rs *Responses) Passage(ctx context.Context, id string) (*Passage, error) {
	if p, known := rs.disk.remembered(rs.in, id); known {
		return &p, nil
	}
	where, err := rs.where(id)
	if err != nil {
		return nil, found(err, "the passage")
	}
	p := new(Passage)
	if where == inResponses {
		p, err = rs.finished(ctx, id)
	} else {
		err = rs.db(ctx).Where("id = ?", id).Take(p).Error
	}
	if err != nil {
		return nil, found(err, "the passage")
	}
	rs.disk.passages.AddNew(id, *p)
	return p, nil
}

// Where a passage is kept.
const (
	inResponses = 1
	inPassages  = 2
)

// where tells where a passage is kept. Most numbers that are not remembered are new ones, so
// this is asked as plainly as can be, and of the connections that hold prepared statements.
func (rs *Responses) where(id string) (where int, err error) {
	const asked = `SELECT 1 FROM responses WHERE passage = ? AND workspace_id = ?
		UNION ALL SELECT 2 FROM passages WHERE id = ? AND workspace_id = ?`
	err = rs.disk.main.ConnPool.QueryRowContext(context.Background(), asked, id, rs.in, id, rs.in).Scan(&where)
	if errors.Is(err, sql.ErrNoRows) {
		err = ErrNotFound
	}
	return where, err
}

// finished returns a passage that has a response, from that.
func (rs *Responses) finished(ctx context.Context, id string) (*Passage, error) {
	r, err := rs.ByPassage(ctx, id)
	if err != nil {
		return nil, err
	}
	return &Passage{
		ID:          r.Passage,
		WorkspaceID: r.WorkspaceID,
		QuizID:      r.QuizID,
		ReleaseID:   r.ReleaseID,
		Slug:        r.Slug,
		Answers:     toJSON(r.typed()),
		Visitor:     r.Visitor,
		Started:     r.Started,
		Updated:     r.Finished,
		Finished:    true,
		Framed:      r.Framed,
		Device:      r.Owner,
	}, nil
}

// Typed returns what has been typed so far, by question.
func (p *Passage) Typed() map[string]program.Typed {
	typed := map[string]program.Typed{}
	_ = json.Unmarshal([]byte(p.Answers), &typed) // written by SaveTyped
	return typed
}

// KeepQuery adds parameters of the visitor's address to what is kept of them.
func (p *Passage) KeepQuery(query map[string]string) {
	if len(query) == 0 {
		return
	}
	v := p.Facts()
	v.Query = maps.Clone(v.Query)
	if v.Query == nil {
		v.Query = map[string]string{}
	}
	maps.Copy(v.Query, query)
	p.Visitor = toJSON(v)
}

// Facts returns what is known of the visitor.
func (p *Passage) Facts() *program.Visitor { return facts(p.Visitor) }

func facts(s string) *program.Visitor {
	v := new(program.Visitor)
	_ = json.Unmarshal([]byte(s), v) // written by Begin
	return v
}

// with returns the passage as it is when something else has been typed.
func (p *Passage) with(typed map[string]program.Typed, finished bool) *Passage {
	next := *p
	if typed != nil {
		next.Answers = toJSON(typed)
	}
	next.Updated, next.Finished = now(), finished
	next.Seconds = int(next.Updated.Sub(next.Started).Seconds())
	return &next
}

// Type puts what has been typed until a time into a passage, without keeping it.
func (p *Passage) Type(typed map[string]program.Typed, at time.Time) {
	p.Answers, p.Updated, p.Seconds = toJSON(typed), at, int(at.Sub(p.Started).Seconds())
}

// SaveTyped keeps what has been typed so far. A finished passage stays as it is. The
// error wraps ErrBusy where too much is waiting to be written. What waits is written though
// the context ends.
func (rs *Responses) SaveTyped(ctx context.Context, p *Passage, typed map[string]program.Typed) error {
	e := &entry{passage: p.with(typed, false)}
	if err := rs.write(ctx, e); err != nil {
		return found(err, "keeping the answers")
	}
	*p = *e.passage
	return nil
}
