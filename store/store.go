// Package store keeps workspaces in one SQLite file. There are four ways in:
//
//   - Definitions: quizzes with their drafts, edits and releases, pictures, products,
//     signposts and places;
//   - Responses: passages, responses, and the figures of them;
//   - People: who may sign in, and their sessions;
//   - Outbox: what goes out when somebody lands, to whom, and what became of it.
//
// Each way leads into one workspace: a statement that was made for none does not run, see
// WorkspaceID. It is the only room that knows the database. Documents are kept as the JSON
// that package quiz writes; responses in columns that can be queried and one packed value.
// Every commit is on disk before it is acknowledged.
package store

import (
	"context"
	"crypto/rand"
	"encoding/base32"
	"errors"
	"fmt"
	"log/slog"
	"maps"
	"slices"
	"strings"
	"sync"
	"time"

	"github.com/gofrs/flock"
	lru "github.com/hashicorp/golang-lru/v2"
	"gorm.io/gorm"
	"gorm.io/gorm/logger"
)

// ErrNotFound says that what was asked for is not there.
var ErrNotFound = errors.New("is not there")

// A Store is a workspace of an open file. It serves any number of goroutines. One process
// at a time may take respondents through its quizzes, for it remembers what it has read.
type Store struct {
	Definitions *Definitions
	Responses   *Responses
	People      *People
	Outbox      *Outbox

	*disk
}

// Definitions is the way to what a workspace's people have written.
type Definitions struct {
	room
	public published
	uses   uses
	broke  *lru.Cache[uint, map[string]culprit] // by quiz and rehearsal
}

// Responses is the way to what its respondents have answered.
type Responses struct {
	room
	indexes indexes
	flows   flows
	sights  sights
	leads   leads
}

// Outbox is the way to what goes out.
type Outbox struct{ room }

// People is the way to those who may sign in.
type People struct{ room }

// A room is where a way in leads: a workspace.
type room struct {
	disk *disk
	in   WorkspaceID
}

// db returns a database whose statements reach the workspace alone.
func (r room) db(ctx context.Context) *gorm.DB { return within(ctx, r.disk.main, r.in) }

// A disk is an open file with what is common to its workspaces.
type disk struct {
	file     string
	lock     *flock.Flock // while it is served
	main     *gorm.DB
	writer   *gorm.DB // on a connection of its own, for writeGroups alone
	passages *Memory[Passage]

	responses, leads, deliveries uint // the largest ID of one, for the writer alone
	rulings                      *lru.Cache[uint, *ruling]
	settled                      sync.Map       // *LeadSettings by WorkspaceID
	zones                        sync.Map       // *time.Location by WorkspaceID
	turns                        map[turnOf]int // for the writer alone

	opened sync.Mutex
	stores map[WorkspaceID]*Store

	rang    bell        // when something was put into an outbox
	queue   chan *entry // what waits to be written
	written chan struct{}
	closing sync.RWMutex
	closed  bool
}

// rememberedPassages is how much memory passages take, in bytes: some 30,000 of the usual
// size.
const rememberedPassages = 48 << 20

// Open opens a file, made where it does not exist, brings it to the current form, and
// returns its first workspace.
func Open(file string) (*Store, error) {
	if err := prepare(file); err != nil {
		return nil, fmt.Errorf("the workspace %s %w", file, err)
	}
	if err := examine(file, "quick_check"); err != nil {
		return nil, fmt.Errorf("the workspace %s %w", file, err)
	}
	db, err := openEngine(file)
	if err != nil {
		return nil, fmt.Errorf("opening the workspace %s: %w", file, err)
	}
	if err := migrate(db); err != nil {
		return nil, fmt.Errorf("bringing the workspace %s up to date: %w", file, err)
	}
	own, err := ownConnection(db)
	if err != nil {
		return nil, fmt.Errorf("opening the workspace %s: %w", file, err)
	}
	d := &disk{file: file, main: db, writer: own, stores: map[WorkspaceID]*Store{},
		rang: make(bell, 1), queue: make(chan *entry, longestQueue), written: make(chan struct{}),
		rulings: newRulings(), turns: map[turnOf]int{}}
	d.passages = NewMemory(rememberedPassages, 0, func(p Passage) int { return 300 + len(p.Answers) + len(p.Visitor) })
	if err := d.countFrom(db); err != nil {
		return nil, fmt.Errorf("opening the workspace %s: %w", file, err)
	}
	go d.writeGroups()
	go d.noteUses()
	return d.workspace(First), nil
}

// workspace returns the ways into a workspace, the same ones each time.
func (d *disk) workspace(in WorkspaceID) *Store {
	d.opened.Lock()
	defer d.opened.Unlock()
	s := d.stores[in]
	if s == nil {
		at := room{d, in}
		s = &Store{Definitions: &Definitions{room: at, broke: culprits()}, Responses: &Responses{room: at},
			People: &People{at}, Outbox: &Outbox{at}, disk: d}
		d.stores[in] = s
	}
	return s
}

func (d *disk) workspaces() []*Store {
	d.opened.Lock()
	defer d.opened.Unlock()
	return slices.Collect(maps.Values(d.stores))
}

func config() *gorm.Config {
	return &gorm.Config{
		Logger: failures{
			logger.NewSlogLogger(slog.Default(), logger.Config{LogLevel: logger.Error, ParameterizedQueries: true}),
		},
		SkipDefaultTransaction: true,
		PrepareStmt:            true,
		TranslateError:         true,
	}
}

// failures logs statements that failed, and not those whose failing is an answer: nothing
// was found, a key is taken, whoever asked has gone.
type failures struct{ logger.Interface }

// Trace is called by GORM after each statement.
func (f failures) Trace(ctx context.Context, began time.Time, statement func() (string, int64), err error) {
	if err == nil {
		return
	}
	for _, answer := range []error{gorm.ErrRecordNotFound, gorm.ErrDuplicatedKey, context.Canceled,
		context.DeadlineExceeded} {
		if errors.Is(err, answer) {
			return
		}
	}
	f.Interface.Trace(ctx, began, statement, err)
}

// Close writes what waits to be written, and closes the file.
func (d *disk) Close() error {
	d.closing.Lock()
	closed := d.closed
	if !closed {
		d.closed = true
		close(d.queue)
	}
	d.closing.Unlock()
	<-d.written
	if closed {
		return nil
	}
	var failed []error
	for _, s := range d.workspaces() {
		failed = append(failed, s.Definitions.NoteUses(context.Background()), s.Responses.NoteSights(context.Background()))
	}
	defer let(d.lock)
	return errors.Join(append(failed, closeEngine(d.main, d.writer))...)
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
