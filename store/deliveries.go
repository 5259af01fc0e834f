package store

import (
	"cmp"
	"context"
	"fmt"
	"time"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"

	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/core/quiz"
)

// A Delivery is what goes out to one receiver because of one response. It is kept in the
// commit that keeps the response, once for each follow-up.
type Delivery struct {
	ID          uint        `gorm:"primaryKey;autoIncrement:false"` // of the file
	WorkspaceID WorkspaceID `gorm:"not null"`
	ResponseID  uint        `gorm:"not null"`
	QuizID      uint        `gorm:"not null"` // of the response, as its number and its release are
	Number      int         `gorm:"not null"`
	ReleaseID   uint        `gorm:"not null"`
	FollowUp    string      `gorm:"not null"` // its key
	Step        string      `gorm:"not null"` // FirstStep, or what follows from it
	Kind        quiz.FollowUpKind
	Lane        string     `gorm:"not null"` // what goes the same way, and is bounded together
	Key         string     `gorm:"not null"` // the same in each try: the receiver tells by it what came twice
	State       string     `gorm:"not null"` // Waiting, Delivered, Cancelled, Dead
	Due         time.Time  // when it is tried next
	First       time.Time  // when it was due at first, or was sent again by hand
	Claimed     *time.Time // since when it is being tried
	Tries       int        `gorm:"not null"`
	Why         string     `gorm:"not null"` // it failed last, or was cancelled
	Recipient   string     `gorm:"not null"` // to whom it went
	About       string     `gorm:"not null"` // its subject, with fill-ins until it went out, or what was answered
	Made        time.Time
	Ended       *time.Time

	wait   time.Duration
	digest quiz.Digest
	zone   *time.Location
}

// The states of a delivery.
const (
	Waiting   = "waiting"
	Delivered = "delivered"
	Cancelled = "cancelled"
	Dead      = "dead" // given up
)

// The steps of a delivery.
const (
	FirstStep   = ""
	ConfirmStep = "confirm" // asks whoever signs up whether it was them
	JoinStep    = "join"    // tells another system who is on a list now
	LeaveStep   = "leave"   // and who is not any more
	ResultStep  = "result"  // mails a result to whoever asked for theirs: of no follow-up
)

// FollowUps returns what goes out after a Walker's last passage, to be kept with the response.
func FollowUps(p *program.Program, w *passage.Walker) []Delivery {
	var list []Delivery
	for _, key := range w.FollowUps() {
		list = append(list, deliveryOf(p.Quiz, key))
	}
	return list
}

func deliveryOf(q *quiz.Quiz, key string) Delivery {
	f := q.FollowUps[key]
	about := cmp.Or(f.Subject, f.Event, f.List, f.Receiver)
	return Delivery{FollowUp: key, Kind: f.Kind, About: about, Lane: laneOf(key, f),
		wait: time.Duration(f.Wait) * time.Minute, digest: f.Digest, zone: q.Zone()}
}

// laneOf returns the way that a follow-up goes, but for the workspace and the quiz.
func laneOf(key string, f *quiz.FollowUp) string {
	switch {
	case f.Kind == quiz.NoticeFollowUp && f.Digest != "":
		return digestLane + key
	case f.Kind.Letter():
		return mailLane
	case f.Kind.Calls():
		return callLane + f.Receiver
	}
	return listLane
}

// The lanes.
const (
	mailLane   = "mail"
	listLane   = "list"
	callLane   = "call/"
	digestLane = "digest/" // with the quiz and the follow-up: its deliveries go out together
)

// due says of deliveries which response they are of, and when they are due that became known at
// a time.
func (d *disk) due(r *Response, list []Delivery, at time.Time) []Delivery {
	for i := range list {
		one := &list[i]
		one.ResponseID, one.QuizID, one.Number, one.ReleaseID = r.ID, r.QuizID, r.Number, r.ReleaseID
		one.State, one.Made = Waiting, at
		if one.Key == "" {
			one.Key = Token()
		}
		one.Due = at.Add(one.wait)
		if one.digest != "" {
			one.Due = one.digest.After(one.Due.In(one.zone)).UTC()
			one.Lane = fmt.Sprintf("%s%d/%s", digestLane, r.QuizID, one.FollowUp)
		}
		one.Lane = fmt.Sprintf("%d/%s", r.WorkspaceID, one.Lane)
		one.First = one.Due
		d.deliveries++
		one.ID = d.deliveries
	}
	return list
}

// put puts deliveries into the outbox. Those that are there already stay as they are.
func (d *disk) put(tx *gorm.DB, list []Delivery) error {
	if len(list) == 0 {
		return nil
	}
	if err := create(tx.Clauses(clause.OnConflict{DoNothing: true}), list); err != nil {
		return err
	}
	d.rang.ring()
	return nil
}

// A bell wakes whoever waits for it; rings while nobody waits are one.
type bell chan struct{}

func (b bell) ring() {
	select {
	case b <- struct{}{}:
	default:
	}
}

// Rang is sent to when something has been put into the outbox of a workspace of the file. It
// may not be on disk yet.
func (d *disk) Rang() <-chan struct{} { return d.rang }

