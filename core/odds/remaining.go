package odds

// Questions returns the expected number of questions on a passage.
func (o *Odds) Questions() float64 {
	sum := 0.0
	for n, share := range o.Lengths {
		sum += float64(n) * share
	}
	return sum
}

// Remaining returns, by question, how many questions are expected to follow it on the
// passages that come by, from what follows what (Flows): 0 where none does.
func (o *Odds) Remaining() map[string]float64 {
	out, onward := map[string]float64{}, map[string][]Flow{}
	for _, f := range o.Flows {
		out[f.From] += f.Share
		onward[f.From] = append(onward[f.From], f)
	}
	remaining := map[string]float64{}
	var after func(key string) float64 // flows lead forward, so it ends
	after = func(key string) float64 {
		if known, done := remaining[key]; done {
			return known
		}
		sum := 0.0
		for _, f := range onward[key] {
			if f.To != "" && out[key] > 0 {
				sum += f.Share / out[key] * (1 + after(f.To))
			}
		}
		remaining[key] = sum
		return sum
	}
	for key := range onward {
		after(key)
	}
	return remaining
}
