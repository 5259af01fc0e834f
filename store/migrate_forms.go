package store

import (
	_ "embed"
	"strings"

	"gorm.io/gorm"
)

//go:embed schema-2026-11-25.sql
var schema20261125 string

// form20261125 brings any earlier form to that of 2026-11-25, where it is not there yet.
func form20261125(db *gorm.DB) error {
	_, tables, _ := strings.Cut(schema20261125, "own.\n")
	if err := statements(strings.Split(strings.TrimSuffix(tables, ";\n"), ";\n")...)(db); err != nil {
		return err
	}
	for _, c := range []struct{ table, column, kind string }{
		{"passages", "framed", "numeric NOT NULL DEFAULT false"},
		{"passages", "device", "text NOT NULL DEFAULT ''"},
		{"quizzes", "release_of", "integer"},
		{"quizzes", "differs", "integer NOT NULL DEFAULT -1"}, // unknown, see compareUnknown
		{"users", "changes", "integer NOT NULL DEFAULT 0"},
		{"pictures", "description", ""}, // is not there any more
	} {
		var there int
		if err := db.Raw("SELECT count(*) FROM pragma_table_info(?) WHERE name = ?", c.table, c.column).
			Scan(&there).Error; err != nil {
			return err
		}
		change := ""
		switch {
		case there == 0 && c.kind != "":
			change = "ADD COLUMN " + c.column + " " + c.kind
		case there > 0 && c.kind == "":
			change = "DROP COLUMN " + c.column
		default:
			continue
		}
		if err := db.Exec("ALTER TABLE " + c.table + " " + change).Error; err != nil {
			return err
		}
	}
	return statements(
		"UPDATE quizzes SET release_of = (SELECT revision FROM releases WHERE quiz_id = quizzes.id AND "+
			"number = quizzes.released) WHERE released > 0 AND release_of IS NULL",
		"UPDATE quizzes SET differs = 0 WHERE differs < 0 AND coalesce(released, 0) = 0",
		"UPDATE passages SET answers = '{}' WHERE finished AND id IN (SELECT passage FROM responses)",
	)(
		db,
	)
}

// outline takes down what lists tell of drafts, where an earlier form did not.
func outline(db *gorm.DB) error {
	var all []Quiz
	if err := db.Unscoped().Where("outcomes = ''").Find(&all).Error; err != nil {
		return err
	}
	for i := range all {
		q, err := all[i].Document()
		if err != nil {
			return err
		}
		if err := db.Unscoped().Model(&all[i]).UpdateColumn("outcomes", outcomesOf(q)).Error; err != nil {
			return err
		}
	}
	return nil
}

// compareUnknown takes down in how many places drafts differ from their releases, where an
// earlier form did not know.
func compareUnknown(db *gorm.DB) error {
	var all []Quiz
	if err := db.Unscoped().Where("differs < 0").Find(&all).Error; err != nil {
		return err
	}
	for i := range all {
		if err := all[i].compare(db); err != nil {
			return err
		}
		if err := db.Unscoped().Model(&all[i]).UpdateColumn("differs", all[i].Differs).Error; err != nil {
			return err
		}
	}
	return nil
}
