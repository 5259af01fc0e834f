package edit

import "omphalos/core/quiz"

// freshFollowUp returns a new follow-up of a kind, that asks for the first consent there is
// where it needs one, and goes to fits where only they are told of.
func (t *plan) freshFollowUp(kind quiz.FollowUpKind) map[string]any {
	if kind == "" {
		kind = quiz.MailFollowUp
	}
	fresh := map[string]any{"kind": string(kind)}
	q, err := t.quiz()
	if err != nil {
		return fresh
	}
	if consents := q.Consents(); len(consents) > 0 && (kind == quiz.ListFollowUp || kind == quiz.ConversionFollowUp) {
		fresh["consent"] = consents[0]
	}
	switch kind {
	case quiz.MailFollowUp:
		fresh["subject"] = "Your result: {outcome}"
		fresh["blocks"] = map[string]any{"text": map[string]any{"order": 1, "kind": string(quiz.TextBlock),
			"text": "Thank you for your answers."}}
	case quiz.NoticeFollowUp:
		fresh["to"] = string(quiz.ToOwner)
		fresh["subject"] = "A new lead: {outcome}"
	case quiz.ConversionFollowUp:
		fresh["event"] = "qualified"
		fresh["when"] = map[string]any{"all": []any{map[string]any{"standing": true, "op": string(quiz.Is),
			"value": string(quiz.Fit)}}}
	}
	return fresh
}
