package sheet

import (
	"cmp"

	"omphalos/core/look"
	"omphalos/core/quiz"
)

// A lookPick is a part of a look as a word of a sentence: the words before it and what is after it, and what it may be.
type lookPick struct {
	Before, Label, After string
	Path                 quiz.Pointer
	Choices              []choice
	Chosen               string
	None                 string
}

// names of what a look may be, as a sentence has them.
var lookWords = map[string]string{
	"almanac": "Almanac", "poster": "Poster", "night": "Night", "letter": "Letter", "fair": "Fair",
	"porcelain": "Porcelain", "notebook": "Notebook", "salon": "Salon",
	"device": "light or dark, as the device is", "light": "always light", "dark": "always dark",
	"commissioner": "Commissioner", "literata": "Literata", "atkinson": "Atkinson", "fraunces": "Fraunces",
	"bricolage": "Bricolage", "shantell": "Shantell",
	"weight.light": "light", "strong": "strong", "heavy": "heavy",
	"square": "square", "soft": "a little rounded", "round": "round",
	"close": "close together", "even": "evenly apart", "airy": "far apart",
	"narrow": "narrow", "middle": "of a middle width", "wide": "wide",
	"start": "at the margin", "centre": "in the middle",
	"lines": "between lines", "dots": "over dotted lines", "blocks": "as filled blocks", "boxes": "in boxes",
	"solid": "filled", "across": "filled, as wide as the page", "outlined": "outlined",
	"knots": "knots", "bar": "a bar", "words": "words", "none": "nothing",
	"sheet": "a sheet", "rule": "a line beside headings", "ruled": "ruled paper", "tiles": "a band of tiles",
	"frame": "a frame",
	"above": "above the words", "centred": "above, in the middle", "beside": "beside the words",
	"full":   "from edge to edge",
	"behind": "behind the words", "letter.layout": "below the words, as in a letter",
	"rows": "below each other", "two": "two across", "three": "three across", "cards": "as cards",
	"ruler.scores": "on a ruler", "bars.scores": "as bars, all scales", "wheel.scores": "as a wheel, all scales",
	"leaders.scores": "as bars, what contended to decide",
	"slider":         "by a slider", "points": "by its points",
}

// madeSays is a line on each made look.
var madeSays = map[quiz.Made]string{
	quiz.Almanac:   "a reference book: hairlines and knots",
	quiz.Poster:    "warm paper, a picture across, cards",
	quiz.Night:     "dark, with bright lines",
	quiz.Letter:    "somebody wrote to them",
	quiz.Fair:      "one loud colour, blocks",
	quiz.Porcelain: "white and cobalt, tiles",
	quiz.Notebook:  "ruled paper and a hand",
	quiz.Salon:     "quiet, in the middle, framed",
}

func wordOf[T ~string](value T, kind string) string {
	return cmp.Or(lookWords[kind+"."+string(value)], lookWords[string(value)+"."+kind],
		lookWords[string(value)], string(value))
}

// pickOf is a part of a look: what is set, what it may be, and what it is where nothing is set.
func pickOf[T ~string](before, label, after string, path quiz.Pointer, set, ships T, all []T, kind string) lookPick {
	p := lookPick{Before: before, Label: label, After: after, Path: path, Chosen: string(set), None: wordOf(ships, kind)}
	for _, one := range all {
		if one != ships || one == set {
			p.Choices = append(p.Choices, choice{Key: string(one), Name: wordOf(one, kind)})
		}
	}
	return p
}

// layoutPick says where a picture stands, of an opening or a result.
func (sh *Sheet) layoutPick(path quiz.Pointer, set quiz.Layout, of string) lookPick {
	return pickOf("The picture stands", "Where the picture of "+of+" stands", "", path+"/layout", set,
		look.Of(sh.Doc.Look).Layout, quiz.Layouts, "layout")
}

// answersPick says how the answers of a question stand to each other; nil where there is one
// way only. Path is to be put in front.
func answersPick(q *quiz.Question) *lookPick {
	switch q.Kind {
	case quiz.Single, quiz.YesNo, quiz.Several:
		p := pickOf("Answers stand", "How its answers stand", "", "/layout", q.Layout, quiz.InRows,
			quiz.AnswerLayouts[:4], "")
		return &p
	case quiz.Pictures:
		p := pickOf("Pictures stand", "How its pictures stand", "", "/layout", q.Layout, quiz.TwoAcross,
			quiz.AnswerLayouts[1:4], "")
		return &p
	case quiz.Rating:
		p := pickOf("It is answered", "How it is answered", "", "/layout", q.Layout, "points",
			[]quiz.AnswerLayout{quiz.AsSlider}, "")
		return &p
	}
	return nil
}
