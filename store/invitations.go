package store

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"strings"
	"time"

	"gorm.io/gorm"
)

// An Invitation is an address of one's own for one person of a list.
type Invitation struct {
	ID          uint
	WorkspaceID WorkspaceID `gorm:"not null"`
	QuizID      uint        `gorm:"not null"`
	Token       string      `gorm:"not null"` // in its address
	Name        string      `gorm:"not null"`
	Address     string      `gorm:"not null"` // where it is sent
	Facts       string      `gorm:"not null"` // JSON: further columns of the list, by name
	Passage     string      `gorm:"not null"` // that was begun by it, "" for none yet
	Made        time.Time

	Begun, Finished bool `gorm:"-"` // as Invitations tells
}

// Columns returns the further columns of the list: a condition asks for them as query.NAME.
func (i *Invitation) Columns() map[string]string {
	m := map[string]string{}
	_ = json.Unmarshal([]byte(i.Facts), &m) // written by Invite
	return m
}

// mostInvited is how many people a list holds.
const mostInvited = 50_000

// ErrInvited says that a list is too long.
var ErrInvited = errors.New("is too long a list")

// Invite puts people on the list of a quiz, each with an address of their own; who is on it
// already, by address, stays. It returns how many are new.
func (d *Definitions) Invite(ctx context.Context, quiz uint, list []Invitation) (int, error) {
	fresh := 0
	err := d.db(ctx).Transaction(func(tx *gorm.DB) error {
		var there []Invitation
		if err := tx.Select("id", "address").Where("quiz_id = ?", quiz).Find(&there).Error; err != nil {
			return err
		}
		known := map[string]bool{}
		for _, i := range there {
			known[Fold(i.Address)] = i.Address != ""
		}
		var more []Invitation
		for _, i := range list {
			if i.Address != "" && known[Fold(i.Address)] {
				continue
			}
			known[Fold(i.Address)] = true
			i.QuizID, i.Token, i.Made = quiz, Token(), now()
			if i.Facts == "" {
				i.Facts = "{}"
			}
			more = append(more, i)
		}
		if fresh = len(more); len(there)+fresh > mostInvited {
			return fmt.Errorf("of %d people %w: at most %d are invited", len(there)+fresh, ErrInvited, mostInvited)
		}
		if fresh == 0 {
			return nil
		}
		return tx.CreateInBatches(more, perStatement).Error
	})
	return fresh, found(err, "keeping the list")
}

// Invitations lists those who are invited to a quiz, in the order in which they were, and how
// far each has come; most bounds them, from behind the first ones.
func (d *Definitions) Invitations(ctx context.Context, quiz uint, from, most int) ([]Invitation, error) {
	var list []Invitation
	if err := d.db(ctx).Where("quiz_id = ?", quiz).Order("id").Offset(from).Limit(most).Find(&list).Error; err != nil {
		return nil, found(err, "listing those who are invited")
	}
	var begun []string
	for _, i := range list {
		if i.Passage != "" {
			begun = append(begun, i.Passage)
		}
	}
	finished, under := map[string]bool{}, map[string]bool{}
	for ; len(begun) > 0; begun = begun[min(len(begun), perStatement):] {
		some := begun[:min(len(begun), perStatement)]
		var done, open []string
		if err := d.db(ctx).Model(&Response{}).Where("passage IN ?", some).Pluck("passage", &done).Error; err != nil {
			return nil, found(err, "looking who has finished")
		}
		if err := d.db(ctx).Model(&Passage{}).Where("id IN ?", some).Pluck("id", &open).Error; err != nil {
			return nil, found(err, "looking who has begun")
		}
		for _, p := range done {
			finished[p] = true
		}
		for _, p := range open {
			under[p] = true
		}
	}
	for k := range list {
		list[k].Finished = finished[list[k].Passage]
		list[k].Begun = list[k].Finished || under[list[k].Passage]
	}
	return list, nil
}

// Invited counts those who are invited to a quiz.
func (d *Definitions) Invited(ctx context.Context, quiz uint) (int, error) {
	var n int64
	err := d.db(ctx).Model(&Invitation{}).Where("quiz_id = ?", quiz).Count(&n).Error
	return int(n), found(err, "counting those who are invited")
}

// InvitationOf returns the invitation with a token.
func (d *Definitions) InvitationOf(ctx context.Context, token string) (*Invitation, error) {
	i := new(Invitation)
	return i, found(d.db(ctx).Where("token = ?", strings.TrimSpace(token)).Take(i).Error, "the invitation")
}

// InvitationOfPassage returns the invitation by which a passage was begun.
func (d *Definitions) InvitationOfPassage(ctx context.Context, passage string) (*Invitation, error) {
	i := new(Invitation)
	return i, found(d.db(ctx).Where("passage = ? AND passage <> ''", passage).Take(i).Error, "the invitation")
}

// Accept takes down which passage was begun by an invitation.
func (d *Definitions) Accept(ctx context.Context, id uint, passage string) error {
	err := d.db(ctx).Model(&Invitation{}).Where("id = ?", id).UpdateColumn("passage", passage).Error
	return found(err, "taking an invitation up")
}

// Uninvite takes somebody off the list of a quiz: their address opens nothing any more.
func (d *Definitions) Uninvite(ctx context.Context, quiz, id uint) error {
	return found(d.db(ctx).Where("id = ? AND quiz_id = ?", id, quiz).Delete(&Invitation{}).Error,
		"taking somebody off the list")
}
