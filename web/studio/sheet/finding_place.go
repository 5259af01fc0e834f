package sheet

import (
	"fmt"
	"slices"

	"omphalos/core/quiz"
)

// Jump returns the ID of the part that a place lies in.
func (sh *Sheet) Jump(place quiz.Pointer) string {
	keys := place.Keys()
	switch {
	case place.Fits("/questions/*/**"):
		return "part-q-" + keys[1]
	case place.Fits("/sections/*/**"):
		return "part-sec-" + keys[1]
	case place.FitsAny("/scales/**", "/contact/**", "/look/**"):
		return "part-" + keys[0]
	case place.Fits("/outcomes/*/**"):
		return "part-o-" + keys[1]
	case place.Fits("/followUps/*/**"):
		return "part-f-" + keys[1]
	case place.Within("/followUps"):
		return "part-followups"
	case place.Fits("/decision/*/*/**"):
		return "part-s-" + keys[2]
	case place.Within("/decision"):
		return "part-otherwise"
	case place.FitsAny("/settings/**", "/translations/**"):
		return "part-words"
	case place == "/questions":
		return "add-question"
	}
	return "part-opening"
}

// Where names the thing that a place belongs to, for the list of findings.
func (sh *Sheet) Where(place quiz.Pointer) string {
	keys := place.Keys()
	if len(keys) < 2 && !place.Within("/translations") {
		return "Quiz"
	}
	switch keys[0] {
	case "questions":
		i := slices.Index(sh.Doc.QuestionKeys(), keys[1])
		if i >= 0 && place.Fits("/questions/*/answers/*/**") {
			j := slices.Index(quiz.InOrder(sh.Doc.Questions[keys[1]].Answers), keys[3])
			return fmt.Sprintf("Question %d, answer %d", i+1, j+1)
		}
		return fmt.Sprintf("Question %d", i+1)
	case "outcomes":
		return "Outcome " + sh.Doc.Letter(keys[1])
	case "decision":
		if len(keys) > 2 {
			return fmt.Sprintf("Step %d", slices.Index(quiz.InOrder(sh.Doc.Decision.Steps), keys[2])+1)
		}
		return "Decision"
	case "scales":
		return "Ledger"
	case "opening":
		return "Opening"
	case "sections":
		return "Section"
	case "followUps":
		return fmt.Sprintf("Follow-up %d", slices.Index(quiz.InOrder(sh.Doc.FollowUps), keys[1])+1)
	case "contact":
		return "Contact"
	case "look":
		return "Look"
	case "rehearsals":
		return "Rehearsal"
	case "translations":
		return "Languages"
	case "settings":
		return "Words and ways"
	}
	return "Quiz"
}
