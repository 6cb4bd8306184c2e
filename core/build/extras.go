package build

import (
	"fmt"
	"math"

	"bathyform/core/derive"
	"bathyform/core/kind"
	"bathyform/core/quantity"
	"bathyform/core/slit"
	"bathyform/core/squeeze"
)

// Sizes of what only some kinds have; common practice, no source.
const (
	landWidth = 8.0  // mm
	excess    = 0.1  // share of the shot that is squeezed out
	finWidth  = 12.0 // mm of tape
	closeGap  = 2.0  // mm, from which a squeeze mould closes slowly
	hollow    = 0.6  // g/mL, a print with little infill
	spare     = 50   // mm that a fin is cut longer
)

// extras adds what only this kind of mould has.
func (c Case) extras(b *Build) {
	add := func(name string, n derive.Number) { b.Extras = append(b.Extras, Extra{name, n}) }
	switch c.Kind {
	case kind.Cut, kind.Tape, kind.Stretch, kind.OpenFace:
		if c.Rubber != nil {
			v := derive.From("masters", quantity.Volume, c.Part/1000, "their meshes")
			add("Lift on the master, if it is a hollow print", derive.Of(quantity.Mass, max(0, c.Rubber.Density-hollow)*c.Part/1000, "(density of the rubber − that of a hollow print) × volume",
				derive.From("density of the rubber (g/mL)", quantity.Number, c.Rubber.Density, "data sheet of "+c.Rubber.Name), derive.From("of a hollow print (g/mL)", quantity.Number, hollow, "from memory; weigh yours"), v))
		}
	}
	line := derive.From("parting line", quantity.Length, c.Plan.Line, "the division of the rubber")
	switch c.Kind {
	case kind.Cut, kind.Tape:
		g := slit.Lay(c.Plan, c.Box.Ring, !c.House.Straight)
		b.Cut = &g
		add("First pass of the blade", derive.Of(quantity.Length, g.First, "0.6 × nearest depth to the part, 15 mm at most", derive.From("nearest depth", quantity.Length, g.Nearest, "from the wall to the part along the parting")))
		add("Part at its nearest", derive.Of(quantity.Length, g.Nearest, "least way from the wall to the part along the parting", derive.From("once round the block", quantity.Length, g.Round, "the box")))
		if c.Kind == kind.Tape {
			add("Tape for the fins", derive.Of(quantity.Length, c.Plan.Line+spare, "parting line + something to hold", line, derive.From("to hold", quantity.Length, spare, "common practice, no source")).
				Noted(fmt.Sprintf("%.0f mm wide; it stands square on the part along the line.", finWidth)))
		}
	case kind.Squeeze:
		c.squeezed(add, line)
	case kind.Shell:
		add("Skin of rubber", derive.Of(quantity.Length, c.Skin, "thickness of the clay blanket", derive.From("blanket", quantity.Length, c.Skin, "this design")))
		add("Undercut that the clay bridges", derive.Of(quantity.Volume, c.Blanket.Bridged/1000, "columns of the lattice between two stretches of skin", derive.From("cell", quantity.Length, c.Blanket.Cell, "the lattice")))
		add("Outside of the skin, for the shell", derive.Of(quantity.Area, c.Blanket.Area/100, "surface that the shell is built on"))
		add("Hours to pour a worn skin again", derive.Of(quantity.Time, repourHours, "work without the cure", derive.From("work", quantity.Time, repourHours, "common practice, no source")))
		if at := c.even(b); at.Value > 0 {
			add("Pays from so many castings", at)
		}
	}
}

// squeezed is the land, the channel and the weight of a squeeze mould.
func (c Case) squeezed(add func(string, derive.Number), line derive.Input) {
	add("Land", derive.Of(quantity.Length, landWidth, "width of rubber round the cavity that closes", derive.From("width", quantity.Length, landWidth, "narrow lands beat heavy weights; common practice, no source")))
	excessVolume := excess * c.Shot
	bore := math.Sqrt(4*excessVolume*1000/(math.Pi*max(1, c.Plan.Line))) * math.Sqrt2 // half round
	add("Blind channel, half round", derive.Of(quantity.Length, bore, "bore of a half-round channel along the land that holds the excess",
		derive.From("excess", quantity.Volume, excessVolume, "a tenth of the shot; common practice, no source"), line))
	density := resinDensity
	f := squeeze.Flow{Viscosity: 1, PotLife: 600, Times: 10}
	source := "no resin is chosen: 1 Pa s, 10 min"
	if c.Resin != nil {
		density = c.Resin.Density
		if c.Resin.Traits.Viscosity > 0 && c.Resin.Traits.PotLife > 0 {
			f, source = squeeze.Flow{Viscosity: c.Resin.Traits.Viscosity, PotLife: c.Resin.Traits.PotLife * 60, Times: 10}, "data sheet of "+c.Resin.Name
		}
	}
	lift := squeeze.Uplift(density*1000, c.Plan.Ceiling()*1e-9)
	halfKg := 0.0
	if c.Rubber != nil {
		halfKg = c.half(2).Volume * 1e-6 * c.Rubber.Density
	}
	weight := squeeze.Weight(lift, halfKg)
	up := derive.From("lift of the resin (N)", quantity.Number, lift, "resin that would stand over the upper half's ceiling, up to its highest point")
	add("Weight to lay on", derive.Of(quantity.Mass, weight*1000, "1.5 × lift / g − upper half, never below nothing", up, derive.From("upper half", quantity.Mass, halfKg*1000, "half A")))
	force := (weight + halfKg) * squeeze.Gravity
	land := squeeze.Land{Length: c.Plan.Line / 1000, Width: landWidth / 1000}
	add("Flash at gel, at the least", derive.Of(quantity.Length, max(0.02, 1000*land.Flash(force-lift, closeGap/1000, f)), "squeeze film of a narrow strip: 1 / √(1/h² + 2 F t / (η L b³)), 0.02 mm at the least",
		derive.From("force that closes (N)", quantity.Number, max(0, force-lift), "weight + upper half − lift"), derive.From("land", quantity.Length, landWidth, "above"), line,
		derive.From("viscosity (Pa s)", quantity.Number, f.Viscosity, source)).Noted("A narrow land presses it thinner than a heavy weight. Stefan 1874, Reynolds 1886, from memory."))
}

// even is from how many castings on a shell costs less than block after block.
func (c Case) even(b *Build) derive.Number {
	const litre = 1000 * 1000
	block := (c.half(1).Volume + c.half(2).Volume) / litre
	skin := c.Blanket.Volume / litre
	n := float64(max(1, c.Cavities))
	life := max(1, math.Round(c.Life*n))
	eachBlock, eachSkin := blockHours+kind.RubberHours*block, repourHours+kind.RubberHours*skin
	at := Even(0, eachBlock, shellOnce, eachSkin, int(life))
	return derive.Of(quantity.Number, float64(at), "first number of castings from which shell + skins never cost more than blocks",
		derive.From("a block (h)", quantity.Number, eachBlock, fmt.Sprintf("%.1f h of work and %.2f L of rubber", blockHours, block)),
		derive.From("a skin (h)", quantity.Number, eachSkin, fmt.Sprintf("%.1f h of work and %.2f L of rubber", repourHours, skin)),
		derive.From("the shell, once (h)", quantity.Number, shellOnce, "common practice, no source"),
		derive.From("castings of a mould", quantity.Number, life, c.LifeFrom))
}

const (
	blockHours = 2.0 // of work for a block; common practice, no source
	shellOnce  = 6.0
)

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
