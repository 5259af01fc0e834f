package store

import (
	"context"
	"time"
)

// A Hand hands a rehearsal to somebody without an account, by a link that ends.
type Hand struct {
	ID          uint
	WorkspaceID WorkspaceID `gorm:"not null"`
	QuizID      uint        `gorm:"not null"`
	Token       string      `gorm:"not null"` // in its link
	Document    string      `gorm:"not null"` // the draft as it was, "" where the link follows it
	Note        string      `gorm:"not null"` // for whom, or what to look at
	UserID      uint
	Made        time.Time
	Ends        time.Time
	Withdrawn   bool `gorm:"not null"`
}

// Open tells whether the link still opens at a time.
func (h *Hand) Open(at time.Time) bool { return !h.Withdrawn && at.Before(h.Ends) }

// NewHand makes a link.
func (d *Definitions) NewHand(ctx context.Context, h Hand) (*Hand, error) {
	h.Token, h.Made = Token(), now()
	return &h, found(d.db(ctx).Create(&h).Error, "making the link")
}

// HandOf returns what a link hands over.
func (d *Definitions) HandOf(ctx context.Context, token string) (*Hand, error) {
	h := new(Hand)
	return h, found(d.db(ctx).Where("token = ?", token).Take(h).Error, "the link")
}

// HandByID returns a link by its number.
func (d *Definitions) HandByID(ctx context.Context, id uint) (*Hand, error) {
	h := new(Hand)
	return h, found(d.db(ctx).Where("id = ?", id).Take(h).Error, "the link")
}

// Hands lists the links to a quiz, the newest first.
func (d *Definitions) Hands(ctx context.Context, quiz uint) ([]Hand, error) {
	var list []Hand
	return list, found(d.db(ctx).Where("quiz_id = ?", quiz).Order("id DESC").Find(&list).Error, "listing the links")
}

// Withdraw ends a link before its time.
func (d *Definitions) Withdraw(ctx context.Context, quiz, id uint) error {
	done := d.db(ctx).Model(&Hand{}).Where("id = ? AND quiz_id = ?", id, quiz).Update("withdrawn", true)
	if done.Error == nil && done.RowsAffected == 0 {
		return ErrNotFound
	}
	return found(done.Error, "withdrawing the link")
}

// A Remark is what somebody says about a place of a quiz that was handed to them.
type Remark struct {
	ID          uint
	WorkspaceID WorkspaceID `gorm:"not null"`
	QuizID      uint        `gorm:"not null"`
	HandID      uint        `gorm:"not null"`
	Pointer     string      `gorm:"not null"` // of a question, an outcome, or the opening
	Name        string      `gorm:"not null"` // of who says it
	Words       string      `gorm:"not null"`
	Made        time.Time
	Answer      string `gorm:"not null"` // what the studio says to it
	Settled     bool   `gorm:"not null"`
	UserID      uint   // who answered or settled it
}

// AddRemark keeps a remark.
func (d *Definitions) AddRemark(ctx context.Context, r Remark) error {
	r.Made = now()
	return found(d.db(ctx).Create(&r).Error, "keeping the remark")
}

// Remarks lists the remarks about a quiz, the oldest first.
func (d *Definitions) Remarks(ctx context.Context, quiz uint) ([]Remark, error) {
	var list []Remark
	return list, found(d.db(ctx).Where("quiz_id = ?", quiz).Order("id").Find(&list).Error, "listing the remarks")
}

// RemarksOf lists the remarks that were made by a link.
func (d *Definitions) RemarksOf(ctx context.Context, hand uint) ([]Remark, error) {
	var list []Remark
	return list, found(d.db(ctx).Where("hand_id = ?", hand).Order("id").Find(&list).Error, "listing the remarks")
}

// OpenRemarks counts the remarks about a quiz that are not settled.
func (d *Definitions) OpenRemarks(ctx context.Context, quiz uint) (int, error) {
	var n int64
	err := d.db(ctx).Model(&Remark{}).Where("quiz_id = ? AND NOT settled", quiz).Count(&n).Error
	return int(n), found(err, "counting the remarks")
}

// AnswerRemark keeps what is said to a remark, and whether it is settled.
func (d *Definitions) AnswerRemark(ctx context.Context, quiz, id uint, answer string, settled bool, user uint) error {
	done := d.db(ctx).Model(&Remark{}).Where("id = ? AND quiz_id = ?", id, quiz).
		Updates(map[string]any{"answer": answer, "settled": settled, "user_id": user})
	if done.Error == nil && done.RowsAffected == 0 {
		return ErrNotFound
	}
	return found(done.Error, "answering the remark")
}
