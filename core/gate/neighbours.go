package gate

import (
	"fmt"
	"math"

	"bathyform/core/finding"
	"bathyform/core/mould"
	"bathyform/core/plane"
	"bathyform/core/quantity"

	"gonum.org/v1/gonum/spatial/r3"
)

// thinRubber is the least rubber between a channel and the part of another
// cavity, mm. Common practice, no source.
const thinRubber = 2.0

// Neighbours says which channel of a gang runs into another cavity, or too
// near to one: each cavity has the channels of the layout, up to the top of the
// gang's box, and they are looked at as they lie across the draw. Of all places
// the worst is told.
func (l Layout) Neighbours(p mould.Plan) *finding.Finding {
	c, up := p.Cavities, p.Design.ResinUp
	if len(c.Poses) < 2 {
		return nil
	}
	reach := c.Shape.Radius
	region := plane.NewRegion(c.Shape.Ring, reach)
	_, top := up.Span(p.Box.Bounds)
	worst, found := math.Inf(1), finding.Finding{}
	for i, from := range c.Poses {
		for _, ch := range l.Channels {
			if ch.Kind == WellKind {
				continue // it stands over all of them
			}
			var path []r3.Vec
			for _, at := range ch.Path {
				path = append(path, c.Place(at, from))
			}
			if ch.Kind == Sprue && len(path) > 2 {
				path = path[1:] // its foot is at its own part
			}
			end := &path[len(path)-1]
			*end = r3.Add(*end, r3.Scale(max(0, top-up.Of(*end)), up.Dir()))
			for j, to := range c.Poses {
				if i == j || math.Hypot(from.X-to.X, from.Y-to.Y) > 2*reach+p.Box.Depth(up) {
					continue
				}
				sin, cos := math.Sincos(to.Turn * math.Pi / 180)
				for k := 1; k < len(path); k++ {
					steps := int(r3.Norm(r3.Sub(path[k], path[k-1])))/2 + 1
					for n := range steps + 1 {
						at := r3.Add(path[k-1], r3.Scale(float64(n)/float64(steps), r3.Sub(path[k], path[k-1])))
						in := c.Frame.In(at)
						x, y := in.X-c.Shape.At[0]-to.X, in.Y-c.Shape.At[1]-to.Y
						rubber := region.Beyond(plane.Point{cos*x + sin*y, cos*y - sin*x}) - ch.Bore/2
						if rubber >= min(worst, thinRubber) {
							continue
						}
						worst = rubber
						found = finding.Finding{
							Severity: finding.Watch, Stage: finding.Gates, Code: "channel-near-neighbour",
							What:   fmt.Sprintf("The %s of cavity %d leaves little rubber to cavity %d.", ch.Kind, i+1, j+1),
							Where:  place(at),
							Figure: finding.Of(quantity.Length, max(0, rubber)), Limit: finding.Of(quantity.Length, thinRubber),
							Why:    "A thin web tears, and resin finds its way through. Lay the cavities farther apart, under Gang.",
							Source: finding.CommonPractice,
						}
						if rubber < 0 {
							found.Severity, found.Code = finding.Stop, "channel-through-neighbour"
							found.What = fmt.Sprintf("The %s of cavity %d runs through cavity %d.", ch.Kind, i+1, j+1)
							found.Why = "Resin and air of one would go through the other. Lay the cavities in one row, turn them, or " +
								"lay them farther apart, under Gang."
						}
					}
				}
			}
		}
	}
	if found.Code == "" {
		return nil
	}
	return &found
}
