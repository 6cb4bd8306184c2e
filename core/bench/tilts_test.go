package bench_test

import (
	"testing"

	"bathyform/core/axis"
	"bathyform/core/bench"
	"bathyform/core/design"
	"bathyform/core/mesh/meshtest"
	"bathyform/core/practice"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

// A saw of two teeth, the slopes between them of 11°: tilted by 12° and more all
// air goes up to one of them, and the design that was chosen so has no air left.
func TestATiltSparesVents(t *testing.T) {
	m := taken(t, meshtest.Extruded([][2]float64{{0, 0}, {60, 0}, {60, 8}, {40, 12}, {20, 8}, {0, 12}}, 20))
	q := asked(t, m)
	q.Kind = design.Clay
	q.Design.ResinUp, q.Design.Draw, q.Design.Feed = axis.PlusZ, axis.PlusY, practice.FeedLow
	var rows []bench.TiltCase
	require.NoError(t, m.CompareTilts(t.Context(), q, func(c bench.TiltCase) { rows = append(rows, c) }))
	require.Len(t, rows, 5)
	assert.Nil(t, rows[0].Tilt)
	assert.GreaterOrEqual(t, len(rows[0].Vents), 2)
	assert.GreaterOrEqual(t, len(rows[1].Vents), 2, "4° are not enough")
	best := rows[4]
	require.Len(t, best.Vents, 1)
	assert.Less(t, r3.Dot(best.Tilt.High.Vec(), r3.Vec{X: 1}), 0.0, "the side of the tooth at the end is raised")

	q.Design.Tilt, q.Design.Vents = best.Tilt, best.Vents
	require.NoError(t, q.Design.Check())
	s, err := m.Study(t.Context(), q)
	require.NoError(t, err)
	assert.Less(t, s.Gates.Air().Value, 0.02)
	q.Design.Tilt = nil
	level, err := m.Study(t.Context(), q)
	require.NoError(t, err)
	assert.Greater(t, level.Gates.Air().Value, 0.5)
	ranked, err := m.RankVents(t.Context(), q)
	require.NoError(t, err)
	assert.Greater(t, len(ranked.Vents), 1, "level it wants them all")
}

// The steps say what becomes of each vent, and how the mould stands.
func TestTheStepsSpeakOfVentsAndTilt(t *testing.T) {
	m := taken(t, meshtest.Box(r3.Vec{}, r3.Vec{X: 40, Y: 20, Z: 16}))
	q := asked(t, m)
	q.Kind = design.Clay
	q.Design.ResinUp, q.Design.Draw, q.Design.Feed = axis.PlusZ, axis.PlusY, practice.FeedLow
	vent := func(x float64) design.Vent { return design.Vent{At: design.Place{x, 10, 16}, Bore: 2} }
	q.Design.Vents = []design.Vent{vent(4), vent(12), vent(20), vent(28)}
	q.Design.Vents[1].State, q.Design.Vents[2].State, q.Design.Vents[3].Cut = design.Weeps, design.Plugged, true
	q.Design.Tilt = &design.Tilt{Degrees: 8, High: design.Place{1}}
	b := built(t, m, q)
	text := steps(b)
	assert.Contains(t, text, "Vent 2 is plugged as soon as it weeps")
	assert.Contains(t, text, "Vent 3 stays shut from the beginning")
	assert.Contains(t, text, "Cut 1 vent of 2 mm out of the rubber")
	assert.Contains(t, text, "3 vent wires of 2 mm")
	assert.Contains(t, text, "Stand the mould 8° out of level, its +x side raised")
	q.Design.Vents, q.Design.Tilt = q.Design.Vents[:1], nil
	text = steps(built(t, m, q))
	for _, never := range []string{"Cut 1 vent", "stays shut", "out of level, its"} {
		assert.NotContains(t, text, never)
	}
}
