// Package store keeps a workspace in one SQLite file: the quizzes with their
// drafts, edits and releases, the passages and responses, users and sessions.
//
// It is the only room that knows the database. Documents are kept as the JSON
// that package quiz writes; responses in columns that can be queried. Every
// commit is on disk before it is acknowledged (WAL, synchronous=FULL).
package store

import (
	"context"
	"crypto/rand"
	"database/sql"
	"encoding/base32"
	"errors"
	"fmt"
	"log/slog"
	"net/url"
	"strings"
	"sync"
	"time"

	"github.com/gofrs/flock"
	"gorm.io/driver/sqlite"
	"gorm.io/gorm"
	"gorm.io/gorm/logger"
)

// ErrNotFound says that what was asked for is not there.
var ErrNotFound = errors.New("is not there")

// A Store is an open workspace. It serves any number of goroutines. One process at a
// time may take respondents through its quizzes, for it remembers what it has read.
type Store struct {
	file     string
	lock     *flock.Flock // while it is served
	db       *gorm.DB
	passages *Memory[Passage] // those read or written lately
	public   published
	uses     uses
	writer   *gorm.DB // on a connection of its own, for writeGroups alone
	conn     *sql.Conn

	queue   chan *entry // what waits to be written
	written chan struct{}
	closing sync.RWMutex
	closed  bool
}

// rememberedPassages is how much memory passages take, in bytes: some 30,000 of the usual
// size.
const rememberedPassages = 48 << 20

// Open opens the workspace in a file, made where it does not exist, and brings
// it to the current form.
func Open(file string) (*Store, error) {
	options := url.Values{"_journal_mode": {"WAL"}, "_synchronous": {"FULL"}, "_foreign_keys": {"on"},
		"_busy_timeout": {"5000"}, "_txlock": {"immediate"}, "_secure_delete": {"on"}}
	if err := prepare(file); err != nil {
		return nil, fmt.Errorf("the workspace %s %w", file, err)
	}
	if err := examine(file, "quick_check"); err != nil {
		return nil, fmt.Errorf("the workspace %s %w", file, err)
	}
	db, err := gorm.Open(sqlite.Open(address(file, options)), config())
	if err != nil {
		return nil, fmt.Errorf("opening the workspace %s: %w", file, err)
	}
	if err := migrate(db); err != nil {
		return nil, fmt.Errorf("bringing the workspace %s up to date: %w", file, err)
	}
	own, conn, err := ownConnection(db)
	if err != nil {
		return nil, fmt.Errorf("opening the workspace %s: %w", file, err)
	}
	s := &Store{file: file, db: db, writer: own, conn: conn, queue: make(chan *entry, longestQueue), written: make(chan struct{})}
	s.passages = NewMemory(rememberedPassages, 0, func(p Passage) int { return 300 + len(p.Answers) + len(p.Visitor) })
	go s.writeGroups()
	go s.noteUses()
	return s, nil
}

func config() *gorm.Config {
	return &gorm.Config{
		Logger:                 logger.NewSlogLogger(slog.Default(), logger.Config{LogLevel: logger.Error, IgnoreRecordNotFoundError: true, ParameterizedQueries: true}),
		SkipDefaultTransaction: true,
		PrepareStmt:            true,
		TranslateError:         true,
	}
}

// ownConnection returns a database on one connection of its own, whose statements stay
// prepared from one transaction to the next.
func ownConnection(db *gorm.DB) (*gorm.DB, *sql.Conn, error) {
	pool, err := db.DB()
	if err != nil {
		return nil, nil, err
	}
	conn, err := pool.Conn(context.Background())
	if err != nil {
		return nil, nil, err
	}
	own := config()
	own.DisableAutomaticPing = true // a single connection has none
	writer, err := gorm.Open(sqlite.Dialector{Conn: conn}, own)
	return writer, conn, err
}

// Close writes what waits to be written, and closes the workspace.
func (s *Store) Close() error {
	s.closing.Lock()
	closed := s.closed
	if !closed {
		s.closed = true
		close(s.queue)
	}
	s.closing.Unlock()
	<-s.written
	if closed {
		return nil
	}
	db, err := s.db.DB()
	if err != nil {
		return err
	}
	noted := s.NoteUses()
	// What is in the log beside the file is folded in, so that the file alone is the workspace.
	folded := s.db.Exec("PRAGMA wal_checkpoint(TRUNCATE)").Error
	defer let(s.lock)
	return errors.Join(noted, folded, closeStatements(s.writer), closeStatements(s.db), s.conn.Close(), db.Close())
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

// found turns GORM's word for an empty result into ErrNotFound.
func found(err error, what string, args ...any) error {
	if err == nil {
		return nil
	}
	if errors.Is(err, gorm.ErrRecordNotFound) {
		err = ErrNotFound
	}
	return fmt.Errorf("%s: %w", fmt.Sprintf(what, args...), err)
}

// Token returns 128 random bits as 26 small letters and digits.
func Token() string {
	var b [16]byte
	_, _ = rand.Read(b[:]) // never fails
	return strings.ToLower(base32.StdEncoding.WithPadding(base32.NoPadding).EncodeToString(b[:]))
}

func now() time.Time { return time.Now().UTC().Truncate(time.Millisecond) }
