package learn

import (
	"bytes"
	"cmp"
	"context"
	"fmt"
	"net/http"
	"slices"
	"strconv"
	"strings"
	"sync"

	"github.com/gin-gonic/gin"

	"omphalos/core/passage"
	"omphalos/core/quiz"
	"omphalos/core/replay"
	"omphalos/store"
	"omphalos/store/tally"
	"omphalos/web/studio/desk"
	"omphalos/web/ui"
)

// What if responses had gone through another version: they are walked again, and compared with
// what they got.

// quickly is how many responses are walked while a page is waited for; of more it is told how far it
// has come. The changes are tried by themselves on the newest of them alone.
const (
	quickly    = 20_000
	mostTried  = 4_000_000 // walks through single changes
	mostMovers = 50
)

type replayPage struct {
	desk.Frame
	whatIf
	All     string // where all of them are walked, "" where they are
	Run     string // where that is done, "" where it is done already
	Slice   int    // responses of it
	Version []desk.Option
	Named   string   // the version that they go through
	Before  string   // the version from which changes are counted
	Chips   []string // the parts of the sentence

	Wrong string // why it can't be walked
	replayed
}

// The rooms that ask what would be, each with the slice.
type whatIf struct {
	Open                      string // which of them is open
	Figured, Replay, Aim, Won string // addresses
}

func (s *sentence) whatIf(open string) whatIf {
	return whatIf{open, s.at(s.clone()), s.beside("replay"), s.beside("aim"), s.beside("won")}
}

// A replayed slice is what the walk came to.
type replayed struct {
	Count, Moved int
	Part         float64
	Few          bool
	Streams      streams
	Figures      []change
	Changes      []changed
	Several      int
	Tried        int // responses for which changes were tried by themselves, 0 for all
	Touched      int
	Movers       []mover
	More         int // movers that are not listed
}

// A change is a figure before and after.
type change struct{ Before, After, Words string }

// A changed place with what it does.
type changed struct {
	Words  string
	Moves  int // by itself, -1 where it can't be made by itself
	Blamed int
	Sheet  string // where it is on the sheet, "" of a release
}

// A mover is somebody who would land elsewhere.
type mover struct {
	Name, Address string
	From, To      desk.Share
	Because       string
}

// replay shows what would be if the slice had gone through another version.
func (s *Room) replay(c *gin.Context) {
	z, in, ok := s.sliced(c)
	if !ok {
		return
	}
	if in.of == 0 { // nothing has been released: nobody has answered
		c.Redirect(http.StatusSeeOther, in.slice.at(in.slice.clone()))
		return
	}
	ctx := c.Request.Context()
	page := &replayPage{Frame: s.Frame(c, z.Title, "learn", z), whatIf: in.slice.whatIf("replay"), Before: fmt.Sprintf("release %d", in.of)}
	page.Chips = in.slice.words()
	after, err := s.version(z, in, c.Query("through"), page)
	if err == nil {
		_, page.Slice, err = s.Store.Responses.Find(ctx, z.ID, in.slice.All(), tally.Order{}, 0, 1)
	}
	if err != nil {
		s.Fail(c, err)
		return
	}
	whole := c.Query("most") == "all"
	if page.Slice > quickly && !whole {
		page.All = in.slice.replayAt(c.Query("through"), "all")
	}
	r, err := replay.New(in.quiz, after)
	if err != nil {
		page.Wrong = "This version can’t be walked yet: its findings say what is missing."
		s.Show(c, http.StatusOK, "replay", page)
		return
	}
	if whole && page.Slice > quickly && c.Query("run") == "" {
		page.Run = in.slice.replayAt(c.Query("through"), "all") + "&run=yes"
		s.Show(c, http.StatusOK, "replay", page)
		return
	}
	if whole && page.Slice > quickly {
		s.replayAll(c, z, in, r, page)
		return
	}
	if err := s.play(ctx, z, in, r, page, quickly, func(int) error { return nil }); err != nil {
		s.Fail(c, err)
		return
	}
	s.Show(c, http.StatusOK, "replay", page)
}

