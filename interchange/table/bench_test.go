package table

import (
	"bytes"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"math/rand/v2"
	"testing"

	"omphalos/core/quiztest"
)

// respondents writes a table of answers to quiztest.Thirty.
func respondents(rows int) []byte {
	var b bytes.Buffer
	b.WriteString("id")
	for i := range 30 {
		fmt.Fprintf(&b, ",q%d", i)
	}
	b.WriteByte('\n')
	chance := rand.New(rand.NewPCG(1, 2))
	for r := range rows {
		fmt.Fprint(&b, r)
		for range 30 {
			fmt.Fprintf(&b, ",a%d", chance.IntN(4))
		}
		b.WriteByte('\n')
	}
	return b.Bytes()
}

const benchRows = 100_000

// BenchmarkScore is to be read beside BenchmarkReadAlone.
func BenchmarkScore(b *testing.B) {
	p := quiztest.Thirty().Compile(b)
	in := respondents(benchRows)
	b.SetBytes(int64(len(in)))
	for b.Loop() {
		good, _, err := Score(p, bytes.NewReader(in), io.Discard, Options{})
		if err != nil || good != benchRows {
			b.Fatal(good, err)
		}
	}
	b.ReportMetric(benchRows*float64(b.N)/b.Elapsed().Seconds(), "rows/s")
}

func BenchmarkReadAlone(b *testing.B) {
	in := respondents(benchRows)
	b.SetBytes(int64(len(in)))
	for b.Loop() {
		r := csv.NewReader(bytes.NewReader(in))
		r.ReuseRecord = true
		for {
			if _, err := r.Read(); errors.Is(err, io.EOF) {
				break
			} else if err != nil {
				b.Fatal(err)
			}
		}
	}
	b.ReportMetric(benchRows*float64(b.N)/b.Elapsed().Seconds(), "rows/s")
}
