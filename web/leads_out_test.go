package web_test

import (
	"encoding/csv"
	"encoding/json"
	"fmt"
	"net/http"
	"net/url"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/emersion/go-ical"
	"github.com/emersion/go-vcard"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/store"
)

// Leads are taken out as they are read by others: tables, cards, a calendar, everything about one.
func TestLeadsAreTakenOut(t *testing.T) {
	t.Parallel()
	a := newLeads(t)
	c := a.client(t).signIn()
	day, note, joss := time.Now().AddDate(0, 0, 3).Format(time.DateOnly), "=HYPERLINK(\"x\")", a.users["Joss"]
	_, err := a.store.Responses.ChangeLeads(t.Context(), []int{1}, store.LeadChange{Next: &day, Note: &note,
		Owner: &joss}, 1)
	require.NoError(t, err)
	_, body := c.get("/studio/leads/leads.csv?search=tallow")
	table, err := csv.NewReader(strings.NewReader(body)).ReadAll()
	require.NoError(t, err)
	require.Len(t, table, 2)
	row := map[string]string{}
	for i, key := range table[0] {
		row[key] = table[1][i]
	}
	assert.Equal(t, []string{"Maren Okafor", "maren@tallow.example", "new", "Joss", day, "IE", "letter", "1"},
		[]string{row["name"], row["email"], row["state"], row["owner"], row["next"], row["country"],
			row["source"], row["response"]})

	_, body = c.get("/studio/leads/leads.vcf?sort=finished")
	cards, names := vcard.NewDecoder(strings.NewReader(body)), []string{}
	for v, err := cards.Decode(); err == nil; v, err = cards.Decode() {
		names = append(names, v.PreferredValue(vcard.FieldFormattedName)+" "+v.Value(vcard.FieldEmail))
	}
	assert.Equal(t, []string{"Maren Okafor maren@tallow.example", "Iwan Petit iwan@petit.example",
		"Noor van Dijk noor@dijk.example"}, names)

	_, body = c.get("/studio/leads/person/1/next.ics")
	calendar, err := ical.NewDecoder(strings.NewReader(body)).Decode()
	require.NoError(t, err)
	at, err := calendar.Events()[0].DateTimeStart(time.UTC)
	require.NoError(t, err)
	assert.Equal(t, day, at.Format(time.DateOnly))
	assert.Equal(t, "Next step with Maren Okafor", calendar.Events()[0].Props.Get(ical.PropSummary).Value)

	_, body = c.get("/studio/leads/person/1/everything.json")
	var all struct {
		Name      string
		History   []struct{ What string }
		Responses []struct {
			Answers  []struct{ Question, Answer, Adds string }
			Why      []string
			Contact  map[string]string
			Consents []struct{ Words string }
		}
	}
	require.NoError(t, json.Unmarshal([]byte(body), &all))
	assert.Equal(t, "Maren Okafor", all.Name)
	require.Len(t, all.Responses, 1)
	assert.Equal(t, "maren@tallow.example", all.Responses[0].Contact["mail"])
	assert.Len(t, all.Responses[0].Answers, 3)
	assert.NotEmpty(t, all.Responses[0].Why)
	assert.Equal(t, "Quillbrook may write to me.", all.Responses[0].Consents[0].Words)
	assert.Equal(t, note, all.History[0].What)
	_, body = c.get("/studio/leads/person/1/everything.html")
	assert.Contains(t, plainly(body), "Everything that is kept about one person")
	assert.NotContains(t, body, "<script")
}

