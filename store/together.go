package store

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strconv"
	"strings"
	"time"

	"gorm.io/gorm"
)

// ahead gives f the responses with some numbers, and reads the next ones meanwhile.
func ahead(
	ctx context.Context,
	numbers []int,
	read func(numbers []int, into []Response) ([]Response, error),
	f func(*Response) error,
	between func() error,
) error {
	type chunk struct {
		list []Response
		err  error
	}
	ctx, stop := context.WithCancel(ctx)
	order, used := make(chan chan chunk, 1), make(chan []Response, readAhead)
	for range readAhead {
		used <- nil
	}
	go func() {
		defer close(order)
		for some := range slices.Chunk(numbers, readTogether) {
			into, one := <-used, make(chan chunk, 1)
			go func() {
				list, err := read(some, into)
				one <- chunk{list, err}
			}()
			select {
			case order <- one:
			case <-ctx.Done():
				<-one
				return
			}
		}
	}()
	defer func() {
		stop()
		close(used)
		for one := range order { // until what is being read has been
			<-one
		}
	}()
	for one := range order {
		some := <-one
		if some.err != nil {
			return some.err
		}
		for i := range some.list {
			if err := f(&some.list[i]); err != nil {
				return err
			}
		}
		if err := between(); err != nil {
			return err
		}
		used <- some.list
	}
	return ctx.Err()
}

// asOne writes texts as one, each with how many bytes it is before it: that is read quicker
// than one by one.
func asOne(columns ...string) string {
	texts := make([]string, len(columns))
	for i, column := range columns {
		text := "coalesce(" + column + ", '')"
		texts[i] = "octet_length(" + text + ") || ':' || " + text
	}
	return strings.Join(texts, " || ")
}

// apart reads what asOne has written. The error wraps errPacked.
func apart(text string, into ...*string) error {
	for _, field := range into {
		long, rest, _ := strings.Cut(text, ":")
		n, err := strconv.Atoi(long)
		if err != nil || n > len(rest) {
			return errPacked
		}
		*field, text = rest[:n], rest[n:]
	}
	return nil
}

// togetherColumns are the texts of a response that are read as one, in the order of part.
var togetherColumns = []string{
	"finished", `"end"`, "outcome", "landing", "country", "language", "device", "source", "medium", "campaign", "address",
}

// together reads some responses that count into the memory of a list, without contact, in the
// order of their numbers. The visitor is a column, or "”" where nothing is asked of it.
func (rs *Responses) together(
	ctx context.Context,
	quiz uint,
	which func(*gorm.DB) *gorm.DB,
	visitor string,
	list []Response,
) ([]Response, error) {
	// A context that can end makes the driver start a goroutine a row: it is asked between rows.
	rows, err := which(rs.db(context.WithoutCancel(ctx)).Model(&Response{}).
		Select("id, number, release_id, seconds, packed, "+asOne(append(slices.Clone(togetherColumns), visitor)...)).
		Where("quiz_id = ? AND NOT beside", quiz)).Order("number").Rows()
	if err != nil {
		return nil, found(err, "reading the responses of quiz %d", quiz)
	}
	defer rows.Close()
	list = list[:cap(list)]
	n := 0
	for ; rows.Next(); n++ {
		if n == len(list) {
			list = append(list, Response{})
		}
		r, text := &list[n], ""
		if err := rows.Scan(&r.ID, &r.Number, &r.ReleaseID, &r.Seconds, &r.Packed, &text); err != nil {
			return nil, found(err, "reading the responses of quiz %d", quiz)
		}
		if err := r.part(text); err != nil {
			return nil, err
		}
		if r.Scores, r.Answers, r.Asked, err = unpackInto(r.Scores, r.Answers, r.Asked, r.Packed); err != nil {
			return nil, fmt.Errorf("the response %d: %w", r.Number, err)
		}
	}
	return list[:n], errors.Join(found(rows.Err(), "reading the responses of quiz %d", quiz), ctx.Err())
}

// keptTime is how a time stands in the database.
const keptTime = "2006-01-02 15:04:05.999999999-07:00"

// part fills in the texts that were read as one.
func (r *Response) part(text string) (err error) {
	var finished string
	err = apart(text, &finished, &r.End, &r.Outcome, &r.Landing, &r.Country, &r.Language, &r.Device, &r.Source,
		&r.Medium, &r.Campaign, &r.Address,
		&r.Visitor)
	if err != nil {
		return fmt.Errorf("the response %d: %w", r.Number, err)
	}
	if r.Finished, err = time.Parse(keptTime, finished); err != nil {
		return fmt.Errorf("the response %d: %w", r.Number, err)
	}
	return nil
}

// among asks for numbers that rise: from the first to the last where none of those between is
// missing, which is quicker than one by one.
func among(numbers []int) func(*gorm.DB) *gorm.DB {
	first, last := numbers[0], numbers[len(numbers)-1]
	return func(q *gorm.DB) *gorm.DB {
		if last-first == len(numbers)-1 {
			return q.Where("number BETWEEN ? AND ?", first, last)
		}
		return q.Where("number IN ?", numbers)
	}
}

// addContacts reads what the respondents of some responses said of themselves.
func (rs *Responses) addContacts(ctx context.Context, quiz uint, numbers []int, list []Response) error {
	contacts, err := rs.contactsOf(ctx, quiz, numbers)
	for i := range list {
		list[i].Contacts = contacts[list[i].ID]
	}
	return err
}

// contactsOf reads what respondents said of themselves, by the IDs of their responses.
func (rs *Responses) contactsOf(ctx context.Context, quiz uint, numbers []int) (map[uint][]Contact, error) {
	rows, err := among(numbers)(rs.db(ctx).Model(&Contact{}).Select("response_id", "field", "kind", "value").
		Where("quiz_id = ?", quiz)).Rows()
	if err != nil {
		return nil, found(err, "reading contacts")
	}
	defer rows.Close()
	by := map[uint][]Contact{}
	for rows.Next() {
		c := Contact{WorkspaceID: rs.in}
		if err := rows.Scan(&c.ResponseID, &c.Field, &c.Kind, &c.Value); err != nil {
			return nil, found(err, "reading contacts")
		}
		by[c.ResponseID] = append(by[c.ResponseID], c)
	}
	return by, found(rows.Err(), "reading contacts")
}