// Lanes returns the lanes in which something is due, of all workspaces.
func (d *disk) Lanes(ctx context.Context, at time.Time) ([]string, error) {
	var lanes []string
	err := d.main.WithContext(ctx).Raw(`WITH RECURSIVE l(lane) AS (
		SELECT min(lane) FROM deliveries WHERE state = 'waiting' AND claimed IS NULL
		UNION ALL
		SELECT (SELECT min(lane) FROM deliveries WHERE state = 'waiting' AND claimed IS NULL AND lane > l.lane)
		FROM l WHERE l.lane IS NOT NULL)
		SELECT lane FROM l WHERE lane IS NOT NULL AND EXISTS (SELECT 1 FROM deliveries
			WHERE state = 'waiting' AND claimed IS NULL AND lane = l.lane AND due <= ?) -- of any workspace_id`,
		at.UTC()).
		Scan(&lanes).Error
	return lanes, found(err, "looking for what is due")
}

// Claim takes at most so many deliveries of a lane that are due, those that waited longest
// first: nobody else gets them until they are settled, or Release lets them go.
func (o *Outbox) Claim(ctx context.Context, lane string, most int, at time.Time) (list []Delivery, err error) {
	err = o.rs().alone(ctx, func(tx *gorm.DB) error {
		err := tx.Where("lane = ? AND state = 'waiting' AND claimed IS NULL AND due <= ?", lane, at.UTC()).
			Order("due, id").Limit(most).Find(&list).Error
		if err != nil || len(list) == 0 {
			return err
		}
		ids := make([]uint, len(list))
		claimed := at.UTC()
		for i := range list {
			ids[i] = list[i].ID
			list[i].Claimed, list[i].Tries = &claimed, list[i].Tries+1
		}
		return tx.Model(&Delivery{}).Where("id IN ?", ids).
			Updates(map[string]any{"claimed": claimed, "tries": gorm.Expr("tries + 1")}).Error
	})
	return list, found(err, "claiming deliveries")
}

// Unclaim lets go what was being tried when a process ended, in all workspaces: it is tried
// again. It returns how many deliveries they were.
func (d *disk) Unclaim(ctx context.Context) (int, error) {
	done := d.main.WithContext(ctx).Exec("UPDATE deliveries SET claimed = NULL WHERE claimed IS NOT NULL " +
		"AND state = 'waiting' -- of any workspace_id")
	return int(done.RowsAffected), found(done.Error, "letting deliveries go")
}

// Settle keeps what became of deliveries that were claimed: their State, Due, Why, Recipient
// and About. Those that were erased or cancelled meanwhile stay gone.
func (o *Outbox) Settle(ctx context.Context, list []Delivery) error {
	return found(o.rs().alone(ctx, func(tx *gorm.DB) error {
		for i := range list {
			one := &list[i]
			set := map[string]any{"state": one.State, "due": one.Due.UTC(), "why": one.Why,
				"recipient": one.Recipient, "about": one.About, "claimed": nil, "ended": one.Ended}
			if err := tx.Model(&Delivery{}).Where("id = ? AND state = 'waiting'", one.ID).Updates(set).Error; err != nil {
				return err
			}
		}
		return nil
	}), "settling deliveries")
}

// Follow puts a further step of a delivery into the outbox, due at once.
func (o *Outbox) Follow(ctx context.Context, from Delivery, step, lane string) error {
	return found(o.rs().alone(ctx, func(tx *gorm.DB) error {
		return o.follow(tx, from, step, lane)
	}), "following a delivery up")
}

func (o *Outbox) follow(tx *gorm.DB, from Delivery, step, lane string) error {
	r := Response{ID: from.ResponseID, WorkspaceID: o.in, QuizID: from.QuizID, Number: from.Number,
		ReleaseID: from.ReleaseID}
	next := Delivery{FollowUp: from.FollowUp, Step: step, Kind: from.Kind, Lane: lane}
	return o.disk.put(tx, o.disk.due(&r, []Delivery{next}, now()))
}

// MailLane and CallLane return the lanes of further steps: mail, and calls of a receiver.
func MailLane() string { return mailLane }

// CallLane is as MailLane.
func CallLane(receiver string) string { return callLane + receiver }

// rs is the way to the responses of the same workspace.
func (o *Outbox) rs() *Responses { return o.disk.workspace(o.in).Responses }

// MailResult puts a result into the outbox, to go to the respondent who asked for theirs. It
// goes once, however often it is asked for.
func (o *Outbox) MailResult(ctx context.Context, r *Response, about string) error {
	return found(o.rs().alone(ctx, func(tx *gorm.DB) error {
		asked := Delivery{Step: ResultStep, Kind: quiz.MailFollowUp, Lane: mailLane, About: about}
		return o.disk.put(tx, o.disk.due(r, []Delivery{asked}, now()))
	}), "having a result mailed")
}

// ResultMailed tells whether a respondent asked for their result by mail.
func (o *Outbox) ResultMailed(ctx context.Context, r *Response) (bool, error) {
	var n int64
	err := o.db(ctx).Model(&Delivery{}).Where("response_id = ? AND follow_up = '' AND step = ?", r.ID,
		ResultStep).Count(&n).Error
	return n > 0, found(err, "asking whether a result was mailed")
}
