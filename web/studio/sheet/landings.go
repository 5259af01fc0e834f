package sheet

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"omphalos/core/edit"
	"omphalos/core/fillin"
	"omphalos/core/inference"
	"omphalos/core/passage"
	"omphalos/core/quiz"
	"omphalos/web/studio/desk"
	"omphalos/web/studio/pictures"
)

// A landingPart is a landing of an outcome on the sheet.
type landingPart struct {
	*quiz.Landing
	Path    quiz.Pointer
	Key     string
	Number  int
	Letter  string // of the outcome
	When    whenPart
	MayAsk  bool // it is not the last, so it may have a condition
	Percent string
	Told    bool
	Target  targetPart
	Blocks  []blockPart
	Named   []productChoice
	Tags    []productChoice
	First   bool
	Last    bool
}

// A targetPart is where a redirect, a button or a link leads: an address, or a signpost.
type targetPart struct {
	Path     quiz.Pointer
	Of       string // what leads there, for what is read out
	Address  string
	Sign     *quiz.Signpost
	Sample   string // the address as a sample respondent has it, "" where it is the same
	Wrong    string
	UseSign  string // patch that leads by a signpost instead
	UseAddr  string // patch that leads to an address instead
	Tables   []string
	Rows     []string // of the table
	Missing  bool     // the signpost is not up
	Signlink string   // to the room of signposts
}

type blockPart struct {
	*quiz.Block
	Path   quiz.Pointer
	Key    string
	Number int
	When   whenPart
	Target targetPart
	Shown  pictures.PicturePart
	Bills  []choice
	First  bool
	Last   bool
}

func (sh *Sheet) landings(o *quiz.Outcome, outcome quiz.Pointer, letter string) []landingPart {
	var list []landingPart
	keys := quiz.InOrder(o.Landings)
	var percents func(landing string) string
	if sh.odds != nil {
		key := outcome.Key()
		percents = inference.PercentsWithin(inference.NamedPercents(sh.odds.Outcomes)(key), sh.odds.Landings[key])
	}
	for i, k := range keys {
		l := o.Landings[k]
		p := landingPart{
			Landing: l,
			Key:     k,
			Path:    outcome.Join("landings", k),
			Number:  i + 1,
			Letter:  letter,
			First:   i == 0,
			Last:    i == len(keys)-1,
		}
		p.MayAsk = !p.Last || l.When != nil
		of := fmt.Sprintf("landing %d of outcome %s", i+1, letter)
		p.When = sh.when(p.Path+"/when", of, l.When)
		if sh.odds != nil && sh.odds.Landings != nil && len(keys) > 1 {
			p.Percent, p.Told = percents(k), true
		}
		switch l.Kind {
		case quiz.RedirectLanding:
			p.Target = sh.target(p.Path, of, l.Address, l.Signpost)
		case quiz.ProductsLanding:
			p.Named, p.Tags = sh.products(l, p.Path)
		default:
			p.Blocks = sh.blocks(l.Blocks, p.Path, of)
		}
		list = append(list, p)
	}
	return list
}

func (sh *Sheet) blocks(blocks map[string]*quiz.Block, path quiz.Pointer, of string) []blockPart {
	var list []blockPart
	keys := quiz.InOrder(blocks)
	for i, k := range keys {
		b := blocks[k]
		p := blockPart{
			Block:  b,
			Key:    k,
			Path:   path.Join("blocks", k),
			Number: i + 1,
			First:  i == 0,
			Last:   i == len(keys)-1,
		}
		which := fmt.Sprintf("block %d of %s", i+1, of)
		p.When = sh.when(p.Path+"/when", which, b.When)
		switch b.Kind {
		case quiz.ActionBlock, quiz.LinkBlock:
			p.Target = sh.target(p.Path, which, b.Address, b.Signpost)
		case quiz.PictureBlock:
			p.Shown = pictures.PictureOf(b.Picture, p.Path+"/picture", which)
		case quiz.BillBlock:
			for _, s := range quiz.InOrder(sh.Doc.Scales) {
				if sh.Doc.Scales[s].Kind == quiz.Money {
					p.Bills = append(p.Bills, choice{s, cmp.Or(sh.Doc.Scales[s].Name, s), ""})
				}
			}
		}
		list = append(list, p)
	}
	return list
}

func (sh *Sheet) target(path quiz.Pointer, of, address string, sign *quiz.Signpost) targetPart {
	t := targetPart{Path: path, Of: of, Address: address, Sign: sign}
	for _, s := range sh.signposts {
		if !slices.Contains(t.Tables, s.Table) {
			t.Tables = append(t.Tables, s.Table)
		}
		if sign != nil && s.Table == sign.Table {
			t.Rows = append(t.Rows, s.Row)
		}
	}
	if sign != nil {
		t.Signlink = "/studio/signposts?table=" + sign.Table
		t.Missing = sign.Row != "" && !strings.Contains(sign.Row, "{") && !slices.Contains(t.Rows, sign.Row)
		t.UseAddr = desk.PatchText([]edit.Op{{Op: "remove", Path: path + "/signpost"}})
		t.Rows = append(t.Rows, "{visitor.country}", "{outcome}")
		return t
	}
	first := quiz.Signpost{Row: "{visitor.country}"}
	if len(t.Tables) > 0 {
		first.Table = t.Tables[0]
	}
	t.UseSign = desk.PatchText([]edit.Op{{Op: "add", Path: path + "/signpost", Value: first}})
	if address == "" {
		return t
	}
	parsed, err := fillin.ParseButton(address)
	if err != nil {
		t.Wrong = desk.SentenceOf(err.Error())
		return t
	}
	if sh.program != nil && len(parsed.Names()) > 0 {
		in, r, there := sh.sampleOf(path)
		if !there {
			return t
		}
		if filled, err := passage.NewFiller(sh.program, in, r, samplePassage).Address(parsed); err == nil {
			t.Sample = filled
		} else {
			t.Wrong = desk.SentenceOf(err.Error())
		}
	}
	return t
}
