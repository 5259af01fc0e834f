package store

import "gorm.io/gorm"

// stream20261126 keeps how far passages have come and how long was stayed where, where those
// under way came from, who left, and who saw the opening.
func stream20261126(db *gorm.DB) error {
	var list []string
	for _, column := range []string{"place text NOT NULL DEFAULT ''", "seconds integer NOT NULL DEFAULT 0",
		"trail text NOT NULL DEFAULT ''"} {
		list = append(list, "ALTER TABLE passages ADD COLUMN "+column)
	}
	for _, fact := range []string{"source", "medium", "campaign", "country", "language", "device"} {
		list = append(list,
			"ALTER TABLE passages ADD COLUMN by_"+fact+" text NOT NULL DEFAULT ''",
			"UPDATE passages SET by_"+fact+" = coalesce(json_extract(visitor, '$."+fact+"'), '') WHERE json_valid(visitor)")
	}
	list = append(list,
		"UPDATE passages SET seconds = max(0, round((julianday(updated) - julianday(started)) * 86400)) "+
			"WHERE julianday(updated) IS NOT NULL AND julianday(started) IS NOT NULL",
		"CREATE TABLE departures (id integer PRIMARY KEY AUTOINCREMENT, workspace_id integer NOT NULL, "+
			"quiz_id integer NOT NULL, release_id integer NOT NULL, place text NOT NULL, seconds integer "+
			"NOT NULL, ended datetime, source text NOT NULL, medium text NOT NULL, campaign text NOT "+
			"NULL, country text NOT NULL, language text NOT NULL, device text NOT NULL)",
		"CREATE INDEX departures_quiz ON departures (quiz_id, place, seconds)",
		"CREATE TABLE sights (workspace_id integer NOT NULL, quiz_id integer NOT NULL, release_id "+
			"integer NOT NULL, day text NOT NULL, source text NOT NULL, medium text NOT NULL, campaign "+
			"text NOT NULL, country text NOT NULL, language text NOT NULL, device text NOT NULL, count "+
			"integer NOT NULL, PRIMARY KEY (workspace_id, quiz_id, release_id, day, source, medium, "+
			"campaign, country, language, device)) WITHOUT ROWID",
	)
	return statements(list...)(db)
}
