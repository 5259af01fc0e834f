package store

import (
	"bytes"
	"errors"
	"fmt"
	"os"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gorm.io/gorm"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
	"omphalos/core/quiztest"
	"omphalos/store/tally"
)

// scored makes a quiz whose bands sort by a score from 0 to 10.
func scored(t *testing.T, s *Store) (*Quiz, *Release) {
	t.Helper()
	m := quiztest.New("cold", "hot")
	m.Scale("points", quiz.Sum)
	m.Ask("crop", quiz.Single, "apples points=0", "pears points=10")
	m.Bands("points", "cold", "6=hot")
	q, err := quiz.Read(m.Write())
	require.NoError(t, err)
	q.Outcomes["hot"].Standing, q.Outcomes["cold"].Standing = quiz.Fit, quiz.KeepWarm
	return add(t, s, q)
}

// left is a response in which somebody said who they are: "name=Ada", "mail=ada@example.org".
func left(z *Quiz, r *Release, at time.Time, points int64, said ...string) *Response {
	kinds := map[string]quiz.Kind{"name": quiz.Name, "mail": quiz.Email, "phone": quiz.Phone, "firm": quiz.Company}
	response := &Response{QuizID: z.ID, ReleaseID: r.ID, Passage: PassageNumber(), Started: at, Finished: at,
		Outcome: "cold", Visitor: `{"country":"IE"}`}
	if points >= 6 {
		response.Outcome = "hot"
	}
	response.Scores = []ResponseScore{{"points", decimal.FromInt(points)}}
	for _, one := range said {
		field, value, _ := strings.Cut(one, "=")
		response.Contacts = append(response.Contacts, Contact{Field: field, Kind: kinds[field], Value: value})
	}
	return response
}

// called are the leads, the first first, as "Ada: 2".
func called(t *testing.T, s *Store) (list []string) {
	t.Helper()
	require.NoError(t, s.Responses.LeadTally(t.Context(), func(counted *tally.Tally) {
		leads, err := s.Responses.Leads(t.Context(), counted.Slice().Page(tally.Order{}, 0, 100))
		require.NoError(t, err)
		for _, l := range leads {
			list = append(list, fmt.Sprintf("%s: %d", l.Called(), l.Responses))
		}
	}))
	return list
}

