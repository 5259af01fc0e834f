package learn

import (
	"fmt"
	"strconv"
	"strings"

	"omphalos/core/quiz"
	"omphalos/store"
	"omphalos/web/studio/desk"
)

// The rooms that ask what would be, each with the slice.
type whatIf struct {
	Open                      string // which of them is open
	Figured, Replay, Aim, Won string // addresses
}

func (s *sentence) whatIf(open string) whatIf {
	return whatIf{open, s.at(s.clone()), s.beside("replay"), s.beside("aim"), s.beside("won")}
}

// version returns the version that the slice goes through: the draft, or a release.
func (s *Room) version(z *store.Quiz, in *sliced, named string, page *replayPage) (*quiz.Quiz, error) {
	page.Named = "the draft"
	page.Version = []desk.Option{{Value: in.slice.replayAt("", ""), Name: "the draft", Chosen: true}}
	var chosen *store.Release
	for i := range in.slice.releases {
		r := &in.slice.releases[i]
		option := desk.Option{Value: in.slice.replayAt(strconv.Itoa(r.Number), ""),
			Name: fmt.Sprintf("release %d", r.Number), Chosen: named == strconv.Itoa(r.Number)}
		if option.Chosen {
			chosen, page.Named, page.Version[0].Chosen = r, option.Name, false
		}
		page.Version = append(page.Version, option)
	}
	if chosen != nil {
		return chosen.Read()
	}
	return z.Document()
}

// words are the parts of the sentence, said.
func (s *sentence) words() (list []string) {
	if s.Asked.Has("from") || s.Asked.Has("to") {
		list = append(list, s.days.Words(s.Asked))
	}
	for _, f := range facets {
		var names []string
		for _, value := range s.Asked[string(f.kind)] {
			names = append(names, s.asking(f.kind, value))
		}
		if len(names) > 0 {
			list = append(list, f.one+strings.Join(names, " or "))
		}
	}
	for _, chip := range s.chips() {
		list = append(list, chip.Words)
	}
	return list
}

// replayAt is the address of the walk through a version.
func (s *sentence) replayAt(through, most string) string {
	fields := s.clone()
	if through != "" {
		fields.Set("through", through)
	}
	if most != "" {
		fields.Set("most", most)
	}
	if len(fields) == 0 {
		return s.address + "/replay"
	}
	return s.address + "/replay?" + fields.Encode()
}
