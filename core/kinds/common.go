package kinds

import (
	"bathyform/core/axis"
	"bathyform/core/derive"
	"bathyform/core/quantity"
	"bathyform/core/tone"
)

// ResinDensity is that of a resin where none is chosen, g/mL; from memory.
const ResinDensity = 1.1

// hollow is the density of a print with little infill, g/mL; from memory.
const hollow = 0.6

// halves are the scenes of a mould in halves.
func halves(first string, bed tone.Tone) func(a, b, resin axis.Axis) []Scene {
	return func(a, b, resin axis.Axis) []Scene {
		return []Scene{
			{first, a, tone.RubberA, bed, tone.Master},
			{"Turned, second half", b, tone.RubberA, tone.RubberB, tone.Master},
			{"Resin, and cure", resin, tone.RubberA, tone.RubberB, tone.Resin},
		}
	}
}

// cut are the scenes of a block that is opened afterwards.
func cut(a, _, resin axis.Axis) []Scene {
	return []Scene{
		{"Rubber, in one pour", a, tone.RubberA, tone.RubberA, tone.Master},
		{"Opened, part out", a, tone.RubberA, tone.RubberB, ""},
		{"Resin, and cure", resin, tone.RubberA, tone.RubberB, tone.Resin},
	}
}

// Sheets that kinds share; those of the box depend on its form.
var (
	boxed = []Sheet{
		{"boards", "Boards, butted"},
		{"jointed", "Boards, finger-jointed"},
		{"folded", "Box from one sheet"},
		{"blanking", "Blanking end"},
		{"bent", "Wall, bent from a strip"},
	}
	box     = []Sheet{{"box", "Box"}}
	printed = []Sheet{{"box", "Box"}, {"keys", "Keys"}}
)

// boarded are the sheets of a mould in halves.
func boarded(plates string) []Sheet {
	return append([]Sheet{{"parting-board", "Parting board"}, {"plates", plates}}, boxed...)
}

// floats is the lift on a master that rubber gets under.
func floats(b *Bench) []Extra {
	if b.Rubber == nil {
		return nil
	}
	return []Extra{
		{"Lift on the master, if it is a hollow print", derive.Of(
			quantity.Mass,
			max(0, b.Rubber.Density-hollow)*b.Part/1000,
			"(density of the rubber − density of a hollow print) × masters, never below nothing",
			derive.From(
				"density of the rubber",
				quantity.Density,
				b.Rubber.Density,
				"data sheet of "+b.Rubber.Name,
			),
			derive.From("density of a hollow print", quantity.Density, hollow, "from memory; weigh yours"),
			derive.From("masters", quantity.Volume, b.Part/1000, "the master"),
		)},
	}
}
