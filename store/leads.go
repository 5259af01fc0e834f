package store

import (
	"strings"
	"time"
	"unicode"

	"golang.org/x/text/cases"
	"golang.org/x/text/unicode/norm"
	"gorm.io/gorm"

	"omphalos/core/quiz"
)

// A Lead is a person who said who they are, in one response or in several: of which is told
// by the address or the telephone number that they gave, or by hand. What comes of responses
// stands here as it is in the newest of them.
type Lead struct {
	ID          uint        `gorm:"primaryKey;autoIncrement:false"` // of the file
	WorkspaceID WorkspaceID `gorm:"not null"`
	State       string      `gorm:"not null"` // key of a LeadState
	Changed     time.Time   // when it got there
	OwnerID     uint        `gorm:"not null"` // the user in whose hands they are, 0 for nobody's
	Next        string      `gorm:"not null"` // the day of the next step, as 2026-11-26; "" for none
	Objected    bool        `gorm:"not null"` // to being written to or called

	Name, Company, Email, Phone string

	// Of the newest response.
	QuizID    uint   `gorm:"not null"`
	ReleaseID uint   `gorm:"not null"`
	Number    int    `gorm:"not null"`
	Outcome   string `gorm:"not null"`
	Standing  string `gorm:"not null"`
	Reach     int    `gorm:"not null"` // thousandths of the ruler, see odds.Ruler; -1 where there is none
	Score     string `gorm:"not null"` // as it is read, "" for none

	Source, Medium, Campaign  string
	Country, Language, Device string

	Words string `gorm:"not null"` // the name, the company, the address and the number as they are searched: a line each

	First, Latest time.Time // responses
	Responses     int       `gorm:"not null"`

	Events []LeadEvent `gorm:"-"` // that come along with a response from elsewhere
}

// BeforeSave takes down by which words a lead is found.
func (l *Lead) BeforeSave(*gorm.DB) error {
	l.Words = folded(strings.Join([]string{l.Name, l.Company, l.Email, l.Phone}, "\n"))
	return nil
}

// folded writes words as they are searched.
func folded(words string) string { return norm.NFC.String(cases.Fold().String(words)) }

// Called is what a lead is called: by name, or by what else they said.
func (l *Lead) Called() string {
	for _, words := range []string{l.Name, l.Email, l.Phone, l.Company} {
		if words != "" {
			return words
		}
	}
	return "Nobody any more" // what says who they are was taken out
}

// A LeadResponse says whose response one is.
type LeadResponse struct {
	WorkspaceID WorkspaceID `gorm:"not null"`
	ResponseID  uint        `gorm:"primaryKey;autoIncrement:false"`
	LeadID      uint        `gorm:"not null"`
	QuizID      uint        `gorm:"not null"` // of the response, as its number is
	Number      int         `gorm:"not null"`
}

// A LeadKey is an address or a telephone number by which a lead is known again.
type LeadKey struct {
	WorkspaceID WorkspaceID `gorm:"primaryKey;autoIncrement:false"`
	Key         string      `gorm:"primaryKey"`
	LeadID      uint        `gorm:"not null"`
}

// A LeadEvent is a line of a lead's history.
type LeadEvent struct {
	ID          uint        `gorm:"primaryKey"`
	WorkspaceID WorkspaceID `gorm:"not null"`
	LeadID      uint        `gorm:"not null"`
	Kind        string      `gorm:"not null"` // Stated, Owned, Dated, Noted, Merged, Parted, Objecting
	Before      string      `gorm:"not null"`
	After       string      `gorm:"not null"` // the note, of Noted
	UserID      uint        `gorm:"not null"` // 0 for a rule
	Batch       string      `gorm:"not null"` // Token of what was changed together
	Made        time.Time
}

// The kinds of a lead's events.
const (
	Stated    = "state"
	Owned     = "owner"
	Dated     = "next"
	Noted     = "note"
	Merged    = "merged"
	Parted    = "parted"
	Objecting = "objected"
)

// keysOf returns the keys by which whoever gave some contacts is known again.
func keysOf(contacts []Contact) []string {
	var keys []string
	for _, c := range contacts {
		switch value := strings.TrimSpace(c.Value); c.Kind {
		case quiz.Email:
			if value != "" {
				keys = append(keys, "mail:"+Fold(value))
			}
		case quiz.Phone:
			digits := strings.Map(func(r rune) rune {
				if unicode.IsDigit(r) {
					return r
				}
				return -1
			}, value)
			if digits != "" {
				keys = append(keys, "tel:"+digits)
			}
		}
	}
	return keys
}

// personalKinds are the kinds of contacts that say who somebody is.
var personalKinds = []quiz.Kind{quiz.Name, quiz.Email, quiz.Phone, quiz.Company}

// personal tells whether contacts say who somebody is.
func personal(contacts []Contact) bool {
	for _, c := range contacts {
		if c.Kind.Personal() && strings.TrimSpace(c.Value) != "" {
			return true
		}
	}
	return false
}

// name takes over what contacts say, where the lead has nothing of its kind yet.
func (l *Lead) name(contacts []Contact) {
	of := map[quiz.Kind]*string{quiz.Name: &l.Name, quiz.Company: &l.Company, quiz.Email: &l.Email, quiz.Phone: &l.Phone}
	for _, c := range contacts {
		if to := of[c.Kind]; to != nil && *to == "" {
			*to = strings.TrimSpace(c.Value)
		}
	}
}

// follows takes over a response, which is the lead's newest.
func (l *Lead) follows(r *Response, by *ruling) {
	l.QuizID, l.ReleaseID, l.Number, l.Outcome, l.Latest = r.QuizID, r.ReleaseID, r.Number, r.Outcome, r.Finished
	l.Source, l.Medium, l.Campaign, l.Country, l.Language, l.Device = r.Source, r.Medium, r.Campaign, r.Country,
		r.Language, r.Device
	l.Standing, l.Reach, l.Score = by.standing[r.Outcome], -1, ""
	for _, s := range r.Scores {
		if by.scale != "" && s.Scale == by.scale {
			l.Reach, l.Score = by.ruler.Reach(s.Millionths), by.text(s.Millionths)
		}
	}
}
