package gate

import (
	"fmt"
	"math"

	"bathyform/core/channel"
	"bathyform/core/finding"
	"bathyform/core/mould"
	"bathyform/core/quantity"

	"gonum.org/v1/gonum/spatial/r3"
)

// thick is the bore in mm from which a channel that lies inside a half does not
// break off and slip out of the rubber by itself. Common practice, no source.
const thick = 4.0

// Opens says which channel holds a half of the mould fast: what lies off the
// parting and not along the draw is shut in by rubber all round, and its
// casting with it. An opening at the top instead would have a bore, mm.
func (l Layout) Opens(p mould.Plan, opening float64) *finding.Finding {
	if !p.Kind.Halves || !p.Parted() {
		return nil
	}
	draw := p.Design.Draw
	level := draw.Along(p.Design.ResinUp)
	for _, c := range l.Channels {
		if c.Kind != channel.Sprue && c.Kind != channel.Runner || c.Bore < thick {
			continue
		}
		for i := 1; i < len(c.Path); i++ {
			run := r3.Sub(c.Path[i], c.Path[i-1])
			if r3.Norm(run) < c.Bore/2 || math.Abs(draw.Of(run)) > 0.9*r3.Norm(run) {
				continue // it comes away along the draw
			}
			off := draw.Of(c.Path[i]) - p.Parting.Height
			if math.Abs(off) <= c.Bore/2 {
				continue
			}
			half := "B"
			if off > 0 {
				half = "A"
			}
			f := finding.Finding{
				Severity: finding.Watch, Stage: finding.Gates, Code: "sprue-off-parting",
				What:   fmt.Sprintf("The %s runs inside half %s, off the parting: rubber holds its casting fast.", c.Kind, half),
				Where:  place(c.Path[i]),
				Figure: finding.Of(quantity.Length, math.Abs(off)), Limit: finding.Of(quantity.Length, c.Bore/2),
				Why: "A run that lies neither in the parting nor along the draw is a tunnel. Slit the rubber to it from the parting, " +
					"or cut the gate through before the casting is drawn.",
				Source: "geometry",
			}
			if level {
				f.Remedies = []finding.Remedy{{Label: "Feed from the top", Action: finding.FeedTop, Value: opening}}
			}
			return &f
		}
	}
	return nil
}
