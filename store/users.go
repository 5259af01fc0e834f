package store

import (
	"crypto/rand"
	"crypto/subtle"
	"encoding/base64"
	"errors"
	"fmt"
	"strings"
	"sync"
	"time"

	"golang.org/x/crypto/argon2"
	"gorm.io/gorm/clause"
)

// A User may sign in to the studio.
type User struct {
	ID       uint
	Email    string `gorm:"uniqueIndex;not null"` // in small letters
	Name     string
	Password string `gorm:"not null"` // argon2id, as hash writes it
	Created  time.Time
}

// Reasons why a sign-in or a new user is refused.
var (
	ErrSignIn   = errors.New("the e-mail address or the password is wrong")
	ErrPassword = errors.New("a password has at least 10 characters")
)

// PutUser makes a user, or gives an existing one a new name and password.
func (s *Store) PutUser(email, name, password string) error {
	if len([]rune(password)) < 10 {
		return ErrPassword
	}
	u := User{Email: fold(email), Name: name, Password: hash(password), Created: now()}
	err := s.db.Clauses(clause.OnConflict{Columns: []clause.Column{{Name: "email"}}, DoUpdates: clause.AssignmentColumns([]string{"name", "password"})}).Create(&u).Error
	return found(err, "keeping the user")
}

// SignIn returns the user with this e-mail address and password, or ErrSignIn.
// It takes as long for an unknown address as for a wrong password.
func (s *Store) SignIn(email, password string) (*User, error) {
	var u User
	result := s.db.Where("email = ?", fold(email)).Limit(1).Find(&u)
	if result.Error != nil {
		return nil, found(result.Error, "looking for the user")
	}
	stored := u.Password
	if result.RowsAffected == 0 {
		stored = nobody()
	}
	if !matches(stored, password) || result.RowsAffected == 0 {
		return nil, ErrSignIn
	}
	return &u, nil
}

// User returns the user with an ID.
func (s *Store) User(id uint) (*User, error) {
	var u User
	err := s.db.First(&u, id).Error
	return &u, found(err, "the user %d", id)
}

func fold(email string) string { return strings.ToLower(strings.TrimSpace(email)) }

// The cost of argon2id: OWASP's first recommendation (19 MiB, 2 passes, 1 lane).
const (
	hashMemory = 19 * 1024
	hashPasses = 2
)

var nobody = sync.OnceValue(func() string { return hash("nobody has this password") })

func hash(password string) string {
	salt := make([]byte, 16)
	_, _ = rand.Read(salt) // never fails
	sum := argon2.IDKey([]byte(password), salt, hashPasses, hashMemory, 1, 32)
	encode := base64.RawStdEncoding.EncodeToString
	return fmt.Sprintf("$argon2id$v=%d$m=%d,t=%d,p=1$%s$%s", argon2.Version, hashMemory, hashPasses, encode(salt), encode(sum))
}

func matches(stored, password string) bool {
	parts := strings.Split(stored, "$")
	if len(parts) != 6 {
		return false
	}
	var memory, passes uint32
	if _, err := fmt.Sscanf(parts[3], "m=%d,t=%d,p=1", &memory, &passes); err != nil {
		return false
	}
	salt, err1 := base64.RawStdEncoding.DecodeString(parts[4])
	sum, err2 := base64.RawStdEncoding.DecodeString(parts[5])
	if err1 != nil || err2 != nil || len(sum) == 0 {
		return false
	}
	return subtle.ConstantTimeCompare(sum, argon2.IDKey([]byte(password), salt, passes, memory, 1, uint32(len(sum)))) == 1
}
