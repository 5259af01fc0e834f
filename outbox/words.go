package outbox

import "omphalos/core/saying"

// The words of letters that a quiz does not say itself, in English.
const (
	leaveWords   = "I want no more mail"
	confirmTitle = "Please confirm: %s"
	confirmWords = "Somebody signed up for “%s” with this address. If it was you, confirm it; if not, do nothing."
	confirmYes   = "Yes, it was me"
	resultTitle  = "Your result: %s"
	resultLook   = "Have a look" // at a product
)

// LeaveWords are those of the way to get no more mail.
func LeaveWords(in *saying.Voice) string { return in.Say(leaveWords) }

// Sayings returns those words, for those who put them into other languages.
func Sayings() []string {
	return []string{leaveWords, confirmTitle, confirmWords, confirmYes, resultTitle, resultLook}
}
