package kinds

import (
	"fmt"

	"bathyform/core/design"
	"bathyform/core/finding"
	"bathyform/core/finish"
	"bathyform/core/mix"
	"bathyform/core/quantity"
)

// Stretch is a soft block that is peeled off like a sock.
var Stretch = &Kind{
	Key: design.Stretch, Name: "Soft stretch block", What: "very soft rubber peeled off like a sock, no cut",
	Held: true, Peeled: true, Wear: 0.75, Blind: true,
	Suits: func(c Case) (s Suit) {
		if c.Long > peelLong {
			s.Against = append(
				s.Against,
				measured(
					note(
						"too-long-to-peel",
						finding.Stop,
						fmt.Sprintf("%.0f mm is too long to peel.", c.Long),
						"Rubber is rolled back over the part in one go: the longer it is, the more it stretches at the rim.",
					),
					quantity.Length,
					c.Long,
					peelLong,
				),
			)
		}
		remedy := []finding.Remedy{{Label: "Choose a rubber", Action: finding.OpenStock}}
		shore, what := mix.UsualRubber.Shore, "A usual rubber does not peel like a sock, and none is chosen."
		if c.Rubber != nil {
			shore, what = c.Rubber.Traits.Shore, "This rubber does not peel like a sock."
		}
		if shore == 0 {
			f := note(
				"rubber-softness-unknown",
				finding.Watch,
				"Nobody knows whether this rubber peels: its sheet does not say how soft it is.",
				"A block without a cut wants a rubber of 15 A or softer.",
			)
			f.Limit, f.Remedies = finding.Of(quantity.Number, peelSoft), remedy
			s.Against = append(s.Against, f)
		} else if shore > peelSoft {
			f := measured(note("rubber-too-stiff-to-peel", finding.Stop, what, "A block without a cut wants a rubber "+
				"of 15 A or softer."), quantity.Number, shore, peelSoft)
			f.Remedies = remedy
			s.Against = append(s.Against, f)
		}
		s.For = append(s.For, "Seamless; deep undercuts come out.")
		s.Against = append(
			s.Against,
			note("soft-rubber-wears", finding.Note, "Soft rubber wears fast.", "Every pull stretches it over the widest place."),
		)
		return sprued(c, s)
	},
	Begin: func(b *Bench) { b.held() },
	Open: func(b *Bench) {
		b.do("Peel the rubber off like a sock, from the sprue on.", "Talc or soapy water helps.", "", openMinutes)
	},
	Finish: func(f *finish.Casting, _ Casting) { f.Seam = 0 },
	Scenes: cut, Extras: floats,
	Sheets: boxed, Bodies: box,
}
