package store

import (
	"gorm.io/gorm"
)

// calendars20261126 gives every calendar that a quiz names the hours that it had, and each
// booking its seat, its length and the number of its link.
func calendars20261126(db *gorm.DB) error {
	const weekday = `"9:00–12:00, 13:30–16:30",`
	const hours = `["",` + weekday + weekday + weekday + weekday + weekday + `""]`
	named := func(table, document string) string {
		return "INSERT OR IGNORE INTO calendars SELECT t.workspace_id, json_extract(q.value, '$.table'), " +
			"coalesce(json_extract(" + document + ", '$.settings.timeZone'), 'UTC'), '" +
			hours + "', '', 30, 0, 2, 21, 1 FROM " + table + " t, json_each(" + document + ", '$.questions') q" +
			" WHERE json_valid(" + document + ") AND json_extract(q.value, '$.kind') = 'appointment' AND " +
			"coalesce(json_extract(q.value, '$.table'), '') <> '' AND json_extract(q.value, '$.table') = " +
			"trim(json_extract(q.value, '$.table'))"
	}
	return statements(
		"CREATE TABLE calendars (workspace_id integer NOT NULL, name text NOT NULL, zone text NOT NULL, "+
			"hours text NOT NULL, off text NOT NULL, minutes integer NOT NULL, buffer integer NOT NULL, "+
			"lead integer NOT NULL, ahead integer NOT NULL, seats integer NOT NULL, PRIMARY KEY "+
			"(workspace_id, name)) WITHOUT ROWID",
		named("quizzes", "t.draft"),
		named("releases", "t.document"),
		"ALTER TABLE bookings RENAME TO bookings_before",
		"DROP INDEX bookings_response",
		"CREATE TABLE bookings (workspace_id integer NOT NULL, calendar text NOT NULL, start datetime "+
			"NOT NULL, seat integer NOT NULL, minutes integer NOT NULL, response text NOT NULL, passage "+
			"text NOT NULL DEFAULT '', release_id integer NOT NULL DEFAULT 0, token text NOT NULL, made "+
			"datetime, PRIMARY KEY (workspace_id, calendar, start, seat)) WITHOUT ROWID",
		"CREATE UNIQUE INDEX bookings_response ON bookings (workspace_id, response)",
		"CREATE UNIQUE INDEX bookings_token ON bookings (token)",
		"INSERT OR REPLACE INTO bookings SELECT workspace_id, calendar, start, 0, 30, response, '', 0, "+
			"lower(hex(randomblob(16))), NULL FROM bookings_before WHERE response IS NOT NULL",
		"DROP TABLE bookings_before",
	)(db)
}
