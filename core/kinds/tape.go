package kinds

import (
	"fmt"

	"bathyform/core/derive"
	"bathyform/core/design"
	"bathyform/core/finding"
	"bathyform/core/quantity"
)

// finWidth is that of the tape, and spare how much longer a fin is cut, mm.
// Common practice, no source.
const (
	finWidth = 12.0
	spare    = 50.0
)

// Tape is a clear block, cut through to tape fins along the parting.
var Tape = &Kind{
	Key: design.Tape, Name: "Tape-parted clear block", What: "clear rubber with tape fins along the parting, cut through to them",
	Held: true, Cut: true, Wear: 0.8,
	Suits: func(c Case) Suit {
		s := sprued(c, twoParts(c))
		if !c.Known {
			s.Against[0].Severity = finding.Stop // fins follow a line that nobody knows
		}
		if c.uneven() > 0 {
			s.For = append(s.For, "The parting is not level; the tape follows it.")
		}
		s.Against = append(s.Against, (&Bench{Rubber: c.Rubber}).clear()...)
		return s
	},
	Begin: func(b *Bench) {
		b.held()
		b.do(
			fmt.Sprintf("Set the tape fins along the parting, %.0f mm in all, edges inked.", b.Line),
			"The cutter sees them through the rubber; each fin vents the parting as well.",
			"",
			tapeMinutes,
		)
	},
	Open:   cutOpen,
	Scenes: cut,
	Extras: func(b *Bench) []Extra {
		return append(cutExtras(b), Extra{"Tape for the fins", derive.Of(
			quantity.Length,
			b.Line+spare,
			"parting line + to hold",
			derive.From(
				"parting line",
				quantity.Length,
				b.Line,
				"the division of the rubber",
			),
			derive.From("to hold", quantity.Length, spare, "common practice, no source"),
		).
			Noted(fmt.Sprintf("%.0f mm wide; it stands square on the part along the line.", finWidth))})
	},
	Sheets: append([]Sheet{{"wrap", "Cut guide to wrap round"}, {"fins", "Tape fins"}}, boxed...), Bodies: box,
}
