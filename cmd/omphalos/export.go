package main

import (
	"bufio"
	"errors"
	"fmt"
	"io"
	"net/url"
	"os"
	"path/filepath"
	"strings"
	"time"

	"github.com/spf13/cobra"

	"omphalos/interchange/rows"
	"omphalos/store"
	"omphalos/store/slice"
)

// What is takenOut of a workspace: the responses that a sentence names, in a format.
type takenOut struct {
	format, since, until string
	where                []string
	words                bool
}

func (o *takenOut) flags(c *cobra.Command) {
	c.Flags().StringVar(&o.format, "format", "", "responses as csv, xlsx, jsonl or parquet")
	c.Flags().StringVar(&o.since, "since", "",
		"responses since this day, such as 2026-10-01, in the time zone of the workspace")
	c.Flags().StringVar(&o.until, "until", "", "responses until this day, it included")
	c.Flags().StringArrayVar(&o.where, "where", nil,
		"responses that fit, such as outcome=walk; may be said more than once")
	c.Flags().BoolVar(&o.words, "words", false, "a second line of CSV that says what the columns are")
}

// asked tells whether something was said that is of responses alone.
func (o *takenOut) asked() bool {
	return o.since != "" || o.until != "" || len(o.where) > 0 || o.words
}

// sentence reads what the responses have to fit. Keys that no release has are mistakes.
func (o *takenOut) sentence(days slice.Days, table *slice.Table, releases []store.Release) (slice.Slice, error) {
	fields := url.Values{}
	for _, where := range o.where {
		for _, one := range strings.Split(where, "&") {
			field, value, set := strings.Cut(one, "=")
			if !set || value == "" {
				return slice.Slice{}, fmt.Errorf("--where %q is not FIELD=VALUE, as outcome=walk is", one)
			}
			fields.Add(strings.TrimSpace(field), strings.TrimSpace(value))
		}
	}
	for field, value := range map[string]string{"from": o.since, "to": o.until} {
		if value != "" {
			fields.Set(field, value)
		}
	}
	return slice.ReadOf(days, table, releases, fields)
}

// write writes the responses into a file, which is there when all of them are in it; "-" is
// standard output.
func (o *takenOut) write(c *cobra.Command, s *store.Store, z *store.Quiz, to string) error {
	format, err := rows.FormatOf(o.format)
	if err != nil {
		return err
	}
	releases, err := s.Definitions.Releases(c.Context(), z.ID)
	if err != nil {
		return err
	}
	shown, err := z.Document()
	if len(releases) > 0 {
		shown, err = releases[0].Read()
	}
	if err != nil {
		return err
	}
	zone := s.Responses.Zone()
	read, err := o.sentence(slice.DaysIn(zone), slice.NewTable(shown, releases, zone), releases)
	if err != nil {
		return err
	}
	out := slice.Out{
		Responses: s.Responses, Quiz: z.ID, Shown: shown, Releases: releases, Slice: read, Format: format, Words: o.words,
	}
	if to == "-" {
		_, err := o.into(c, out, c.OutOrStdout(), io.Discard)
		return err
	}
	f, err := os.CreateTemp(filepath.Dir(to), filepath.Base(to)+".*")
	if err != nil {
		return fmt.Errorf("writing the file: %w", err)
	}
	defer os.Remove(f.Name())
	defer f.Close()
	written, err := o.into(c, out, f, c.ErrOrStderr())
	if err == nil {
		err = errors.Join(f.Sync(), f.Close(), os.Rename(f.Name(), to))
	}
	if err != nil {
		return fmt.Errorf("writing the file: %w", err)
	}
	fmt.Fprintf(c.OutOrStdout(), "%s holds %d responses to “%s”\n", to, written, z.Title)
	return nil
}

// progressTime is how long nothing is said.
const progressTime = 2 * time.Second

// into writes the responses, tells how far it is, and returns how many there were.
func (o *takenOut) into(c *cobra.Command, out slice.Out, to, tells io.Writer) (written int, err error) {
	buffered, told := bufio.NewWriterSize(to, 1<<16), time.Now()
	err = out.Write(c.Context(), buffered, func(n int) error {
		if written = n; time.Since(told) >= progressTime {
			told = time.Now()
			fmt.Fprintf(tells, "%d responses …\n", n)
		}
		return nil
	})
	if err == nil {
		err = buffered.Flush()
	}
	return written, err
}
