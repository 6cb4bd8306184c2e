package bench_test

import (
	"testing"

	"bathyform/core/axis"
	"bathyform/core/design"
	"bathyform/core/finding"
	"bathyform/core/gang"
	"bathyform/core/grid"
	"bathyform/core/mesh/meshtest"
	"bathyform/core/practice"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

// A block of 40 by 20 by 30 that is drawn sideways and poured upright, twice.
func TestNoChannelRunsThroughANeighbour(t *testing.T) {
	m := taken(t, meshtest.Box(r3.Vec{}, r3.Vec{X: 40, Y: 20, Z: 30}))
	q := asked(t, m)
	q.Kind = design.Clay
	d := &q.Design
	d.Draw, d.RubberUpA, d.RubberUpB, d.ResinUp, d.Feed = axis.PlusY, axis.PlusY, axis.MinusY, axis.PlusZ, practice.FeedLow
	d.Vents = []design.Vent{{At: design.Place{20, 10, 30}, Bore: 2}}
	codes := func(poses ...design.Pose) (out []string) {
		q.Design.Gang = poses
		s, err := m.Study(t.Context(), q)
		require.NoError(t, err)
		for _, f := range s.Findings {
			if f.Stage == finding.Gates {
				out = append(out, f.Code)
			}
		}
		return out
	}
	const through, near = "channel-through-neighbour", "channel-near-neighbour"
	assert.NotContains(t, codes(), through, "a single cavity has no neighbour")
	beside, over := side(t, d.Draw)
	assert.Contains(t, codes(design.Pose{}, over(50)), through, "the vent of the lower goes up through the upper")
	assert.Contains(t, codes(design.Pose{}, beside(52)), through, "its sprue has no room there")
	wide := codes(design.Pose{}, beside(75))
	assert.NotContains(t, wide, through)
	assert.NotContains(t, wide, near)

	l, err := m.Gang(t.Context(), q, gang.Ask{Count: 3, Gap: 6, Edge: 12})
	require.NoError(t, err)
	var laid []design.Pose
	for _, p := range l.Poses {
		laid = append(laid, design.Pose{p.X, p.Y, p.Turn})
	}
	assert.NotContains(t, codes(laid...), near, "what is proposed keeps the sprues apart")
}

// side is a pose so far beside, or over, the first one.
func side(t *testing.T, draw axis.Axis) (beside, over func(by float64) design.Pose) {
	t.Helper()
	frame, err := grid.NewFrame(draw.Dir())
	require.NoError(t, err)
	pose := func(along r3.Vec) func(float64) design.Pose {
		in := frame.In(along)
		return func(by float64) design.Pose { return design.Pose{by * in.X, by * in.Y, 0} }
	}
	return pose(r3.Vec{X: 1}), pose(r3.Vec{Z: 1})
}
