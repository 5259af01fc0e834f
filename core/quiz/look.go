package quiz

// A Look is how the respondent's pages are dressed: what a made look brings along, and
// what is set beside it. What is empty is as the made look has it. What each part is for
// one quiz is told by package look.
type Look struct {
	Made Made   `json:"made,omitempty"`
	Kept string `json:"kept,omitempty"` // key of the look that the workspace keeps, "" for one of the quiz's own

	Scheme  Scheme   `json:"scheme,omitempty"`
	Colours          // in the light
	Dark    *Colours `json:"dark,omitempty"` // in the dark; nil: made from those in the light

	Typeface   Typeface   `json:"typeface,omitempty"` // of texts
	Headings   Typeface   `json:"headings,omitempty"`
	Weight     Weight     `json:"weight,omitempty"` // of headings
	Corners    Corners    `json:"corners,omitempty"`
	Density    Density    `json:"density,omitempty"`
	Width      Width      `json:"width,omitempty"`
	Align      Align      `json:"align,omitempty"`
	Answers    AnswerForm `json:"answers,omitempty"`
	Buttons    ButtonForm `json:"buttons,omitempty"`
	Progress   Progress   `json:"progress,omitempty"`
	Ornament   Ornament   `json:"ornament,omitempty"`
	Layout     Layout     `json:"layout,omitempty"` // of opening and results that say nothing else
	Logo       *Picture   `json:"logo,omitempty"`
	Background *Picture   `json:"background,omitempty"`
	Owner      string     `json:"owner,omitempty"` // the name beside the logo
	Shared     *Shared    `json:"shared,omitempty"`
}

// Colours are "#rrggbb" by what they are for. What is empty is as the made look has it.
type Colours struct {
	Paper  string `json:"paper,omitempty"`  // behind everything
	Sheet  string `json:"sheet,omitempty"`  // what is written on; empty beside a paper: the paper
	Ink    string `json:"ink,omitempty"`    // words
	Accent string `json:"accent,omitempty"` // what can be pressed
	Mark   string `json:"mark,omitempty"`   // scores, stars
}

// Made names a look that ships; an empty one is Almanac.
type Made string

// The made looks.
const (
	Almanac   Made = "almanac"   // a reference book: hairlines and knots
	Poster    Made = "poster"    // warm paper, a picture across, cards
	Night     Made = "night"     // dark, bright lines
	Letter    Made = "letter"    // a sheet that somebody wrote
	Fair      Made = "fair"      // one loud colour, blocks
	Porcelain Made = "porcelain" // white and cobalt, tiles
	Notebook  Made = "notebook"  // ruled paper, a hand
	Salon     Made = "salon"     // quiet, in the middle, framed
)

// Mades lists the made looks, in the order in which they are offered.
var Mades = []Made{Almanac, Poster, Night, Letter, Fair, Porcelain, Notebook, Salon}

// Scheme says whether pages are light or dark.
type Scheme string

// The schemes.
const (
	AsDevice  Scheme = "device" // as the respondent's device is
	LightOnly Scheme = "light"
	DarkOnly  Scheme = "dark"
)

// Typeface is one of the typefaces that ship with the application.
type Typeface string

// The typefaces.
const (
	Commissioner Typeface = "commissioner" // without serifs
	Literata     Typeface = "literata"     // a book's, with serifs
	Atkinson     Typeface = "atkinson"     // letters that are easily told apart
	Fraunces     Typeface = "fraunces"     // soft serifs, for large words
	Bricolage    Typeface = "bricolage"    // without serifs, cut by hand
	Shantell     Typeface = "shantell"     // a hand's
)

// Weight is how heavy headings are.
type Weight string

// The weights.
const (
	LightWeight  Weight = "light"
	StrongWeight Weight = "strong"
	HeavyWeight  Weight = "heavy"
)

// Corners are those of buttons, cards and pictures.
type Corners string

// The corners.
const (
	SquareCorners Corners = "square"
	SoftCorners   Corners = "soft"
	RoundCorners  Corners = "round"
)

