package sheet

import (
	"encoding/json"
	"fmt"
	"slices"
	"strings"

	"omphalos/core/finding"
	"omphalos/core/odds"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/web/studio/desk"
	"omphalos/web/ui"
)

// A Told finding is one as the sheet shows it.
type Told struct {
	finding.Finding
	Where string // "Question 3, answer 2"
	Jump  string // ID of the part that it is in
	Patch string // JSON, "" where it can't be mended by machine
	Link  string // the address of its place, where that is not on the sheet

	Back      *finding.Mend // takes back what made it so; nil where that is not known
	BackPatch string        // JSON
}

func (sh *Sheet) tell(f finding.Finding) Told {
	t := Told{Finding: f, Where: sh.Where(f.Pointer), Jump: sh.Jump(f.Pointer)}
	if f.Mend != nil {
		if patch, err := json.Marshal(f.Mend.Patch); err == nil {
			t.Patch = string(patch)
		}
	}
	if f.Code == "rehearsal-broken" {
		sh.tellBroken(&t)
	}
	return t
}

// findings returns what is noticed at a place and below, the gravest first.
func (sh *Sheet) findings(path quiz.Pointer) []finding.Finding {
	var list []finding.Finding
	for _, f := range sh.Findings {
		if f.Pointer.Within(path) {
			list = append(list, f)
		}
	}
	gravestFirst(list)
	return list
}

func gravestFirst(list []finding.Finding) {
	grave := []finding.Level{finding.Error, finding.Warning, finding.Hint}
	slices.SortStableFunc(list, func(a, b finding.Finding) int {
		return slices.Index(grave, a.Level) - slices.Index(grave, b.Level)
	})
}

// A mind is what stands at a place of the sheet about its gravest finding.
type mind struct {
	Told
	More int // findings there beside it
}

func (sh *Sheet) mind(path quiz.Pointer) *mind {
	list := sh.findings(path)
	if len(list) == 0 {
		return nil
	}
	return &mind{sh.tell(list[0]), len(list) - 1}
}

// A group is the findings of one level.
type group struct {
	Level finding.Level
	Title string
	List  []Told
}

// groups are the findings by level, the gravest first.
func (sh *Sheet) groups() []group {
	groups := []group{
		{Level: finding.Error, Title: "Before a release"},
		{Level: finding.Warning, Title: "Not as it was meant"},
		{Level: finding.Hint, Title: "Could be better"},
	}
	for i := range groups {
		for _, f := range sh.Findings {
			if f.Level == groups[i].Level {
				groups[i].List = append(groups[i].List, sh.tell(f))
			}
		}
	}
	return slices.DeleteFunc(groups, func(g group) bool { return len(g.List) == 0 })
}

// Worst is the gravest level that there is, "" without findings.
func (sh *Sheet) Worst() finding.Level {
	list := slices.Clone(sh.Findings)
	gravestFirst(list)
	if len(list) == 0 {
		return ""
	}
	return list[0].Level
}

// Errors are the findings that keep the draft from being released.
func (sh *Sheet) Errors() []Told {
	var list []Told
	for _, f := range sh.Findings {
		if f.Level == finding.Error {
			list = append(list, sh.tell(f))
		}
	}
	return list
}

// Odds returns the draft as it is compiled, and what it is expected to give; nil where that
// can't be told.
func (sh *Sheet) Odds() (*program.Program, *odds.Odds) { return sh.program, sh.possible }

// Told tells whether there are odds, and Exact whether all of them are exact.
func (sh *Sheet) Told() bool { return sh.odds != nil }

// Exact tells whether what is seen and answered is no sample.
func (sh *Sheet) Exact() bool { return sh.odds != nil && sh.odds.ExactPath() }

// Sampled tells whether the shares of outcomes are from a sample.
func (sh *Sheet) Sampled() bool { return sh.odds != nil && !sh.odds.ExactOutcomes() }

// Counted returns from how many responses what is observed is counted.
func (sh *Sheet) Counted() int { return sh.odds.Observed }

// Notes say what the odds rest on where they are not all exact or not all counted.
func (sh *Sheet) Notes() (notes []string) {
	if sh.odds == nil {
		if sh.program != nil {
			return []string{
				"The odds of this quiz could not be worked out in time. The quiz itself works; shares, " +
					"threads and what would be found from them are missing here.",
			}
		}
		return nil
	}
	if n := sh.odds.Observed; sh.Observed {
		from := ui.Plural(sh.Answered, "response", "responses")
		if n < sh.Answered {
			from = "the newest " + ui.Count(n) + " of " + from
		}
		beside := ""
		if sh.screened > 0 {
			beside = ", and " + ui.Count(sh.screened) + " who were screened out"
		}
		notes = append(notes, "Counted from "+from+", as this draft takes what they answered"+beside+".")
	}
	if len(sh.odds.Faults) > 0 {
		notes = append(notes, "The exact odds of this quiz did not add up ("+strings.Join(sh.odds.Faults, ", ")+
			"), so they are not shown: what you see is a sample. This is a fault of Omphalos, not of your quiz; "+
			"please report it.")
	} else if !sh.odds.ExactOutcomes() {
		s := sh.odds.Sampled
		notes = append(
			notes,
			fmt.Sprintf(
				"Shares of outcomes are from a sample of %s passages, ± %.1f %%: too many scores and "+
					"values decide together to follow them all.",
				ui.Count(s.Size), 100*s.Error(0.5),
			),
		)
	}
	for _, a := range sh.odds.Assumed {
		label := desk.Quoted(sh.Doc.Questions[a.Question].Label, a.Question)
		switch a.Because {
		case "words":
			notes = append(
				notes,
				fmt.Sprintf(
					"How many write what in %s nobody can count: as many one way as another, until you "+
						"say what you expect beside the question.",
					label,
				),
			)
		case "no limits":
			notes = append(
				notes,
				fmt.Sprintf(
					"%s has no limits: every stretch that a condition or a bracket tells apart is taken "+
						"to be as likely as the others. Give it limits to have its values counted.",
					label,
				),
			)
		}
	}
	if sh.odds.Partial {
		notes = append(
			notes,
			"Conditions tell more kinds of visitor apart than are followed here: what nobody seems to "+
				"get to may be reached by some of them.",
		)
	}
	return notes
}

// Length says how long the quiz is.
func (sh *Sheet) Length() string {
	if sh.odds == nil || len(sh.Doc.Questions) == 0 {
		return ""
	}
	words := fmt.Sprintf("%.1f questions on average", sh.odds.Questions())
	if n := sh.possible.Passages; sh.possible.ExactPath() && n != nil {
		ways := fmt.Sprintf("some 10^%d", len(n.String())-1)
		if n.BitLen() < 40 {
			ways = ui.Count(n.Int64())
		}
		words += ", " + ways + " different ways through"
	}
	return words
}
