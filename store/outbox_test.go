package store

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/program"
	"omphalos/core/quiz"
)

// lands keeps a response with follow-ups, and returns it.
func lands(t *testing.T, s *Store, r *Release, out ...Delivery) *Response {
	t.Helper()
	one := answered()
	one.FollowUps = out
	one.Contacts = []Contact{{Field: "mail", Kind: quiz.Email, Value: "Una@example.org"}}
	one.Consents = []Consent{{Field: "letters", Words: "Send me the bee letter"}}
	kept, err := s.Responses.Finish(t.Context(), Begin("", r, "quiz", program.Visitor{}), given, one)
	require.NoError(t, err)
	return kept
}

// deliveriesAreKept with their responses, are claimed once, and are what was settled of them.
func deliveriesAreKept(t *testing.T, s *Store) {
	z, r := releasedIn(t, s)
	ctx, out := t.Context(), s.Outbox
	call := Delivery{FollowUp: "crm", Kind: quiz.CallFollowUp, Lane: "call/crm"}
	first := lands(t, s, r, call, Delivery{FollowUp: "later", Kind: quiz.MailFollowUp, Lane: "mail", wait: time.Hour})
	second := lands(t, s, r, call)
	now := time.Now().Add(time.Second)
	lanes, err := s.Lanes(ctx, now)
	require.NoError(t, err)
	require.Equal(t, []string{"1/call/crm"}, lanes, "what is due")
	list, err := out.Claim(ctx, lanes[0], 1, now)
	require.NoError(t, err)
	require.Len(t, list, 1)
	assert.Equal(t, first.ID, list[0].ResponseID, "who waited longest")
	again, err := out.Claim(ctx, lanes[0], 10, now)
	require.NoError(t, err)
	require.Len(t, again, 1)
	assert.Equal(t, second.ID, again[0].ResponseID, "nobody gets what is claimed")
	n, err := s.Unclaim(ctx)
	require.NoError(t, err)
	assert.Equal(t, 2, n, "the process ended")
	list, err = out.Claim(ctx, lanes[0], 10, now)
	require.NoError(t, err)
	require.Len(t, list, 2)
	assert.Equal(t, 2, list[0].Tries)
	list[0].State, list[0].Recipient = Delivered, "CRM"
	list[1].Why, list[1].Due = "no answer", now.Add(time.Minute)
	require.NoError(t, out.Settle(ctx, list))
	figures, err := out.Figures(ctx, z.ID)
	require.NoError(t, err)
	assert.Equal(t, map[string]Figures{"crm": {Delivered: 1, Failing: 1}, "later": {Waiting: 1}}, figures)
	failing, err := out.Deliveries(ctx, Search{State: Failing}, 10)
	require.NoError(t, err)
	require.Len(t, failing, 1)
	assert.Equal(t, "no answer", failing[0].Why)
	again, err = out.Deliveries(ctx, Search{Words: "crm"}, 10)
	require.NoError(t, err)
	assert.Len(t, again, 1, "found by to whom it went")
	again, err = out.Deliveries(ctx, Search{Words: "%"}, 10)
	require.NoError(t, err)
	assert.Empty(t, again, "a letter like others")
	n, err = out.Cancel(ctx, Search{FollowUp: "later"}, "by hand")
	require.NoError(t, err)
	assert.Equal(t, 1, n)
	n, err = out.Again(ctx, Search{QuizID: z.ID})
	require.NoError(t, err)
	assert.Equal(t, 2, n, "all but what was delivered")

	require.NoError(t, s.Responses.DeleteResponse(ctx, z.ID, second.Number, 1))
	require.NoError(t, out.Settle(ctx, list))
	rest, err := out.DeliveriesOf(ctx, first.ID, second.ID)
	require.NoError(t, err)
	assert.Len(t, rest, 2, "what was deleted stays gone")
}

