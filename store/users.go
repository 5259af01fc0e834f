package store

import (
	"bufio"
	"bytes"
	"compress/gzip"
	"context"
	_ "embed"
	"errors"
	"fmt"
	"net/mail"
	"runtime"
	"strings"
	"sync"
	"time"

	"github.com/alexedwards/argon2id"
	"golang.org/x/sync/semaphore"
	"golang.org/x/text/cases"
	"golang.org/x/text/unicode/norm"
	"gorm.io/gorm"
	"gorm.io/gorm/clause"
)

// A User may sign in to the studio of the workspaces that they are a member of.
type User struct {
	ID       uint
	Email    string `gorm:"uniqueIndex;not null"` // in small letters
	Name     string
	Password string `gorm:"not null"`           // argon2id, as hash writes it
	Changes  int    `gorm:"not null;default:0"` // of the password: sessions of an earlier one have ended
	Created  time.Time
}

// A Member is a user of a workspace.
type Member struct {
	WorkspaceID WorkspaceID `gorm:"primaryKey;autoIncrement:false"`
	UserID      uint        `gorm:"primaryKey;autoIncrement:false"`
}

// users returns a database that reaches the workspace's members alone.
func (ps *People) users(ctx context.Context) *gorm.DB {
	return ps.db(ctx).Where("id IN (?)", ps.db(ctx).Model(&Member{}).Select("user_id")).Session(&gorm.Session{})
}

// Reasons why a sign-in or a new user is refused.
var (
	ErrSignIn   = errors.New("the e-mail address or the password is wrong")
	ErrPassword = errors.New("a password has at least 10 characters")
	ErrCommon   = errors.New("this password is one of those that are tried first")
	ErrEmail    = errors.New("this is no e-mail address")
)

// PutUser makes a user, or gives an existing one a new password, and a new name where one
// is said. All of the user's sessions end.
func (ps *People) PutUser(ctx context.Context, email, name, password string) error {
	email = Fold(email)
	if at, err := mail.ParseAddress(email); err != nil || at.Address != email ||
		!strings.Contains(email[strings.LastIndexByte(email, '@'):], ".") {
		return ErrEmail
	}
	if len([]rune(password)) < 10 {
		return ErrPassword
	}
	if common()[strings.ToLower(password)] {
		return ErrCommon
	}
	hashed, err := hash(ctx, password)
	if err != nil {
		return err
	}
	u := User{Email: email, Name: name, Password: hashed, Created: now()}
	renewed := map[string]any{"password": hashed, "changes": gorm.Expr("changes + 1")}
	if name != "" {
		renewed["name"] = name
	}
	return found(ps.db(ctx).Transaction(func(tx *gorm.DB) error {
		err := tx.Clauses(clause.OnConflict{Columns: []clause.Column{{Name: "email"}},
			DoUpdates: clause.Assignments(renewed)}).
			Create(&u).
			Error
		if err != nil {
			return err
		}
		var kept User // which may have another number than the database said of a new one
		if err := tx.Select("id").Where("email = ?", email).Take(&kept).Error; err != nil {
			return err
		}
		return tx.Clauses(clause.OnConflict{DoNothing: true}).Create(&Member{UserID: kept.ID}).Error
	}), "keeping the user")
}

// SignIn returns the user with this e-mail address and password, or ErrSignIn, or ErrBusy
// where the context ends before its turn comes. It takes as long for an unknown address
// as for a wrong password.
func (ps *People) SignIn(ctx context.Context, email, password string) (*User, error) {
	var u User
	result := ps.users(ctx).Where("email = ?", Fold(email)).Limit(1).Find(&u)
	if ctx.Err() != nil {
		return nil, fmt.Errorf("looking for the user: %w", ErrBusy)
	}
	if result.Error != nil {
		return nil, found(result.Error, "looking for the user")
	}
	stored := u.Password
	if result.RowsAffected == 0 {
		stored = nobody()
	}
	right, err := matches(ctx, stored, password)
	if err != nil {
		return nil, err
	}
	if !right || result.RowsAffected == 0 {
		return nil, ErrSignIn
	}
	return &u, nil
}

// Users returns all users, by their addresses.
func (ps *People) Users(ctx context.Context) ([]User, error) {
	var list []User
	return list, found(ps.users(ctx).Order("email").Find(&list).Error, "listing the users")
}

// User returns the user with an ID.
func (ps *People) User(ctx context.Context, id uint) (*User, error) {
	var u User
	err := ps.users(ctx).First(&u, id).Error
	return &u, found(err, "the user %d", id)
}

// Fold returns the one spelling of an e-mail address.
func Fold(email string) string {
	return cases.Fold().String(norm.NFKC.String(strings.TrimSpace(email)))
}

//go:embed common.txt.gz
var commonList []byte

// common are the passwords that are tried first: the 10,000 commonest, and of the next
// 40,000 those long enough to be taken. The list is that of zxcvbn-ts (MIT).
var common = sync.OnceValue(func() map[string]bool {
	list := map[string]bool{}
	unpacked, err := gzip.NewReader(bytes.NewReader(commonList))
	if err != nil {
		panic("store: the list of common passwords: " + err.Error()) // it is part of the program
	}
	for lines := bufio.NewScanner(unpacked); lines.Scan(); {
		list[lines.Text()] = true
	}
	return list
})

// Names returns what the users of the workspace are called, by ID.
func (ps *People) Names(ctx context.Context) (map[uint]string, error) {
	var list []User
	err := ps.users(ctx).Find(&list).Error
	names := map[uint]string{}
	for _, u := range list {
		names[u.ID] = u.Name
	}
	return names, found(err, "reading the names of users")
}

// The cost of argon2id: OWASP's first recommendation (19 MiB, 2 passes, 1 lane). Two are
// worked out at a time, or one where a core would be left for nothing else.
var hashCost = &argon2id.Params{Memory: 19 * 1024, Iterations: 2, Parallelism: 1, SaltLength: 16, KeyLength: 32}

var (
	hashesAtOnce = int64(min(2, max(1, runtime.GOMAXPROCS(0)-1)))
	hashing      = semaphore.NewWeighted(hashesAtOnce)
)

var nobody = sync.OnceValue(func() string {
	hashed, _ := hash(context.Background(), "nobody has this password") // nothing ends this context
	return hashed
})

// hash works out what is kept of a password.
func hash(ctx context.Context, password string) (kept string, err error) {
	err = inTurn(ctx, func() error {
		kept, err = argon2id.CreateHash(password, hashCost)
		return err
	})
	return kept, err
}

// matches tells whether a password is that of which something is kept.
func matches(ctx context.Context, kept, password string) (matches bool, err error) {
	err = inTurn(ctx, func() error {
		matches, _ = argon2id.ComparePasswordAndHash(password, kept) // of another form it is nobody's
		return nil
	})
	return matches, err
}

// inTurn does the work of one password when its turn comes.
func inTurn(ctx context.Context, work func() error) error {
	if hashing.Acquire(ctx, 1) != nil {
		return fmt.Errorf("working out a password: %w", ErrBusy)
	}
	defer hashing.Release(1)
	return work()
}
