package kinds

import (
	"fmt"

	"bathyform/core/design"
	"bathyform/core/finding"
	"bathyform/core/quantity"
	"bathyform/core/tone"
)

// Board is two parts on a parting board.
var Board = &Kind{
	Key: design.Board, Name: "Two parts on a parting board", What: "set in a board cut to its outline, two pours",
	Halves: true, Keyed: true, Wear: 1, Blind: true, Bed: "board",
	Suits: func(c Case) Suit {
		s := sprued(c, twoParts(c))
		if off := c.uneven(); off > 0 {
			s.Against = append(
				s.Against,
				measured(
					note(
						"parting-not-level",
						finding.Stop,
						"The parting is not level: a flat board leaves a wedge to close with clay.",
						"So far the line leaves the board's plane. Clay it up, or choose another edge for the parting.",
					),
					quantity.Length,
					off,
					max(unevenLeast, unevenShare*c.Height),
				),
			)
		} else if c.Known {
			s.For = append(s.For, "The parting is level: the board is cut once and used again.")
		}
		return s
	},
	Begin: func(b *Bench) {
		b.do(fmt.Sprintf("Set %s into the parting board at %.1f mm over the floor, close the gaps with clay.", b.parts(), b.Bed),
			"The template has the part's outline cut out of it.", "", boardMinutes+b.more(8))
	},
	Open:   halved,
	Scenes: halves("First half on the board", tone.Board),
	Sheets: boarded("Clamping plates"), Bodies: printed,
}
