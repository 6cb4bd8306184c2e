package kinds

import (
	"fmt"

	"bathyform/core/axis"
	"bathyform/core/design"
	"bathyform/core/finding"
	"bathyform/core/finish"
	"bathyform/core/quantity"
	"bathyform/core/strip"
	"bathyform/core/tone"
)

// OpenFace is a block over a part that stands on its flat back.
var OpenFace = &Kind{
	Key: design.OpenFace, Name: "Open-face block", What: "fixed by its flat back to a board, rubber over it; castings have one free face",
	OnBoard: true, Resin: Poured, Wear: 1, Blind: true,
	Suits: func(c Case) (s Suit) {
		if !blindly(c, &s) {
			if c.Back < leastBack {
				f := measured(
					note(
						"no-flat-back",
						finding.Stop,
						"The part has no flat back to stand on.",
						"Share of its plan that is flat on the side away from the draw. An open-face block leaves that "+
							"side free: rubber runs under whatever does not lie on the board.",
					),
					quantity.Number,
					c.Back,
					leastBack,
				)
				s.Against = append(s.Against, f)
			} else {
				s.For = append(s.For, fmt.Sprintf("A flat back over %.0f %% of the plan.", 100*c.Back))
			}
			held := 0
			var at strip.Lock
			for _, l := range c.Overhang {
				if holds(l) || l.Answer == strip.Slit {
					if held == 0 {
						at = l
					}
					held++
				}
			}
			if held > 0 {
				f := note(
					"held-from-open-face",
					finding.Stop,
					"Leaving one way only, the part is held by what stands over it.",
					"Places that overhang as seen from the open face: a two-part draw would call most of them none.",
				)
				f.Figure, f.Where = finding.Of(quantity.Number, float64(held)), &at.At
				s.Against = append(s.Against, f)
			}
		}
		s.For = append(s.For, "One pour, one cure, no seam.")
		severity := finding.Watch
		if c.Rough {
			severity = finding.Note
		}
		s.Against = append(
			s.Against,
			note("back-uncontrolled", severity, "The back is not controlled; overfill is trimmed.", "It cures in the open air."),
		)
		return s
	},
	Begin: func(b *Bench) {
		b.do(
			"Fix "+b.parts()+" by the flat back to a level board, detail up.",
			"Rubber lifts whatever it can get under. Glue under the middle, not at the rim, where it copies.",
			"Hot glue and wax burn.",
			10+2*float64(b.Cavities),
		)
	},
	Open: func(b *Bench) {
		b.do("Take the box off, turn the block over, lift the part out.", "The open face is up from now on.", "", openMinutes)
	},
	Finish: func(f *finish.Casting, c Casting) { f.Seam, f.Scars, f.FreeFace = 0, nil, c.Free },
	Scenes: func(a, _, _ axis.Axis) []Scene {
		return []Scene{
			{"Rubber over the part on its board", a, tone.RubberA, tone.Board, tone.Master},
			{"Turned over, resin into the open face", a.Opposite(), tone.RubberA, "", tone.Resin},
		}
	},
	Extras: floats,
	Sheets: boxed, Bodies: box,
}
