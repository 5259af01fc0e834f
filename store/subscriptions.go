package store

import (
	"context"
	"errors"
	"time"

	"gorm.io/gorm"

	"omphalos/core/quiz"
)

// A Subscription is somebody's place on a list, with the proof that they agreed to it.
type Subscription struct {
	ID          uint        `gorm:"primaryKey"`
	WorkspaceID WorkspaceID `gorm:"not null"`
	List        string      `gorm:"not null"` // its key
	Address     string      `gorm:"not null"` // as Fold writes it
	Hash        string      `gorm:"not null"` // of the address
	Name        string      `gorm:"not null"`
	State       string      `gorm:"not null"` // Asked, Joined, Left
	Token       string      `gorm:"not null"` // opens the page that confirms
	ResponseID  uint        `gorm:"not null"` // in which they agreed
	QuizID      uint        `gorm:"not null"`
	Number      int         `gorm:"not null"`
	Words       string      `gorm:"not null"` // to which they agreed
	Privacy     string      `gorm:"not null"` // address of the notice beside them
	Given       time.Time   // when they agreed
	Asked       *time.Time  // when the mail went out that asks to confirm
	Confirmed   *time.Time
	Ended       *time.Time
}

// The states of a subscription.
const (
	Asked  = "asked"
	Joined = "joined"
	Left   = "left"
)

// An Unsubscribed address gets no mail of follow-ups any more, for ever. Of the address no more
// is kept than tells it again.
type Unsubscribed struct {
	WorkspaceID WorkspaceID `gorm:"primaryKey;autoIncrement:false"`
	Hash        string      `gorm:"primaryKey"`
	Made        time.Time
}

// TableName is the table's.
func (Unsubscribed) TableName() string { return "unsubscribed" }

// Subscriptions returns those on a list, the newest first; at most so many, 0 for all.
func (o *Outbox) Subscriptions(ctx context.Context, list string, most int) ([]Subscription, error) {
	asked := o.db(ctx).Where("list = ?", list).Order("id DESC")
	if most > 0 {
		asked = asked.Limit(most)
	}
	var there []Subscription
	return there, found(asked.Find(&there).Error, "listing who is on the list %q", list)
}

// Join puts somebody on a list because of a delivery, once: who is on it already, or was asked
// within a day, stays as they are. Where the list asks to confirm, a mail for that is put into the
// outbox in the same commit, else what tells others of it. The error is ErrUnsubscribed for
// whoever wants no mail.
func (o *Outbox) Join(ctx context.Context, l *List, from Delivery, s Subscription) error {
	s.List, s.Address = l.Key, Fold(s.Address)
	s.Hash, s.Token = o.hash(s.Address), Token()
	s.ResponseID, s.QuizID, s.Number = from.ResponseID, from.QuizID, from.Number
	return found(o.rs().alone(ctx, func(tx *gorm.DB) error {
		if gone, err := unsubscribed(tx, s.Hash); err != nil || gone {
			return errors.Join(err, ErrUnsubscribed)
		}
		at := now()
		if s.State = Asked; l.Once {
			s.State, s.Confirmed = Joined, &at
		} else {
			s.Asked = &at
		}
		if there, err := o.alreadyOn(tx, &s, at); err != nil || there {
			return err
		}
		if err := tx.Save(&s).Error; err != nil {
			return err
		}
		if l.Once {
			return o.tell(tx, l, from, JoinStep)
		}
		return o.follow(tx, from, ConfirmStep, mailLane)
	}), "joining the list %q", l.Key)
}

// alreadyOn tells whether somebody is on a list, or was asked lately. Who was asked longer ago
// and has not answered is asked once more, with the newer proof.
func (o *Outbox) alreadyOn(tx *gorm.DB, s *Subscription, at time.Time) (bool, error) {
	var before Subscription
	err := tx.Where("list = ? AND address = ?", s.List, s.Address).Take(&before).Error
	if errors.Is(err, gorm.ErrRecordNotFound) {
		return false, nil
	}
	if err != nil || before.State != Asked || before.Asked != nil && at.Sub(*before.Asked) < askedAgain {
		return true, err
	}
	s.ID, s.Token = before.ID, before.Token
	return false, nil
}

// askedAgain is after how long somebody is asked once more who signs up again.
const askedAgain = 24 * time.Hour

// tell puts into the outbox what tells others of somebody who joined or left a list.
func (o *Outbox) tell(tx *gorm.DB, l *List, from Delivery, step string) error {
	from.Kind = quiz.ListFollowUp
	switch {
	case l.Receiver != "":
		return o.follow(tx, from, step, callLane+l.Receiver)
	case l.Address != "":
		return o.follow(tx, from, step, mailLane)
	}
	return nil
}

// Subscription returns somebody's place by the number of the page that confirms it.
func (o *Outbox) Subscription(ctx context.Context, token string) (*Subscription, error) {
	var s Subscription
	err := o.db(ctx).Where("token = ?", token).Take(&s).Error
	return &s, found(err, "the subscription")
}

// SubscriptionOf returns what a response led to on a list.
func (o *Outbox) SubscriptionOf(ctx context.Context, list string, response uint) (*Subscription, error) {
	var s Subscription
	err := o.db(ctx).Where("list = ? AND response_id = ?", list, response).Take(&s).Error
	return &s, found(err, "the subscription")
}

// ListsOf returns the places on lists to which some responses led.
func (o *Outbox) ListsOf(ctx context.Context, responses ...uint) ([]Subscription, error) {
	var list []Subscription
	err := o.db(ctx).Where("response_id IN ?", responses).Order("id").Find(&list).Error
	return list, found(err, "looking for who is on which list")
}

// Confirm puts whoever was asked on the list, and tells others of it. Who is on it stays.
func (o *Outbox) Confirm(ctx context.Context, token string) (*Subscription, error) {
	var s Subscription
	err := o.rs().alone(ctx, func(tx *gorm.DB) error {
		if err := tx.Where("token = ?", token).Take(&s).Error; err != nil || s.State != Asked {
			return err
		}
		at := now()
		s.State, s.Confirmed = Joined, &at
		if err := tx.Save(&s).Error; err != nil {
			return err
		}
		return o.toldOf(tx, &s, JoinStep)
	})
	return &s, found(err, "the subscription")
}

// toldOf tells others of a subscription, as the delivery that led to it would.
func (o *Outbox) toldOf(tx *gorm.DB, s *Subscription, step string) error {
	var l List
	if err := tx.Where("key = ?", s.List).Take(&l).Error; err != nil {
		return err
	}
	var from Delivery
	err := tx.Where("response_id = ? AND kind = ? AND step = ?", s.ResponseID, quiz.ListFollowUp, FirstStep).
		Take(&from).Error
	if errors.Is(err, gorm.ErrRecordNotFound) {
		return nil
	}
	if err != nil {
		return err
	}
	return o.tell(tx, &l, from, step)
}

// hash tells an address again without saying it.
func (o *Outbox) hash(address string) string { return hashOf(o.in, address) }