func leadsAreKept(t *testing.T, s *Store) {
	watched(t, s)
	ctx, rs := t.Context(), s.Responses
	z, r := scored(t, s)
	at := time.Date(2026, 11, 2, 9, 0, 0, 0, time.UTC)
	keep := func(list ...*Response) { require.NoError(t, rs.AddResponses(ctx, list)) }
	keep(
		left(z, r, at, 3, "name=Ada", "mail=ada@example.org"),
		left(z, r, at.Add(time.Hour), 8, "name=Bo", "phone=+353 1 555 0142"),
		left(z, r, at.Add(2*time.Hour), 9), // who says nothing is no lead
	)
	assert.Equal(t, []string{"Ada: 1", "Bo: 1"}, called(t, s))

	// The same address, in whatever letters, or the same number, is the same person.
	keep(left(z, r, at.Add(3*time.Hour), 10, "mail=ADA@Example.org ", "firm=Alder Farm"))
	keep(left(z, r, at.Add(4*time.Hour), 0, "name=Bo Birch", "phone=+35315550142"),
		left(z, r, at.Add(5*time.Hour), 5, "name=Cleo"))
	assert.Equal(t, []string{"Ada: 2", "Bo Birch: 2", "Cleo: 1"}, called(t, s))
	ada, err := rs.Lead(ctx, 1)
	require.NoError(t, err)
	assert.Equal(t, []any{"Alder Farm", "hot", "fit", 1000, "10", New, "IE", 4}, []any{ada.Company, ada.Outcome,
		ada.Standing, ada.Reach, ada.Score, ada.State, ada.Country, ada.Number})
	assert.Equal(t, at, ada.First.UTC())

	// What comes late tells what newer responses do not, and no more.
	keep(left(z, r, at.Add(-time.Hour), 1, "mail=ada@example.org", "phone=+353 20 912 3456", "firm=Old Farm"))
	ada, err = rs.Lead(ctx, 1)
	require.NoError(t, err)
	assert.Equal(t, []any{"Alder Farm", "+353 20 912 3456", "hot", 4, 3}, []any{ada.Company, ada.Phone,
		ada.Outcome, ada.Number, ada.Responses})
	assert.Equal(t, at.Add(-time.Hour), ada.First.UTC())
	require.NoError(t, rs.DeleteResponse(ctx, z.ID, 7, 1))

	// They are counted, and follow what is changed; that is taken back.
	counts := func(of tally.Kind) (list []tally.Count) {
		require.NoError(t, rs.LeadTally(ctx, func(c *tally.Tally) { list = c.Slice().Split(tally.Property{Kind: of}) }))
		return list
	}
	assert.Equal(t, []tally.Count{{Value: "keep warm", Count: 2}, {Value: "fit", Count: 1}}, counts(tally.Standing))
	require.NoError(t, s.People.PutUser(ctx, "joss@example.org", "Joss", "correct horse battery"))
	users, err := s.People.Users(ctx)
	require.NoError(t, err)
	won, joss, day := Won, users[0].ID, "2026-12-01"
	batch, err := rs.ChangeLeads(ctx, []int{1, 2}, LeadChange{State: &won, Owner: &joss, Next: &day}, joss)
	require.NoError(t, err)
	assert.Equal(t, []tally.Count{{Value: Won, Count: 2}, {Value: New, Count: 1}}, counts(tally.State))
	note := "Called back at nine."
	_, err = rs.ChangeLeads(ctx, []int{1}, LeadChange{Note: &note}, joss)
	require.NoError(t, err)
	n, err := rs.UndoLeads(ctx, batch)
	require.NoError(t, err)
	assert.Equal(t, 2, n)
	assert.Equal(t, []tally.Count{{Value: New, Count: 3}}, counts(tally.State))
	history, err := rs.History(ctx, 1)
	require.NoError(t, err)
	require.Len(t, history, 1, "what was taken back is no history")
	assert.Equal(t, note, history[0].After)

	// What somebody has changed since stays, and so does how it came to that.
	batch, err = rs.ChangeLeads(ctx, []int{1, 2}, LeadChange{State: &won}, joss)
	require.NoError(t, err)
	lost := Lost
	_, err = rs.ChangeLeads(ctx, []int{1}, LeadChange{State: &lost}, joss)
	require.NoError(t, err)
	n, err = rs.UndoLeads(ctx, batch)
	require.NoError(t, err)
	assert.Equal(t, 1, n)
	assert.Equal(t, []tally.Count{{Value: New, Count: 2}, {Value: Lost, Count: 1}}, counts(tally.State))
	history, err = rs.History(ctx, 1)
	require.NoError(t, err)
	require.Len(t, history, 3)
	n, err = rs.UndoLeads(ctx, batch)
	require.NoError(t, err)
	assert.Zero(t, n, "there is nothing left that could be")
	_, err = rs.ChangeLeads(ctx, []int{1}, LeadChange{State: new(New)}, joss)
	require.NoError(t, err)

	// What can't be is refused.
	for _, bad := range []LeadChange{{State: new("nowhere")}, {Next: new("tomorrow")}, {Note: new(" ")},
		{Owner: new(uint(99))}} {
		_, err := rs.ChangeLeads(ctx, []int{1}, bad, joss)
		assert.Error(t, err)
	}
	_, err = rs.ChangeLeads(ctx, []int{99}, LeadChange{State: &won}, joss)
	assert.ErrorIs(t, err, ErrNotFound)

	// Two are put together and parted again.
	require.NoError(t, rs.MergeLeads(ctx, 1, 3, joss))
	assert.Equal(t, []string{"Cleo: 3", "Bo Birch: 2"}, called(t, s), "called as in the newest response")
	parted, err := rs.PartLead(ctx, 1, z.ID, 6, joss)
	require.NoError(t, err)
	assert.Equal(t, "Cleo", parted.Name)
	assert.Equal(t, []string{"Ada: 2", "Bo Birch: 2", "Cleo: 1"}, called(t, s))
	assert.ErrorIs(t, rs.MergeLeads(ctx, 1, 1, joss), ErrSame)
	_, err = rs.PartLead(ctx, parted.ID, z.ID, 6, joss)
	assert.ErrorIs(t, err, ErrSame, "of one response nothing is parted")
	kept := rs.alone(ctx, func(tx *gorm.DB) error { return errors.Join(tx.Where("1 = 1").Delete(&Lead{}).Error, ErrSame) })
	assert.ErrorIs(t, kept, ErrSame)
	assert.Equal(t, []string{"Ada: 2", "Bo Birch: 2", "Cleo: 1"}, called(t, s), "what was refused has written nothing")

	// Found by words, corrected, erased.
	ids, err := rs.SearchLeads(ctx, "alder FARM")
	require.NoError(t, err)
	assert.Equal(t, []int{1}, ids)
	require.NoError(t, rs.CorrectContact(ctx, z.ID, 4, "mail", "ada.alder@example.org"))
	keep(left(z, r, at.Add(6*time.Hour), 4, "mail=ada.alder@example.org"))
	assert.Equal(t, []string{"Ada: 3", "Bo Birch: 2", "Cleo: 1"}, called(t, s))
	n, err = rs.EraseLead(ctx, 1, joss)
	require.NoError(t, err)
	assert.Equal(t, 3, n)
	assert.Equal(t, []string{"Bo Birch: 2", "Cleo: 1"}, called(t, s))
	require.NoError(t, rs.DeleteResponse(ctx, z.ID, 6, joss))
	assert.Equal(t, []string{"Bo Birch: 2"}, called(t, s))

	// Nothing of whoever was erased is left in the file.
	require.NoError(t, raw(s).Exec("VACUUM").Error)
	require.NoError(t, raw(s).Exec("PRAGMA wal_checkpoint(TRUNCATE)").Error)
	for _, part := range []string{s.file, s.file + "-wal"} {
		kept, err := os.ReadFile(part)
		require.NoError(t, err)
		for _, words := range []string{"ada.alder", "Alder Farm", "Called back", "Cleo"} {
			assert.False(t, bytes.Contains(kept, []byte(words)), "%s is in %s", words, part)
		}
		if part == s.file {
			assert.Contains(t, string(kept), "Bo Birch")
		}
	}
}

