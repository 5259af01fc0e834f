package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"net/url"
	"os"
	"path/filepath"
	"time"
)

// Backup copies a workspace, which may be served meanwhile, into a new file, and looks the
// copy through.
func Backup(ctx context.Context, file, to string) error {
	if _, err := os.Stat(to); err == nil {
		return fmt.Errorf("%s is there already: name another file for the copy", to)
	}
	if _, err := os.Stat(file); err != nil {
		return fmt.Errorf("the workspace %s: %w", file, err)
	}
	db, err := sql.Open("sqlite3", address(file, url.Values{"_busy_timeout": {"5000"}}))
	if err != nil {
		return err
	}
	defer db.Close()
	if err := examine(file, "quick_check"); err != nil {
		return fmt.Errorf("the workspace %s %w", file, err)
	}
	made, err := os.OpenFile(to, os.O_CREATE|os.O_EXCL|os.O_WRONLY, 0o600)
	if err != nil {
		return fmt.Errorf("making the copy: %w", err)
	}
	_ = made.Close()
	if _, err := db.ExecContext(ctx, "VACUUM INTO ?", to); err != nil {
		return fmt.Errorf("copying the workspace: %w", errors.Join(err, os.Remove(to)))
	}
	if err := Verify(ctx, to); err != nil {
		return err
	}
	return synced(to)
}

// Verify looks a workspace through that nobody has open, all of it.
func Verify(ctx context.Context, file string) error {
	if err := prepare(file); err != nil {
		return fmt.Errorf("%s %w", file, err)
	}
	db, err := sql.Open("sqlite3", address(file, url.Values{"mode": {"ro"}}))
	if err != nil {
		return err
	}
	defer db.Close()
	var said string
	if err := db.QueryRowContext(ctx, "PRAGMA integrity_check(1)").Scan(&said); err != nil || said != "ok" {
		return fmt.Errorf("%s %w (%s %v)", file, ErrDamaged, said, err)
	}
	var quizzes int
	if err := db.QueryRowContext(ctx, "SELECT count(*) FROM quizzes").Scan(&quizzes); err != nil {
		return fmt.Errorf("%s %w", file, ErrNoFile)
	}
	return nil
}

// Restore puts a copy in the place of a workspace that nobody serves. What was there is
// kept beside it; the name of that file is returned, "" where there was nothing.
func Restore(ctx context.Context, from, file string) (before string, err error) {
	if _, err := os.Stat(from); err != nil {
		return "", fmt.Errorf("the copy %s: %w", from, err)
	}
	if err := Verify(ctx, from); err != nil {
		return "", err
	}
	lock, err := hold(file, "a restore")
	if err != nil {
		return "", err
	}
	defer let(lock)
	fresh := file + ".restoring"
	if err := copyFile(from, fresh); err != nil {
		return "", errors.Join(fmt.Errorf("copying %s: %w", from, err), os.Remove(fresh))
	}
	if _, err := os.Stat(file); err == nil {
		before = fmt.Sprintf("%s.before-%s", file, time.Now().UTC().Format("20060102-150405"))
		for _, end := range []string{"", "-wal", "-shm"} { // with what is not folded in
			if err := os.Rename(file+end, before+end); err != nil && !errors.Is(err, fs.ErrNotExist) {
				return "", fmt.Errorf("putting the workspace aside: %w", err)
			}
		}
	}
	if err := os.Rename(fresh, file); err != nil {
		return before, fmt.Errorf("putting the copy in its place: %w", err)
	}
	return before, synced(filepath.Dir(file))
}

func copyFile(from, to string) error {
	in, err := os.Open(from)
	if err != nil {
		return err
	}
	defer in.Close()
	out, err := os.OpenFile(to, os.O_CREATE|os.O_TRUNC|os.O_WRONLY, 0o600)
	if err != nil {
		return err
	}
	_, err = io.Copy(out, in)
	return errors.Join(err, out.Sync(), out.Close())
}
