// Package finish estimates the minutes that a casting costs after it has left
// its mould: the seam, gates and vents, and the faces that show.
//
// Every rate is common practice, no source, from memory; a shop's own watch
// beats it.
package finish

import (
	"math"

	"bathyform/core/derive"
	"bathyform/core/quantity"
)

const (
	perSeam   = 0.004  // min for a millimetre of seam that runs along an edge
	acrossAll = 2.0    // times that for a seam across a wall, where it shows
	perFlash  = 0.002  // min for a millimetre of land that was squeezed
	perScar   = 0.25   // min for every gate or vent, whatever its bore
	perArea   = 0.02   // min for a square millimetre of scar
	openFace  = 0.0015 // min for a square millimetre of free face that is sanded flat
	source    = "common practice, no source, from memory"
)

// Casting is what is finished on one casting.
type Casting struct {
	Seam     float64   // mm
	Across   float64   // share of the seam that crosses walls
	Land     float64   // mm of squeezed land, 0 for none
	Scars    []float64 // bores of gates and vents where they leave the part, mm
	FreeFace float64   // mm² that was open to the air as it cured
	Quality  string    // decorative, good or precision
	Pace     float64   // times as long as reckoned that the shop takes; 0 for 1
}

// Seam is the minutes of trimming for a length of seam in mm.
func Seam(length, across float64) float64 {
	return perSeam * length * (1 + (acrossAll-1)*max(0, min(1, across)))
}

// Minutes is what a casting takes.
func (c Casting) Minutes() derive.Number {
	scar, area := 0.0, 0.0
	for _, d := range c.Scars {
		scar += perScar + perArea*math.Pi/4*d*d
		area += math.Pi / 4 * d * d
	}
	care := map[string]float64{"decorative": 0.7, "precision": 1.6}[c.Quality]
	if care == 0 {
		care = 1
	}
	seam := derive.Of(
		quantity.Number,
		Seam(c.Seam, c.Across),
		"0.004 × seam × (1 + share across walls), minutes and mm",
		derive.From(
			"seam",
			quantity.Length,
			c.Seam,
			"the parting line",
		),
		derive.From("share across walls", quantity.Number, c.Across, "the parting line"),
	)
	gates := derive.Of(
		quantity.Number,
		scar,
		"0.25 × gates and vents + 0.02 × scars, minutes and mm²",
		derive.From("gates and vents", quantity.Number, float64(len(c.Scars)), "this design's channels"),
		derive.From("scars", quantity.Area, area/100, "of these channels' bores, where they leave the part"),
	)
	faces := derive.Of(
		quantity.Number,
		perFlash*c.Land+openFace*c.FreeFace,
		"0.002 × land + 0.0015 × open face, minutes, mm and mm²",
		derive.From(
			"land",
			quantity.Length,
			c.Land,
			"the seam of a squeeze mould",
		),
		derive.From("open face", quantity.Area, c.FreeFace/100, "the side that lay open"),
	)
	pace, by := c.Pace, "House practice, where the log says better than the rates"
	if !(pace > 0) {
		pace = 1
	}
	return derive.Of(quantity.Number, pace*care*(seam.Value+gates.Value+faces.Value), "the shop's pace × care × (seam + gates and vents "+
		"+ flash and open face), minutes for a casting",
		derive.From("the shop's pace", quantity.Number, pace, by),
		derive.From("care", quantity.Number, care, "0.7 decorative, 1 good, 1.6 precision; "+source),
		seam.As("seam (min)"), gates.As("gates and vents (min)"), faces.As("flash and open face (min)")).
		Noted("The rates are " + source + "; your own watch beats them.")
}
