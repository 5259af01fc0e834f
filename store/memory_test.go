package store

import (
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"
)

// Whatever is added, a Memory holds no more than it may, and what it returns is what was
// added last.
func TestMemoryIsBounded(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		const most = 1 << 16
		m := NewMemory(most, 0, func(s string) int { return len(s) })
		last := map[string]string{}
		for range rapid.IntRange(0, 400).Draw(t, "steps") {
			key := rapid.SampledFrom([]string{"a", "b", "c", "d", "e", "f", "g", "h"}).Draw(t, "key") +
				strings.Repeat("k", rapid.IntRange(0, 20).Draw(t, "more"))
			switch value := strings.Repeat("v", rapid.IntRange(0, 900).Draw(t, "size")); rapid.IntRange(0, 3).Draw(t, "what") {
			case 0:
				m.Remove(key)
				delete(last, key)
			case 1:
				if got, known := m.Get(key); known {
					assert.Equal(t, last[key], got)
				}
			default:
				m.Add(key, value)
				last[key] = value
			}
			held := 0
			for _, k := range m.by.Keys() {
				r, _ := m.by.Peek(k)
				held += r.size
			}
			assert.Equal(t, held, m.held)
			assert.LessOrEqual(t, m.held, most)
		}
	})
}

func TestMemoryForgets(t *testing.T) {
	m := NewMemory(1<<16, time.Nanosecond, func(s string) int { return len(s) })
	m.Add("a", "b")
	time.Sleep(time.Millisecond)
	_, known := m.Get("a")
	assert.False(t, known)
	m.Add("large", strings.Repeat("x", 1000))
	assert.Zero(t, m.held, "what is large is not remembered")
	m.AddNew("a", "first")
	m.AddNew("a", "second")
	m.kept = 0
	value, _ := m.Get("a")
	assert.Equal(t, "first", value)
}
