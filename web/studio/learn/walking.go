package learn

import (
	"bytes"
	"cmp"
	"context"
	"fmt"
	"net/http"
	"slices"
	"sync"

	"github.com/gin-gonic/gin"

	"omphalos/core/passage"
	"omphalos/core/replay"
	"omphalos/store"
	"omphalos/web/studio/desk"
)

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

// A reread player reads responses for all versions of a replay. It serves one goroutine.
type rereader struct {
	player  *replay.Player
	readers []*store.Reader
}

// play walks the newest responses of the slice, and fills in what they came to.
func (s *Room) play(ctx context.Context, z *store.Quiz, in *sliced, r *replay.Replay, page *replayPage,
	most int, tell func(done int) error) error {
	settings, err := s.Store.Responses.LeadSettings(ctx)
	if err != nil {
		return err
	}
	numbers, err := s.Store.Responses.NewestNumbers(ctx, z.ID, in.slice.All(), most)
	if err != nil {
		return err
	}
	ended, err := s.Store.Responses.EndedOf(ctx, z.ID, numbers, settings.Ended())
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
				Input: func(version int) passage.Input { return w.readers[version].Next(one) },
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
