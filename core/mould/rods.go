package mould

import (
	"bathyform/core/derive"
	"bathyform/core/mesh"
	"bathyform/core/pieces"
	"bathyform/core/quantity"
)

// Rod is what stands in the rubber as it is poured and leaves a channel in it:
// the sprue's, a runner's, a wire for a vent.
type Rod struct {
	Name   string // of the channel
	Bore   pieces.Bore
	Volume derive.Number // mL that it leaves
}

// sides of a rod that is printed.
const sides = 32

// Body is the rod to print, nil where it is of clay.
func (r Rod) Body() *mesh.Mesh { return r.Bore.Body(sides) }

// channels is what rods leave in the rubber, mL.
func channels(rods []Rod) derive.Number {
	sum := 0.0
	var inputs []derive.Input
	for _, r := range rods {
		sum += r.Volume.Value
		inputs = append(inputs, r.Volume.As(r.Name))
	}
	return derive.Of(quantity.Volume, sum, "sum of what rods and wires leave in the rubber", inputs...)
}
