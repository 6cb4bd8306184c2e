package gate

import (
	"errors"
	"math"

	"bathyform/core/channel"
	"bathyform/core/design"

	"gonum.org/v1/gonum/spatial/r3"
)

// errOffParting says that a section other than a round one cannot be cut.
var errOffParting = errors.New(
	"runners and gates that do not lie in the parting stay round: a half or a strip is cut into the face of a half",
)

// intoParting is by how many bores a channel may lie off the parting that is cut
// into it.
const intoParting = 0.125

// shaped gives runners and gates the section that the caster wants, where they lie
// in the parting: half round in the half that holds the most of the part, or
// strips. What lies elsewhere stays round, with an error.
func (m Mould) shaped(r *channel.Room, bodies []channel.Body, c Choices) (err error) {
	if c.Section == design.Round {
		return nil
	}
	across, at := r3.Vec{}, 0.0
	switch {
	case r.Sheet != nil && r.Sheet.AlongX:
		across, at = r3.Vec{Y: 1}, r.Sheet.At
	case r.Sheet != nil:
		across, at = r3.Vec{X: 1}, r.Sheet.At
	case r.Level != nil:
		across, at = r3.Vec{Z: 1}, *r.Level
	default:
		return errOffParting
	}
	side := across
	if r3.Dot(across, r.Middle(0)) < at {
		side = r3.Scale(-1, across)
	}
	for i, b := range bodies {
		if b.Kind != channel.Runner && b.Kind != channel.Gate && b.Kind != channel.Blind {
			continue
		}
		in := true
		for _, p := range b.Path {
			in = in && math.Abs(r3.Dot(across, p)-at) <= intoParting*b.Bore
		}
		switch {
		case !in:
			err = errOffParting
		case c.Section == design.HalfRound:
			bodies[i].Half = side
		default:
			bodies[i].Flat, bodies[i].Thick = across, min(c.Strip, b.Bore)
		}
	}
	return err
}
