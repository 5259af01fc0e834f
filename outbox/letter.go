package outbox

import (
	"bytes"
	"cmp"
	"embed"
	"fmt"
	"html/template"
	"regexp"
	"slices"
	"strings"

	"omphalos/core/look"
	"omphalos/core/quiz"
	"omphalos/interchange/markdown"
)

// A Letter is a mail as it goes out: the same in HTML and in plain words.
type Letter struct {
	To      []string
	Subject string
	Leave   string // address of the page on which no more mail is wanted, "" for none

	page *sheet
}

// End says what stands below a letter to a respondent: who sends it, and how to get no more.
func (l *Letter) End(footer, leave, words string) {
	l.Leave, l.page.Footer, l.page.Leave, l.page.LeaveWords = leave, footer, leave, words
}

//go:embed letter.html letter.txt
var letters embed.FS

var (
	letterHTML  = template.Must(template.New("letter.html").ParseFS(letters, "letter.html"))
	letterPlain = plainly("letter.txt")
)

// A sheet is what a letter's templates show.
type sheet struct {
	Subject, Language, Direction string
	Ink, Paper, Accent, On       template.CSS // checked by package quiz: "#rrggbb"
	Logo                         *shown
	Owner                        string
	Blocks                       []part
	Facts                        []fact   // of whom a notice tells
	Others                       []listed // of a digest
	Footer                       string
	Leave, LeaveWords            string
}

// A part of a letter is what a block shows: what it has not is "".
type part struct {
	HTML    template.HTML
	Words   string
	Button  string
	Link    string
	Address string
	Picture *shown
	Bill    []billed
	Total   string
}

type shown struct{ Source, Description string }

type billed struct{ Words, Detail, Amount string }

type fact struct{ Name, Value string }

// Line is a fact in plain words: a question has its mark already.
func (f fact) Line() string {
	if strings.HasSuffix(f.Name, "?") || strings.HasSuffix(f.Name, ".") || strings.HasSuffix(f.Name, ":") {
		return f.Name + " " + f.Value
	}
	return f.Name + ": " + f.Value
}

// A listed is somebody in a digest.
type listed struct {
	Name, Outcome, Score, Address string
}

// Letter writes a follow-up's mail, without those to whom it goes.
func (l *Landed) Letter(key string) *Letter {
	f := l.Program.Quiz.FollowUps[key]
	s := l.sheet(l.filler.Plainly(f.Subject))
	for _, b := range l.Walker.LetterBlocks(key) {
		s.Blocks = append(s.Blocks, l.part(f.Blocks[b]))
	}
	return s.letter()
}

// sheet begins a letter in the quiz's look.
func (l *Landed) sheet(subject string) *sheet { return sheetOf(l.Program.Quiz, l.Base, subject) }

func sheetOf(q *quiz.Quiz, base, subject string) *sheet {
	s := &sheet{Subject: strings.Join(strings.Fields(subject), " "), Language: "en", Ink: "#17232a",
		Paper: "#ffffff", Accent: "#17627a"}
	if set := q.Settings; set != nil && set.Language != "" {
		s.Language = set.Language
	}
	s.Direction = quiz.Direction(s.Language)
	if look := q.Look; look != nil {
		s.Ink, s.Paper, s.Accent = or(look.Ink, s.Ink), or(look.Paper, s.Paper), or(look.Accent, s.Accent)
		s.Owner, s.Logo = look.Owner, picture(base, look.Logo)
	}
	s.On = "#ffffff"
	if look.Contrast(string(s.Accent), "#000000") > look.Contrast(string(s.Accent), "#ffffff") {
		s.On = "#000000"
	}
	return s
}

func or(chosen string, usual template.CSS) template.CSS { return cmp.Or(template.CSS(chosen), usual) }

// picture returns a picture by an address that a mail program can ask for.
func picture(base string, p *quiz.Picture) *shown {
	if p == nil {
		return nil
	}
	source := p.Source
	if strings.HasPrefix(source, "/") {
		source = base + source
	}
	return &shown{source, p.Description}
}

func (l *Landed) part(b *quiz.Block) part {
	switch b.Kind {
	case quiz.TextBlock:
		return part{HTML: markdown.HTML(l.filler.Text(b.Text)), Words: l.filler.Plainly(readable(b.Text))}
	case quiz.PictureBlock:
		return part{Picture: picture(l.Base, b.Picture)}
	case quiz.ActionBlock:
		return part{Button: l.filler.Plainly(b.Label), Address: l.goal(b.Address, b.Signpost)}
	case quiz.LinkBlock:
		return part{Link: l.filler.Plainly(b.Label), Address: l.goal(b.Address, b.Signpost)}
	}
	var p part
	lines, total := l.Walker.Bill(b.Scale)
	for _, line := range lines {
		p.Bill = append(p.Bill, billed{l.filler.Plainly(line.Words),
			l.In.Voice.Figures(l.filler.Plainly(line.Detail)), l.In.Voice.Figures(line.Text)})
	}
	p.Total = l.In.Voice.Figures(l.Program.ScoreText(slices.Index(l.Program.ScaleKeys(), b.Scale), total))
	return p
}

// links are links and pictures of Markdown, whose addresses are read beside their words.
var links = regexp.MustCompile(`!?\[([^\]]*)\]\(([^)\s]+)[^)]*\)`)

// marks are what makes headings and strong words of Markdown.
var marks = regexp.MustCompile(`(?m)^#{1,6} +|\*\*|__`)

// readable is Markdown for those who read it as it is.
func readable(text string) string {
	return strings.TrimSpace(marks.ReplaceAllString(links.ReplaceAllString(text, "$1 ($2)"), ""))
}

// letter is the letter that a sheet makes.
func (s *sheet) letter() *Letter { return &Letter{Subject: s.Subject, page: s} }

// HTML writes the part that most read.
func (l *Letter) HTML() string {
	var b bytes.Buffer
	if err := letterHTML.Execute(&b, l.page); err != nil {
		panic(fmt.Sprintf("outbox: writing a letter: %v", err)) // the template ships with it
	}
	return b.String()
}

// Plain writes the part for those who read plain words.
func (l *Letter) Plain() string {
	var b bytes.Buffer
	if err := letterPlain.Execute(&b, l.page); err != nil {
		panic(fmt.Sprintf("outbox: writing a letter: %v", err))
	}
	return blank.ReplaceAllString(strings.TrimSpace(b.String()), "\n\n") + "\n"
}

// blank are more empty lines than one.
var blank = regexp.MustCompile(`\n[ \t]*\n([ \t]*\n)+`)
