package finding

import (
	"testing"

	"omphalos/core/saying/sayingtest"
)

func TestWords(t *testing.T) {
	sayingtest.Said(t, sayings, map[string]int{"say": 0, "mend": -1, "note": 3})
}
