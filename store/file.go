package store

import (
	"bytes"
	"context"
	"database/sql"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"net/url"
	"os"
	"path/filepath"
	"strings"
	"time"

	"github.com/gofrs/flock"
	"gorm.io/gorm"
)

// Reasons why a workspace is not opened, each with what to do about it.
var (
	ErrNewer    = errors.New("was written by a newer Omphalos: start that one, or restore a copy from before")
	ErrDamaged  = errors.New("is damaged: restore a copy with “omphalos restore”")
	ErrNoFile   = errors.New("is no workspace of Omphalos: name another file with --workspace")
	ErrReadOnly = errors.New(
		"can't be written: give yourself the right to write the file and its folder, or name another",
	)
	ErrServed = errors.New("is being served already")
)

// checkTime bounds how long it is looked for damage when a workspace is opened.
const checkTime = 2 * time.Second

const header = "SQLite format 3\x00"

// prepare makes the file of a workspace where there is none, for its owner alone, and tells
// whether what is there can be one.
func prepare(file string) error {
	f, err := os.OpenFile(file, os.O_RDWR|os.O_CREATE, 0o600)
	if errors.Is(err, fs.ErrPermission) || err != nil && strings.Contains(err.Error(), "read-only") {
		return ErrReadOnly
	}
	if err != nil {
		return err
	}
	defer f.Close()
	begins := make([]byte, len(header))
	if n, err := io.ReadFull(f, begins); n > 0 && (err != nil || !bytes.Equal(begins, []byte(header))) {
		return ErrNoFile
	}
	if beside, err := os.CreateTemp(filepath.Dir(file), ".omphalos-*"); err == nil {
		_ = errors.Join(beside.Close(), os.Remove(beside.Name()))
	} else {
		return ErrReadOnly
	}
	return f.Chmod(0o600)
}

// examine looks whether the database is one of this version's or of an earlier one's, and
// whether it is whole, as far as that can be told in a moment.
func examine(file, check string) error {
	db, err := sql.Open("sqlite3", address(file, url.Values{"_busy_timeout": {"5000"}}))
	if err != nil {
		return err
	}
	defer db.Close()
	ctx, stop := context.WithTimeout(context.Background(), checkTime)
	defer stop()
	var said string
	err = db.QueryRowContext(ctx, "PRAGMA "+check+"(1)").Scan(&said)
	switch {
	case ctx.Err() != nil: // it is too large to be looked through at each start
	case err != nil, said != "ok":
		return fmt.Errorf("%w (%s)", ErrDamaged, strings.Join(strings.Fields(fmt.Sprint(said, " ", err)), " "))
	}
	known := map[string]bool{"SCHEMA_INIT": true}
	for _, m := range migrations {
		known[m.ID] = true
	}
	rows, err := db.Query("SELECT id FROM migrations")
	if err != nil { // there are no tables yet, or others
		var tables int
		if err := db.QueryRow("SELECT count(*) FROM sqlite_schema").Scan(&tables); err != nil || tables > 0 {
			return ErrNoFile
		}
		return nil
	}
	defer rows.Close()
	for rows.Next() {
		var id string
		if err := rows.Scan(&id); err != nil {
			return err
		}
		if !known[id] {
			return ErrNewer
		}
	}
	return rows.Err()
}

// Writable tells whether the workspace can be written.
func (d *disk) Writable(ctx context.Context) error {
	return d.main.WithContext(ctx).Transaction(func(tx *gorm.DB) error { // which is immediate
		return tx.Exec("SELECT 1").Error
	})
}

// Serving takes the workspace for a server, told by who, until it is closed. The error is
// ErrServed where another has it, and names that one.
func (d *disk) Serving(who string) error {
	lock, err := hold(d.file, who)
	d.lock = lock
	return err
}

func hold(file, who string) (*flock.Flock, error) {
	lock := flock.New(file+".lock", flock.SetFlag(os.O_CREATE|os.O_RDWR), flock.SetPermissions(0o600))
	mine, err := lock.TryLock()
	if err != nil {
		return nil, fmt.Errorf("taking the workspace %s: %w", file, err)
	}
	if !mine {
		holder, _ := os.ReadFile(file + ".lock")
		return nil, fmt.Errorf(
			"the workspace %s %w, by %s: stop that one first",
			file,
			ErrServed,
			strings.TrimSpace(string(holder)),
		)
	}
	return lock, os.WriteFile(file+".lock", []byte(who+"\n"), 0o600)
}

func let(lock *flock.Flock) {
	if lock != nil {
		_ = os.Remove(lock.Path())
		_ = lock.Unlock()
	}
}

// synced has a file, or the names in a folder, on disk.
func synced(path string) error {
	f, err := os.Open(path)
	if err != nil {
		return err
	}
	return errors.Join(f.Sync(), f.Close())
}

func address(file string, options url.Values) string {
	return "file:" + (&url.URL{Path: file}).EscapedPath() + "?" + options.Encode()
}
