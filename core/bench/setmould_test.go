package bench_test

import (
	"testing"

	"bathyform/core/axis"
	"bathyform/core/bench"
	"bathyform/core/channel"
	"bathyform/core/design"
	"bathyform/core/mesh/meshtest"
	"bathyform/core/part"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

// Two blocks to a ball, each drawn its own way: they come to lie side by side with
// their partings on one level, and hang on one well.
func TestASetSharesAMould(t *testing.T) {
	block, ball := taken(t, meshtest.Box(r3.Vec{}, r3.Vec{X: 30, Y: 14, Z: 20})), taken(t, meshtest.Sphere(11, 48))
	of := func(m *bench.Master, draw axis.Axis) bench.Question {
		q := asked(t, m)
		q.Kind = design.Clay
		q.Design.Draw, q.Design.RubberUpA, q.Design.RubberUpB = draw, draw, draw.Opposite()
		return q
	}
	parts := []bench.SetPart{{Name: "block", Master: block, Asked: of(block, axis.PlusY), Count: 2},
		{Name: "ball", Master: ball, Asked: of(ball, axis.PlusZ), Count: 1}}
	for _, sets := range []int{1, 3} {
		laid, err := bench.LaySet(t.Context(), parts, sets, house)
		require.NoError(t, err)
		assert.Len(t, laid.Of, 3*sets)
		assert.InEpsilon(t, float64(sets)*(2*block.Part.Volume()+ball.Part.Volume()), laid.Mesh.Volume(), 1e-9)
		m, err := bench.TakeSet("set", laid)
		require.NoError(t, err)
		d, err := bench.SetDesign(t.Context(), m, house)
		require.NoError(t, err)
		require.NoError(t, d.Check())
		q := asked(t, m)
		q.Design, q.Kind = d, design.Clay
		s, err := m.Study(t.Context(), q)
		require.NoError(t, err)
		gates, wells := map[bool]int{}, 0
		for _, c := range s.Gates.Channels {
			switch c.Kind {
			case channel.Gate:
				gates[c.Mouth().Z > -6 && c.Mouth().Z < 6]++
			case channel.Well:
				wells++
			}
		}
		assert.Equal(t, map[bool]int{true: 3 * sets}, gates, "a gate for each, at the parting")
		assert.Equal(t, 1, wells, "they share it")
		assert.Less(t, s.Gates.Air().Value, 0.01)
		for _, f := range s.Findings {
			assert.NotEqual(t, "sprue-off-parting", f.Code)
			assert.NotEqual(t, "channel-through-part", f.Code)
		}
	}

	measured := parts[0]
	measured.Master = bench.Take(
		part.Master{Measured: &part.Measured{Length: 50, Width: 40, Height: 6, Volume: 12, How: "displaced water"}},
	)
	_, err := bench.LaySet(t.Context(), []bench.SetPart{parts[1], measured}, 1, house)
	require.ErrorIs(t, err, bench.ErrSetShape)
	_, err = bench.LaySet(t.Context(), parts[:1], 1, house)
	require.Error(t, err)
	_, err = bench.LaySet(t.Context(), parts, 0, house)
	require.Error(t, err)
}