// replayAll tells how far it has come, a line each, and then shows what it came to.
func (s *Room) replayAll(c *gin.Context, z *store.Quiz, in *sliced, r *replay.Replay, page *replayPage) {
	done, ok := s.Sending(c)
	if !ok {
		return
	}
	defer done()
	c.Header("Content-Type", "text/plain; charset=utf-8")
	c.Status(http.StatusOK)
	to := desk.Slowly(c.Writer)
	tell := func(n int) error {
		fmt.Fprintf(to, "%d\n", n)
		return flushed(to, c.Writer)
	}
	err := s.play(c.Request.Context(), z, in, r, page, page.Slice, tell)
	var part []byte
	if err == nil {
		part, err = s.Views.Part("replay", "replayed", page)
	}
	if err == nil {
		fmt.Fprintf(to, "done\n%s", bytes.TrimSpace(part))
		err = flushed(to, c.Writer)
	}
	if err != nil {
		desk.Cut(c.Writer)
	}
}

func flushed(to interface{ Flush() error }, w http.ResponseWriter) error {
	return cmp.Or(to.Flush(), http.NewResponseController(w).Flush())
}

// version returns the version that the slice goes through: the draft, or a release.
func (s *Room) version(z *store.Quiz, in *sliced, named string, page *replayPage) (*quiz.Quiz, error) {
	page.Named = "the draft"
	page.Version = []desk.Option{{Value: in.slice.replayAt("", ""), Name: "the draft", Chosen: true}}
	var chosen *store.Release
	for i := range in.slice.releases {
		r := &in.slice.releases[i]
		option := desk.Option{Value: in.slice.replayAt(strconv.Itoa(r.Number), ""), Name: fmt.Sprintf("release %d", r.Number), Chosen: named == strconv.Itoa(r.Number)}
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
		list = append(list, s.timeWords())
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

// A reread player reads responses for all versions of a replay. It serves one goroutine.
type rereader struct {
	player  *replay.Player
	readers []*store.Reader
}

// play walks the newest responses of the slice, and fills in what they came to.
func (s *Room) play(ctx context.Context, z *store.Quiz, in *sliced, r *replay.Replay, page *replayPage, most int, tell func(done int) error) error {
	settings, err := s.Store.Responses.LeadSettings(ctx)
	if err != nil {
		return err
	}
	first, err := s.nth(ctx, z.ID, in.slice, most)
	if err != nil {
		return err
	}
	ended, err := s.Store.Responses.EndedOf(ctx, z.ID, first, append(settings.Ends(store.Won), settings.Ends(store.Lost)...))
	if err != nil {
		return err
	}
	tried := most
	if len(r.Changes) > 0 {
		tried = min(most, mostTried/len(r.Changes))
	}
	from, err := s.nth(ctx, z.ID, in.slice, tried)
	if err != nil {
		return err
	}
	reading := store.Reading{Visitor: r.Visitor(), Contacts: r.Contacts()}
	idle := make(chan *rereader, 8)
	var mine sync.Mutex
	sums := r.Sums()
	walk := func(list []store.Response) error {
		var w *rereader
		select {
		case w = <-idle:
		default:
			w = &rereader{player: r.Player()}
			for _, p := range r.Programs() {
				w.readers = append(w.readers, store.NewReader(p))
			}
		}
		for i := range list {
			one := &list[i]
			w.player.Play(replay.Response{
				Number: one.Number, Was: one.Outcome, Group: settings.State(ended[one.Number]).End,
				Asked: func(question string) bool {
					return slices.ContainsFunc(one.Asked, func(s store.Stop) bool { return s.Question == question })
				},
				Input: func(version int) passage.Input { return w.readers[version].Input(one) },
			}, one.Number >= from)
		}
		mine.Lock()
		sums.Add(w.player.Take(), mostMovers)
		mine.Unlock()
		select {
		case idle <- w:
		default:
		}
		return nil
	}
	if err := s.Store.Responses.EachTogether(ctx, z.ID, in.slice.All(), most, reading, walk, tell); err != nil {
		return err
	}
	return s.filled(ctx, z, in, r, page, sums)
}

// nth returns the number of the newest response but so many, 0 where there are fewer.
func (s *Room) nth(ctx context.Context, quiz uint, in *sentence, n int) (number int, err error) {
	list, err := s.Store.Responses.NewestNumbers(ctx, quiz, in.All(), n)
	if len(list) < n || err != nil {
		return 0, err
	}
	return list[len(list)-1], nil
}

// filled fills in what the walk came to.
func (s *Room) filled(ctx context.Context, z *store.Quiz, in *sliced, r *replay.Replay, page *replayPage, sums *replay.Sums) error {
	page.Count, page.Moved, page.Touched, page.Several = sums.Count, sums.Moved(), sums.Touched, sums.Several
	page.Part, page.Few = float64(page.Moved)/float64(max(page.Count, 1)), page.Count < fewest
	before, after := in.quiz, r.After.Quiz
	page.Streams = streamsOf(before, after, sums.Flow)
	page.Figures = figuresOf(before, after, sums)
	if sums.Tried < sums.Count {
		page.Tried = sums.Tried
	}
	for i, c := range r.Changes {
		one := changed{Words: c.Sentence, Moves: sums.Moves[i], Blamed: sums.Blamed[i]}
		if !c.Alone {
			one.Moves = -1
		}
		page.Changes = append(page.Changes, one)
	}
	numbers := make([]int, len(sums.Movers))
	for i, m := range sums.Movers {
		numbers[i] = m.Number
	}
	names, err := s.Store.Responses.NamesOf(ctx, z.ID, numbers)
	if err != nil {
		return err
	}
	for _, m := range sums.Movers {
		one := mover{Name: cmp.Or(names[m.Number], fmt.Sprintf("No. %d", m.Number)), Address: in.slice.of(m.Number),
			From: shownOutcome(before, m.Before), To: shownOutcome(after, m.After), Because: "several changes together"}
		if m.Blame != replay.Several {
			one.Because = r.Changes[m.Blame].Sentence
		}
		page.Movers = append(page.Movers, one)
	}
	page.More = page.Moved - len(page.Movers)
	return nil
}

// shownOutcome is how an outcome is shown, whichever version has it.
func shownOutcome(q *quiz.Quiz, key string) desk.Share {
	if o := desk.OutcomeOf(q, key); o.Name != "" {
		return o
	}
	return desk.Share{Outcome: key, Name: cmp.Or(key, "nothing"), Letter: "?", Class: "to-none"}
}

// figuresOf are the figures that a marketer looks at first: who fits, of all and of the leads that
// were won and lost.
func figuresOf(before, after *quiz.Quiz, s *replay.Sums) []change {
	fits := func(q *quiz.Quiz, key string) bool { o := q.Outcomes[key]; return o != nil && o.Standing == quiz.Fit }
	count := func(flow map[replay.Move]int) (was, is, all int) {
		for m, n := range flow {
			all += n
			if fits(before, m.Before) {
				was += n
			}
			if fits(after, m.After) {
				is += n
			}
		}
		return was, is, all
	}
	var list []change
	if was, is, all := count(s.Flow); all > 0 {
		list = append(list, change{ui.Percent(float64(was) / float64(all)), ui.Percent(float64(is) / float64(all)), "fit, of all"})
	}
	for _, end := range []string{store.Won, store.Lost} {
		if was, is, all := count(s.Groups[end]); all > 0 {
			list = append(list, change{ui.Count(was), ui.Count(is), "fit, of " + ui.Plural(all, "lead", "leads") + " that were " + end})
		}
	}
	return list
}
