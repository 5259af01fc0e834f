package edit

import (
	"omphalos/core/saying"
)

// sayings are the sentences about edits and what they are made of, in British English: the
// one place where an edit becomes words.
var sayings = saying.Table{
	"a-text":                "a text",
	"added":                 "Added the %s %s",
	"added-questions":       "Added %d questions",
	"answer":                "answer",
	"block":                 "block",
	"changed":               "Changed %s",
	"changed-how-weighs-on": "Changed how %s weighs on %s",
	"changed-of":            "Changed %s of %s",
	"contact-section":       "contact section",
	"copied":                "Copied the %s %s",
	"cut-of":                "Cut of %s %s → %s",
	"decision-changed":      "Changed the decision",
	"deleted":               "Deleted the %s %s",
	"deleted-questions":     "Deleted %d questions",
	"expected":              "Changed what is expected of %s",
	"field":                 "field",
	"follow-up":             "follow-up",
	"is-now":                "%s is now “%s”",
	"is-of-the-kind":        "%s is of the kind “%v” now",
	"language":              "language",
	"translated":            "Put %s into %s",
	"moved":                 "Moved %s",
	"moved-questions":       "Moved %d questions",
	"no-weight":             "none",
	"nothing-changed":       "Nothing changed",
	"of":                    "%s of %s %s → %s",
	"of-changed":            "%s of %s changed",
	"of-is-now":             "%s of %s is now “%s”",
	"outcome":               "outcome",
	"question":              "question",
	"renamed":               "Renamed {%s} to {%s}",
	"rehearsal":             "rehearsal",
	"rehearsal-changed":     "Changed the rehearsal %s",
	"row":                   "row",
	"scale":                 "scale",
	"section":               "section",
	"the":                   "the %s",
	"weights-changed":       "Weights of %s changed",
}

func say(key string, parts ...any) string { return sayings.Say(key, parts...) }

// fieldNames are what fields of the document are called.
var fieldNames = map[string]string{
	"label":     "Words",
	"help":      "Help",
	"heading":   "Heading",
	"text":      "Text",
	"button":    "Button",
	"title":     "Title",
	"name":      "Name",
	"headline":  "Headline",
	"address":   "Address",
	"standing":  "Standing",
	"kind":      "Kind",
	"required":  "Required",
	"lowest":    "Lowest band",
	"outcome":   "Outcome",
	"otherwise": "Otherwise",
	"after":     "Delay",
	"landings":  "Landing",
	"pace":      "Pace",
	"typeface":  "Typeface",
	"subject":   "Subject",
	"consent":   "Consent",
	"wait":      "Delay",
	"receiver":  "Receiver",
	"list":      "List",
	"addresses": "Addresses",
}
