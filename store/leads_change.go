package store

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strconv"
	"strings"
	"time"
	"unicode/utf8"

	"gorm.io/gorm"

	"omphalos/core/quiz"
)

// A LeadChange is what is changed of leads; what is nil stays.
type LeadChange struct {
	State    *string
	Owner    *uint
	Next     *string // a day, "" for none
	Note     *string
	Objected *bool
}

// Reasons why a change of leads is refused.
var (
	ErrState = errors.New("there is no such state")
	ErrDay   = errors.New("this is no day")
	ErrNote  = errors.New("a note has 1 to 4000 letters")
)

const (
	longestNote = 4000
	mostChanged = 10_000 // leads at once
)

// ErrMany says that more leads would be changed at once than can be taken back.
var ErrMany = fmt.Errorf("at most %d leads can be changed at once", mostChanged)

func (c LeadChange) check(s *LeadSettings) error {
	if c.State != nil && !slices.ContainsFunc(s.States, func(state LeadState) bool { return state.Key == *c.State }) {
		return fmt.Errorf("%w as %q", ErrState, *c.State)
	}
	if c.Next != nil && *c.Next != "" {
		if _, err := quiz.ParseDay(*c.Next); err != nil {
			return fmt.Errorf("%w: %q", ErrDay, *c.Next)
		}
	}
	if c.Note != nil {
		*c.Note = strings.TrimSpace(*c.Note)
		if *c.Note == "" || utf8.RuneCountInString(*c.Note) > longestNote {
			return ErrNote
		}
	}
	return nil
}

// ChangeLeads changes leads together, and returns the batch by which UndoLeads takes it back.
// The error wraps one of the reasons, or ErrNotFound where none of the leads, or no such user, is there.
func (rs *Responses) ChangeLeads(ctx context.Context, ids []int, to LeadChange, user uint) (batch string, err error) {
	if len(ids) > mostChanged {
		return "", ErrMany
	}
	settings, err := rs.disk.leadSettings(rs.db(ctx), rs.in)
	if err != nil {
		return "", err
	}
	if err := to.check(settings); err != nil {
		return "", err
	}
	if to.Owner != nil && *to.Owner != 0 {
		if _, err := (&People{rs.room}).User(ctx, *to.Owner); err != nil {
			return "", err
		}
	}
	batch = Token()
	at, there := now(), 0
	err = rs.inChunks(ctx, ids, func(l *Lead) ([]LeadEvent, bool) {
		there++
		events := l.change(to, user, batch, at)
		return events, len(events) > 0
	})
	if err == nil && there == 0 {
		err = gorm.ErrRecordNotFound
	}
	rs.touched(ids)
	return batch, found(err, "changing leads")
}

// inChunks lets f change leads, and keeps those that it says have changed, with what it tells: some in
// each commit, so that no respondent waits for many.
func (rs *Responses) inChunks(ctx context.Context, ids []int, f func(*Lead) (tells []LeadEvent, changed bool)) error {
	for some := range slices.Chunk(ids, atATime) {
		if err := rs.db(ctx).Transaction(func(tx *gorm.DB) error { return rs.changeSome(tx, some, f) }); err != nil {
			return err
		}
	}
	return nil
}

func (rs *Responses) changeSome(tx *gorm.DB, ids []int, f func(*Lead) ([]LeadEvent, bool)) error {
	var list []Lead
	if err := tx.Where("id IN ?", ids).Order("id").Find(&list).Error; err != nil {
		return err
	}
	var events []LeadEvent
	for i := range list {
		l := &list[i]
		of, changed := f(l)
		events = append(events, of...)
		if !changed {
			continue
		}
		err := tx.Exec("UPDATE leads SET state = ?, changed = ?, owner_id = ?, next = ?, objected = ? "+
			"WHERE id = ? AND workspace_id = ?",
			l.State, l.Changed, l.OwnerID, l.Next, l.Objected, l.ID, rs.in).Error
		if err != nil {
			return err
		}
	}
	return create(tx, events)
}

