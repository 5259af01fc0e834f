package learn

import (
	"fmt"
	"slices"
	"strconv"
	"strings"

	"omphalos/store"
	"omphalos/store/slice"
	"omphalos/store/tally"
	"omphalos/web/ui"
)

// A version is how many met a wording that is not today's.
type version struct {
	Words string
	Count int
}

// together says which release's words and scores are shown, where those of the slice took
// several; "" where they took one.
func (r *reading) together() string {
	if len(r.in.Split(tally.Property{Kind: tally.Release})) < 2 || r.of == 0 {
		return ""
	}
	said := fmt.Sprintf("Several releases are counted together: questions, words and expectations are those of "+
		"release %d.", r.of)
	if len(r.pool.Scored) < r.pool.Releases {
		said += " Scores are of " + numbered(r.slice.releases, r.pool.Scored) + " alone: the others weigh differently."
	}
	return said
}

// numbered names releases.
func numbered(all []store.Release, ids []uint) string {
	var numbers []int
	for _, r := range all {
		if slices.Contains(ids, r.ID) {
			numbers = append(numbers, r.Number)
		}
	}
	return releasesWords(numbers)
}

// releasesWords says "release 3", or "releases 1, 2".
func releasesWords(numbers []int) string {
	slices.Sort(numbers)
	words := make([]string, len(numbers))
	for i, n := range numbers {
		words[i] = strconv.Itoa(n)
	}
	if len(words) == 1 {
		return "release " + words[0]
	}
	return "releases " + strings.Join(words, ", ")
}

// versions tells what those of a slice met at a place in other words than today's.
func (r *reading) versions(place string, those tally.Slice) (list []version) {
	if r.shown == nil {
		return nil
	}
	say := func(place, words string) {
		if len(r.pool.Words[place]) < 2 {
			return
		}
		for _, w := range r.pool.Words[place][1:] { // the first is today's
			n := those.And(tally.Part{Of: tally.Property{Kind: tally.Release}, Values: w.Releases}).Count()
			if n > 0 {
				list = append(list, version{fmt.Sprintf(words, ui.Told(w.Words), releasesWords(slices.Clone(w.Numbers))), n})
			}
		}
	}
	say(place, "as “%s” in %s")
	say(place+slice.Weighing, "worth %s in %s")
	return list
}

// alike narrows a slice to the responses whose scores come from the weights that are shown.
func (r *reading) alike(in tally.Slice) tally.Slice {
	if r.shown == nil {
		return in
	}
	return r.pool.ScoredAlike(in)
}
