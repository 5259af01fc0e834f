package store

import (
	"crypto/sha256"
	"encoding/base32"
	"encoding/binary"
	"regexp"
	"strings"
	"time"
)

// ResponseNumber returns the number under which other systems know a passage, from the
// passage's own: nobody comes from it to the other.
func ResponseNumber(passage string) string {
	sum := sha256.Sum256([]byte("response of " + passage))
	return strings.ToLower(base32.StdEncoding.WithPadding(base32.NoPadding).EncodeToString(sum[:]))[:26]
}

// PassageNumber returns a number that nobody guesses: the millisecond in which it was made,
// as 8 small letters and digits, and a Token behind. Those that are made one after the other
// lie beside each other in the index, so that a commit of many changes few of its pages.
func PassageNumber() string {
	var at [8]byte
	binary.BigEndian.PutUint64(at[:], uint64(time.Now().UnixMilli()))
	return strings.ToLower(base32.StdEncoding.EncodeToString(at[3:])) + Token()
}

// NumberedAt returns when a passage's number was made, as far as that can be told: a number
// comes back from a browser, which may say anything.
func NumberedAt(number string) time.Time {
	var at [8]byte
	if len(number) < 8 {
		return time.Time{}
	}
	if _, err := base32.StdEncoding.Decode(at[3:], []byte(strings.ToUpper(number[:8]))); err != nil {
		return time.Time{}
	}
	return time.UnixMilli(int64(binary.BigEndian.Uint64(at[:]))).UTC()
}

// Numbers of earlier passages are Tokens alone.
var passageNumber = regexp.MustCompile(`^([a-z2-7]{8})?[a-z2-7]{26}$`)

// IsPassageNumber tells whether a text has the form of a passage's number.
func IsPassageNumber(s string) bool { return passageNumber.MatchString(s) }
