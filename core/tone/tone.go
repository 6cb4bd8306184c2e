// Package tone names what an area or a line of a picture stands for. Page and
// paper give each its colour, a cutter its tool.
package tone

// Tone is what an area or a line stands for.
type Tone string

// The tones of a chart.
const (
	Block   Tone = "block"    // the box and all in it
	RubberA Tone = "rubber-a" // half A, or the whole of a block
	RubberB Tone = "rubber-b"
	Side    Tone = "side"
	Clay    Tone = "clay"
	Board   Tone = "board"
	Master  Tone = "master"
	Resin   Tone = "resin"
	Shell   Tone = "shell"
	Ink     Tone = "ink"
	Seam    Tone = "seam"
)

// What is done along a line of a template: the layers of its file.
const (
	Cut   Tone = "CUT"
	Score Tone = "SCORE"
	Mark  Tone = "MARK"
)
