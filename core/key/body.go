package key

import (
	"math"

	"bathyform/core/mesh"

	"gonum.org/v1/gonum/spatial/r3"
)

const (
	round = 36 // points round a body
	rings = 10 // from its middle to its foot
)

// Body is a key to be printed or cut and set on the board: closed, flat
// underneath, its foot on z = 0. Fit is taken off all round for a key that is
// pushed into a hole, mm. A bevel has no body of its own.
func (k Key) Body(fit float64) *mesh.Mesh {
	m := &mesh.Mesh{}
	if k.Kind == Bevel || k.Radius <= fit {
		return m
	}
	spine := k.Reach() - k.Radius
	sin, cos := math.Sincos(k.Turn)
	place := func(i int, r, z float64) r3.Vec {
		s, c := math.Sincos(2 * math.Pi * (float64(i) + 0.5) / round)
		x, y := r*c+math.Copysign(spine, c), r*s
		return r3.Vec{X: k.X + cos*x - sin*y, Y: k.Y + sin*x + cos*y, Z: z}
	}
	shares := []float64{}
	for n := 1; n <= rings; n++ {
		shares = append(shares, math.Sin(math.Pi/2*float64(n)/rings)) // closer together where it falls
	}
	if k.Kind == Pin {
		shares = []float64{1 - pinTaper, 1}
	}
	if k.Kind == Strip {
		shares = []float64{1, 1 - snap} // its top edge, then its foot
	}
	scale := (k.Radius - fit) / k.Radius
	height := func(share float64) float64 {
		if k.Kind == Strip {
			return map[bool]float64{true: k.Height()}[share == 1]
		}
		return k.Rise(k.X-sin*share*k.Radius*0.999999, k.Y+cos*share*k.Radius*0.999999)
	}
	m.Vertices = append(m.Vertices, r3.Vec{X: k.X, Y: k.Y, Z: k.Height()}, r3.Vec{X: k.X, Y: k.Y})
	first := int32(len(m.Vertices))
	for _, share := range shares {
		z := height(share)
		if share == 1 && k.Kind != Strip {
			z = 0
		}
		for i := range round {
			m.Vertices = append(m.Vertices, place(i, share*k.Radius*scale, z))
		}
	}
	at := func(ring, i int) int32 { return first + int32(ring*round+i%round) }
	last := len(shares) - 1
	for i := range round {
		m.Triangles = append(m.Triangles, [3]int32{0, at(0, i), at(0, i+1)}, [3]int32{1, at(last, i+1), at(last, i)})
		for r := range last {
			m.Triangles = append(m.Triangles, [3]int32{at(r, i), at(r+1, i), at(r+1, i+1)}, [3]int32{at(r, i), at(r+1, i+1), at(r, i+1)})
		}
	}
	return m
}
