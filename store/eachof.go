package store

import (
	"context"
	"slices"

	"omphalos/store/tally"
)

// readTogether is how many responses are read with one statement, readAhead how many of these
// are held: some of them are read side by side.
const (
	readTogether = 2000
	readAhead    = 3
)

// EachOf gives f the responses of a quiz that all parts name at this moment, in the order of
// their numbers and with contact, until it fails. Each is good until f returns. After some it
// calls between: there is time to wait for whoever takes them, since no more is read than the
// next few. It holds the numbers of all, and so many responses as are read ahead.
func (rs *Responses) EachOf(
	ctx context.Context,
	quiz uint,
	parts []tally.Part,
	f func(*Response) error,
	between func() error,
) error {
	var numbers []int
	err := rs.Tally(ctx, quiz, func(t *tally.Tally) {
		slice := t.Slice(parts...)
		numbers = slice.Page(tally.Order{}, 0, slice.Count())
	})
	if err != nil {
		return err
	}
	read := func(numbers []int, into []Response) ([]Response, error) {
		list, err := rs.together(ctx, quiz, among(numbers), "''", into)
		if err != nil {
			return nil, err
		}
		return list, rs.addContacts(ctx, quiz, numbers, list)
	}
	return ahead(ctx, numbers, read, f, between)
}

// NewestOf gives f the newest responses of a quiz that all parts name, at most so many, with
// what is known of the visitor and without contact, in the order of their numbers.
func (rs *Responses) NewestOf(ctx context.Context, quiz uint, parts []tally.Part, most int,
	f func(*Response) error) error {
	numbers, err := rs.NewestNumbers(ctx, quiz, parts, most)
	if err != nil {
		return err
	}
	slices.Reverse(numbers)
	read := func(numbers []int, into []Response) ([]Response, error) {
		return rs.together(ctx, quiz, among(numbers), "visitor", into)
	}
	return ahead(ctx, numbers, read, f, func() error { return nil })
}

// A Reading says what is read of responses beside their answers.
type Reading struct{ Visitor, Contacts bool }

// EachTogether gives f the newest responses of a quiz that all parts name, at most so many: some at
// a time, in several goroutines. They are good until f returns. After some it calls between with
// how many were given.
func (rs *Responses) EachTogether(
	ctx context.Context,
	quiz uint,
	parts []tally.Part,
	most int,
	with Reading,
	f func([]Response) error,
	between func(done int) error,
) error {
	numbers, err := rs.NewestNumbers(ctx, quiz, parts, most)
	if err != nil {
		return err
	}
	slices.Reverse(numbers)
	return rs.EachNumbered(ctx, quiz, numbers, with, f, between)
}

// EachNumbered is EachTogether for the responses with some numbers, which rise.
func (rs *Responses) EachNumbered(
	ctx context.Context,
	quiz uint,
	numbers []int,
	with Reading,
	f func([]Response) error,
	between func(done int) error,
) error {
	read := func(numbers []int, into []Response) ([]Response, error) {
		visitor := "''"
		if with.Visitor {
			visitor = "visitor"
		}
		list, err := rs.together(ctx, quiz, among(numbers), visitor, into)
		if err == nil && with.Contacts {
			err = rs.addContacts(ctx, quiz, numbers, list)
		}
		if err == nil {
			err = f(list)
		}
		return list, err
	}
	done := 0
	one := func(*Response) error { done++; return nil }
	return ahead(ctx, numbers, read, one, func() error { return between(done) })
}

// NewestNumbers returns the numbers of the newest responses of a quiz that all parts name, at most so many,
// the newest first.
func (rs *Responses) NewestNumbers(ctx context.Context, quiz uint, parts []tally.Part, most int) (numbers []int,
	err error) {
	err = rs.Tally(ctx, quiz, func(t *tally.Tally) {
		numbers = t.Slice(parts...).Page(tally.Order{Falling: true}, 0, most)
	})
	return numbers, err
}
