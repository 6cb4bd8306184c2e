package bench_test

import (
	"testing"

	"bathyform/core/axis"
	"bathyform/core/design"
	"bathyform/core/finding"
	"bathyform/core/mesh/meshtest"
	"bathyform/core/practice"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

// Fed from the top, a vent where the opening is opens nothing more.
func TestAVentInTheOpeningIsTold(t *testing.T) {
	m := taken(t, meshtest.Box(r3.Vec{}, r3.Vec{X: 40, Y: 20, Z: 30}))
	q := asked(t, m)
	d := &q.Design
	d.ResinUp, d.Feed, d.SprueBore = axis.PlusZ, practice.FeedTop, 14
	for x, told := range map[float64]bool{20: true, 26: true, 36: false} {
		d.Vents = []design.Vent{{At: design.Place{x, 10, 30}, Bore: 2}}
		s, err := m.Study(t.Context(), q)
		require.NoError(t, err)
		found := false
		for _, f := range s.Findings {
			if f.Code == "vent-in-channel" {
				found = true
				assert.Equal(t, finding.RemoveVent, f.Remedies[0].Action)
			}
		}
		assert.Equal(t, told, found, "at %g mm", x)
	}
}

// A C that stands with its mouth to the side: a vent on its lower arm is led
// round the upper one, always rising; where the mouth is closed it has no way.
func TestAVentIsLedRoundThePart(t *testing.T) {
	outline := [][2]float64{{0, 0}, {40, 0}, {40, 10}, {10, 10}, {10, 40}, {40, 40}, {40, 50}, {0, 50}}
	m := taken(t, meshtest.Extruded(outline, 12))
	q := asked(t, m)
	q.Design.ResinUp, q.Design.Feed = axis.PlusZ, practice.FeedLow
	q.Design.Vents = []design.Vent{{At: design.Place{30, 6, 10}, Bore: 2}}
	s, err := m.Study(t.Context(), q)
	require.NoError(t, err)
	for _, c := range s.Gates.Channels {
		if c.Vent < 0 {
			continue
		}
		require.Greater(t, len(c.Path), 2, "straight up is the part itself")
		for along := 0.0; along < c.Length(); along += 0.5 {
			p := c.At(along)
			arm := p.X > -1 && p.X < 41 && p.Y > -1 && p.Y < 13
			assert.False(t, arm && p.Z > 39, "through the upper arm at %v", p)
			assert.GreaterOrEqual(t, c.At(along+0.5).Z, p.Z-1e-9)
		}
	}
	shut := meshtest.Blocks(12, "....", ".##.", "....").Scaled(2.5)
	m = taken(t, shut)
	q = asked(t, m)
	q.Design.ResinUp, q.Design.Feed, q.Design.Clearance.Beside = axis.PlusZ, practice.FeedLow, 3
	q.Design.Vents = []design.Vent{{At: design.Place{5, 15, 2.5}, Bore: 2}}
	s, err = m.Study(t.Context(), q)
	require.NoError(t, err)
	told := false
	for _, f := range s.Findings {
		if f.Code == "vent-has-no-way" {
			told = true
			assert.Equal(t, finding.RemoveVent, f.Remedies[0].Action)
		}
	}
	assert.True(t, told)
}

// A sprue under a part lies in the parting where that stands upright; where it
// lies level runner and gate come in it from the side. Led to the underside by
// hand the run is a tunnel in the lower half, unless the block is cut open or fed
// from the top.
func TestASprueOffThePartingHoldsAHalfFast(t *testing.T) {
	m := taken(t, meshtest.Box(r3.Vec{}, r3.Vec{X: 40, Y: 20, Z: 30}))
	for name, c := range map[string]struct {
		kind design.Kind
		draw axis.Axis
		feed practice.Feed
		foot *design.Place
		told bool
	}{
		"upright parting":  {design.Clay, axis.PlusY, practice.FeedLow, nil, false},
		"level parting":    {design.Clay, axis.PlusZ, practice.FeedLow, nil, false},
		"to its underside": {design.Clay, axis.PlusZ, practice.FeedLow, &design.Place{20, 10, 0}, true},
		"from the top":     {design.Clay, axis.PlusZ, practice.FeedTop, nil, false},
		"cut open":         {design.Cut, axis.PlusZ, practice.FeedLow, &design.Place{20, 10, 0}, false},
		"on a board":       {design.Board, axis.PlusZ, practice.FeedLow, &design.Place{20, 10, 0}, true},
	} {
		q := asked(t, m)
		q.Kind = c.kind
		d := &q.Design
		d.Draw, d.RubberUpA, d.RubberUpB, d.ResinUp, d.Feed = c.draw, c.draw, c.draw.Opposite(), axis.PlusZ, c.feed
		d.Foot = c.foot
		s, err := m.Study(t.Context(), q)
		require.NoError(t, err)
		told := false
		for _, f := range s.Findings {
			if f.Code == "sprue-off-parting" {
				told = true
				require.NotEmpty(t, f.Remedies, name)
				assert.Equal(t, finding.FeedTop, f.Remedies[0].Action)
				assert.Positive(t, f.Remedies[0].Value)
			}
		}
		assert.Equal(t, c.told, told, name)
	}
}
