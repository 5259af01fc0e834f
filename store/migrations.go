package store

import (
	"context"
	_ "embed"
	"errors"

	"github.com/go-gormigrate/gormigrate/v2"
	"gorm.io/gorm"
)

// Migrations bring an older workspace to the current form, one after the other, each in a
// transaction of its own. They are frozen: SQL that is not changed any more, and nothing of
// today's structs. A workspace of every form that was released is in testdata.
var migrations = []*gormigrate.Migration{
	{ID: "2026-11-23-first", Migrate: form20261125},
	{ID: "2026-11-24-pictures", Migrate: form20261125},
	{ID: "2026-11-24-tables", Migrate: form20261125},
	{ID: "2026-11-25-respondents", Migrate: form20261125},
	{ID: "2026-11-25-differences", Migrate: form20261125},
	{ID: "2026-11-25-forgetting", Migrate: form20261125},
	{ID: "2026-11-25-sign-in", Migrate: form20261125},
	{ID: "2026-11-25-devices", Migrate: form20261125},
	{ID: "2026-11-25-figures", Migrate: statements(
		"CREATE TABLE outcome_counts (quiz_id integer NOT NULL, outcome text NOT NULL, count integer NOT "+
			"NULL, PRIMARY KEY (quiz_id, outcome)) WITHOUT ROWID",
		"INSERT INTO outcome_counts SELECT quiz_id, outcome, count(*) FROM responses GROUP BY quiz_id, outcome",
	)},
	{ID: "2026-11-25-packed", Migrate: packed20261125},
	{ID: "2026-11-25-erasures", Migrate: statements(
		"CREATE TABLE erasures (id integer PRIMARY KEY AUTOINCREMENT, quiz_id integer NOT NULL, number "+
			"integer NOT NULL, user_id integer, made datetime)",
		"CREATE INDEX erasures_quiz ON erasures (quiz_id, number)",
	)},
	{
		ID:      "2026-11-25-outlines",
		Migrate: statements("ALTER TABLE quizzes ADD COLUMN outcomes text NOT NULL DEFAULT ''"),
	},
	{ID: "2026-11-25-workspaces", Migrate: workspaces20261125},
	{ID: "2026-11-25-rehearsals", Migrate: statements(
		"CREATE TABLE walks (id text PRIMARY KEY, workspace_id integer NOT NULL, quiz_id integer NOT "+
			"NULL REFERENCES quizzes(id) ON DELETE CASCADE, hand_id integer NOT NULL DEFAULT 0, answers "+
			"text NOT NULL, visitor text NOT NULL, begun numeric NOT NULL, finished numeric NOT NULL, "+
			"slow numeric NOT NULL, updated datetime)",
		"CREATE INDEX walks_quiz ON walks (quiz_id)",
		"CREATE INDEX walks_updated ON walks (updated)",
		"CREATE TABLE hands (id integer PRIMARY KEY AUTOINCREMENT, workspace_id integer NOT NULL, "+
			"quiz_id integer NOT NULL REFERENCES quizzes(id) ON DELETE CASCADE, token text NOT NULL, "+
			"document text NOT NULL, note text NOT NULL, user_id integer, made datetime, ends datetime, "+
			"withdrawn numeric NOT NULL)",
		"CREATE UNIQUE INDEX hands_token ON hands (token)",
		"CREATE INDEX hands_quiz ON hands (quiz_id)",
		"CREATE TABLE remarks (id integer PRIMARY KEY AUTOINCREMENT, workspace_id integer NOT NULL, "+
			"quiz_id integer NOT NULL REFERENCES quizzes(id) ON DELETE CASCADE, hand_id integer NOT NULL "+
			"REFERENCES hands(id) ON DELETE CASCADE, pointer text NOT NULL, name text NOT NULL, words "+
			"text NOT NULL, made datetime, answer text NOT NULL, settled numeric NOT NULL, user_id integer)",
		"CREATE INDEX remarks_quiz ON remarks (quiz_id, id)",
		"CREATE INDEX remarks_hand ON remarks (hand_id, id)",
	)},
	{ID: "2026-11-25-releases", Migrate: statements(
		"ALTER TABLE releases ADD COLUMN note text NOT NULL DEFAULT ''",
		"ALTER TABLE releases ADD COLUMN again integer NOT NULL DEFAULT 0",
		"ALTER TABLE releases ADD COLUMN ticked text NOT NULL DEFAULT ''",
		"ALTER TABLE quizzes ADD COLUMN gate text NOT NULL DEFAULT ''",
		"CREATE TABLE addresses (workspace_id integer NOT NULL, slug text NOT NULL, quiz_id integer NOT "+
			"NULL REFERENCES quizzes(id) ON DELETE CASCADE, until datetime, PRIMARY KEY (workspace_id, slug))",
		"CREATE INDEX addresses_quiz ON addresses (quiz_id)",
		"CREATE TABLE links (id integer PRIMARY KEY AUTOINCREMENT, workspace_id integer NOT NULL, "+
			"quiz_id integer NOT NULL REFERENCES quizzes(id) ON DELETE CASCADE, name text NOT NULL, "+
			"query text NOT NULL, made datetime)",
		"CREATE INDEX links_quiz ON links (quiz_id, id)",
	)},
	{ID: "2026-11-25-invitations", Migrate: statements(
		"CREATE TABLE invitations (id integer PRIMARY KEY AUTOINCREMENT, workspace_id integer NOT NULL, "+
			"quiz_id integer NOT NULL REFERENCES quizzes(id) ON DELETE CASCADE, token text NOT NULL, "+
			"name text NOT NULL, address text NOT NULL, facts text NOT NULL, passage text NOT NULL, made datetime)",
		"CREATE UNIQUE INDEX invitations_token ON invitations (token)",
		"CREATE INDEX invitations_quiz ON invitations (quiz_id, id)",
	)},
	{ID: "2026-11-25-experiments",
		Migrate: statements("ALTER TABLE quizzes ADD COLUMN experiment text NOT NULL DEFAULT ''")},
	{ID: "2026-11-26-led", Migrate: statements("ALTER TABLE quizzes ADD COLUMN led numeric NOT NULL DEFAULT false")},
	{ID: "2026-11-26-repeats", Migrate: statements(
		"ALTER TABLE responses ADD COLUMN taker text NOT NULL DEFAULT ''",
		"ALTER TABLE responses ADD COLUMN beside numeric NOT NULL DEFAULT false",
		"CREATE INDEX invitations_passage ON invitations (passage) WHERE passage <> ''",
		"CREATE INDEX responses_taker ON responses (quiz_id, taker) WHERE taker <> ''",
	)},
	{ID: "2026-11-26-calendars", Migrate: calendars20261126},
	{ID: "2026-11-26-stream", Migrate: stream20261126},
	{ID: "2026-11-26-presses", Migrate: statements(
		"CREATE TABLE presses (workspace_id integer NOT NULL, response_id integer NOT NULL REFERENCES "+
			"responses(id) ON DELETE CASCADE, block text NOT NULL, made datetime, quiz_id integer NOT "+
			"NULL, number integer NOT NULL, PRIMARY KEY (response_id, block)) WITHOUT ROWID",
		"CREATE INDEX presses_quiz ON presses (quiz_id, block, number)",
		"ALTER TABLE contacts ADD COLUMN quiz_id integer NOT NULL DEFAULT 0",
		"ALTER TABLE contacts ADD COLUMN number integer NOT NULL DEFAULT 0",
		"UPDATE contacts SET (quiz_id, number) = (SELECT quiz_id, number FROM responses WHERE id = response_id)",
		"CREATE INDEX contacts_quiz ON contacts (quiz_id, number, kind)",
	)},
	{ID: "2026-11-26-views", Migrate: statements(
		"CREATE TABLE views (id integer PRIMARY KEY AUTOINCREMENT, workspace_id integer NOT NULL, "+
			"quiz_id integer NOT NULL REFERENCES quizzes(id) ON DELETE CASCADE, name text NOT NULL, "+
			"query text NOT NULL, made datetime)",
		"CREATE UNIQUE INDEX views_quiz ON views (quiz_id, name)",
	)},
	{ID: "2026-11-26-leads", Migrate: statements(
		"CREATE TABLE fresh_leads (id integer PRIMARY KEY, workspace_id integer NOT NULL, state text NOT "+
			"NULL, changed datetime, owner_id integer NOT NULL DEFAULT 0, next text NOT NULL DEFAULT '', "+
			"objected numeric NOT NULL DEFAULT false, name text NOT NULL DEFAULT '', company text NOT "+
			"NULL DEFAULT '', email text NOT NULL DEFAULT '', phone text NOT NULL DEFAULT '', quiz_id "+
			"integer NOT NULL DEFAULT 0, release_id integer NOT NULL DEFAULT 0, number integer NOT NULL "+
			"DEFAULT 0, outcome text NOT NULL DEFAULT '', standing text NOT NULL DEFAULT '', reach "+
			"integer NOT NULL DEFAULT -1, score text NOT NULL DEFAULT '', source text NOT NULL DEFAULT "+
			"'', medium text NOT NULL DEFAULT '', campaign text NOT NULL DEFAULT '', country text NOT "+
			"NULL DEFAULT '', language text NOT NULL DEFAULT '', device text NOT NULL DEFAULT '', first "+
			"datetime, latest datetime, responses integer NOT NULL DEFAULT 0, words text NOT NULL DEFAULT '')",
		"CREATE TABLE lead_responses (workspace_id integer NOT NULL, response_id integer NOT NULL "+
			"REFERENCES responses(id) ON DELETE CASCADE, lead_id integer NOT NULL REFERENCES "+
			"fresh_leads(id) ON DELETE CASCADE, quiz_id integer NOT NULL, number integer NOT NULL, "+
			"PRIMARY KEY (response_id)) WITHOUT ROWID",
		"CREATE TABLE lead_keys (workspace_id integer NOT NULL, key text NOT NULL, lead_id integer NOT "+
			"NULL REFERENCES fresh_leads(id) ON DELETE CASCADE, PRIMARY KEY (workspace_id, key)) WITHOUT ROWID",
		"CREATE TABLE lead_events (id integer PRIMARY KEY, workspace_id integer NOT NULL, lead_id "+
			"integer NOT NULL REFERENCES fresh_leads(id) ON DELETE CASCADE, kind text NOT NULL, before "+
			"text NOT NULL, after text NOT NULL, user_id integer NOT NULL, batch text NOT NULL, made datetime)",
		"CREATE TABLE settings (workspace_id integer NOT NULL, name text NOT NULL, value text NOT NULL, "+
			"PRIMARY KEY (workspace_id, name)) WITHOUT ROWID",
		"INSERT INTO fresh_leads (id, workspace_id, state, changed) SELECT response_id, workspace_id, "+
			"state, changed FROM leads",
		"INSERT INTO lead_responses (workspace_id, response_id, lead_id, quiz_id, number) SELECT "+
			"leads.workspace_id, response_id, response_id, responses.quiz_id, responses.number FROM "+
			"leads JOIN responses ON responses.id = response_id",
		"DROP TABLE leads",
		"ALTER TABLE fresh_leads RENAME TO leads",
		"CREATE INDEX leads_words ON leads (words, workspace_id)",
		"CREATE INDEX lead_responses_quiz ON lead_responses (quiz_id, number, lead_id)",
		"CREATE INDEX lead_responses_lead ON lead_responses (lead_id)",
		"CREATE INDEX lead_keys_lead ON lead_keys (lead_id)",
		"CREATE INDEX lead_events_lead ON lead_events (lead_id, id)",
		"CREATE INDEX lead_events_batch ON lead_events (batch)",
	)},
	{ID: "2026-11-26-outbox", Migrate: statements(
		"CREATE TABLE deliveries (id integer PRIMARY KEY, workspace_id integer NOT NULL, response_id "+
			"integer NOT NULL REFERENCES responses(id) ON DELETE CASCADE, quiz_id integer NOT NULL, "+
			"number integer NOT NULL, release_id integer NOT NULL, follow_up text NOT NULL, step text "+
			"NOT NULL, kind text NOT NULL, lane text NOT NULL, key text NOT NULL, state text NOT NULL, "+
			"due datetime NOT NULL, first datetime NOT NULL, claimed datetime, tries integer NOT NULL, "+
			"why text NOT NULL, recipient text NOT NULL, about text NOT NULL, made datetime NOT NULL, ended datetime)",
		"CREATE UNIQUE INDEX deliveries_response ON deliveries (response_id, follow_up, step)",
		"CREATE INDEX deliveries_due ON deliveries (lane, due) WHERE state = 'waiting' AND claimed IS NULL",
		"CREATE INDEX deliveries_state ON deliveries (workspace_id, state, id)",
		"CREATE INDEX deliveries_quiz ON deliveries (workspace_id, quiz_id, follow_up, state)",
		"CREATE TABLE receivers (workspace_id integer NOT NULL, key text NOT NULL, kind text NOT NULL, "+
			"name text NOT NULL, address text NOT NULL, headers text NOT NULL, secret text NOT NULL, "+
			"former text NOT NULL, former_until datetime, type text NOT NULL, body text NOT NULL, paused "+
			"numeric NOT NULL, made datetime, PRIMARY KEY (workspace_id, key))",
		"CREATE TABLE lists (workspace_id integer NOT NULL, key text NOT NULL, name text NOT NULL, once "+
			"numeric NOT NULL, subject text NOT NULL, text text NOT NULL, receiver text NOT NULL, "+
			"address text NOT NULL, made datetime, PRIMARY KEY (workspace_id, key))",
		"CREATE TABLE subscriptions (id integer PRIMARY KEY AUTOINCREMENT, workspace_id integer NOT "+
			"NULL, list text NOT NULL, address text NOT NULL, hash text NOT NULL, name text NOT NULL, "+
			"state text NOT NULL, token text NOT NULL, response_id integer NOT NULL REFERENCES "+
			"responses(id) ON DELETE CASCADE, quiz_id integer NOT NULL, number integer NOT NULL, words "+
			"text NOT NULL, privacy text NOT NULL, given datetime, asked datetime, confirmed datetime, ended datetime)",
		"CREATE UNIQUE INDEX subscriptions_address ON subscriptions (workspace_id, list, address)",
		"CREATE INDEX subscriptions_hash ON subscriptions (workspace_id, hash)",
		"CREATE INDEX subscriptions_response ON subscriptions (response_id)",
		"CREATE UNIQUE INDEX subscriptions_token ON subscriptions (token)",
		"CREATE TABLE unsubscribed (workspace_id integer NOT NULL, hash text NOT NULL, made datetime, "+
			"PRIMARY KEY (workspace_id, hash)) WITHOUT ROWID",
	)},
	{ID: "2026-11-26-access", Migrate: statements(
		"CREATE TABLE access_tokens (id integer PRIMARY KEY AUTOINCREMENT, workspace_id integer NOT "+
			"NULL, name text NOT NULL, hash text NOT NULL, scopes text NOT NULL, ends datetime NOT NULL, "+
			"used datetime, made datetime NOT NULL, user_id integer NOT NULL)",
		"CREATE UNIQUE INDEX access_tokens_hash ON access_tokens (hash)",
	)},
	{ID: "2026-11-27-product-words", Migrate: statements("ALTER TABLE products ADD COLUMN words text")},
	{ID: "2026-12-01-screened", Migrate: statements(
		"CREATE TABLE screenings (workspace_id integer NOT NULL, quiz_id integer NOT NULL, release_id integer "+
			"NOT NULL, day text NOT NULL, place text NOT NULL, outcome text NOT NULL, landing text NOT NULL, "+
			"source text NOT NULL, medium text NOT NULL, campaign text NOT NULL, country text NOT NULL, "+
			"language text NOT NULL, "+
			"device text NOT NULL, count integer NOT NULL, PRIMARY KEY (workspace_id, quiz_id, release_id, day, "+
			"place, outcome, landing, source, medium, campaign, country, language, device)) WITHOUT ROWID",
		"INSERT INTO screenings SELECT workspace_id, quiz_id, release_id, day, '', '', '', '', '', '', '', '', '', "+
			"count FROM partings",
		"DROP TABLE partings",
	)},
}

func statements(list ...string) func(*gorm.DB) error {
	return func(db *gorm.DB) error {
		for _, s := range list {
			if err := db.Exec(s).Error; err != nil {
				return err
			}
		}
		return nil
	}
}

// migrate brings a workspace to the current form.
func migrate(db *gorm.DB) error {
	options := *gormigrate.DefaultOptions
	options.UseTransaction = true
	if err := gormigrate.New(db, &options, migrations).Migrate(); err != nil {
		return err
	}
	var workspaces []WorkspaceID
	if err := db.Model(&Workspace{}).Pluck("id", &workspaces).Error; err != nil {
		return err
	}
	for _, in := range workspaces {
		within := within(context.Background(), db, in)
		if err := errors.Join(outline(within), compareUnknown(within)); err != nil {
			return err
		}
	}
	return nil
}
