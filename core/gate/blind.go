package gate

import (
	"math"

	"bathyform/core/channel"
	"bathyform/core/kinds"
	"bathyform/core/plane"

	"gonum.org/v1/gonum/spatial/r3"
)

// blind lays the channel that takes what is squeezed out: half round, in the
// lower half, all round each part outside its land.
func (m Mould) blind(r *channel.Room) (out []channel.Body) {
	volume := kinds.Blind(m.Cavity).Value * 1000
	for i := range r.Places {
		place := &r.Places[i]
		z := (place.Low() + place.High()) / 2
		if along := r3.Dot(m.Draw, m.Up); m.Parted && math.Abs(along) > 0.5 {
			z = m.Parting * math.Copysign(1, along)
		}
		hull := r.Seen(i)
		bore := 0.0
		var ring []plane.Point
		for range 3 { // the longer it is, the narrower
			rings := plane.Offset([][]plane.Point{hull}, kinds.Land+bore/2)
			if len(rings) == 0 {
				break
			}
			ring = plane.Simplified(rings[0], kinds.Land/40)
			bore = math.Sqrt(8 * volume / (math.Pi * plane.Perimeter(ring)))
		}
		if ring == nil {
			continue
		}
		b := channel.Body{Kind: channel.Blind, Cavity: i, Bore: bore, Half: r3.Vec{Z: -1}}
		start := plane.Point{(ring[0][0] + ring[len(ring)-1][0]) / 2, (ring[0][1] + ring[len(ring)-1][1]) / 2}
		for _, p := range append(append([]plane.Point{start}, ring...), start) {
			b.Path = append(b.Path, r3.Vec{X: p[0], Y: p[1], Z: z})
		}
		out = append(out, b)
	}
	return out
}
