package sheet

import (
	"cmp"
	"fmt"

	"omphalos/core/quiz"
	"omphalos/web/studio/desk"
)

type outlineItem struct {
	Part, Mark, Words string
	Hue               string
	Findings          int
}

func (sh *Sheet) outline() []outlineItem {
	items := []outlineItem{{Part: "part-opening", Words: "Opening", Findings: len(sh.findings("/opening"))}}
	section := ""
	for i, k := range sh.Doc.QuestionKeys() {
		if at := sh.Doc.Questions[k].Section; at != section && sh.headed() && sh.Doc.Sections[at] != nil {
			section = at
			items = append(
				items,
				outlineItem{
					Part:     "part-sec-" + at,
					Words:    cmp.Or(sh.Doc.Sections[at].Heading, "A section"),
					Findings: len(sh.findings(quiz.At("sections", at))),
				},
			)
		}
		items = append(
			items,
			outlineItem{
				"part-q-" + k,
				fmt.Sprint(i + 1),
				cmp.Or(sh.Doc.Questions[k].Label, "No words yet"),
				"",
				len(sh.findings(quiz.At("questions", k))),
			},
		)
	}
	items = append(items, outlineItem{Part: "part-scales", Words: "Scales", Findings: len(sh.findings("/scales"))})
	items = append(items, outlineItem{Part: "decision", Words: "Decision", Findings: len(sh.findings("/decision"))})
	for i, k := range quiz.InOrder(sh.Doc.Outcomes) {
		items = append(
			items,
			outlineItem{
				"part-o-" + k,
				sh.Doc.Letter(k),
				sh.Doc.Outcomes[k].Name,
				desk.Hue(i),
				len(sh.findings(quiz.At("outcomes", k))),
			},
		)
	}
	return append(items, outlineItem{Part: "part-contact", Words: "Contact", Findings: len(sh.findings("/contact"))},
		outlineItem{Part: "part-followups", Words: "Follow-ups", Findings: len(sh.findings("/followUps"))},
		outlineItem{Part: "part-look", Words: "Look", Findings: len(sh.findings("/look"))},
		outlineItem{Part: "part-words", Words: "Words and ways",
			Findings: len(sh.findings("/settings")) + len(sh.findings("/translations"))})
}
