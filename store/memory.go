package store

import (
	"sync"
	"time"

	"github.com/hashicorp/golang-lru/v2/simplelru"
)

// A Memory remembers values by key within so many bytes: what was not asked for longest goes
// first, and what is too large for a hundredth of it is not remembered at all. It serves any
// number of goroutines.
type Memory[V any] struct {
	most, held int
	kept       time.Duration
	size       func(V) int
	mu         sync.Mutex
	by         *simplelru.LRU[string, remembered[V]]
}

type remembered[V any] struct {
	value V
	size  int
	since time.Time
}

// entrySize is what an entry takes beside its value, in bytes.
const entrySize = 200

// NewMemory returns a Memory of most bytes, whose values have a size in bytes and are kept
// so long; 0 is for ever.
func NewMemory[V any](most int, kept time.Duration, size func(V) int) *Memory[V] {
	m := &Memory[V]{most: most, kept: kept, size: size}
	m.by, _ = simplelru.NewLRU(
		most/entrySize+1,
		func(_ string, gone remembered[V]) { m.held -= gone.size },
	) // never fails
	return m
}

// Get returns the value of a key, and false for none.
func (m *Memory[V]) Get(key string) (value V, known bool) {
	m.mu.Lock()
	defer m.mu.Unlock()
	r, known := m.by.Get(key)
	if known && m.kept > 0 && time.Since(r.since) > m.kept {
		m.by.Remove(key)
		return value, false
	}
	return r.value, known
}

// Add remembers a value in place of what was there.
func (m *Memory[V]) Add(key string, value V) {
	m.mu.Lock()
	defer m.mu.Unlock()
	m.add(key, value)
}

// AddNew is Add where nothing is remembered under the key.
func (m *Memory[V]) AddNew(key string, value V) {
	m.mu.Lock()
	defer m.mu.Unlock()
	if !m.by.Contains(key) {
		m.add(key, value)
	}
}

func (m *Memory[V]) add(key string, value V) {
	m.by.Remove(key)
	r := remembered[V]{value, m.size(value) + len(key) + entrySize, time.Now()}
	if r.size > m.most/100 {
		return
	}
	for m.held+r.size > m.most {
		m.by.RemoveOldest()
	}
	m.held += r.size
	m.by.Add(key, r)
}

// Remove forgets a key.
func (m *Memory[V]) Remove(key string) {
	m.mu.Lock()
	defer m.mu.Unlock()
	m.by.Remove(key)
}

// Clear forgets everything.
func (m *Memory[V]) Clear() {
	m.mu.Lock()
	defer m.mu.Unlock()
	m.by.Purge()
}