// What is settled about leads is kept, or told why it can't be.
func TestSettingsOfLeads(t *testing.T) {
	t.Parallel()
	a := newLeads(t)
	b := a.newTab(t)
	b.signIn()
	b.open("/studio/leads/settings")
	b.axe("Settings of leads")
	c := a.client(t).signIn()
	states := []string{"key", "new", "name", "just in", "end", "", "key", "won", "name", "bought", "end", "won",
		"key", "lost", "name", "no", "end", "lost"}
	page := c.done("/studio/leads/settings", append(states, "days", "3", "sure", "yes")...)
	assert.Contains(t, plainly(page), "leads are kept for 7 days at least")
	page = c.done("/studio/leads/settings", append(states, "days", "30")...)
	assert.Contains(t, plainly(page), "Say that you are sure")
	page = c.done("/studio/leads/settings", append(states, "rule.0.quiz", "", "rule.0.country", "Ireland",
		"rule.0.owner", fmt.Sprint(a.users["Ada"]))...)
	assert.Contains(t, plainly(page), "is no country")
	talks := store.InTalks
	_, err := a.store.Responses.ChangeLeads(t.Context(), []int{1}, store.LeadChange{State: &talks}, 1)
	require.NoError(t, err)
	assert.Contains(t, plainly(c.done("/studio/leads/settings", states...)), "1 lead is in a state that is taken out")
	page = c.done("/studio/leads/settings", append(states, "days", "soon", "rule.0.quiz", "1", "rule.0.country",
		"ie", "rule.0.percent", "many")...)
	for _, typed := range []string{`value="soon"`, `value="ie"`, `value="many"`, `name="rule.1.quiz"`} {
		assert.Contains(t, page, typed, "nothing that was typed is lost")
	}
	page = c.done("/studio/leads/settings", append(states, "days", "30", "anonymous", "yes", "sure", "yes",
		"rule.0.quiz", "1", "rule.0.country", "ie", "rule.0.percent", "10", "rule.0.owner", fmt.Sprint(a.users["Ada"]))...)
	assert.Contains(t, plainly(page), "The settings are kept.")
	assert.Contains(t, plainly(page), "Within the next seven days no lead comes of that age.")
	a.comes(t, "Kirra Dunne", "kirra@dunne.example", map[string]string{"crop": "cherries", "decides": "me",
		"hectares": "20"})
	assert.Contains(t, c.says("/studio/leads?"+url.Values{"owner": {fmt.Sprint(a.users["Ada"])}}.Encode()), "Kirra Dunne")

	// Those who are old are made anonymous: their answers count on.
	require.NoError(t, a.database(t).Exec("UPDATE leads SET latest = '2026-01-01 00:00:00+00:00', "+
		"changed = '2026-01-01 00:00:00+00:00' WHERE id < 3").Error)
	n, err := a.store.Responses.ForgetLeads(t.Context(), time.Now())
	require.NoError(t, err)
	assert.Equal(t, 2, n)
	n, err = a.store.Responses.ForgetLeads(t.Context(), time.Now())
	require.NoError(t, err)
	assert.Zero(t, n, "once is enough")
	assert.NotContains(t, c.says("/studio/leads"), "Maren")
	assert.Contains(t, c.says(fmt.Sprintf("/studio/quizzes/%d/learn", a.quiz.ID)), "4 responses")
	_, page = c.get(fmt.Sprintf("/studio/quizzes/%d/learn/1", a.quiz.ID))
	assert.NotContains(t, page, "maren@")
	assert.Contains(t, page, "Cherries")
}

// BenchmarkLeads is the room with a million leads: the list, filtered, sorted, a page further on,
// searched, and with one open.
func BenchmarkLeads(b *testing.B) {
	quiet(b)
	a := newLeads(b)
	c := a.client(b).signIn()
	require.NoError(b, a.database(b).Exec(`
		WITH RECURSIVE n(i) AS (SELECT 100 UNION ALL SELECT i + 1 FROM n WHERE i < 1000099)
		INSERT INTO leads (id, workspace_id, state, changed, owner_id, name, company, email, quiz_id, release_id, number, outcome, standing, reach, score,
			source, country, language, device, first, latest, responses, words)
		SELECT i, 1, CASE i % 7 WHEN 0 THEN 'won' WHEN 1 THEN 'lost' WHEN 2 THEN 'talks' ELSE 'new' END, '2026-11-01 00:00:00+00:00', i % 3,
			'Name ' || i, 'Farm ' || (i * 7919 % 100003), 'name' || i || '@example.org', 1, 1, i, CASE i % 3 WHEN 0 THEN 'team' ELSE 'spring' END,
			CASE i % 3 WHEN 0 THEN 'fit' ELSE 'keep warm' END, i * 7907 % 1001, '12', CASE i % 4 WHEN 0 THEN 'letter' WHEN 1 THEN 'fair' ELSE '' END,
			CASE i % 5 WHEN 0 THEN 'IE' ELSE 'NL' END, 'en', 'phone', datetime('2026-01-01', i || ' seconds'), datetime('2026-01-01', i * 25 || ' seconds'), 1,
			'name ' || i || char(10) || 'farm ' || (i * 7919 % 100003) || char(10) || 'name' || i || '@example.org' || char(10)
		FROM n`).Error)
	began := time.Now()
	require.NoError(b, a.store.Responses.Index(b.Context()))
	b.ReportMetric(time.Since(began).Seconds(), "read-s")
	b.ReportMetric(0, "ns/op")
	for _, query := range []string{"", "?state=new&source=letter", "?state=won&sort=-reach&country=IE",
		"?state=new&after=500000", "?search=farm+4711", "?lead=4712"} {
		b.Run(query, func(b *testing.B) {
			var took []float64
			c.get("/studio/leads" + query)
			for b.Loop() {
				began := time.Now()
				answer, _ := c.get("/studio/leads" + query)
				require.Equal(b, http.StatusOK, answer.StatusCode)
				took = append(took, float64(time.Since(began).Milliseconds()))
			}
			slices.Sort(took)
			b.ReportMetric(took[len(took)*95/100], "p95-ms")
		})
	}
}
