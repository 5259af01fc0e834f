package quiz

import (
	"testing"

	"omphalos/core/saying/sayingtest"
)

func TestWords(t *testing.T) {
	sayingtest.Said(t, sayings, map[string]int{"say": 0, "note": 2, "refuse": 2})
}
