package store

import (
	"gorm.io/gorm"
)

// workspaces20261125 gives everything to the first workspace, with keys that are unique
// within one. Finished passages are with their responses alone.
func workspaces20261125(db *gorm.DB) error {
	list := []string{
		"CREATE TABLE workspaces (id integer PRIMARY KEY AUTOINCREMENT, name text NOT NULL, created datetime NOT NULL)",
		"INSERT INTO workspaces (id, name, created) VALUES (1, '', strftime('%Y-%m-%d %H:%M:%f+00:00', 'now'))",
		"CREATE TABLE members (workspace_id integer NOT NULL REFERENCES workspaces(id), user_id integer " +
			"NOT NULL REFERENCES users(id), PRIMARY KEY (workspace_id, user_id)) WITHOUT ROWID",
		"INSERT INTO members SELECT 1, id FROM users",

		"ALTER TABLE responses ADD COLUMN slug text NOT NULL DEFAULT ''",
		"ALTER TABLE responses ADD COLUMN owner text NOT NULL DEFAULT ''",
		"ALTER TABLE responses ADD COLUMN framed numeric NOT NULL DEFAULT false",
		"UPDATE responses SET slug = p.slug, owner = p.device, framed = p.framed FROM passages p WHERE " +
			"p.id = responses.passage",
		"DROP INDEX response_quiz_time",
		"DROP INDEX IF EXISTS passages_unfinished",
	}
	for _, table := range []string{"quizzes", "edits", "releases", "responses", "partings", "outcome_counts",
		"erasures", "signpost_changes", "contacts", "consents"} {
		list = append(list, "ALTER TABLE "+table+" ADD COLUMN workspace_id integer NOT NULL DEFAULT 1")
	}
	list = append(list,
		"ALTER TABLE contacts ADD COLUMN kind text NOT NULL DEFAULT ''",
		"DROP INDEX idx_quizzes_slug",
		"CREATE UNIQUE INDEX quizzes_slug ON quizzes (workspace_id, slug)",
		"DROP INDEX idx_responses_passage",
		"CREATE UNIQUE INDEX responses_passage ON responses (passage, workspace_id)",
		"DROP INDEX idx_signpost_changes_board")
	for _, t := range []struct{ name, columns, key, from, where string }{
		{"passages", "id text NOT NULL, workspace_id integer NOT NULL, quiz_id integer NOT NULL, " +
			"release_id integer NOT NULL REFERENCES releases(id), slug text, answers text, visitor text, " +
			"started datetime, updated datetime, framed numeric NOT NULL DEFAULT false, device text NOT NULL DEFAULT ''",
			"workspace_id, id",
			"id, 1, quiz_id, release_id, slug, answers, visitor, started, updated, framed, device", "NOT finished"},
		{"products", "workspace_id integer NOT NULL, key text NOT NULL, place integer, name text, text " +
			"text, picture text, description text, price text, sale_price text, currency text, tags " +
			"text, address text, in_stock numeric, updated datetime, deleted_at datetime",
			"workspace_id, key", "1, key, place, name, text, picture, description, price, sale_price, " +
				"currency, tags, address, in_stock, updated, deleted_at", "true"},
		{"signposts", "workspace_id integer NOT NULL, board text NOT NULL, sign text NOT NULL, address " +
			"text, updated datetime, used datetime",
			"workspace_id, board, sign", "1, board, sign, address, updated, used", "true"},
		{"places", "workspace_id integer NOT NULL, board text NOT NULL, key text NOT NULL, name text, " +
			"address text, latitude real, longitude real",
			"workspace_id, board, key", "1, board, key, name, address, latitude, longitude", "true"},
		{"bookings", "workspace_id integer NOT NULL, calendar text NOT NULL, start datetime NOT NULL, response text",
			"workspace_id, calendar, start", "1, calendar, start, passage", "true"},
	} {
		list = append(list,
			"CREATE TABLE fresh_"+t.name+" ("+t.columns+", PRIMARY KEY ("+t.key+")) WITHOUT ROWID",
			"INSERT INTO fresh_"+t.name+" SELECT "+t.from+" FROM "+t.name+" WHERE "+t.where,
			"DROP TABLE "+t.name,
			"ALTER TABLE fresh_"+t.name+" RENAME TO "+t.name)
	}
	list = append(
		list,
		"CREATE TABLE fresh_pictures (workspace_id integer NOT NULL, name text NOT NULL, type text, "+
			"width integer, height integer, made datetime, data blob, PRIMARY KEY (workspace_id, name))",
		"INSERT INTO fresh_pictures SELECT 1, name, type, width, height, made, data FROM pictures",
		"DROP TABLE pictures",
		"ALTER TABLE fresh_pictures RENAME TO pictures",
		"CREATE INDEX bookings_response ON bookings (workspace_id, response)",
		"CREATE TABLE leads (workspace_id integer NOT NULL, response_id integer NOT NULL REFERENCES "+
			"responses(id) ON DELETE CASCADE, state text NOT NULL, changed datetime NOT NULL, PRIMARY "+
			"KEY (response_id)) WITHOUT ROWID",
		"CREATE TABLE segments (workspace_id integer NOT NULL, quiz_id integer NOT NULL, segment integer "+
			"NOT NULL, form integer NOT NULL, data blob NOT NULL, PRIMARY KEY (quiz_id, segment))",
	)
	if err := statements(list...)(db); err != nil {
		return err
	}
	personal, err := personal20261125(db)
	if err != nil {
		return err
	}
	for release, kinds := range personal {
		for field, kind := range kinds {
			err := db.Exec("UPDATE contacts SET kind = ? WHERE field = ? AND response_id IN (SELECT id "+
				"FROM responses WHERE release_id = ?)",
				kind, field, release).Error
			if err != nil {
				return err
			}
		}
	}
	return nil
}