func (rs *Responses) touched(ids []int) {
	list := make([]uint, len(ids))
	for i, id := range ids {
		list[i] = uint(id)
	}
	rs.leads.touch(list...)
}

// change changes a lead and returns what is new of it.
func (l *Lead) change(to LeadChange, user uint, batch string, at time.Time) (events []LeadEvent) {
	tell := func(kind, before, after string) {
		events = append(events, LeadEvent{LeadID: l.ID, Kind: kind, Before: before, After: after, UserID: user,
			Batch: batch, Made: at})
	}
	if to.State != nil && *to.State != l.State {
		tell(Stated, l.State, *to.State)
		l.State, l.Changed = *to.State, at
	}
	if to.Owner != nil && *to.Owner != l.OwnerID {
		tell(Owned, fmt.Sprint(l.OwnerID), fmt.Sprint(*to.Owner))
		l.OwnerID = *to.Owner
	}
	if to.Next != nil && *to.Next != l.Next {
		tell(Dated, l.Next, *to.Next)
		l.Next = *to.Next
	}
	if to.Objected != nil && *to.Objected != l.Objected {
		tell(Objecting, strconv.FormatBool(l.Objected), strconv.FormatBool(*to.Objected))
		l.Objected = *to.Objected
	}
	if to.Note != nil {
		tell(Noted, "", *to.Note)
	}
	return events
}

// UndoLeads takes back what was changed in a batch, where nobody has changed it since, and
// returns how many leads that were. The history forgets what was taken back, and that alone.
func (rs *Responses) UndoLeads(ctx context.Context, batch string) (int, error) {
	var events []LeadEvent
	if err := rs.db(ctx).Where("batch = ? AND kind IN ?", batch, []string{Stated, Owned, Dated, Noted,
		Objecting}).Find(&events).Error; err != nil {
		return 0, found(err, "looking for what was changed")
	}
	if len(events) == 0 {
		return 0, fmt.Errorf("what was changed %w", ErrNotFound)
	}
	var ids []int
	of := map[uint][]LeadEvent{}
	for _, e := range events {
		if of[e.LeadID] == nil {
			ids = append(ids, int(e.LeadID))
		}
		of[e.LeadID] = append(of[e.LeadID], e)
	}
	n := 0
	var err error
	for some := range slices.Chunk(ids, atATime) {
		leads, gone := 0, []uint{}
		err = rs.db(ctx).Transaction(func(tx *gorm.DB) error {
			if err := rs.changeSome(tx, some, func(l *Lead) ([]LeadEvent, bool) {
				back := l.back(of[l.ID])
				if len(back) > 0 {
					leads, gone = leads+1, append(gone, back...)
				}
				return nil, len(back) > 0
			}); err != nil {
				return err
			}
			return tx.Where("id IN ?", gone).Delete(&LeadEvent{}).Error
		})
		if err != nil {
			break
		}
		n += leads
	}
	rs.touched(ids)
	return n, found(err, "taking back what was changed")
}

// back takes events back, and returns the IDs of those that could be: a note always, what is
// otherwise by now not.
func (l *Lead) back(events []LeadEvent) (gone []uint) {
	for _, e := range events {
		switch {
		case e.Kind == Noted:
		case e.Kind == Stated && l.State == e.After:
			l.State = e.Before
		case e.Kind == Owned && fmt.Sprint(l.OwnerID) == e.After:
			owner, _ := strconv.ParseUint(e.Before, 10, 64)
			l.OwnerID = uint(owner)
		case e.Kind == Dated && l.Next == e.After:
			l.Next = e.Before
		case e.Kind == Objecting && strconv.FormatBool(l.Objected) == e.After:
			l.Objected = e.Before == "true"
		default:
			continue
		}
		gone = append(gone, e.ID)
	}
	return gone
}
