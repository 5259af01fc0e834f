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
//	version   one byte, 1
//	scores    how many, and for each the scale's key and the score in millionths
//	answers   how many, and for each the question's key, the row's key ("" but in a grid),
//	          the answer's key or what was typed, and the words written in
//
// Numbers are varints (of encoding/binary; scores signed), texts their length in bytes and
// their bytes. A version is not changed any more: what is to be kept otherwise gets another.
const packedVersion = 1

// errPacked says that a packed value can't be read.
var errPacked = errors.New("the answers of a response can't be read")

func pack(scores []ResponseScore, answers []ResponseAnswer) []byte {
	b := make([]byte, 1, 32+24*len(scores)+32*len(answers))
	b[0] = packedVersion
	text := func(s string) { b = append(binary.AppendUvarint(b, uint64(len(s))), s...) }
	b = binary.AppendUvarint(b, uint64(len(scores)))
	for _, s := range scores {
		text(s.Scale)
		b = binary.AppendVarint(b, int64(s.Millionths))
	}
	b = binary.AppendUvarint(b, uint64(len(answers)))
	for _, a := range answers {
		text(a.Question)
		text(a.Row)
		text(a.Answer)
		text(a.WriteIn)
	}
	return b
}

// unpack reads what pack writes, of any version. The error wraps errPacked.
func unpack(packed []byte) (scores []ResponseScore, answers []ResponseAnswer, err error) {
	return unpackInto(nil, nil, packed)
}

// unpackInto is unpack into the memory of slices that are not needed any more.
func unpackInto(
	scores []ResponseScore,
	answers []ResponseAnswer,
	packed []byte,
) ([]ResponseScore, []ResponseAnswer, error) {
	if len(packed) == 0 {
		return nil, nil, nil
	}
	if packed[0] != packedVersion {
		return nil, nil, fmt.Errorf("%w: version %d", errPacked, packed[0])
	}
	rest, all := packed[1:], string(packed) // texts share the memory of one
	bad := false
	number := func() uint64 {
		n, size := binary.Uvarint(rest)
		if bad = bad || size <= 0; bad {
			return 0
		}
		rest = rest[size:]
		return n
	}
	text := func() string {
		n := number()
		if bad = bad || n > uint64(len(rest)); bad {
			return ""
		}
		from := len(all) - len(rest)
		rest = rest[n:]
		return all[from : from+int(n)]
	}
	// Each takes two bytes at the least: more can't be there.
	many := func() int {
		n := number()
		if bad = bad || n > uint64(len(rest)); bad {
			return 0
		}
		return int(n)
	}
	n := many()
	scores = slices.Grow(scores[:0], n)
	for range n {
		scale := text()
		score, size := binary.Varint(rest)
		if bad = bad || size <= 0; bad {
			break
		}
		rest = rest[size:]
		scores = append(scores, ResponseScore{scale, decimal.Decimal(score)})
	}
	n = many()
	answers = slices.Grow(answers[:0], n)
	for range n {
		answers = append(answers, ResponseAnswer{text(), text(), text(), text()})
	}
	if bad || len(rest) > 0 {
		return nil, nil, errPacked
	}
	return scores, answers, nil
}
