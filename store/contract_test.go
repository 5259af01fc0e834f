package store

import (
	"context"
	"path/filepath"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gorm.io/gorm"
	"gorm.io/gorm/logger"

	"omphalos/core/quiz"
	"omphalos/core/quiztest"
)

// The contract is what any engine has to keep: whoever brings another runs it with that.
func TestSQLiteKeepsTheContract(t *testing.T) {
	contract(t, func(t *testing.T) *Store { return open(t, filepath.Join(t.TempDir(), "w.db")) })
}

func contract(t *testing.T, empty func(*testing.T) *Store) {
	for name, keeps := range map[string]func(*testing.T, *Store){
		"quizzes":           quizzesAreKept,
		"releases":          releasesAreKept,
		"tables":            tablesAreKept,
		"pictures":          picturesAreKept,
		"passages":          passagesAreKept,
		"streams":           streamsAreKept,
		"leads":             leadsAreKept,
		"deliveries":        deliveriesAreKept,
		"lists":             listsAreKept,
		"access":            accessIsBounded,
		"responses":         responsesAreKept,
		"figures":           figuresAreRight,
		"appointments":      appointmentsAreKept,
		"calendars":         calendarsAreKept,
		"people":            peopleAreKept,
		"rehearsals":        rehearsalsAreKept,
		"what broke":        theEditThatBrokeIsFound,
		"earlier releases":  releasesComeBack,
		"earlier addresses": addressesLeadOn,
		"a full quiz":       fullIsFull,
		"takers":            takersAreTold,
		"taking along":      quizzesAreTakenAlong,
		"invitations":       invitationsAreKept,
		"workspaces":        workspacesAreApart,
		"a time that ended": nothingAfterItsTime,
	} {
		t.Run(name, func(t *testing.T) { keeps(t, empty(t)) })
	}
}

// scoped are the tables of which every row belongs to a workspace.
var scoped = regexp.MustCompile(
	"(?i)(FROM|INTO|UPDATE|JOIN)\\s+[`\"]?(quizzes|edits|releases|responses|contacts|consents|passages|screenings|outcome_counts|erasures|segments|leads|products|signposts|signpost_changes|places|calendars|bookings|pictures|members|walks|hands|remarks|addresses|links|invitations|departures|sights|views|presses|lead_responses|lead_keys|lead_events|settings|deliveries|receivers|lists|subscriptions|unsubscribed|access_tokens)\\b",
)

// A watch sees that no statement reaches beyond a workspace.
type watch struct {
	logger.Interface
	t testing.TB
}

func (w watch) Trace(_ context.Context, _ time.Time, statement func() (string, int64), _ error) {
	if sql, _ := statement(); scoped.MatchString(sql) && !strings.Contains(sql, "workspace_id") {
		w.t.Errorf("a statement without a workspace: %s", sql)
	}
}

// watched has every statement looked at.
func watched(t testing.TB, s *Store) *Store {
	s.main.Config.Logger, s.writer.Config.Logger = watch{logger.Discard, t}, watch{logger.Discard, t}
	return s
}

// raw is the database for what a test looks up by itself.
func raw(s *Store) *gorm.DB { return s.main.Session(&gorm.Session{Logger: logger.Discard}) }

// A statement that was made for no workspace does not run.
func TestNoStatementWithoutAWorkspace(t *testing.T) {
	s, _ := released(t)
	bare := raw(s)
	var list []Quiz
	assert.ErrorIs(t, bare.Find(&list).Error, errNoWorkspace)
	assert.ErrorIs(t, bare.Create(&Place{Table: "t", Key: "k"}).Error, errNoWorkspace)
	assert.ErrorIs(t, bare.Model(&Quiz{}).Where("id = 1").Update("title", "x").Error, errNoWorkspace)
	assert.ErrorIs(t, bare.Where("id = 1").Delete(&Quiz{}).Error, errNoWorkspace)
	assert.ErrorIs(t, bare.Unscoped().Where("id = 1").Delete(&Quiz{}).Error, errNoWorkspace)
	var n int64
	assert.ErrorIs(t, bare.Model(&Response{}).Count(&n).Error, errNoWorkspace)
	other := within(t.Context(), s.main, 7)
	require.NoError(t, other.Where("id = 1").Or("id > 0").Find(&list).Error)
	assert.Empty(t, list, "whatever else is asked")
	gone := other.Where("id = 1").Or("id > 0").Delete(&Quiz{})
	require.NoError(t, gone.Error)
	assert.Zero(t, gone.RowsAffected)
}

// asked makes a quiz with a question of each kind that is counted in a way of its own.
func asked(title string) *quiz.Quiz {
	m := quiztest.New("fit", "not")
	m.Ask("crop", quiz.Several, "apples", "pears", "plums")
	m.Ask("want", quiz.Single, "yes", "no")
	m.Ask("trees", quiz.Number)
	q, err := quiz.Read(m.Write())
	if err != nil {
		panic(err)
	}
	q.Title = title
	return q
}

func add(t *testing.T, s *Store, q *quiz.Quiz) (*Quiz, *Release) {
	t.Helper()
	z, err := s.Definitions.AddQuiz(t.Context(), q)
	require.NoError(t, err)
	r, err := s.Definitions.Release(t.Context(), z.ID, z.Revision, 1)
	require.NoError(t, err)
	return z, r
}
