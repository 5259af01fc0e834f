package store

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"encoding/base64"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"
	"unicode/utf8"

	"gorm.io/gorm"
)

// An AccessToken lets another system in, for a purpose: so far as its scopes go, until it
// ends. Of the token no more is kept than tells it again.
type AccessToken struct {
	ID          uint
	WorkspaceID WorkspaceID `gorm:"not null"`
	Name        string      `gorm:"not null"` // of the purpose
	Hash        string      `gorm:"not null"`
	Scopes      string      `gorm:"not null"` // Scope after Scope, with blanks between
	Ends        time.Time
	Used        *time.Time // last, to some minutes
	Made        time.Time
	UserID      uint `gorm:"not null"`
}

// Scope is what another system may do.
type Scope string

// The scopes.
const (
	ReadQuizzes   Scope = "read:quizzes"
	ReadResponses Scope = "read:responses"
	ReadLeads     Scope = "read:leads"
	WriteLeads    Scope = "write:leads"
	WriteTables   Scope = "write:tables"
	ManageCalls   Scope = "manage:webhooks"
)

// Scopes lists all scopes.
var Scopes = []Scope{ReadQuizzes, ReadResponses, ReadLeads, WriteLeads, WriteTables, ManageCalls}

// Reasons why there is no access.
var (
	ErrAccess      = errors.New("the access token can't be made")
	ErrNoAccess    = errors.New("there is no such access token")
	ErrAccessEnded = errors.New("the access token has ended")
)

const (
	accessPrefix  = "omphalos_"
	mostAccess    = 100
	longestAccess = 2 * 366 * 24 * time.Hour
	usedEach      = 5 * time.Minute // its last use is kept no more often
)

// May tells whether a token's scopes hold one.
func (a *AccessToken) May(scope Scope) bool {
	return slices.Contains(strings.Fields(a.Scopes), string(scope))
}

// Ended tells whether a token has ended at a time.
func (a *AccessToken) Ended(at time.Time) bool { return !at.Before(a.Ends) }

// MakeAccess makes a token and returns its text, which is not kept. The error wraps ErrAccess.
func (p *People) MakeAccess(ctx context.Context, name string, scopes []Scope, ends time.Time,
	user uint) (text string, err error) {
	name = strings.TrimSpace(name)
	for _, s := range scopes {
		if !slices.Contains(Scopes, s) {
			return "", fmt.Errorf("%w: %q is nothing that can be allowed", ErrAccess, s)
		}
	}
	switch {
	case name == "" || utf8.RuneCountInString(name) > 100:
		return "", fmt.Errorf("%w: say in 1 to 100 letters what it is for", ErrAccess)
	case len(scopes) == 0:
		return "", fmt.Errorf("%w: say what it allows", ErrAccess)
	case !ends.After(now()) || ends.After(now().Add(longestAccess)):
		return "", fmt.Errorf("%w: it ends on a day to come, within two years", ErrAccess)
	}
	var b [32]byte
	_, _ = rand.Read(b[:]) // never fails
	text = accessPrefix + base64.RawURLEncoding.EncodeToString(b[:])
	words := make([]string, len(scopes))
	for i, s := range scopes {
		words[i] = string(s)
	}
	err = p.db(ctx).Transaction(func(tx *gorm.DB) error {
		var n int64
		if err := tx.Model(&AccessToken{}).Count(&n).Error; err != nil {
			return err
		}
		if n >= mostAccess {
			return fmt.Errorf("%w: there are %d, take one away first", ErrAccess, n)
		}
		return tx.Create(&AccessToken{Name: name, Hash: accessHash(text), Scopes: strings.Join(words, " "),
			Ends: ends.UTC(), Made: now(), UserID: user}).Error
	})
	return text, found(err, "making an access token")
}

// A token has 256 random bits, so a plain hash is as good as a slow one.
func accessHash(text string) string {
	sum := sha256.Sum256([]byte(text))
	return base64.RawURLEncoding.EncodeToString(sum[:])
}

// Access returns the token that a text is, with ErrNoAccess or ErrAccessEnded where it lets
// nobody in.
func (p *People) Access(ctx context.Context, text string) (*AccessToken, error) {
	if !strings.HasPrefix(text, accessPrefix) || len(text) > 100 {
		return nil, ErrNoAccess
	}
	var a AccessToken
	err := p.db(ctx).Where("hash = ?", accessHash(text)).Take(&a).Error
	switch {
	case errors.Is(err, gorm.ErrRecordNotFound):
		return nil, ErrNoAccess
	case err != nil:
		return nil, found(err, "looking for an access token")
	case a.Ended(now()):
		return nil, ErrAccessEnded
	}
	if a.Used == nil || now().Sub(*a.Used) > usedEach {
		if err := p.db(ctx).Model(&AccessToken{}).Where("id = ?", a.ID).Update("used", now()).Error; err != nil {
			return nil, found(err, "noting that an access token is used")
		}
	}
	return &a, nil
}

// Accesses returns all tokens, the newest first.
func (p *People) Accesses(ctx context.Context) ([]AccessToken, error) {
	var list []AccessToken
	return list, found(p.db(ctx).Order("id DESC").Find(&list).Error, "listing the access tokens")
}

// EndAccess takes a token away: it lets nobody in from now on.
func (p *People) EndAccess(ctx context.Context, id uint) error {
	return found(p.db(ctx).Delete(&AccessToken{}, id).Error, "taking an access token away")
}
