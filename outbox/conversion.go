package outbox

import (
	"encoding/json"
	"slices"

	"omphalos/core/decimal"
	"omphalos/core/quiz"
	"omphalos/store"
)

// conversion returns what can be filled in of a conversion beside answers and scores.
func (l *Landed) conversion(f *quiz.FollowUp, d *store.Delivery) map[string]string {
	extra := map[string]string{
		"event":    f.Event,
		"event_id": d.Key, // by it an ad platform tells what came twice
		"time":     d.Made.UTC().Format("2006-01-02T15:04:05Z"),
		"value":    "",
		"currency": "",
		"click":    "",
	}
	if f.Click != "" {
		extra["click"] = l.In.Visitor.Fact("query." + f.Click)
	}
	if amount, has := l.worth(f.Worth); has {
		extra["value"], extra["currency"] = amount.String(), f.Worth.Currency
	}
	return extra
}

// worth returns what a conversion is worth: what its outcome is, else what a scale came to.
func (l *Landed) worth(w *quiz.Worth) (decimal.Decimal, bool) {
	if w == nil {
		return 0, false
	}
	key, _ := l.Outcome()
	if amount, has := w.Outcomes[key]; has {
		return amount, true
	}
	if i := slices.Index(l.Program.ScaleKeys(), w.Scale); i >= 0 {
		return l.Result.Scores[i], true
	}
	return 0, false
}

// converted writes a conversion where the receiver has no body of its own.
func (l *Landed) converted(f *quiz.FollowUp) ([]byte, string, error) {
	told := struct {
		Event    string           `json:"event"`
		ID       string           `json:"event_id"`
		Time     string           `json:"time"`
		Value    *decimal.Decimal `json:"value,omitempty"`
		Currency string           `json:"currency,omitempty"`
		Click    string           `json:"click,omitempty"`
	}{Event: l.Extra["event"], ID: l.Extra["event_id"], Time: l.Extra["time"], Currency: l.Extra["currency"],
		Click: l.Extra["click"]}
	if amount, has := l.worth(f.Worth); has {
		told.Value = &amount
	}
	body, err := json.Marshal(told)
	return body, "application/json", err
}
