package gate_test

import (
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"omphalos/core/gate"
)

var noon = time.Date(2026, 11, 25, 12, 0, 0, 0, time.UTC)

func TestWhoIsLetIn(t *testing.T) {
	hour := time.Hour
	for name, c := range map[string]struct {
		gate           gate.Gate
		responses      int
		begins, midWay gate.State
	}{
		"nothing said":        {gate.Gate{}, 9000, gate.Open, gate.Open},
		"not yet":             {gate.Gate{Opens: noon.Add(time.Second)}, 0, gate.Early, gate.Open},
		"at its time":         {gate.Gate{Opens: noon}, 0, gate.Open, gate.Open},
		"until its time":      {gate.Gate{Closes: noon.Add(time.Second)}, 0, gate.Open, gate.Open},
		"just over":           {gate.Gate{Closes: noon}, 0, gate.Late, gate.Open},
		"over for an hour":    {gate.Gate{Closes: noon.Add(-hour)}, 0, gate.Late, gate.Late},
		"over, ten minutes":   {gate.Gate{Closes: noon.Add(-11 * time.Minute), Grace: 10}, 0, gate.Late, gate.Late},
		"over, at once":       {gate.Gate{Closes: noon, Grace: -1}, 0, gate.Late, gate.Late},
		"one left":            {gate.Gate{Most: 3}, 2, gate.Open, gate.Open},
		"as many as wanted":   {gate.Gate{Most: 3}, 3, gate.Full, gate.Full},
		"full, and just over": {gate.Gate{Most: 3, Closes: noon}, 3, gate.Late, gate.Full},
		"paused":              {gate.Gate{Paused: true, Shut: noon.Add(-time.Minute)}, 0, gate.Paused, gate.Open},
		"paused since long":   {gate.Gate{Paused: true, Shut: noon.Add(-2 * hour)}, 0, gate.Paused, gate.Paused},
		"closed":              {gate.Gate{Closed: true, Shut: noon.Add(-time.Minute)}, 0, gate.Closed, gate.Open},
		"closed and long over": {gate.Gate{Closed: true, Shut: noon.Add(-time.Minute),
			Closes: noon.Add(-2 * hour)}, 0, gate.Closed, gate.Late},
	} {
		assert.Equal(t, c.begins, c.gate.At(noon, c.responses), name)
		assert.Equal(t, c.midWay, c.gate.MidWay(noon, c.responses), name+", mid-way")
	}
}

// A quiz that is paused lets those go on who have begun.
func ExampleGate_MidWay() {
	g := gate.Gate{Paused: true, Shut: noon}
	fmt.Println(g.At(noon.Add(time.Minute), 0) == gate.Paused, g.MidWay(noon.Add(time.Minute), 0) == gate.Open)
	// Output: true true
}
