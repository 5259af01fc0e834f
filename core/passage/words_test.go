package passage

import (
	"testing"

	"omphalos/core/saying/sayingtest"
)

func TestWords(t *testing.T) {
	sayingtest.Said(t, sayings, map[string]int{"say": 0, "step": 2, "sayIn": 1})
}