// listsAreKept: whoever signs up is asked, joins, and leaves for ever; nobody can make a pass.
func listsAreKept(t *testing.T, s *Store) {
	_, r := releasedIn(t, s)
	ctx, out := t.Context(), s.Outbox
	require.NoError(t, out.PutReceiver(ctx, &Receiver{Name: "List service", Kind: quiz.CallFollowUp,
		Address: "https://example.org"}))
	letter := &List{Name: "Bee letter", Receiver: "list_service"}
	require.NoError(t, out.PutList(ctx, letter))
	assert.Equal(t, "bee_letter", letter.Key)
	kept := lands(t, s, r, Delivery{FollowUp: "letters", Kind: quiz.ListFollowUp, Lane: "list"})
	list, err := out.Claim(ctx, "1/list", 1, time.Now().Add(time.Second))
	require.NoError(t, err)
	require.Len(t, list, 1)
	who := Subscription{Address: "Una@Example.org", Words: "Send me the bee letter", Given: kept.Finished}
	require.NoError(t, out.Join(ctx, letter, list[0], who))
	require.NoError(t, out.Join(ctx, letter, list[0], who), "once")
	second := lands(t, s, r, Delivery{FollowUp: "letters", Kind: quiz.ListFollowUp, Lane: "list"})
	again, err := out.Claim(ctx, "1/list", 1, time.Now().Add(time.Second))
	require.NoError(t, err)
	require.NoError(t, out.Join(ctx, letter, again[0], who))
	steps, err := out.DeliveriesOf(ctx, second.ID)
	require.NoError(t, err)
	assert.Len(t, steps, 1, "nobody is asked twice a day")
	require.NoError(t, out.db(ctx).Model(&Subscription{}).Where("list = ?", letter.Key).Update("asked",
		now().Add(-25*time.Hour)).Error)
	require.NoError(t, out.Join(ctx, letter, again[0], who))
	steps, err = out.DeliveriesOf(ctx, second.ID)
	require.NoError(t, err)
	assert.Len(t, steps, 2, "asked once more")
	require.NoError(t, s.Responses.DeleteResponse(ctx, r.QuizID, second.Number, 1))
	require.NoError(t, out.Join(ctx, letter, list[0], who))
	people, err := out.Subscriptions(ctx, letter.Key, 0)
	require.NoError(t, err)
	require.Len(t, people, 1)
	assert.Equal(t, "una@example.org", people[0].Address)
	assert.Equal(t, Asked, people[0].State)
	s1, err := out.Confirm(ctx, people[0].Token)
	require.NoError(t, err)
	assert.Equal(t, Joined, s1.State)
	_, err = out.Confirm(ctx, "made up")
	require.ErrorIs(t, err, ErrNotFound)
	steps, err = out.DeliveriesOf(ctx, kept.ID)
	require.NoError(t, err)
	var names []string
	for _, d := range steps {
		names = append(names, d.Step+" "+d.Lane)
	}
	assert.ElementsMatch(t, []string{" 1/list", "confirm 1/mail", "join 1/call/list_service"}, names)

	pass, err := out.Pass(ctx, "UNA@example.org")
	require.NoError(t, err)
	assert.NotContains(t, pass, "una")
	require.ErrorIs(t, out.Unsubscribe(ctx, pass[:len(pass)-1]+"x"), ErrNotFound)
	other, err := s.AddWorkspace(ctx, "Another")
	require.NoError(t, err)
	require.ErrorIs(t, other.Outbox.Unsubscribe(ctx, pass), ErrNotFound, "of another workspace")
	_, err = s.Responses.EraseLead(ctx, kept.Lead.ID, 1)
	require.NoError(t, err)
	people, err = out.Subscriptions(ctx, letter.Key, 0)
	require.NoError(t, err)
	assert.Empty(t, people, "the proof is gone")
	require.NoError(t, out.Unsubscribe(ctx, pass), "when nothing else is known of them")
	kept = lands(t, s, r, Delivery{FollowUp: "letters", Kind: quiz.ListFollowUp, Lane: "list"})
	list, err = out.Claim(ctx, "1/list", 1, time.Now().Add(time.Second))
	require.NoError(t, err)
	require.ErrorIs(t, out.Join(ctx, letter, list[0], who), ErrUnsubscribed)
	require.NotNil(t, kept.Lead)
}

// accessIsBounded by what a token allows and by when it ends; nothing that is kept is a token.
func accessIsBounded(t *testing.T, s *Store) {
	ctx, p := t.Context(), s.People
	text, err := p.MakeAccess(ctx, "Dashboard", []Scope{ReadQuizzes, ReadLeads}, time.Now().Add(time.Hour), 1)
	require.NoError(t, err)
	a, err := p.Access(ctx, text)
	require.NoError(t, err)
	assert.True(t, a.May(ReadLeads))
	assert.False(t, a.May(WriteLeads))
	assert.NotContains(t, a.Hash, text)
	for _, wrong := range []string{"", "omphalos_", text + "x", text[1:], a.Hash, "omphalos_" + a.Hash} {
		_, err = p.Access(ctx, wrong)
		assert.ErrorIs(t, err, ErrNoAccess, wrong)
	}
	other, err := s.AddWorkspace(ctx, "Another")
	require.NoError(t, err)
	_, err = other.People.Access(ctx, text)
	require.ErrorIs(t, err, ErrNoAccess, "of another workspace")
	require.NoError(t, p.db(ctx).Model(&AccessToken{}).Where("id = ?", a.ID).Update("ends", now().Add(-time.Second)).Error)
	_, err = p.Access(ctx, text)
	require.ErrorIs(t, err, ErrAccessEnded)
	require.NoError(t, p.EndAccess(ctx, a.ID))
	_, err = p.Access(ctx, text)
	require.ErrorIs(t, err, ErrNoAccess)
	for _, wrong := range []func() (string, error){
		func() (string, error) {
			return p.MakeAccess(ctx, " ", []Scope{ReadLeads}, time.Now().Add(time.Hour), 1)
		},
		func() (string, error) { return p.MakeAccess(ctx, "x", nil, time.Now().Add(time.Hour), 1) },
		func() (string, error) { return p.MakeAccess(ctx, "x", []Scope{"all"}, time.Now().Add(time.Hour), 1) },
		func() (string, error) {
			return p.MakeAccess(ctx, "x", []Scope{ReadLeads}, time.Now().Add(-time.Second), 1)
		},
	} {
		_, err := wrong()
		assert.ErrorIs(t, err, ErrAccess)
	}
}
