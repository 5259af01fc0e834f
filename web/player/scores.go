package player

import (
	"cmp"
	"math"
	"slices"
	"strconv"
	"strings"

	"omphalos/core/decimal"
	"omphalos/core/passage"
	"omphalos/core/quiz"
)

// A scores is what somebody scored, as one picture.
type scores struct {
	Form  quiz.ScoreForm
	Rows  []scoreRow
	Ruler *ruler
	Wheel *wheel
}

// A scoreRow is a scale with how far somebody came on it.
type scoreRow struct {
	Name, Text string
	Share      float64 // of the way from the lowest to the highest, or of what the leader has; 0 to 1
	First      bool    // nothing came further
}

// A ruler is a line from the lowest to the highest score, with the band that somebody is in.
type ruler struct {
	Name, Text string
	Told       string    // the score of the highest
	X          float64   // of rulerWidth; −1 where the ends are not known
	From, To   float64   // the band's ends
	Cuts       []float64 // between bands
}

// At is where the words below the mark stand, so that none is cut off.
func (r *ruler) At() float64 { return min(max(r.X, 40), rulerWidth-40) }

// Words say it to those who don't see it.
func (r *ruler) Words() string { return r.Name + ": " + r.Told }

// The ruler is drawn so wide, with so much room at its ends; a wheel has this radius around
// its middle.
const (
	rulerWidth  = 326
	rulerRoom   = 8
	wheelRadius = 96
	wheelMiddle = 110
)

// A wheel is a spoke for each scale, joined where somebody came to.
type wheel struct {
	Shape  string   // points of the polygon
	Rims   []string // of a half and of the whole
	Spokes []spoke
}

// A spoke goes from the middle to (X, Y); its number stands at (NumberX, NumberY).
type spoke struct {
	X, Y, NumberX, NumberY float64
	Number                 int
}

// scores returns the picture of what a passage scored, nil where its outcome shows none.
func (j *journey) scores(o *quiz.Outcome, r *passage.Result) *scores {
	switch o.ShowAs {
	case quiz.AsBars, quiz.AsWheel:
		s := &scores{Form: o.ShowAs, Rows: j.reached(r)}
		if o.ShowAs == quiz.AsWheel && len(s.Rows) > 2 {
			s.Wheel = wheelOf(s.Rows)
		}
		return s
	case quiz.AsLeaders:
		return &scores{Form: o.ShowAs, Rows: j.contended(r)}
	}
	if o.ShowScore == "" {
		return nil
	}
	return &scores{Form: quiz.OnRuler, Ruler: j.ruler(o.ShowScore, j.scored(o.ShowScore, r))}
}

// reached tells how far a passage came on each scale, amounts of money apart.
func (j *journey) reached(r *passage.Result) []scoreRow {
	var rows []scoreRow
	q := j.program.Quiz
	for i, key := range j.program.ScaleKeys() {
		if q.Scales[key].Kind == quiz.Money {
			continue
		}
		row := j.row(i, key, r)
		if low, high, known := j.ends(key); known {
			row.Share = share(r.Scores[i]-low, high-low)
		}
		rows = append(rows, row)
	}
	return led(rows)
}

// contended tells how near each contender of the leader step came to the one that leads; of
// a quiz without such a step all scales contend.
func (j *journey) contended(r *passage.Result) []scoreRow {
	q, keys := j.program.Quiz, j.program.ScaleKeys()
	var contenders []string
	for _, step := range quiz.InOrder(q.Decision.Steps) {
		if s := q.Decision.Steps[step]; s.Kind == quiz.LeaderStep {
			contenders = quiz.InOrder(s.Contenders)
			break
		}
	}
	if contenders == nil {
		return j.reached(r)
	}
	most := decimal.Decimal(0)
	for _, key := range contenders {
		if i := slices.Index(keys, key); i >= 0 {
			most = max(most, r.Scores[i])
		}
	}
	var rows []scoreRow
	for _, key := range contenders {
		i := slices.Index(keys, key)
		if i < 0 {
			continue
		}
		row := j.row(i, key, r)
		row.Share = share(r.Scores[i], most)
		rows = append(rows, row)
	}
	slices.SortStableFunc(rows, func(a, b scoreRow) int { return cmp.Compare(b.Share, a.Share) })
	return led(rows)
}

