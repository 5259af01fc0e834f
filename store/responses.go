package store

import (
	"context"
	"errors"
	"fmt"
	"iter"
	"maps"
	"math"
	"slices"
	"time"

	"gorm.io/gorm"

	"omphalos/core/decimal"
	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/core/quiz"
)

// A Response is a finished passage. Numbers count from 1 per quiz.
type Response struct {
	ID          uint        `gorm:"primaryKey;autoIncrement:false"` // of the file
	WorkspaceID WorkspaceID `gorm:"not null"`
	QuizID      uint        `gorm:"not null"`
	Number      int         `gorm:"not null"`
	ReleaseID   uint        `gorm:"not null"`
	Passage     string      `gorm:"not null"`
	Slug        string      // the quiz's address when it was begun
	Owner       string      // Token that the device which began it keeps
	Framed      bool        // begun inside another page
	Started     time.Time
	Finished    time.Time
	Seconds     int // from the beginning to the end
	End         string
	Outcome     string
	Landing     string
	Address     string // where a redirect led

	// Of the visitor, for what is asked of many responses.
	Source, Medium, Campaign  string
	Country, Language, Device string
	Visitor                   string // JSON of passage.Visitor: all of them

	Packed   []byte           // the scores and the answers, see pack
	Scores   []ResponseScore  `gorm:"-"`
	Answers  []ResponseAnswer `gorm:"-"`
	Contacts []Contact        `gorm:"constraint:OnDelete:CASCADE"`
	Consents []Consent        `gorm:"constraint:OnDelete:CASCADE"`
	Lead     *Lead            // nil where nothing has come of it yet

	facts *program.Visitor // read already, or nil
}

// BeforeCreate packs the answers, and takes down what is asked of many responses.
func (r *Response) BeforeCreate(*gorm.DB) error {
	r.Packed = pack(r.Scores, r.Answers)
	v := r.Facts()
	r.Source, r.Medium, r.Campaign, r.Country, r.Language, r.Device = v.Source, v.Medium, v.Campaign, v.Country, v.Language, v.Device
	r.Seconds = int(r.Finished.Sub(r.Started).Seconds())
	return nil
}

// AfterFind unpacks the answers.
func (r *Response) AfterFind(*gorm.DB) (err error) {
	r.Scores, r.Answers, err = unpack(r.Packed)
	return err
}

// A Contact is what a respondent said of themselves: in a field of the contact section, or
// as the answer to a question that asks who somebody is.
type Contact struct {
	WorkspaceID WorkspaceID `gorm:"not null"`
	ResponseID  uint        `gorm:"primaryKey;autoIncrement:false"`
	Field       string      `gorm:"primaryKey"` // its key
	Kind        quiz.Kind   `gorm:"not null"`   // what it is: a name, an e-mail address, …
	Value       string
}

// A Consent is what a respondent agreed to: the words as they stood there, the privacy
// notice beside them, and when.
type Consent struct {
	WorkspaceID WorkspaceID `gorm:"not null"`
	ResponseID  uint        `gorm:"primaryKey;autoIncrement:false"`
	Field       string      `gorm:"primaryKey"` // key of the field or the question
	Words       string
	Privacy     string // address of the notice, "" for none
	Given       time.Time
}

// A Lead is what has come of a response since.
type Lead struct {
	WorkspaceID WorkspaceID `gorm:"not null"`
	ResponseID  uint        `gorm:"primaryKey;autoIncrement:false"`
	State       string      // Won, Lost, or what people call theirs
	Changed     time.Time
}

// The states in which a lead can end.
const (
	Won  = "won"
	Lost = "lost"
)

// A ResponseScore is what a scale came to.
type ResponseScore struct {
	Scale      string
	Millionths decimal.Decimal
}

// A ResponseAnswer is an answer on the passage: one for each pick of a question with several,
// and for each row of a grid.
type ResponseAnswer struct {
	Question, Row string
	Answer        string // an answer's key, or what was typed
	WriteIn       string
}

// A Parting counts passages that parted ways: all that is kept of them.
type Parting struct {
	WorkspaceID WorkspaceID `gorm:"not null"`
	QuizID      uint        `gorm:"primaryKey;autoIncrement:false"`
	ReleaseID   uint        `gorm:"primaryKey;autoIncrement:false"`
	Day         string      `gorm:"primaryKey"`
	Count       int
}

// Of takes over what is known of a passage before it is finished.
func (r *Response) Of(p *Passage) {
	r.WorkspaceID, r.QuizID, r.ReleaseID, r.Passage, r.Slug, r.Visitor = p.WorkspaceID, p.QuizID, p.ReleaseID, p.ID, p.Slug, p.Visitor
	r.Owner, r.Framed, r.Started = p.Device, p.Framed, p.Started
}

// Facts returns what is known of the visitor. It must not be changed.
func (r *Response) Facts() *program.Visitor {
	if r.facts != nil {
		return r.facts
	}
	return facts(r.Visitor)
}

// A Page says which of a quiz's responses, the newest first: those before a number, or those
// after one, nearest to it; of both 0, the newest.
type Page struct{ Before, After int }

