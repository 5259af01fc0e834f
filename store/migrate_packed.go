package store

import (
	"encoding/json"
	"fmt"
	"time"

	"gorm.io/gorm"

	"omphalos/core/decimal"
)

// packed20261125 packs the answers and scores of each response into one value, and puts what
// says who somebody is into a table of its own.
func packed20261125(db *gorm.DB) error {
	err := statements(
		"ALTER TABLE responses ADD COLUMN seconds integer NOT NULL DEFAULT 0",
		"ALTER TABLE responses ADD COLUMN source text NOT NULL DEFAULT ''",
		"ALTER TABLE responses ADD COLUMN medium text NOT NULL DEFAULT ''",
		"ALTER TABLE responses ADD COLUMN campaign text NOT NULL DEFAULT ''",
		"ALTER TABLE responses ADD COLUMN country text NOT NULL DEFAULT ''",
		"ALTER TABLE responses ADD COLUMN language text NOT NULL DEFAULT ''",
		"ALTER TABLE responses ADD COLUMN device text NOT NULL DEFAULT ''",
		"ALTER TABLE responses ADD COLUMN packed blob",
		"CREATE TABLE contacts (response_id integer NOT NULL REFERENCES responses(id) ON DELETE CASCADE, "+
			"field text NOT NULL, value text NOT NULL, PRIMARY KEY (response_id, field)) WITHOUT ROWID",
		"CREATE INDEX contacts_value ON contacts (lower(value))",
		"DROP INDEX IF EXISTS idx_responses_outcome",
	)(
		db,
	)
	if err != nil {
		return err
	}
	personal, err := personal20261125(db)
	if err != nil {
		return err
	}
	for last := uint(0); ; {
		var list []struct {
			ID, ReleaseID     uint
			Visitor           string
			Started, Finished time.Time
		}
		if err := db.Raw("SELECT id, release_id, visitor, started, finished FROM responses WHERE id > ? "+
			"ORDER BY id LIMIT 500", last).Scan(&list).Error; err != nil ||
			len(list) == 0 {
			if err != nil {
				return err
			}
			break
		}
		for _, r := range list {
			last = r.ID
			var scores []struct {
				Scale      string
				Millionths int64
			}
			if err := db.Raw(
				"SELECT scale, millionths FROM response_scores WHERE response_id = ? ORDER BY rowid", r.ID).
				Scan(&scores).Error; err != nil {
				return err
			}
			var answers []struct{ Question, Row, Answer, WriteIn string }
			if err := db.Raw("SELECT question, row, answer, write_in FROM response_answers WHERE "+
				"response_id = ? ORDER BY question, row, part", r.ID).Scan(&answers).Error; err != nil {
				return err
			}
			var toScores []ResponseScore
			for _, s := range scores {
				toScores = append(toScores, ResponseScore{s.Scale, decimal.Decimal(s.Millionths)})
			}
			var toAnswers []ResponseAnswer
			for _, a := range answers {
				if personal[r.ReleaseID][a.Question] != "" {
					if err := db.Exec("INSERT INTO contacts (response_id, field, value) VALUES (?, ?, ?)", r.ID,
						a.Question, a.Answer).Error; err != nil {
						return err
					}
					continue
				}
				toAnswers = append(toAnswers, ResponseAnswer{a.Question, a.Row, a.Answer, a.WriteIn})
			}
			var v map[string]any
			_ = json.Unmarshal([]byte(r.Visitor), &v) // of a visitor of whom nothing is known
			fact := func(name string) string { s, _ := v[name].(string); return s }
			err := db.Exec(
				"UPDATE responses SET packed = ?, seconds = ?, source = ?, medium = ?, campaign = ?, "+
					"country = ?, language = ?, device = ? WHERE id = ?",
				pack(toScores, toAnswers, nil),
				int(r.Finished.Sub(r.Started).Seconds()),
				fact("source"),
				fact("medium"),
				fact("campaign"),
				fact("country"),
				fact("language"),
				fact("device"),
				r.ID,
			).Error
			if err != nil {
				return err
			}
		}
	}
	return statements("DROP TABLE response_answers", "DROP TABLE response_scores")(db)
}

// personal20261125 returns, by release and key, the kinds of what says who somebody is: the
// fields of the contact section, and the questions that ask for a name, an e-mail address, a
// phone number or a company.
func personal20261125(db *gorm.DB) (map[uint]map[string]string, error) {
	var releases []struct {
		ID       uint
		Document string
	}
	if err := db.Raw("SELECT id, document FROM releases").Scan(&releases).Error; err != nil {
		return nil, err
	}
	personal := map[uint]map[string]string{}
	for _, r := range releases {
		type asked struct {
			Kind string `json:"kind"`
		}
		var document struct {
			Questions map[string]asked `json:"questions"`
			Contact   struct {
				Fields map[string]asked `json:"fields"`
			} `json:"contact"`
		}
		if err := json.Unmarshal([]byte(r.Document), &document); err != nil {
			return nil, fmt.Errorf("reading release %d: %w", r.ID, err)
		}
		kinds := map[string]string{}
		for key, q := range document.Questions {
			switch q.Kind {
			case "name", "email", "phone", "company":
				kinds[key] = q.Kind
			}
		}
		for key, field := range document.Contact.Fields {
			kinds[key] = field.Kind
		}
		personal[r.ID] = kinds
	}
	return personal, nil
}
