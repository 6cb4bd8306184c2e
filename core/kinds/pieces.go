package kinds

import (
	"fmt"

	"bathyform/core/design"
	"bathyform/core/finding"
	"bathyform/core/finish"
	"bathyform/core/quantity"
	"bathyform/core/tone"
)

// Pieces is a mould of three pieces and more: side pieces fill the undercuts
// and slide out sideways before the halves open.
var Pieces = &Kind{
	Key: design.Pieces, Name: "Three pieces and more", What: "side pieces fill the undercuts and slide out sideways before the halves open",
	Halves: true, Sided: true, Keyed: true, Wear: 1.2, Bed: "clay",
	Suits: func(c Case) (s Suit) {
		if blindly(c, &s) {
			s.Against[0].Severity = finding.Stop
			return s
		}
		hard := 0
		for _, l := range c.Locked {
			if holds(l) {
				hard++
			}
		}
		switch {
		case len(c.Locked) == 0:
			s.Against = append(
				s.Against,
				note(
					"side-pieces-idle",
					finding.Watch,
					"Nothing is undercut: side pieces have nothing to do.",
					"Two parts do the same with less work.",
				),
			)
		case hard == 0:
			s.Against = append(
				s.Against,
				note(
					"side-pieces-unneeded",
					finding.Note,
					"No undercut wants a side piece here.",
					"What there is strips out of this rubber: two parts do the same with less work.",
				),
			)
			s.For = append(s.For, "Spares the rubber at the undercuts.")
		default:
			s.For = append(s.For, quantity.Plural(hard, "undercut", "undercuts")+" that no rubber strips out of.")
		}
		return sprued(c, s)
	},
	Begin: func(b *Bench) {
		bedded(b)
		if b.Alike > 1 {
			b.do(
				fmt.Sprintf("Pour %s to %s beforehand, one after the other from one little box, and set them on the board.",
					b.Sides[0], b.Sides[b.Alike-1]),
				"They are one shape: print or build its box once. With its step at the wall each is located in the block; draft "+
					"outwards, or it locks.",
				"",
				sideMinutes*float64(b.Alike),
			)
		}
		for i, name := range b.Sides[b.Alike:] {
			why := ""
			if i == 0 {
				why = "With its step at the wall, which locates it in the block; draft outwards, or it locks."
			}
			b.do(fmt.Sprintf("Wall off the place of %s.", Small(name)), why, "", sideMinutes)
		}
	},
	Open:   halved,
	Finish: func(f *finish.Casting, c Casting) { f.Seam *= 1 + 0.1*c.Sides },
	Scenes: halves("First half over the clay bed", tone.Clay),
	Sheets: boarded("Clamping plates"), Bodies: printed,
}
