package sheet

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"

	"omphalos/core/edit"
	"omphalos/core/excerpt"
	"omphalos/core/fillin"
	"omphalos/core/passage"
	"omphalos/core/program"
	"omphalos/core/quiz"
	"omphalos/store"
	"omphalos/web/studio/desk"
	"omphalos/web/studio/pictures"
)

// A landingPart is a landing of an outcome on the sheet.
type landingPart struct {
	*quiz.Landing
	Path   quiz.Pointer
	Key    string
	Number int
	Letter string // of the outcome
	When   whenPart
	MayAsk bool // it is not the last, so it may have a condition
	Share  float64
	Told   bool
	Target targetPart
	Blocks []blockPart
	Named  []productChoice
	Tags   []productChoice
	First  bool
	Last   bool
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

// A productChoice is a product or a tag that a landing may show.
type productChoice struct {
	Name, Patch string
	Chosen      bool
	Gone        bool // it is not in the catalogue
}

func (sh *Sheet) landings(o *quiz.Outcome, outcome quiz.Pointer, letter string) []landingPart {
	var list []landingPart
	keys := quiz.InOrder(o.Landings)
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
			p.Share, p.Told = sh.odds.Landings[outcome.Key()][k], true
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
		in, r := sh.sample()
		if filled, err := passage.NewFiller(sh.program, in, r, samplePassage).Address(parsed); err == nil {
			t.Sample = filled
		} else {
			t.Wrong = desk.SentenceOf(err.Error())
		}
	}
	return t
}

// A fill is something that a text or an address may fill in, in braces, with what a
// sample respondent would see there. What says what it is.
type fill struct{ Name, What, Sample string }

// longestSample is how much of a sample is shown, in characters.
const longestSample = 28

// fills lists what a text or an address may fill in. Scores have no sample, which would
// change with every weight.
func (sh *Sheet) fills() []fill {
	if sh.names != nil {
		return sh.names
	}
	var filler *passage.Filler
	if sh.program != nil {
		in, r := sh.sample()
		filler = passage.NewFiller(sh.program, in, r, samplePassage)
	}
	add := func(name, what, sample string) {
		sh.names = append(sh.names, fill{"{" + name + "}", excerpt.Of(what, longestWhat), excerpt.Of(sample, longestSample)})
	}
	plain := func(name string) string {
		if filler == nil {
			return ""
		}
		return filler.Plain(name)
	}
	for _, k := range sh.Doc.QuestionKeys() {
		q := sh.Doc.Questions[k]
		if q.Kind == quiz.Interlude {
			continue
		}
		add(k, q.Label, plain(k))
		for _, row := range quiz.InOrder(q.Rows) {
			add(k+"."+row, q.Label+" "+q.Rows[row].Label, plain(k+"."+row))
		}
	}
	for _, k := range quiz.InOrder(sh.Doc.Scales) { // without a sample, which would change with every weight
		add(k, sh.Doc.Scales[k].Name, "")
	}
	if c := sh.Doc.Contact; c != nil {
		for _, k := range quiz.InOrder(c.Fields) {
			add(k, c.Fields[k].Label, sampleContacts[c.Fields[k].Kind])
		}
	}
	add("outcome", "headline of the outcome; its key in an address", "")
	add("response", "number of the response", samplePassage)
	for _, fact := range []string{"country", "source", "device"} {
		add("visitor."+fact, "the visitor's "+fact, plain("visitor."+fact))
	}
	if sh.Doc.Settings != nil && sh.Doc.Settings.Review != "" {
		add("score", "how many answers were right", plain("score"))
		add("highest", "highest of that: how many could be right", plain("highest"))
		add("percent", "how many of a hundred were right", plain("percent"))
	}
	return sh.names
}

// longestWhat is how much of what something is is shown, in characters.
const longestWhat = 60

// sampleContacts are what somebody might say of themselves.
var sampleContacts = map[quiz.Kind]string{
	quiz.Name: "Una Byrne", quiz.Email: "una@quillbrook.example", quiz.Phone: "+353 1 234 5678",
	quiz.Company: "Byrne Orchards", quiz.Country: "Ireland", quiz.Consent: "yes",
}

// samplePassage is a number that a passage might have.
const samplePassage = "x7k2m9q4"

