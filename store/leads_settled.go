package store

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"
	"unicode/utf8"

	"gorm.io/gorm"
)

// LeadSettings are what a workspace's people have settled about its leads.
type LeadSettings struct {
	States []LeadState // in their order: a new lead is in the first
	Rules  []OwnerRule // the first that fits a new lead says whose it is
	Keep   Retention
}

// A LeadState is where somebody can be with a lead.
type LeadState struct {
	Key  string
	Name string
	End  string // Won or Lost where it is one, "" where it goes on
}

// The ends of a lead, and the keys of the states that are there from the beginning.
const (
	New     = "new"
	InTalks = "talks"
	Won     = "won"
	Lost    = "lost"
)

// An OwnerRule says in whose hands a new lead comes: of several, by turns. What is "" or 0 is
// not asked.
type OwnerRule struct {
	QuizID                     uint
	Outcome, Standing, Country string
	From                       int // thousandths of the ruler that are reached at least
	Owners                     []uint
}

// Retention says what becomes of leads of which nothing is heard any more.
type Retention struct {
	Days      int  // after the last response or the last change of state; 0 keeps them
	Anonymous bool // the responses stay, without what says who somebody is
}

// ErrLeadSettings says what is wrong with settings.
var ErrLeadSettings = errors.New("the settings can't be kept")

const (
	mostStates       = 9 // one a digit
	longestStateName = 24
	mostOwnerRules   = 50
	leastKept        = 7 // days
)

// usualStates are those of a workspace that has settled nothing.
func usualStates() []LeadState {
	return []LeadState{{New, "new", ""}, {InTalks, "in talks", ""}, {Won, "won", Won}, {Lost, "lost", Lost}}
}

// Check returns what is wrong, with ErrLeadSettings, or nil.
func (s *LeadSettings) Check() error {
	seen := map[string]bool{}
	ends := map[string]bool{}
	for i := range s.States {
		state := &s.States[i]
		state.Name = strings.Join(strings.Fields(state.Name), " ")
		if state.Name == "" || utf8.RuneCountInString(state.Name) > longestStateName {
			return fmt.Errorf("%w: a state has a name of 1 to %d letters", ErrLeadSettings, longestStateName)
		}
		if name := strings.ToLower(state.Name); seen[name] {
			return fmt.Errorf("%w: two states are called “%s”", ErrLeadSettings, state.Name)
		} else {
			seen[name] = true
		}
		ends[state.End] = true
	}
	switch {
	case len(s.States) > mostStates:
		return fmt.Errorf("%w: there can be %d states", ErrLeadSettings, mostStates)
	case !ends[""] || !ends[Won] || !ends[Lost]:
		return fmt.Errorf("%w: a state that goes on, one that is won and one that is lost are needed", ErrLeadSettings)
	case s.States[0].End != "":
		return fmt.Errorf("%w: the first state is that of new leads, and can't be an end", ErrLeadSettings)
	case len(s.Rules) > mostOwnerRules:
		return fmt.Errorf("%w: there can be %d rules", ErrLeadSettings, mostOwnerRules)
	case s.Keep.Days != 0 && s.Keep.Days < leastKept:
		return fmt.Errorf("%w: leads are kept for %d days at least", ErrLeadSettings, leastKept)
	}
	return nil
}

// State returns a state by its key; one that is not there any more is called by its key.
func (s *LeadSettings) State(key string) LeadState {
	for _, state := range s.States {
		if state.Key == key {
			return state
		}
	}
	return LeadState{Key: key, Name: key}
}

// Ends returns the keys of the states that are an end: Won, Lost, or "" for those that go on.
func (s *LeadSettings) Ends(end string) []string {
	var keys []string
	for _, state := range s.States {
		if state.End == end {
			keys = append(keys, state.Key)
		}
	}
	return keys
}

// Ended returns the keys of the states in which a lead is won or lost.
func (s *LeadSettings) Ended() []string { return append(s.Ends(Won), s.Ends(Lost)...) }

func (s *LeadSettings) first() string { return s.States[0].Key }

// fits tells whether a rule is about a lead.
func (r *OwnerRule) fits(l *Lead) bool {
	return (r.QuizID == 0 || r.QuizID == l.QuizID) && (r.Outcome == "" || r.Outcome == l.Outcome) &&
		(r.Standing == "" || r.Standing == l.Standing) && (r.Country == "" || r.Country == l.Country) &&
		(r.From == 0 || l.Reach >= r.From) && len(r.Owners) > 0
}

// owner returns in whose hands a new lead comes, 0 for nobody's: of several the one whose turn
// it is by the lead's number.
func (s *LeadSettings) owner(l *Lead, turn func(rule int) int) uint {
	for i := range s.Rules {
		if r := &s.Rules[i]; r.fits(l) {
			return r.Owners[turn(i)%len(r.Owners)]
		}
	}
	return 0
}

const leadsSetting = "leads"

// leadSettings reads the settings of a workspace.
func leadSettings(tx *gorm.DB) (*LeadSettings, error) {
	s := &LeadSettings{}
	if err := setting(tx, leadsSetting, s); err != nil {
		return nil, err
	}
	if len(s.States) == 0 {
		s.States = usualStates()
	}
	return s, nil
}

// leadSettings returns the settings of a workspace, read once.
func (d *disk) leadSettings(tx *gorm.DB, in WorkspaceID) (*LeadSettings, error) {
	if known, is := d.settled.Load(in); is {
		return known.(*LeadSettings), nil
	}
	s, err := leadSettings(tx)
	if err == nil {
		d.settled.Store(in, s)
	}
	return s, err
}

// LeadSettings returns what is settled about leads.
func (rs *Responses) LeadSettings(ctx context.Context) (*LeadSettings, error) {
	return leadSettings(rs.db(ctx))
}

// KeepLeadSettings keeps what is settled about leads. Leads in a state that is gone come into
// the first. The error wraps ErrLeadSettings.
func (rs *Responses) KeepLeadSettings(ctx context.Context, s *LeadSettings) error {
	if err := s.Check(); err != nil {
		return err
	}
	keys := make([]string, len(s.States))
	for i, state := range s.States {
		keys[i] = state.Key
	}
	err := rs.db(ctx).Transaction(func(tx *gorm.DB) error {
		if err := keepSetting(tx, leadsSetting, s); err != nil {
			return err
		}
		return tx.Model(&Lead{}).Where("state NOT IN ?", keys).
			Updates(map[string]any{"state": s.first(), "changed": now()}).Error
	})
	rs.disk.settled.Delete(rs.in)
	rs.leads.forget()
	return found(err, "keeping the settings of leads")
}

// FreshState returns a key for a state that is not there yet.
func (s *LeadSettings) FreshState() string {
	for i := 1; ; i++ {
		key := fmt.Sprintf("state_%d", i)
		if !slices.ContainsFunc(s.States, func(state LeadState) bool { return state.Key == key }) {
			return key
		}
	}
}

// owned is the event that a lead came into somebody's hands.
func owned(l *Lead, before, after, by uint, at time.Time) LeadEvent {
	return LeadEvent{LeadID: l.ID, Kind: Owned, Before: fmt.Sprint(before), After: fmt.Sprint(after),
		UserID: by, Batch: Token(), Made: at}
}
