package store

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"maps"
	"slices"
	"strings"
	"sync"
	"time"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"

	"omphalos/core/fillin"
)

// A Signpost is a row of a table "key → address" that landings look up at the moment
// of redirecting.
type Signpost struct {
	WorkspaceID WorkspaceID `gorm:"primaryKey;autoIncrement:false"`
	Table       string      `gorm:"primaryKey;column:board"`
	Row         string      `gorm:"primaryKey;column:sign"`
	Address     string
	Updated     time.Time
	Used        *time.Time // last; nil for never
}

// A SignpostChange is one edit of a signpost; empty addresses are before it was made
// and after it was taken away.
type SignpostChange struct {
	ID          uint
	WorkspaceID WorkspaceID `gorm:"not null"`
	Board       string      `gorm:"index"`
	Sign        string
	From, To    string
	UserID      uint
	Made        time.Time
}

// ErrSignpost says that a signpost can't be kept.
var ErrSignpost = errors.New("can't be kept")

// Signposts returns all rows, by table and row.
func (d *Definitions) Signposts(ctx context.Context) ([]Signpost, error) {
	var list []Signpost
	err := d.db(ctx).Order("board, sign").Find(&list).Error
	for i := range list {
		if used, since := d.uses.of(list[i].Table, list[i].Row); since {
			list[i].Used = &used
		}
	}
	return list, found(err, "listing the signposts")
}

// SignpostChanges returns the newest edits of signposts, at most limit.
func (d *Definitions) SignpostChanges(ctx context.Context, limit int) ([]SignpostChange, error) {
	var list []SignpostChange
	err := d.db(ctx).Order("id DESC").Limit(limit).Find(&list).Error
	return list, found(err, "listing the changes of signposts")
}

// PutSignposts keeps rows, all or none, and the history of what they were before; rows
// with an empty address are taken away. The error wraps ErrSignpost and names the row
// (counted from 1) that can't be kept.
func (d *Definitions) PutSignposts(ctx context.Context, rows []Signpost, user uint) error {
	for i := range rows {
		r := &rows[i]
		r.Table, r.Row, r.Address = strings.TrimSpace(r.Table), strings.TrimSpace(r.Row), strings.TrimSpace(r.Address)
		if r.Table == "" || r.Row == "" {
			return fmt.Errorf("row %d %w: it needs a table and a key", i+1, ErrSignpost)
		}
		if len(r.Table) > 100 || len(r.Row) > 100 || len(r.Address) > 2000 {
			return fmt.Errorf("row %d %w: it is too long", i+1, ErrSignpost)
		}
		if r.Address == "" {
			continue
		}
		if _, err := fillin.ParseAddress(r.Address); err != nil {
			return fmt.Errorf("row %d (%s / %s) %w: the address %w", i+1, r.Table, r.Row, ErrSignpost, err)
		}
	}
	return d.db(ctx).Transaction(func(tx *gorm.DB) error {
		return found(putSignposts(tx, rows, user), "keeping signposts")
	})
}

// perStatement is how many rows of a list one statement writes.
const perStatement = 100

// putSignposts writes the rows that are other than what is there, and what they were.
func putSignposts(tx *gorm.DB, rows []Signpost, user uint) error {
	var there []Signpost
	if err := tx.Find(&there).Error; err != nil {
		return err
	}
	type at struct{ table, row string }
	old := make(map[at]Signpost, len(there))
	for _, r := range there {
		old[at{r.Table, r.Row}] = r
	}
	var changes []SignpostChange
	kept, gone := map[at]Signpost{}, map[at]Signpost{}
	for _, r := range rows {
		k := at{r.Table, r.Row}
		before := old[k]
		if before.Address == r.Address {
			continue
		}
		changes = append(
			changes,
			SignpostChange{Board: r.Table, Sign: r.Row, From: before.Address, To: r.Address, UserID: user, Made: now()},
		)
		delete(kept, k)
		delete(gone, k)
		if r.Updated, r.Used = now(), before.Used; r.Address == "" {
			gone[k] = r
		} else {
			kept[k] = r
		}
		old[k] = r
	}
	if len(changes) == 0 {
		return nil
	}
	if err := tx.CreateInBatches(changes, perStatement).Error; err != nil {
		return err
	}
	for k := range gone {
		if err := tx.Where("board = ? AND sign = ?", k.table, k.row).Delete(&Signpost{}).Error; err != nil {
			return err
		}
	}
	if len(kept) == 0 {
		return nil
	}
	return tx.Clauses(clause.OnConflict{UpdateAll: true}).
		CreateInBatches(slices.Collect(maps.Values(kept)), perStatement).
		Error
}

// Signpost returns the address of a row, "" where there is none, and notes that it was
// used.
func (d *Definitions) Signpost(ctx context.Context, table, row string) (string, error) {
	address, err := d.SignpostAt(ctx, table, row)
	if address != "" {
		d.uses.note(table, row)
	}
	return address, err
}

// SignpostAt is Signpost where nobody is sent there: it does not count as used.
func (d *Definitions) SignpostAt(ctx context.Context, table, row string) (string, error) {
	var r Signpost
	err := d.db(ctx).Where("board = ? AND sign = ?", table, row).Take(&r).Error
	if errors.Is(err, gorm.ErrRecordNotFound) {
		return "", nil
	}
	return r.Address, found(err, "looking up a signpost")
}

// uses remember when signposts were used, until that is written down: whoever is on the
// way waits for no note.
type uses struct {
	sync.Mutex
	at map[[2]string]time.Time
}

// mostUses is how many signposts are remembered between two notes.
const mostUses = 10_000

func (u *uses) note(table, row string) {
	u.Lock()
	defer u.Unlock()
	if u.at == nil {
		u.at = map[[2]string]time.Time{}
	}
	if len(u.at) < mostUses {
		u.at[[2]string{table, row}] = now()
	}
}

// of returns when a signpost was used that is not noted yet.
func (u *uses) of(table, row string) (time.Time, bool) {
	u.Lock()
	defer u.Unlock()
	at, used := u.at[[2]string{table, row}]
	return at, used
}

func (u *uses) take() map[[2]string]time.Time {
	u.Lock()
	defer u.Unlock()
	at := u.at
	u.at = nil
	return at
}

// NoteUses writes down when signposts were used since the last time.
func (d *Definitions) NoteUses(ctx context.Context) error {
	at := d.uses.take()
	if len(at) == 0 {
		return nil
	}
	return found(d.db(ctx).Transaction(func(tx *gorm.DB) error {
		for sign, used := range at {
			if err := tx.Model(&Signpost{}).Where("board = ? AND sign = ?", sign[0], sign[1]).
				UpdateColumn("used", used).Error; err != nil {
				return err
			}
		}
		return nil
	}), "noting the use of signposts")
}

// noteUses notes uses every so often until the file is closed.
func (d *disk) noteUses() {
	for {
		select {
		case <-time.After(noteEach):
			for _, s := range d.workspaces() {
				err := errors.Join(s.Definitions.NoteUses(context.Background()), s.Responses.NoteSights(context.Background()))
				if err != nil {
					slog.Warn("a note is missing", "error", err)
				}
			}
		case <-d.written:
			return
		}
	}
}

const noteEach = 5 * time.Second
