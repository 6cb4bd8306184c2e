package gate

import (
	"math"

	"bathyform/core/channel"
	"bathyform/core/practice"
)

// Widths of the channels against the sprue's and the part. All common
// practice, no source.
const (
	runnerShare = 0.75  // of the sprue's bore
	runnerGates = 1.5   // of the gate's, at most
	gateShare   = 0.625 // of the sprue's bore: it is cut off
	gateOfPart  = 0.25  // of the side of a cube as large as the part, at most
	leastGate   = 1.0   // mm
	sprueGates  = 2.0   // of the gate's, at most, where it is proposed
)

// gateOf is how wide the gate of a part of a volume in mm³ is behind a sprue.
func gateOf(sprue, volume float64) float64 {
	return min(gateShare*sprue, max(leastGate, gateOfPart*math.Cbrt(volume)))
}

// SprueOf is the bore of a sprue for a part of a volume in mm³, by the house's.
func SprueOf(h practice.House, volume float64) float64 {
	return min(h.SprueBore, sprueGates*gateOf(h.SprueBore, volume))
}

// feed is the choices' way in for parts of a volume in mm³.
func (c Choices) feed(volume float64) channel.Feed {
	gate := gateOf(c.SprueBore, volume)
	return channel.Feed{
		Sprue:  c.SprueBore,
		Top:    c.SprueTop,
		Gate:   gate,
		Runner: min(runnerShare*c.SprueBore, runnerGates*gate),
		Rim:    c.WellWidth,
		Depth:  c.WellDepth,
		System: c.System,
	}
}

// Scaled is by how much a channel's bore changes with a sprue's, for parts of a
// volume in mm³: runners and gates go with it up to what the part bears.
func Scaled(k channel.Kind, from, to, volume float64) float64 {
	one, other := Choices{SprueBore: from}.feed(volume), Choices{SprueBore: to}.feed(volume)
	switch k {
	case channel.Gate:
		return other.Gate / one.Gate
	case channel.Runner:
		return other.Runner / one.Runner
	}
	return to / from
}

// Rung is the gap between rows of parts of a volume in mm³ that stand over one
// another, so that a runner lies between them.
func (c Choices) Rung(volume float64) float64 { return 2*c.Webs.Part + c.feed(volume).Runner }

// Pass is the gap between parts side by side through which two vents of a bore
// come up from those below.
func (c Choices) Pass(vent float64) float64 { return 2*c.Webs.Part + 2*vent + c.Webs.Apart }
