package desk

import (
	"fmt"
	"strconv"

	"omphalos/store"
)

// A Version is the draft of a quiz, or what it was in a release.
type Version struct {
	Number int         // of the release, 0 for the draft
	Quiz   *store.Quiz // with the document of that version as its draft
}

// Name is "the draft", or "release 3".
func (v Version) Name() string {
	if v.Number == 0 {
		return "the draft"
	}
	return fmt.Sprintf("release %d", v.Number)
}

// VersionOf returns the version that a number names, and whether there is one.
func VersionOf(z *store.Quiz, releases []store.Release, number string) (Version, bool) {
	n, err := strconv.Atoi(number)
	if err != nil {
		return Version{}, false
	}
	if n == 0 {
		return Version{0, z}, true
	}
	for i := range releases {
		if releases[i].Number == n {
			was := *z
			was.Draft = releases[i].Document
			return Version{n, &was}, true
		}
	}
	return Version{}, false
}
