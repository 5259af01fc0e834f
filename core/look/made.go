package look

import "omphalos/core/quiz"

// A made is what a made look chooses.
type made struct {
	Light, Dark quiz.Colours
	Parts
}

var mades = map[quiz.Made]made{
	quiz.Almanac: {
		Light: quiz.Colours{Paper: "#f4f6f5", Sheet: "#ffffff", Ink: "#17232a", Accent: "#17627a", Mark: "#e0a11b"},
		Dark:  quiz.Colours{Paper: "#10191e", Sheet: "#17232a", Ink: "#eaf0ef", Accent: "#6fc0d8", Mark: "#e0a11b"},
		Parts: Parts{
			Scheme:   quiz.AsDevice,
			Typeface: quiz.Commissioner, Headings: quiz.Commissioner, Weight: quiz.StrongWeight,
			Corners: quiz.SoftCorners, Density: quiz.Even, Width: quiz.Middle, Align: quiz.AtStart,
			Answers: quiz.Lines, Buttons: quiz.Solid, Progress: quiz.Knots, Ornament: quiz.OnASheet, Layout: quiz.Above,
		},
	},
	quiz.Poster: {
		Light: quiz.Colours{Paper: "#fbf5e9", Sheet: "#ffffff", Ink: "#2e2a22", Accent: "#9c3d1e", Mark: "#3f6b4a"},
		Dark:  quiz.Colours{Paper: "#211b14", Sheet: "#2d251c", Ink: "#f5ebda", Accent: "#ec9468", Mark: "#9cc28f"},
		Parts: Parts{
			Scheme:   quiz.AsDevice,
			Typeface: quiz.Literata, Headings: quiz.Literata, Weight: quiz.StrongWeight,
			Corners: quiz.RoundCorners, Density: quiz.Even, Width: quiz.Middle, Align: quiz.AtStart,
			Answers: quiz.Boxes, Buttons: quiz.Across, Progress: quiz.Bar, Ornament: quiz.NoOrnament, Layout: quiz.Full,
		},
	},
	quiz.Night: {
		Light: quiz.Colours{Paper: "#eef3f5", Sheet: "#eef3f5", Ink: "#0e1b24", Accent: "#7a5200", Mark: "#17627a"},
		Dark:  quiz.Colours{Paper: "#0e1b24", Sheet: "#0e1b24", Ink: "#eaf1f2", Accent: "#f2c14e", Mark: "#7fc6d9"},
		Parts: Parts{
			Scheme:   quiz.DarkOnly,
			Typeface: quiz.Commissioner, Headings: quiz.Commissioner, Weight: quiz.HeavyWeight,
			Corners: quiz.SquareCorners, Density: quiz.Airy, Width: quiz.Narrow, Align: quiz.AtStart,
			Answers: quiz.Lines, Buttons: quiz.Outlined, Progress: quiz.InWords, Ornament: quiz.NoOrnament, Layout: quiz.Above,
		},
	},
	quiz.Letter: {
		Light: quiz.Colours{Paper: "#ffffff", Sheet: "#ffffff", Ink: "#1b1b1b", Accent: "#55662a", Mark: "#7a8f3a"},
		Dark:  quiz.Colours{Paper: "#171814", Sheet: "#171814", Ink: "#ededE4", Accent: "#b3c977", Mark: "#8fa650"},
		Parts: Parts{
			Scheme:   quiz.AsDevice,
			Typeface: quiz.Literata, Headings: quiz.Literata, Weight: quiz.LightWeight,
			Corners: quiz.SquareCorners, Density: quiz.Even, Width: quiz.Middle, Align: quiz.AtStart,
			Answers: quiz.Dots, Buttons: quiz.Solid, Progress: quiz.InWords, Ornament: quiz.Rule, Layout: quiz.Posted,
		},
	},
	quiz.Fair: {
		Light: quiz.Colours{Paper: "#f6c453", Sheet: "#ffe9b0", Ink: "#14213d", Accent: "#96231c", Mark: "#14213d"},
		Dark:  quiz.Colours{Paper: "#14213d", Sheet: "#1f3058", Ink: "#fdf0cd", Accent: "#ff9b85", Mark: "#f6c453"},
		Parts: Parts{
			Scheme:   quiz.AsDevice,
			Typeface: quiz.Atkinson, Headings: quiz.Atkinson, Weight: quiz.HeavyWeight,
			Corners: quiz.SquareCorners, Density: quiz.Close, Width: quiz.Middle, Align: quiz.AtStart,
			Answers: quiz.Blocks, Buttons: quiz.Across, Progress: quiz.Bar, Ornament: quiz.NoOrnament, Layout: quiz.Above,
		},
	},
	quiz.Porcelain: {
		Light: quiz.Colours{Paper: "#eef2fa", Sheet: "#ffffff", Ink: "#16224a", Accent: "#1f45b5", Mark: "#c2483c"},
		Dark:  quiz.Colours{Paper: "#0f1530", Sheet: "#182148", Ink: "#e9eefb", Accent: "#93aef7", Mark: "#f2a093"},
		Parts: Parts{
			Scheme:   quiz.AsDevice,
			Typeface: quiz.Commissioner, Headings: quiz.Bricolage, Weight: quiz.StrongWeight,
			Corners: quiz.SoftCorners, Density: quiz.Even, Width: quiz.Wide, Align: quiz.AtCentre,
			Answers: quiz.Boxes, Buttons: quiz.Solid, Progress: quiz.Knots, Ornament: quiz.Tiles, Layout: quiz.Beside,
		},
	},
	quiz.Notebook: {
		Light: quiz.Colours{Paper: "#fdfbf3", Sheet: "#fdfbf3", Ink: "#233045", Accent: "#2b5aa0", Mark: "#c8472f"},
		Dark:  quiz.Colours{Paper: "#1a2029", Sheet: "#1a2029", Ink: "#eeeade", Accent: "#8fb6ee", Mark: "#f08a74"},
		Parts: Parts{
			Scheme:   quiz.AsDevice,
			Typeface: quiz.Shantell, Headings: quiz.Shantell, Weight: quiz.StrongWeight,
			Corners: quiz.RoundCorners, Density: quiz.Even, Width: quiz.Narrow, Align: quiz.AtStart,
			Answers: quiz.Dots, Buttons: quiz.Outlined, Progress: quiz.InWords, Ornament: quiz.Ruled, Layout: quiz.Above,
		},
	},
	quiz.Salon: {
		Light: quiz.Colours{Paper: "#f6ece8", Sheet: "#fffaf7", Ink: "#3a1f2b", Accent: "#7d2848", Mark: "#a9743a"},
		Dark:  quiz.Colours{Paper: "#22141b", Sheet: "#2d1b24", Ink: "#f7e9e4", Accent: "#eba3b8", Mark: "#dcb078"},
		Parts: Parts{
			Scheme:   quiz.AsDevice,
			Typeface: quiz.Commissioner, Headings: quiz.Fraunces, Weight: quiz.LightWeight,
			Corners: quiz.RoundCorners, Density: quiz.Airy, Width: quiz.Middle, Align: quiz.AtCentre,
			Answers: quiz.Boxes, Buttons: quiz.Solid, Progress: quiz.Bar, Ornament: quiz.Framed, Layout: quiz.Centred,
		},
	},
}
