package store

import (
	"context"
	"database/sql"
	"errors"
	"net/url"
	"strconv"
	"strings"

	"gorm.io/driver/sqlite"
	"gorm.io/gorm"
	"gorm.io/gorm/logger"
)

// What SQLite alone can do, or does in a way of its own, stands in this file and in file.go.
// Another engine has to bring: opening with commits that are on disk when they are
// acknowledged, a writing connection of its own, the beginning and the end of its
// transactions, and closing so that the file alone is the workspace. All else is what GORM
// writes for any engine, or SQL that each understands, and the tests of contract_test.go say
// what it must come to.

// openEngine opens the database in a file: a log that is written ahead, every commit on disk,
// foreign keys held, what is deleted overwritten, transactions that write from their start.
func openEngine(file string) (*gorm.DB, error) {
	options := url.Values{"_journal_mode": {"WAL"}, "_synchronous": {"FULL"}, "_foreign_keys": {"on"},
		"_busy_timeout": {"5000"}, "_txlock": {"immediate"}, "_secure_delete": {"on"}}
	return gorm.Open(sqlite.Open(address(file, options)), config())
}

// ownConnection returns a database on one connection of its own, whose statements stay
// prepared from one transaction to the next.
func ownConnection(db *gorm.DB) (*gorm.DB, error) {
	pool, err := db.DB()
	if err != nil {
		return nil, err
	}
	conn, err := pool.Conn(context.Background())
	if err != nil {
		return nil, err
	}
	own := config()
	own.DisableAutomaticPing = true // a single connection has none
	writer, err := gorm.Open(sqlite.Dialector{Conn: conn}, own)
	if err != nil {
		return nil, err
	}
	// A commit reads and changes pages of the index of passages' numbers: 32 MB of it are kept, and
	// 16 MB of commits are folded into the file at a time.
	return writer, errors.Join(
		writer.Exec("PRAGMA cache_size = -32768").Error,
		writer.Exec("PRAGMA wal_autocheckpoint = 4096").Error,
	)
}

// numbersBy gives f the numbers of responses in some rows by a value. They are read as one
// text a value: of many that is far quicker than one by one.
func numbersBy(rows *gorm.DB, value string, f func(value string, number int)) error {
	var lists []struct{ Mark, Numbers string }
	err := rows.Select(value + " AS mark, group_concat(number) AS numbers").Group("mark").Scan(&lists).Error
	for _, l := range lists {
		for text := range strings.SplitSeq(l.Numbers, ",") {
			if n, err := strconv.Atoi(text); err == nil {
				f(l.Mark, n)
			}
		}
	}
	return err
}

// beginWriting, endWriting and takeBack are a transaction on a connection of its own, in
// which nobody else comes between.
func beginWriting(own *gorm.DB) error { return own.Exec("BEGIN IMMEDIATE").Error }

func endWriting(own *gorm.DB) error { return own.Exec("COMMIT").Error }

func takeBack(own *gorm.DB) {
	// Where the disk is full SQLite has done so by itself, and says so.
	_ = own.Session(&gorm.Session{Logger: logger.Discard}).Exec("ROLLBACK")
}

// closeEngine folds what is in the log beside the file into it, so that the file alone is
// the workspace, and closes both.
func closeEngine(db, own *gorm.DB) error {
	folded := db.Exec("PRAGMA wal_checkpoint(TRUNCATE)").Error
	pool, err := db.DB()
	if err != nil {
		return err
	}
	failed := errors.Join(folded, closeStatements(own), closeStatements(db))
	if prepared, ok := own.ConnPool.(*gorm.PreparedStmtDB); ok {
		if conn, ok := prepared.ConnPool.(*sql.Conn); ok {
			failed = errors.Join(failed, conn.Close())
		}
	}
	return errors.Join(failed, pool.Close())
}

// closeStatements closes what is prepared, since a file stays open while a statement does.
// GORM's own way does so at some time later.
func closeStatements(db *gorm.DB) error {
	prepared, ok := db.ConnPool.(*gorm.PreparedStmtDB)
	if !ok {
		return nil
	}
	var failed []error
	for _, key := range prepared.Stmts.Keys() {
		if statement, there := prepared.Stmts.Get(key); there {
			failed = append(failed, statement.Close())
		}
	}
	return errors.Join(failed...)
}