// Density is how much room is between things.
type Density string

// The densities.
const (
	Close Density = "close"
	Even  Density = "even"
	Airy  Density = "airy"
)

// Width is how wide a page is at the most.
type Width string

// The widths.
const (
	Narrow Width = "narrow"
	Middle Width = "middle"
	Wide   Width = "wide"
)

// Align is where lines begin.
type Align string

// The alignments.
const (
	AtStart  Align = "start"
	AtCentre Align = "centre"
)

// AnswerForm is how answers look.
type AnswerForm string

// The forms of answers.
const (
	Lines  AnswerForm = "lines"  // between hairlines
	Dots   AnswerForm = "dots"   // over dotted lines
	Blocks AnswerForm = "blocks" // filled
	Boxes  AnswerForm = "boxes"  // outlined
)

// ButtonForm is how buttons look.
type ButtonForm string

// The forms of buttons.
const (
	Solid    ButtonForm = "solid"
	Across   ButtonForm = "across" // solid, as wide as the page
	Outlined ButtonForm = "outlined"
)

// Progress is how it is shown how far somebody has come.
type Progress string

// The ways to show progress.
const (
	Knots      Progress = "knots"
	Bar        Progress = "bar"
	InWords    Progress = "words"
	NoProgress Progress = "none"
)

// Ornament is what a page has around its words.
type Ornament string

// The ornaments.
const (
	NoOrnament Ornament = "none"
	OnASheet   Ornament = "sheet" // a sheet that lies on the paper
	Rule       Ornament = "rule"  // a line beside headings
	Ruled      Ornament = "ruled" // ruled paper
	Tiles      Ornament = "tiles" // a band of tiles on top
	Framed     Ornament = "frame" // two lines around
)

// Layout is where the picture of an opening or a result stands to its words.
type Layout string

// The layouts.
const (
	Above   Layout = "above"
	Centred Layout = "centred"
	Beside  Layout = "beside"
	Full    Layout = "full"   // across the page, from edge to edge
	Behind  Layout = "behind" // behind the words
	Posted  Layout = "letter" // words as a letter, the picture below them
)

// AnswerLayout is how answers stand to each other. An empty one is in rows, of pictures
// two across.
type AnswerLayout string

// The layouts of answers.
const (
	InRows    AnswerLayout = "rows"
	TwoAcross AnswerLayout = "two"
	ThreeWide AnswerLayout = "three"
	AsCards   AnswerLayout = "cards"  // a picture, words and a line below them
	AsSlider  AnswerLayout = "slider" // of a rating
)

// What each part of a look may be, in the order in which it is offered.
var (
	Schemes       = []Scheme{AsDevice, LightOnly, DarkOnly}
	Typefaces     = []Typeface{Commissioner, Literata, Atkinson, Fraunces, Bricolage, Shantell}
	Weights       = []Weight{LightWeight, StrongWeight, HeavyWeight}
	CornerForms   = []Corners{SquareCorners, SoftCorners, RoundCorners}
	Densities     = []Density{Close, Even, Airy}
	Widths        = []Width{Narrow, Middle, Wide}
	Aligns        = []Align{AtStart, AtCentre}
	AnswerForms   = []AnswerForm{Lines, Dots, Blocks, Boxes}
	ButtonForms   = []ButtonForm{Solid, Across, Outlined}
	Progresses    = []Progress{Knots, Bar, InWords, NoProgress}
	Ornaments     = []Ornament{NoOrnament, OnASheet, Rule, Ruled, Tiles, Framed}
	Layouts       = []Layout{Above, Centred, Beside, Full, Behind, Posted}
	AnswerLayouts = []AnswerLayout{InRows, TwoAcross, ThreeWide, AsCards, AsSlider}
)

// Worn is a look as several quizzes wear it together, under a key: without what one of them
// says where it is shared.
func (l Look) Worn(key string) Look {
	l.Kept, l.Shared = key, nil
	return l
}