func led(rows []scoreRow) []scoreRow {
	most := 0.0
	for _, row := range rows {
		most = max(most, row.Share)
	}
	for i := range rows {
		rows[i].First = most > 0 && rows[i].Share == most
	}
	return rows
}

// row is a scale as a respondent reads it: the pull of an outcome by the outcome's headline,
// since its name is private.
func (j *journey) row(i int, key string, r *passage.Result) scoreRow {
	q := j.program.Quiz
	name := q.Scales[key].Name
	if o := q.Outcomes[q.Scales[key].Outcome]; o != nil {
		name = q.OutcomeShared(q.Scales[key].Outcome).Title
	}
	return scoreRow{Name: name, Text: j.tongue().figures(j.program.ScoreText(i, r.Scores[i]))}
}

// ends are the lowest and the highest score of a scale, where they are known.
func (r *released) ends(scale string) (low, high decimal.Decimal, known bool) {
	o := r.odds()
	if o == nil || !o.ExactScale(scale) || len(o.Scores[scale].Points) < 2 {
		return 0, 0, false
	}
	d := o.Scores[scale]
	return d.Lowest(), d.Highest(), true
}

func share(part, whole decimal.Decimal) float64 {
	if whole <= 0 {
		return 0
	}
	return min(max(part.Float64()/whole.Float64(), 0), 1)
}

// scored is what a passage scored on a scale.
func (j *journey) scored(scale string, r *passage.Result) decimal.Decimal {
	return r.Scores[slices.Index(j.program.ScaleKeys(), scale)]
}

// ruler draws a score of a scale.
func (r *released) ruler(scale string, score decimal.Decimal) *ruler {
	in, i := tongueOf(r.program), slices.Index(r.program.ScaleKeys(), scale)
	s := &ruler{Name: r.program.Quiz.Scales[scale].Name, Text: in.figures(r.program.ScoreText(i, score)), X: -1}
	low, high, known := r.ends(scale)
	if !known {
		return s
	}
	place := func(d decimal.Decimal) float64 {
		return rulerRoom + (rulerWidth-2*rulerRoom)*share(d-low, high-low)
	}
	s.Told, s.X = in.say("%v of %v", s.Text, in.figures(high.Words())), place(score)
	s.From, s.To = rulerRoom, rulerWidth-rulerRoom
	for _, cut := range cutsOf(r.program.Quiz, scale) {
		if cut <= low || cut > high {
			continue
		}
		at := place(cut)
		s.Cuts = append(s.Cuts, at)
		if cut <= score {
			s.From = at
		} else {
			s.To = min(s.To, at)
		}
	}
	return s
}

// cutsOf are the cuts of the first step that puts a scale into bands, from the lowest up.
func cutsOf(q *quiz.Quiz, scale string) []decimal.Decimal {
	for _, key := range quiz.InOrder(q.Decision.Steps) {
		step := q.Decision.Steps[key]
		if step.Kind != quiz.BandsStep || step.Scale != scale {
			continue
		}
		var cuts []decimal.Decimal
		for _, cut := range step.Cuts {
			cuts = append(cuts, cut.At)
		}
		slices.Sort(cuts)
		return cuts
	}
	return nil
}

// wheelOf draws rows as spokes, clockwise from the top.
func wheelOf(rows []scoreRow) *wheel {
	at := func(i int, radius float64) (x, y float64) {
		turn := 2*math.Pi*float64(i)/float64(len(rows)) - math.Pi/2
		return wheelMiddle + radius*math.Cos(turn), wheelMiddle + radius*math.Sin(turn)
	}
	points := func(radius func(i int) float64) string {
		var list []string
		for i := range rows {
			x, y := at(i, radius(i))
			list = append(list, strconv.FormatFloat(x, 'f', 1, 64)+","+strconv.FormatFloat(y, 'f', 1, 64))
		}
		return strings.Join(list, " ")
	}
	w := &wheel{Shape: points(func(i int) float64 { return wheelRadius * max(rows[i].Share, 0.03) })}
	for _, part := range []float64{0.5, 1} {
		w.Rims = append(w.Rims, points(func(int) float64 { return wheelRadius * part }))
	}
	for i := range rows {
		s := spoke{Number: i + 1}
		s.X, s.Y = at(i, wheelRadius)
		s.NumberX, s.NumberY = at(i, wheelRadius+9)
		w.Spokes = append(w.Spokes, s)
	}
	return w
}
