package kinds

import (
	"bathyform/core/design"
	"bathyform/core/tone"
)

// Clay is two parts, clayed up.
var Clay = &Kind{
	Key: design.Clay, Name: "Two parts, clayed up", What: "bedded in clay to the parting, two pours",
	Halves: true, Keyed: true, Wear: 1, Blind: true, Bed: "clay",
	Suits: func(c Case) Suit {
		s := sprued(c, twoParts(c))
		s.For = append(s.For, "The seam is exactly where the clay puts it.")
		return s
	},
	Begin: bedded, Open: halved,
	Scenes: halves("First half over the clay bed", tone.Clay),
	Sheets: boarded("Clamping plates"), Bodies: printed,
}