// New leads come into the hands of those whom rules name, by turns.
func TestLeadsComeIntoHands(t *testing.T) {
	s := open(t, t.TempDir()+"/w.db")
	ctx, rs := t.Context(), s.Responses
	z, r := scored(t, s)
	settings, err := rs.LeadSettings(ctx)
	require.NoError(t, err)
	settings.Rules = []OwnerRule{{QuizID: z.ID, Standing: "fit", Country: "IE", Owners: []uint{7, 8}},
		{From: 300, Owners: []uint{9}}}
	require.NoError(t, rs.KeepLeadSettings(ctx, settings))
	for i, points := range []int64{8, 9, 10, 3, 0} {
		require.NoError(t, rs.AddResponses(ctx, []*Response{left(z, r, time.Now(), points, fmt.Sprintf("name=N%d", i))}))
	}
	var owners []uint
	for id := range uint(5) {
		l, err := rs.Lead(ctx, id+1)
		require.NoError(t, err)
		owners = append(owners, l.OwnerID)
	}
	assert.Equal(t, []uint{7, 8, 7, 9, 0}, owners)

	// States of one's own take the place of those that were there.
	settings.States = []LeadState{{"fresh", "just in", ""}, {Won, "bought", Won}, {Lost, "no", Lost}}
	require.NoError(t, rs.KeepLeadSettings(ctx, settings))
	l, err := rs.Lead(ctx, 1)
	require.NoError(t, err)
	assert.Equal(t, "fresh", l.State)
	for _, states := range [][]LeadState{
		{{"a", "a", ""}, {"b", "b", Won}},                                       // none that is lost
		{{"a", "a", Won}, {"b", "b", Lost}, {"c", "c", ""}},                     // the first is an end
		{{"a", "a", ""}, {"b", " A", Won}, {"c", "c", Lost}},                    // two of a name
		{{"a", "", ""}, {"b", "b", Won}, {"c", "c", Lost}},                      // one of none
		{{"a", strings.Repeat("a", 25), ""}, {"b", "b", Won}, {"c", "c", Lost}}, // a long one
	} {
		assert.ErrorIs(t, rs.KeepLeadSettings(ctx, &LeadSettings{States: states}), ErrLeadSettings)
	}
}

// Responses that were kept before there were leads become leads when they are asked for.
func TestResponsesBecomeLeads(t *testing.T) {
	s := open(t, t.TempDir()+"/w.db")
	z, r := scored(t, s)
	for i := range 3 {
		require.NoError(t, s.Responses.AddResponses(t.Context(),
			[]*Response{left(z, r, time.Now(), int64(i), fmt.Sprintf("name=N%d", i), "mail=n@example.org")}))
	}
	require.NoError(t, raw(s).Exec("DELETE FROM leads").Error)
	s.Responses.leads.forget()
	assert.Equal(t, []string{"N2: 3"}, called(t, s))
	// as earlier forms had it
	require.NoError(t, raw(s).Exec("UPDATE leads SET responses = 0, name = '', state = 'won'").Error)
	s.Responses.leads.forget()
	assert.Equal(t, []string{"N2: 3"}, called(t, s))
}
