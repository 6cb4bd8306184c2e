package bench_test

import (
	"testing"

	"bathyform/core/axis"
	"bathyform/core/bench"
	"bathyform/core/channel"
	"bathyform/core/design"
	"bathyform/core/mesh/meshtest"
	"bathyform/core/mix"
	"bathyform/core/practice"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

// upright is a block that is drawn sideways, its parting upright for the resin,
// and fed from below.
func upright(t *testing.T, size r3.Vec) (*bench.Master, bench.Question) {
	t.Helper()
	m := taken(t, meshtest.Box(r3.Vec{}, size))
	q := asked(t, m)
	q.Kind = design.Clay
	d := &q.Design
	d.Draw, d.RubberUpA, d.RubberUpB, d.ResinUp, d.Feed = axis.PlusY, axis.PlusY, axis.MinusY, axis.PlusZ, practice.FeedLow
	return m, q
}

// thin is a resin that has time to run in.
func thin() *mix.Material {
	return &mix.Material{Name: "thin", Ratio: mix.Ratio{A: 1, B: 1}, Density: 1.1,
		Traits: mix.Traits{Viscosity: 0.2, PotLife: 60, Celsius: house.Celsius}}
}

// Four blocks in a row: the ways that serve a single level in an upright parting
// are held against one another with the figures that the design has when it is
// fed so, and a tree is nearer to balance than a comb.
func TestWaysToFeedAreHeldAgainstOneAnother(t *testing.T) {
	m, q := upright(t, r3.Vec{X: 30, Y: 16, Z: 40})
	q.Resin = thin()
	d := &q.Design
	d.Vents = []design.Vent{{At: design.Place{15, 8, 40}, Bore: 2}}
	beside, _ := side(t, d.Draw)
	d.Gang = []design.Pose{{}, beside(64), beside(128), beside(192)}
	rows := map[channel.System]bench.FeedCase{}
	var order []channel.System
	require.NoError(t, m.CompareFeeds(t.Context(), q, func(c bench.FeedCase) {
		rows[c.System] = c
		order = append(order, c.System)
	}))
	assert.Equal(t, channel.Systems, order)
	for _, s := range []channel.System{channel.Ring, channel.Ladder} {
		assert.NotEmpty(t, rows[s].Why, s)
	}
	for _, s := range []channel.System{channel.Comb, channel.Tree, channel.Each} {
		require.Empty(t, rows[s].Why, s)
		fed := q
		fed.Design.Runners = design.Runners(s)
		study, err := m.Study(t.Context(), fed)
		require.NoError(t, err)
		assert.Equal(t, s, study.Gates.System)
		assert.InEpsilon(t, study.Shot.Channels.Value/4, rows[s].Channels.Value, 1e-9)
		assert.InEpsilon(t, study.Plan.Rubber.Value, rows[s].Rubber.Value, 1e-9)
		assert.InEpsilon(t, study.Dress.Value, rows[s].Cut.Value, 1e-9)
		assert.InEpsilon(t, study.Run.Spread.Value, rows[s].Spread.Value, 1e-9)
		assert.Zero(t, rows[s].Stops, s)
	}
	assert.Less(t, rows[channel.Tree].Spread.Value, rows[channel.Comb].Spread.Value)
	assert.InDelta(t, 1, rows[channel.Each].Spread.Value, 0.02, "each by itself is as quick as the others")
	assert.Less(t, rows[channel.Comb].Channels.Value, rows[channel.Each].Channels.Value, "one well for all")
}

// The channels of a gang are as many bodies as stand in the shot, and each of
// the cavities fills.
func TestAGangRunsFullAsAWhole(t *testing.T) {
	m, q := upright(t, r3.Vec{X: 30, Y: 16, Z: 40})
	q.Resin = thin()
	d := &q.Design
	beside, over := side(t, d.Draw)
	d.Gang = []design.Pose{{}, beside(60), over(70), both(beside(60), over(70))}
	s, err := m.Study(t.Context(), q)
	require.NoError(t, err)
	require.NotNil(t, s.Run)
	require.Len(t, s.Run.Cavities, 4)
	share := 0.0
	for _, c := range s.Run.Channels {
		if s.Gates.Channels[c.Channel].Kind == channel.Gate {
			share += c.Share
		}
		assert.Positive(t, c.Resistance.Value)
	}
	assert.InDelta(t, 1, share, 1e-6, "what leaves the well comes through the gates")
	low, high := s.Run.Cavities[0], s.Run.Cavities[2]
	if s.Gates.Cavities[0].Low > s.Gates.Cavities[2].Low {
		low, high = high, low
	}
	assert.Less(t, low.Value, high.Value, "the lower row first")
	last := s.Resin.Volumes[len(s.Resin.Volumes)-1]
	assert.InEpsilon(t, 1000*(s.Shot.Cavity.Value+s.Shot.Channels.Value), last, 2e-3, "the rail holds cavities and channels")
	for i := 1; i < len(s.Resin.Volumes); i++ {
		assert.GreaterOrEqual(t, s.Resin.Volumes[i], s.Resin.Volumes[i-1]-1e-6)
	}
}