// List returns a page of a quiz's responses, the newest first, at most so many.
func (rs *Responses) List(ctx context.Context, quiz uint, at Page, most int) ([]Response, error) {
	asked := rs.db(ctx).Where("quiz_id = ?", quiz).Limit(most)
	switch {
	case at.After > 0:
		asked = asked.Where("number > ?", at.After).Order("number")
	case at.Before > 0:
		asked = asked.Where("number < ?", at.Before).Order("number DESC")
	default:
		asked = asked.Order("number DESC")
	}
	var list []Response
	err := asked.Find(&list).Error
	if at.After > 0 {
		slices.Reverse(list)
	}
	return list, found(err, "listing the responses of quiz %d", quiz)
}

// Outcomes counts a quiz's responses by outcome.
func (rs *Responses) Outcomes(ctx context.Context, quiz uint) ([]OutcomeCount, error) {
	var counts []OutcomeCount
	err := rs.db(ctx).Where("quiz_id = ? AND count > 0", quiz).Find(&counts).Error
	return counts, found(err, "counting the responses of quiz %d", quiz)
}

// Partings counts the passages that parted ways.
func (rs *Responses) Partings(ctx context.Context, quiz uint) (int, error) {
	count := 0
	err := rs.db(ctx).Model(&Parting{}).Where("quiz_id = ?", quiz).Select("coalesce(sum(count), 0)").Scan(&count).Error
	return count, found(err, "counting the partings of quiz %d", quiz)
}

// Response returns one response of a quiz by its number, whole.
func (rs *Responses) Response(ctx context.Context, quiz uint, number int) (*Response, error) {
	var r Response
	err := rs.db(ctx).Preload("Consents").Preload("Contacts").Preload("Lead").
		Where("quiz_id = ? AND number = ?", quiz, number).Take(&r).Error
	return &r, found(err, "the response %d", number)
}

// ByPassage returns the response of a finished passage.
func (rs *Responses) ByPassage(ctx context.Context, id string) (*Response, error) {
	var r Response
	err := rs.db(ctx).Preload("Contacts").Where("passage = ?", id).Take(&r).Error
	return &r, found(err, "the response")
}

// Record turns the outcome of a passage into a response that can be kept:
// only answers on the passage are in it.
func Record(p *program.Program, in passage.Input, r *passage.Result) *Response {
	to := &Response{End: string(r.End), Outcome: passage.OutcomeKey(p, r), Landing: passage.LandingKey(p, r)}
	for i, key := range p.ScaleKeys() {
		to.Scores = append(to.Scores, ResponseScore{Scale: key, Millionths: r.Scores[i]})
	}
	for _, i := range r.Seen {
		if i >= len(in.Answers) {
			continue
		}
		t := p.Typed(i, in.Answers[i])
		if p.Question(i).Kind.Personal() && len(t.Values) > 0 {
			to.Contacts = append(to.Contacts, Contact{Field: p.Key(i), Kind: p.Question(i).Kind, Value: t.Values[0]})
			continue
		}
		for _, value := range t.Values {
			to.Answers = append(to.Answers, ResponseAnswer{Question: p.Key(i), Answer: value, WriteIn: t.WriteIn})
		}
		for _, row := range slices.Sorted(maps.Keys(t.Rows)) {
			to.Answers = append(to.Answers, ResponseAnswer{Question: p.Key(i), Row: row, Answer: t.Rows[row]})
		}
	}
	return to
}

// typed returns the answers of a response by question or field, as they were typed.
func (r *Response) typed() map[string]program.Typed {
	typed := map[string]program.Typed{}
	for list := range r.byQuestion() {
		typed[list[0].Question] = typedOf(list)
	}
	for _, c := range r.Contacts {
		typed[c.Field] = program.Typed{Values: []string{c.Value}}
	}
	return typed
}

// byQuestion gives the answers question by question: those to one stand together.
func (r *Response) byQuestion() iter.Seq[[]ResponseAnswer] {
	return func(yield func([]ResponseAnswer) bool) {
		for rest := r.Answers; len(rest) > 0; {
			many := 1
			for many < len(rest) && rest[many].Question == rest[0].Question {
				many++
			}
			if !yield(rest[:many]) {
				return
			}
			rest = rest[many:]
		}
	}
}

// typedOf returns the answers to one question as they were typed.
func typedOf(list []ResponseAnswer) program.Typed {
	var t program.Typed
	for _, a := range list {
		if a.Row == "" {
			t.Values, t.WriteIn = append(t.Values, a.Answer), a.WriteIn
			continue
		}
		t.Rows = with(t.Rows, a.Row, a.Answer)
	}
	return t
}

func with(m map[string]string, key, value string) map[string]string {
	if m == nil {
		m = map[string]string{}
	}
	m[key] = value
	return m
}

