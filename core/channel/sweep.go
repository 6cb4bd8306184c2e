package channel

import (
	"math"

	"gonum.org/v1/gonum/spatial/r3"
)

// Sweep is where a piece of the mould is drawn out sideways: a channel that runs
// through it cuts it apart from the others that are like it.
type Sweep struct {
	At, Out r3.Vec  // where it begins, and the way out
	Wide    float64 // mm
}

// Sweeping is by how much more a way in counts that runs through a side piece.
// Common practice, no source.
const Sweeping = 3

// swept is whether a body runs through a side piece.
func (r *Room) swept(b Body) bool {
	for _, s := range r.Sweeps {
		if !b.steps(b.Bore/2, func(at r3.Vec, _, radius float64) bool {
			v := r3.Sub(at, s.At)
			along := r3.Dot(v, s.Out)
			return along < 0 || math.Sqrt(max(0, r3.Norm2(v)-along*along)) > s.Wide/2+radius
		}) {
			return true
		}
	}
	return false
}
