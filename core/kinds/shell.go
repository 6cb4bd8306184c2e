package kinds

import (
	"fmt"
	"math"

	"bathyform/core/axis"
	"bathyform/core/derive"
	"bathyform/core/design"
	"bathyform/core/finding"
	"bathyform/core/quantity"
	"bathyform/core/tone"
)

// UsualSkin is the rubber in a shell, mm. Common practice, no source.
const UsualSkin = 11.0

// What a block costs against a shell; common practice, no source.
const (
	blockHours = 2.0 // of work for a block
	shellOnce  = 6.0 // for the shell itself
	litreHours = RubberHours
)

// RubberHours is the hours of work that a litre of rubber is worth. Common
// practice, no source, from memory.
const RubberHours = 1.4

// Shell is a skin of rubber in a rigid shell.
var Shell = &Kind{
	Key: design.Shell, Name: "Rubber skin in a rigid shell", What: "a clay blanket, a shell over it, rubber poured " +
		"into the gap; a worn skin is poured again",
	Shelled: true, Wear: 1, Again: repourHours,
	Suits: func(c Case) Suit {
		s := sprued(c, twoParts(c))
		if !c.Known {
			s.Against[0].Severity = finding.Stop // a skin follows a surface that nobody knows
			return s
		}
		if c.Wanted >= shellFrom {
			s.For = append(s.For, fmt.Sprintf("%d to make: worn skins are poured again with little rubber.", c.Wanted))
		} else {
			s.Against = append(s.Against, measured(note("too-few-for-a-shell", finding.Watch, few(c.Wanted),
				"The shell itself is a day's work."), quantity.Number, float64(c.Wanted), shellFrom))
		}
		return s
	},
	Begin: func(b *Bench) {
		b.do(
			"Set "+b.parts()+" on the base board and mark its place; cover with film.",
			"The shell has to come back to the same marks.",
			"",
			30,
		)
		b.do(
			fmt.Sprintf(
				"Lay clay %.0f mm thick all over, undercuts filled so that the shell draws; a bead along the parting, "+
					"a spout at the low end, vents at the high ones.",
				b.Skin,
			),
			"The clay's place is the rubber's place.",
			"",
			blanketMins,
		)
		b.do(
			"Build the first half of the shell over it, with a flange along the parting.",
			"Jute and plaster, or laminate, 10 to 15 mm.",
			plaster,
			shellHalf,
		)
		b.wait("It sets.", "", shellSets)
		b.do("Release on the flange; build the second half and drill both through for bolts.", "", plaster, shellHalf)
		b.wait("It sets.", "", shellSets)
		b.do(
			"Open the shell, take the clay out, clean part and shell; release on the shell; close it over the part on its marks.",
			"",
			sprays,
			60,
		)
	},
	Open: func(b *Bench) {
		b.do("Open the shell's halves, then peel the skin off.", "Not before the left-over in the cup is hard and dry.", "", openMinutes)
	},
	Scenes: func(a, _, resin axis.Axis) []Scene {
		return []Scene{
			{"Clay blanket, shell over it", a, tone.Clay, tone.Clay, tone.Master},
			{"Rubber in the clay's place", a, tone.RubberA, tone.RubberA, tone.Master},
			{"Resin, and cure", resin, tone.RubberA, tone.RubberB, tone.Resin},
		}
	},
	Extras: func(b *Bench) []Extra {
		out := []Extra{
			{
				"Skin of rubber",
				derive.Of(
					quantity.Length,
					b.Skin,
					"thickness of the clay blanket",
					derive.From("blanket", quantity.Length, b.Skin, "this design"),
				),
			},
			{
				"Undercut that the clay bridges",
				derive.Of(
					quantity.Volume,
					b.Bridged/1000,
					"columns of the lattice between two stretches of skin",
					derive.From("cell", quantity.Length, b.Lattice, "the lattice"),
				),
			},
			{"Outside of the skin, for the shell", derive.Of(quantity.Area, b.Shell/100, "surface that the shell is built on")},
			{
				"Hours to pour a worn skin again",
				derive.Of(
					quantity.Time,
					repourHours,
					"work without the cure",
					derive.From("work", quantity.Time, repourHours, "common practice, no source"),
				),
			},
		}
		return out
	},
	Sheets: []Sheet{{"flange", "Shell flange"}},
	Bodies: []Sheet{{"blanket", "Blanket"}, {"core", "What the shell is built over"}},
}

// ShellPays is from how many castings on a shell costs less than block after
// block of so many mL, against skins of so many.
func ShellPays(block, skin, life float64) Number {
	life = max(1, math.Round(life))
	eachBlock, eachSkin := blockHours+litreHours*block/1000, repourHours+litreHours*skin/1000
	return derive.Of(
		quantity.Number,
		float64(Even(0, eachBlock, shellOnce, eachSkin, int(life))),
		"first number of castings from which shell + skins never cost more than blocks",
		derive.From("a block (h)", quantity.Number, eachBlock, fmt.Sprintf("%.1f h of work and %.2f L of rubber", blockHours, block/1000)),
		derive.From("a skin (h)", quantity.Number, eachSkin, fmt.Sprintf("%.1f h of work and %.2f L of rubber", repourHours, skin/1000)),
		derive.From("the shell, once (h)", quantity.Number, shellOnce, "common practice, no source"),
		derive.From("castings of a mould", quantity.Number, life, "life of a mould × cavities"),
	)
}

// Even is the first quantity from which a method with a higher start never
// costs more than another again: start + each mould, one for every life
// castings. 0 where it never does.
func Even(startA, eachA, startB, eachB float64, life int) int {
	if eachB >= eachA || life < 1 {
		return 0
	}
	moulds := max(1, math.Ceil((startB-startA)/(eachA-eachB)-1e-9))
	return (int(moulds)-1)*life + 1
}