// Input turns a response back into what its passage was computed from.
func (r *Response) Input(p *program.Program) (passage.Input, error) {
	in := passage.Input{Answers: make(program.Answers, len(p.Questions)), Visitor: r.Facts()}
	for key, t := range r.typed() {
		if slices.Contains(p.ContactKeys(), key) {
			in.Contact = with(in.Contact, key, t.Values[0])
			continue
		}
		i := p.Position(key)
		if i < 0 {
			return in, fmt.Errorf("the response %d answers %q, which its release does not ask", r.Number, key)
		}
		v, err := p.Read(i, t)
		if err != nil {
			return in, fmt.Errorf("the response %d: %w", r.Number, err)
		}
		in.Answers[i] = v
	}
	return in, nil
}

// Answered returns how many responses a quiz has.
func (rs *Responses) Answered(ctx context.Context, quiz uint) (int, error) {
	count := 0
	err := rs.db(ctx).Model(&OutcomeCount{}).Where("quiz_id = ?", quiz).Select("coalesce(sum(count), 0)").
		Scan(&count).
		Error
	return count, found(err, "counting the responses of quiz %d", quiz)
}

// Last returns the number of a quiz's newest response, 0 for none.
func (rs *Responses) Last(ctx context.Context, quiz uint) (int, error) {
	last := 0
	err := rs.db(ctx).Model(&Response{}).Where("quiz_id = ?", quiz).Select("coalesce(max(number), 0)").Scan(&last).Error
	return last, found(err, "looking for the newest response of quiz %d", quiz)
}

// Newest returns the newest responses of a quiz with their answers, at most so many.
func (rs *Responses) Newest(ctx context.Context, quiz uint, most int) ([]Response, error) {
	var list []Response
	err := rs.db(ctx).Preload("Contacts").Where("quiz_id = ?", quiz).Order("number DESC").Limit(most).Find(&list).Error
	for i := range list {
		list[i].facts = facts(list[i].Visitor)
	}
	return list, found(err, "reading the newest responses of quiz %d", quiz)
}

// AddResponses keeps finished responses, and passages that are under way, in one commit, as
// they come from elsewhere. The numbers of responses follow those that are there; there are
// no passages to go back to. The error is as SaveTyped's.
func (rs *Responses) AddResponses(ctx context.Context, list []*Response, begun ...*Passage) error {
	for _, r := range list {
		r.WorkspaceID = rs.in
	}
	return found(
		rs.write(ctx, &entry{passage: &Passage{WorkspaceID: rs.in}, gone: true, alone: func(tx *gorm.DB) error {
			last := numbers{}
			for _, r := range list {
				if err := last.give(tx, r); err != nil {
					return err
				}
			}
			return errors.Join(rs.disk.createResponses(tx, list), create(tx, begun))
		}}),
		"keeping responses",
	)
}

// Each gives f the responses of a quiz in the order of their numbers, with scores and answers
// and without contact, until f returns false. The Response is good until f returns.
func (rs *Responses) Each(ctx context.Context, quiz uint, f func(*Response) bool) error {
	r := Response{WorkspaceID: rs.in, QuizID: quiz}
	return rs.each(ctx, &r, 1, math.MaxInt, f, map[string]any{"number": &r.Number, "release_id": &r.ReleaseID,
		"outcome": &r.Outcome, "visitor": &r.Visitor, "packed": &r.Packed})
}

// eachWhole is Each of those with numbers from one to another, with all that is counted.
func (rs *Responses) eachWhole(ctx context.Context, quiz uint, from, to int, f func(*Response) bool) error {
	r := Response{WorkspaceID: rs.in, QuizID: quiz}
	return rs.each(ctx, &r, from, to, f, map[string]any{"number": &r.Number, "release_id": &r.ReleaseID,
		"finished": &r.Finished, "seconds": &r.Seconds, "end": &r.End, "outcome": &r.Outcome, "landing": &r.Landing,
		"source": &r.Source, "medium": &r.Medium, "campaign": &r.Campaign, "country": &r.Country,
		"language": &r.Language, "device": &r.Device, "packed": &r.Packed})
}

// each reads columns of responses of r's quiz into r, one after the other.
func (rs *Responses) each(
	ctx context.Context,
	r *Response,
	from, to int,
	f func(*Response) bool,
	columns map[string]any,
) error {
	quiz, names := r.QuizID, slices.Sorted(maps.Keys(columns))
	var into []any
	for _, name := range names {
		into = append(into, columns[name])
	}
	// A context that can end makes the driver start a goroutine a row: it is asked between rows.
	rows, err := rs.db(context.WithoutCancel(ctx)).Model(&Response{}).Select(names).
		Where("quiz_id = ? AND number BETWEEN ? AND ?", quiz, from, to).Order("number").Rows()
	if err != nil {
		return found(err, "reading the responses of quiz %d", quiz)
	}
	defer rows.Close()
	for n := 1; rows.Next(); n++ {
		if n%1024 == 0 && ctx.Err() != nil {
			return ctx.Err()
		}
		if err := rows.Scan(into...); err != nil {
			return found(err, "reading the responses of quiz %d", quiz)
		}
		if r.Scores, r.Answers, err = unpackInto(r.Scores, r.Answers, r.Packed); err != nil {
			return err
		}
		if !f(r) {
			break
		}
	}
	return found(rows.Err(), "reading the responses of quiz %d", quiz)
}
