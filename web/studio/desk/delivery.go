package desk

import (
	"time"

	"omphalos/core/quiz"
	"omphalos/store"
)

// kindWords are what goes out, as it is read in a list.
var kindWords = map[quiz.FollowUpKind]string{
	quiz.MailFollowUp: "mail", quiz.NoticeFollowUp: "notice", quiz.ListFollowUp: "sign-up",
	quiz.CallFollowUp: "call", quiz.ConversionFollowUp: "conversion",
}

// KindWords says what goes out.
func KindWords(k quiz.FollowUpKind) string { return kindWords[k] }

// stepWords are what follows from a sign-up, and what goes out without a follow-up.
var stepWords = map[string]string{store.ResultStep: "result, as they asked",
	store.ConfirmStep: "mail to confirm", store.JoinStep: "list told who joined", store.LeaveStep: "list told who left"}

// DeliveryWords says what a delivery is.
func DeliveryWords(d *store.Delivery) string {
	if words, is := stepWords[d.Step]; is {
		return words
	}
	return kindWords[d.Kind]
}

// Stands says how a delivery stands, whether that is bad, and since when.
func Stands(d *store.Delivery) (words string, bad bool, since time.Time) {
	since = d.Made
	if d.Ended != nil {
		since = *d.Ended
	}
	switch {
	case d.Busy():
		return "on its way", false, since
	case d.State == store.Waiting && d.Why != "":
		return "failing", true, since
	case d.State == store.Dead:
		return "given up", true, since
	}
	return d.State, false, since
}