// sample is a respondent who gives the first answer to everything.
func (sh *Sheet) sample() (passage.Input, *passage.Result) {
	if sh.sampled.result == nil {
		in := passage.Input{
			Answers: make(program.Answers, len(sh.program.Questions)),
			Visitor: &program.Visitor{
				Country:  cmp.Or(sh.eyes.Country, "IE"),
				Language: cmp.Or(sh.eyes.Language, "en"),
				Device:   cmp.Or(sh.eyes.Device, "phone"),
				Source:   cmp.Or(sh.eyes.Source, "letter"),
			},
		}
		for i := range in.Answers {
			for _, name := range sh.program.Names(i) {
				if v, ok := sh.program.Giving(i, name); ok && v.State == program.Given {
					in.Answers[i] = v
					break
				}
			}
		}
		sh.sampled.in, sh.sampled.result = in, passage.Walk(sh.program, in)
	}
	return sh.sampled.in, sh.sampled.result
}

// products lists the catalogue and its tags, with what a landing shows.
func (sh *Sheet) products(l *quiz.Landing, path quiz.Pointer) (named, tags []productChoice) {
	var now quiz.Products
	if l.Products != nil {
		now = *l.Products
	}
	toggle := func(key, name string, list []quiz.Named, put func(p *quiz.Products, list []quiz.Named)) productChoice {
		next := slices.DeleteFunc(slices.Clone(list), func(n quiz.Named) bool { return n.Key == key })
		chosen := len(next) < len(list)
		if !chosen {
			next = append(next, quiz.Named{Key: key})
		}
		after := now
		put(&after, next)
		return productChoice{
			Name:   name,
			Chosen: chosen,
			Patch:  desk.PatchText([]edit.Op{{Op: "add", Path: path + "/products", Value: after}}),
		}
	}
	putNamed := func(p *quiz.Products, list []quiz.Named) { p.Named = list }
	putTags := func(p *quiz.Products, list []quiz.Named) { p.Tags = list }
	seen := map[string]bool{}
	for _, p := range sh.catalogue {
		named = append(named, toggle(p.Key, p.Name, now.Named, putNamed))
		seen[p.Key] = true
		for _, tag := range p.TagList() {
			if !seen["#"+tag] {
				seen["#"+tag] = true
				tags = append(tags, toggle(tag, tag, now.Tags, putTags))
			}
		}
	}
	for _, n := range now.Named {
		if !seen[n.Key] {
			c := toggle(n.Key, n.Key, now.Named, putNamed)
			c.Gone = true
			named = append(named, c)
		}
	}
	for _, n := range now.Tags {
		if !seen["#"+n.Key] {
			c := toggle(n.Key, n.Key, now.Tags, putTags)
			c.Gone = true
			tags = append(tags, c)
		}
	}
	return named, tags
}

// tables reads what lies outside the document, for the sheet and its findings.
func (s *Room) tables(ctx context.Context, sh *Sheet) error {
	var err error
	if sh.signposts, err = s.Store.Definitions.Signposts(ctx); err != nil {
		return err
	}
	if sh.catalogue, err = s.Store.Definitions.Products(ctx); err != nil {
		return err
	}
	if sh.placed, err = s.Store.Definitions.PlaceTables(ctx); err != nil {
		return err
	}
	if sh.looks, err = s.Store.Definitions.KeptLooks(ctx); err != nil {
		return err
	}
	if sh.calendars, err = s.Store.Definitions.Calendars(ctx); err != nil {
		return err
	}
	return s.beyondOf(ctx, sh)
}

func (sh *Sheet) calendarOpen(name string) bool {
	return slices.ContainsFunc(sh.calendars, func(c store.Calendar) bool { return c.Name == name && c.Ever() })
}

func (sh *Sheet) placesThere(table string) bool { return slices.Contains(sh.placed, table) }

func (sh *Sheet) signpostUp(table, row string) bool {
	return slices.ContainsFunc(sh.signposts, func(s store.Signpost) bool { return s.Table == table && s.Row == row })
}

func (sh *Sheet) productThere(key string) bool {
	return slices.ContainsFunc(sh.catalogue, func(p store.Product) bool { return p.Key == key })
}
