package passage

import (
	"maps"
	"slices"

	"omphalos/core/saying"
)

// sayings are the sentences of explanations and what they are made of, in British English:
// the one place where an explanation becomes words.
var sayings = saying.Table{
	"bill-start":            "To begin with",
	"bill-formula":          "By the formula",
	"bill-sum":              "Sum",
	"bill-cap":              "no more for all together",
	"and":                   " and ",
	"answered":              "To “%s” the answer was “%s”",
	"band":                  "%s of %s lies in %s, so it is %s",
	"band-below":            "the band below %s",
	"band-from":             "the band from %s",
	"beyond-range":          "the value is beyond the range and stopped at its end",
	"came-to":               "%s came to %s",
	"divided-by-zero":       "a division by zero was taken as 0",
	"landing":               "The landing is %s",
	"landing-holds":         "It holds that %s, so the landing is %s",
	"landing-passed-over":   "The landing for “%s” is passed over",
	"last-landing":          "The last landing takes everybody else: %s",
	"leader-below":          "%s leads with %s, which is less than the %s that are needed",
	"leader-close":          "%s leads by %s, which is less than the lead of %s that is needed",
	"leader-unfed":          "Nothing was added to any of the contenders",
	"leads":                 "%s leads with %s, so it is %s",
	"led-straight-to":       "An answer leads straight to %s",
	"no-outcome":            "no outcome yet",
	"on-to":                 "on to “%s”",
	"only-band":             "the only band",
	"open-band":             "%s of %s lies in %s, which is open",
	"otherwise":             "Otherwise it is %s",
	"page":                  "a page",
	"parted-ways":           "An answer parts ways with %s; nothing is kept",
	"parting-ways":          "parting ways with %s",
	"products":              "a list of products",
	"question-did-not-show": "“%s” did not show, for it shows only if %s",
	"quoted":                "“%s”",
	"redirect":              "a redirect to %s",
	"rule-failed":           "It does not hold that %s",
	"rule-held":             "It holds that %s, so it is %s",
	"section-did-not-show":  "The section “%s” did not show, for it shows only if %s",
	"settled-so-it-is":      "%s; %s, so it is %s",
	"signpost":              "a redirect by the signpost %s in %s",
	"straight-to":           "straight to %s",
	"table-hit":             "Rule %d of the table fits, for %s, so it is %s",
	"table-missed":          "None of the table's rules fits (%d)",
	"takes-who-is-left":     "it takes everybody who is left",
	"the-answer-counts":     "the answer to “%s” counts",
	"the-answer-leaves-them-tied": "the answer to “%s” counts and leaves them tied: the first of " +
		"those in order counts",
	"the-band-from-to":        "the band from %s to below %s",
	"then":                    "%s; then %s",
	"tied":                    "%s are tied at %s",
	"tied-and-goes-on":        "%s, and the decision goes on",
	"tied-first-counts":       "%s; the first in order counts, so it is %s",
	"tied-so-it-is":           "%s, so it is %s",
	"to-the-decision":         "to the decision",
	"unanswered":              "“%s” was not answered",
	"would-settle-unanswered": "“%s” would settle it and was not answered: the first in order counts",
	"would-settle-unasked":    "“%s” would settle it and was not asked on this passage: the first in order counts",
}

// sayIn says a sentence in the words of a voice.
func sayIn(in *saying.Voice, key string, parts ...any) string { return in.Say(sayings[key], parts...) }

// Sayings returns the sentences of explanations and bills, for those who put them into other
// languages.
func Sayings() []string { return slices.Sorted(maps.Values(sayings)) }
