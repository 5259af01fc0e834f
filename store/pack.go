package store

import (
	"encoding/binary"
	"errors"
	"fmt"
	"slices"

	"omphalos/core/decimal"
)

// The scores and answers of a response are kept in one value, in the order of the scales
// and of the passage:
//
//	version   one byte, 2
//	scores    how many, and for each the scale's key and the score in millionths
//	answers   how many, and for each the question's key, the row's key ("" but in a grid),
//	          the answer's key or what was typed, and the words written in
//	stays     for each question with an answer, the seconds there
//	others    how many other questions were asked, and for each the question's key, how many
//	          with answers come before it, and the seconds there
//
// Numbers are varints (of encoding/binary; scores signed), texts their length in bytes and
// their bytes, seconds one more than there were, 0 where that is not known. Version 1 ends
// after the answers. A version is not changed any more: what is to be kept otherwise gets
// another.
const (
	packedAnswers = 1
	packedVersion = 2
)

// errPacked says that a packed value can't be read.
var errPacked = errors.New("the answers of a response can't be read")

func pack(scores []ResponseScore, answers []ResponseAnswer, asked []Stop) []byte {
	b := make([]byte, 1, 32+24*len(scores)+32*len(answers))
	b[0] = packedVersion
	text := func(s string) { b = append(binary.AppendUvarint(b, uint64(len(s))), s...) }
	number := func(n int) { b = binary.AppendUvarint(b, uint64(max(n, 0))) }
	number(len(scores))
	for _, s := range scores {
		text(s.Scale)
		b = binary.AppendVarint(b, int64(s.Millionths))
	}
	number(len(answers))
	for _, a := range answers {
		text(a.Question)
		text(a.Row)
		text(a.Answer)
		text(a.WriteIn)
	}
	stays, others := map[string]int{}, 0
	for _, s := range asked {
		stays[s.Question] = s.Seconds + 1
	}
	answered := map[string]bool{}
	for i, a := range answers {
		if i == 0 || answers[i-1].Question != a.Question {
			answered[a.Question] = true
			number(stays[a.Question])
		}
	}
	for _, s := range asked {
		if !answered[s.Question] {
			others++
		}
	}
	number(others)
	before := 0
	for _, s := range asked {
		if answered[s.Question] {
			before++
			continue
		}
		text(s.Question)
		number(before)
		number(s.Seconds + 1)
	}
	return b
}

// unpack reads what pack writes, of any version. The error wraps errPacked.
func unpack(packed []byte) (scores []ResponseScore, answers []ResponseAnswer, asked []Stop, err error) {
	return unpackInto(nil, nil, nil, packed)
}

// unpackInto is unpack into the memory of slices that are not needed any more. Of version 1
// no question is known to have been asked but those with an answer.
func unpackInto(
	scores []ResponseScore,
	answers []ResponseAnswer,
	asked []Stop,
	packed []byte,
) ([]ResponseScore, []ResponseAnswer, []Stop, error) {
	if len(packed) == 0 {
		return nil, nil, nil, nil
	}
	if packed[0] != packedVersion && packed[0] != packedAnswers {
		return nil, nil, nil, fmt.Errorf("%w: version %d", errPacked, packed[0])
	}
	r := unpacker{rest: packed[1:], all: string(packed)}
	n := r.many()
	scores = slices.Grow(scores[:0], n)
	for range n {
		scale := r.text()
		score, size := binary.Varint(r.rest)
		if r.bad = r.bad || size <= 0; r.bad {
			break
		}
		r.rest = r.rest[size:]
		scores = append(scores, ResponseScore{scale, decimal.Decimal(score)})
	}
	n = r.many()
	answers, asked = slices.Grow(answers[:0], n), asked[:0]
	for range n {
		a := ResponseAnswer{r.text(), r.text(), r.text(), r.text()}
		if len(answers) == 0 || answers[len(answers)-1].Question != a.Question {
			asked = append(asked, Stop{a.Question, -1})
		}
		answers = append(answers, a)
	}
	if packed[0] == packedVersion {
		for i := range asked {
			asked[i].Seconds = int(r.number()) - 1
		}
		for k := range r.many() {
			s, before := Stop{Question: r.text()}, int(r.number())
			s.Seconds = int(r.number()) - 1
			if r.bad = r.bad || before+k > len(asked); r.bad {
				break
			}
			asked = slices.Insert(asked, before+k, s)
		}
	}
	if r.bad || len(r.rest) > 0 {
		return nil, nil, nil, errPacked
	}
	return scores, answers, asked, nil
}

// An unpacker reads one piece after the other; what is not there makes it bad.
type unpacker struct {
	rest []byte
	all  string // texts share its memory
	bad  bool
}

func (r *unpacker) number() uint64 {
	n, size := binary.Uvarint(r.rest)
	if r.bad = r.bad || size <= 0; r.bad {
		return 0
	}
	r.rest = r.rest[size:]
	return n
}

func (r *unpacker) text() string {
	n := r.number()
	if r.bad = r.bad || n > uint64(len(r.rest)); r.bad {
		return ""
	}
	from := len(r.all) - len(r.rest)
	r.rest = r.rest[n:]
	return r.all[from : from+int(n)]
}

// many reads how many follow, each of two bytes at the least.
func (r *unpacker) many() int {
	n := r.number()
	if r.bad = r.bad || n > uint64(len(r.rest)); r.bad {
		return 0
	}
	return int(n)
}
