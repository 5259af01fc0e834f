package store

import (
	"context"
	"errors"
	"slices"
	"time"

	"gorm.io/gorm"

	"omphalos/core/decimal"
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
	Taker       string      `gorm:"not null"` // whose passage it was, where the quiz asks how often: see Bounds
	Beside      bool        `gorm:"not null"` // another one of theirs counts instead
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

	Packed    []byte           // the scores and the answers, see pack
	Scores    []ResponseScore  `gorm:"-"`
	Answers   []ResponseAnswer `gorm:"-"`
	Asked     []Stop           `gorm:"-"` // the questions on the passage, with those that were skipped
	Contacts  []Contact        `gorm:"constraint:OnDelete:CASCADE"`
	Consents  []Consent        `gorm:"constraint:OnDelete:CASCADE"`
	Presses   []Press          `gorm:"constraint:OnDelete:CASCADE"`
	FollowUps []Delivery       `gorm:"-"` // that go out, of one that is being kept
	Lead      *Lead            `gorm:"-"` // whose it is, nil where nobody said; from elsewhere what it brings along

	facts *program.Visitor // read already, or nil
}

// BeforeCreate packs the answers, and takes down what is asked of many responses.
func (r *Response) BeforeCreate(*gorm.DB) error {
	r.Packed = pack(r.Scores, r.Answers, r.Asked)
	v := r.Facts()
	r.Source, r.Medium, r.Campaign, r.Country, r.Language, r.Device = v.Source, v.Medium, v.Campaign, v.Country,
		v.Language, v.Device
	r.Seconds = int(r.Finished.Sub(r.Started).Seconds())
	return nil
}

// AfterFind unpacks the answers.
func (r *Response) AfterFind(*gorm.DB) (err error) {
	r.Scores, r.Answers, r.Asked, err = unpack(r.Packed)
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
	QuizID      uint `gorm:"not null"` // of the response, as its number is
	Number      int  `gorm:"not null"`
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

// Of takes over what is known of a passage before it is finished.
func (r *Response) Of(p *Passage) {
	r.WorkspaceID, r.QuizID, r.ReleaseID, r.Passage, r.Slug, r.Visitor = p.WorkspaceID, p.QuizID, p.ReleaseID,
		p.ID, p.Slug, p.Visitor
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

// List returns a page of a quiz's responses, the newest first, with contact, at most so many.
func (rs *Responses) List(ctx context.Context, quiz uint, at Page, most int) ([]Response, error) {
	asked := rs.db(ctx).Preload("Contacts").Where("quiz_id = ?", quiz).Limit(most)
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

// ListAfter returns a quiz's responses by their numbers, those after one, with contact, at most
// so many.
func (rs *Responses) ListAfter(ctx context.Context, quiz uint, number, most int) ([]Response, error) {
	var list []Response
	err := rs.db(ctx).Preload("Contacts").Where("quiz_id = ? AND number > ?", quiz, number).Order("number").
		Limit(most).Find(&list).Error
	return list, found(err, "listing the responses of quiz %d", quiz)
}

// Outcomes counts a quiz's responses by outcome.
func (rs *Responses) Outcomes(ctx context.Context, quiz uint) ([]OutcomeCount, error) {
	var counts []OutcomeCount
	err := rs.db(ctx).Where("quiz_id = ? AND count > 0", quiz).Find(&counts).Error
	return counts, found(err, "counting the responses of quiz %d", quiz)
}

// Response returns one response of a quiz by its number, whole.
func (rs *Responses) Response(ctx context.Context, quiz uint, number int) (*Response, error) {
	var r Response
	err := rs.db(ctx).Preload("Consents").Preload("Contacts").Where("quiz_id = ? AND number = ?", quiz, number).
		Take(&r).Error
	if err == nil {
		r.Lead, err = rs.leadOf(ctx, r.ID)
	}
	return &r, found(err, "the response %d", number)
}

// ByPassage returns the response of a finished passage.
func (rs *Responses) ByPassage(ctx context.Context, id string) (*Response, error) {
	var r Response
	err := rs.db(ctx).Preload("Contacts").Where("passage = ?", id).Take(&r).Error
	return &r, found(err, "the response")
}

// AddResponses keeps finished responses, and passages that are under way, in one commit, as
// they come from elsewhere. The numbers of responses follow those that are there; there are
// no passages to go back to. The error is as SaveTyped's.
func (rs *Responses) AddResponses(ctx context.Context, list []*Response, begun ...*Passage) error {
	for _, r := range list {
		r.WorkspaceID = rs.in
	}
	err := rs.write(ctx, &entry{passage: &Passage{WorkspaceID: rs.in}, gone: true, alone: func(tx *gorm.DB) error {
		last := numbers{}
		for _, r := range list {
			if err := last.give(tx, r); err != nil {
				return err
			}
		}
		return errors.Join(rs.disk.createResponses(tx, list), create(tx, begun))
	}})
	for _, p := range begun {
		rs.flows.forget(p.QuizID)
	}
	for _, r := range list {
		if err == nil && r.Lead != nil {
			rs.leads.touch(r.Lead.ID)
		}
	}
	return found(err, "keeping responses")
}
