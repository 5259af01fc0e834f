package sheet

import (
	"fmt"
	"maps"
	"slices"

	"omphalos/core/atlas"
	"omphalos/core/edit"
	"omphalos/core/quiz"
	"omphalos/web/player"
	"omphalos/web/studio/desk"
	"omphalos/web/studio/pictures"
	"omphalos/web/ui"
)

// A lookPart is how the respondent's pages are dressed, and their words.
type lookPart struct {
	*quiz.Look
	*quiz.Settings
	Pace         quiz.Pace
	Dress        dressPart
	Logo         pictures.PicturePart
	Background   pictures.PicturePart
	AsShared     quiz.Shared // what is shown where it is shared
	Shared       quiz.Shared // what is said about that
	Pictured     pictures.PicturePart
	Mind         *mind
	SettingsMind *mind
	Rights       int // questions with a right answer
	Frames       []framePart
	FrameList    string // JSON
	Zones        []string
	Repeat       quiz.Repeats
	Home         string // name of the country whose telephone numbers need no code
	By, Count    string // of Repeat, as the choices have them
	Takers       []choice
	Counted      []choice
	Offers       []offer // what can be done with a result
	Spoken       []spokenIn
	Languages    string // where it is put into others
}

// An offer is something that respondents can do with a result.
type offer struct {
	Key, Words string
	Set        bool
}

func offersOf(s *quiz.Settings) []offer {
	var r quiz.Results
	if s.Results != nil {
		r = *s.Results
	}
	return []offer{
		{"share", fmt.Sprintf("read how many of all got it, from %d responses on", player.LeastGotten), r.Share},
		{"passOn", "show the outcome to somebody, without what they answered", r.PassOn},
		{"score", "and with it the score, where the result shows one", r.Score},
		{"keep", "print it, or keep it as a PDF or a picture", r.Keep},
		{"mail", "have it mailed, to the address that they gave", r.Mail},
		{"again", "take the quiz again", r.Again},
	}
}

// A framePart is an origin whose pages may show the quiz.
type framePart struct{ Origin, Remove string }

func (sh *Sheet) look() lookPart {
	p := lookPart{Look: sh.Doc.Look, Settings: sh.Doc.Settings, Pace: sh.Doc.Pace, Mind: sh.mind("/look"),
		SettingsMind: sh.mind("/settings"), Dress: sh.dress()}
	if p.Look == nil {
		p.Look = &quiz.Look{}
	}
	if p.Settings == nil {
		p.Settings = &quiz.Settings{}
	}
	if p.Settings.Repeats != nil {
		p.Repeat = *p.Settings.Repeats
	}
	if p.Settings.Country != "" {
		p.Home = atlas.Name(p.Settings.Country, "en")
	}
	p.By, p.Count = string(p.Repeat.By), string(p.Repeat.Counts)
	p.Takers = []choice{{Key: string(quiz.ByDevice), Name: "device"}, {Key: string(quiz.ByPerson), Name: "person"}}
	p.Counted = []choice{
		{Key: string(quiz.EachCounts), Name: "each time counts"},
		{Key: string(quiz.LastCounts), Name: "the last time counts"},
		{Key: string(quiz.FirstCounts), Name: "the first time counts"},
	}
	p.Zones = desk.Zones
	p.Offers = offersOf(p.Settings)
	p.Spoken, p.Languages = sh.spoken(), desk.Address(sh.Quiz)+"/languages"
	p.FrameList = desk.JSONText(append([]string{}, p.Settings.Frames...))
	for _, q := range sh.Doc.Questions {
		if slices.ContainsFunc(
			slices.Collect(maps.Values(q.Answers)),
			func(a *quiz.Answer) bool { return a != nil && a.Right },
		) {
			p.Rights++
		}
	}
	for i, origin := range p.Settings.Frames {
		rest := slices.Delete(slices.Clone(p.Settings.Frames), i, i+1)
		p.Frames = append(
			p.Frames,
			framePart{origin, desk.PatchText([]edit.Op{{Op: "add", Path: "/settings/frames", Value: rest}})},
		)
	}
	p.Logo = pictures.PictureOf(p.Look.Logo, "/look/logo", "the logo")
	p.AsShared = sh.Doc.AsShared()
	p.AsShared.Text = ui.Told(p.AsShared.Text)
	if p.Look.Shared != nil {
		p.Shared = *p.Look.Shared
	}
	p.Pictured = pictures.PictureOf(p.Shared.Picture, "/look/shared/picture", "what is shared")
	p.Background = pictures.PictureOf(p.Look.Background, "/look/background", "the background")
	return p
}
