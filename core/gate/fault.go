package gate

import (
	"fmt"
	"math"

	"bathyform/core/gap"
)

// Fault is the diameter in mm of the smallest bubble that matters in a
// casting; what is smaller is not spoken of. The zero Fault is that of a good
// casting. The pot's pressure is not counted on: it makes a pocket smaller, and
// does not remove it.
type Fault float64

// What orders bear: a bubble of half a millimetre in what is measured, of a
// millimetre in what is looked at, of two in what is seen from afar. Common
// practice, no source.
const (
	precise    Fault = 0.5
	good       Fault = 1
	decorative Fault = 2
)

// spoiling is by how much wider a bubble is that makes scrap of a casting.
// Common practice, no source.
const spoiling = 3.4

// FaultOf is the smallest fault that an order of a quality does not bear.
func FaultOf(quality string) Fault {
	switch quality {
	case "decorative":
		return decorative
	case "precision":
		return precise
	}
	return good
}

func (f Fault) of() Fault {
	if f == 0 {
		return good
	}
	return f
}

// Least is the volume in mm³ of the smallest pocket that matters.
func (f Fault) Least() float64 { return math.Pi / 6 * math.Pow(float64(f.of()), 3) }

// Matters reports whether a pocket of so many mm³ is spoken of.
func (f Fault) Matters(volume float64) bool { return volume >= f.Least() }

// Spoils reports whether a pocket makes scrap of the casting.
func (f Fault) Spoils(volume float64) bool { return Across(volume) >= spoiling*float64(f.of()) }

// Across is the diameter in mm of the ball that a pocket of so many mm³ makes.
func Across(volume float64) float64 { return math.Cbrt(6 * volume / math.Pi) }

// why says how a pocket stands against what the casting bears, and what a pot
// of a gauge pressure in kPa would leave of it.
func (f Fault) why(volume, pressure float64) string {
	d := Across(volume)
	said := fmt.Sprintf("As a ball it is %.2g mm across, and the order bears less than %.2g mm.", d, float64(f.of()))
	if pressure > 0 {
		said += fmt.Sprintf(" A pot at %.3g kPa leaves %.2g mm of it.", pressure, gap.BubbleLeft(d, pressure*1000))
	}
	return said
}
