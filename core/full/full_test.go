package full_test

import (
	"math"
	"testing"

	"bathyform/core/axis"
	"bathyform/core/bench"
	"bathyform/core/design"
	"bathyform/core/finding"
	"bathyform/core/full"
	"bathyform/core/kinds"
	"bathyform/core/mesh"
	"bathyform/core/mesh/meshtest"
	"bathyform/core/mix"
	"bathyform/core/part"
	"bathyform/core/practice"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

func asked(t testing.TB, m *mesh.Mesh, resin mix.Material, house practice.House) (*bench.Master, bench.Question) {
	t.Helper()
	m, r, err := mesh.Load(m.WriteSTL(), 1)
	require.NoError(t, err)
	taken := bench.Take(part.Master{Name: "test", Mesh: m.Filled(r.Hollows), Report: r})
	d, err := taken.Start(t.Context(), house)
	require.NoError(t, err)
	d.ResinUp, d.Draw, d.RubberUpA, d.RubberUpB = axis.PlusZ, axis.PlusY, axis.PlusY, axis.MinusY
	return taken, bench.Question{Design: d, Kind: design.Clay, House: house, Resin: &resin, Wanted: 10}
}

func codes(all []finding.Finding) map[string]finding.Finding {
	out := map[string]finding.Finding{}
	for _, f := range all {
		if f.Stage == finding.Gates {
			out[f.Code] = f
		}
	}
	return out
}

func resin(viscosity, potLife, shrink float64) mix.Material {
	return mix.Material{Name: "grey", Ratio: mix.Ratio{A: 1, B: 1}, Density: 1.1,
		Traits: mix.Traits{Viscosity: viscosity, PotLife: potLife, Shrink: shrink, Celsius: practice.Usual().Celsius}}
}

// blade is a block with a fin of a thickness that stands up from it.
func blade(thickness float64) *mesh.Mesh {
	return meshtest.Extruded([][2]float64{{0, 0}, {40, 0}, {40, 15}, {20 + thickness/2, 15}, {20 + thickness/2, 45}, {20 - thickness/2, 45},
		{20 - thickness/2, 15}, {0, 15}}, 30)
}

// Thin resin runs into a fin of 2 mm, thick resin not into one of half a
// millimetre, and no vacuum helps honey into paper: then it is said not to cast it
// so, and how thick it would have to be.
func TestThinPlacesThatStayShortAreNamed(t *testing.T) {
	for name, c := range map[string]struct {
		thickness, viscosity, potLife float64
		severity                      finding.Severity
	}{
		"2 mm, thin":        {1.9, 0.2, 8, ""},
		"1 mm, thick":       {1, 8, 2, finding.Watch},
		"paper, like honey": {0.2, 60, 1, finding.Stop},
	} {
		m, q := asked(t, blade(c.thickness), resin(c.viscosity, c.potLife, 0), practice.Usual())
		b, err := m.Build(t.Context(), q, nil)
		require.NoError(t, err)
		f, told := codes(b.Findings)["stays-short"]
		assert.Equal(t, c.severity != "", told, name)
		if !told {
			continue
		}
		assert.Equal(t, c.severity, f.Severity, name)
		assert.Greater(t, f.Where.Z, 15.0, "%s: on the fin", name)
		assert.Less(t, f.Figure.Value, f.Limit.Value, name)
	}
}

// A thick part behind a narrow gate may sink, and a well that is too small for
// what the resin shrinks by draws dry.
func TestWhatShrinksIsFed(t *testing.T) {
	block := meshtest.Box(r3.Vec{}, r3.Vec{X: 60, Y: 60, Z: 60})
	m, q := asked(t, block, resin(0.2, 30, 1), practice.Usual())
	b, err := m.Build(t.Context(), q, nil)
	require.NoError(t, err)
	found := codes(b.Findings)
	require.Contains(t, found, "thick-place-sinks")
	require.Contains(t, found, "well-draws-dry")
	dry := found["well-draws-dry"]
	assert.InEpsilon(t, b.Study.Shot.Shrink.Value, dry.Limit.Value, 1e-9)
	require.NotEmpty(t, dry.Remedies)
	mended := q
	mended.Design.WellWidth = dry.Remedies[0].Value
	s, err := m.Study(t.Context(), mended)
	require.NoError(t, err)
	assert.NotContains(t, codes(s.Findings), "well-draws-dry", "the remedy mends it")

	q.Design.SprueBore, q.Design.WellWidth, q.Design.WellDepth, q.Design.Clearance.Above = 40, 60, 30, 40
	b, err = m.Build(t.Context(), q, nil)
	require.NoError(t, err)
	found = codes(b.Findings)
	assert.NotContains(t, found, "well-draws-dry")
	still := resin(0.2, 30, 0)
	q.Resin = &still
	b, err = m.Build(t.Context(), q, nil)
	require.NoError(t, err)
	assert.NotContains(t, codes(b.Findings), "thick-place-sinks", "what does not shrink does not sink")
}

// Rubber that was not degassed gives under pressure: a bubble of 2 mm keeps the
// cube root of the ratio of the pressures (Boyle).
func TestBubblesInTheRubberMakeBumps(t *testing.T) {
	house := practice.Usual()
	house.NoDegas = true
	m, q := asked(t, meshtest.Box(r3.Vec{}, r3.Vec{X: 30, Y: 20, Z: 10}), resin(0.2, 10, 0), house)
	s, err := m.Study(t.Context(), q)
	require.NoError(t, err)
	f, told := codes(s.Findings)["rubber-gives-under-pressure"]
	require.True(t, told)
	assert.InEpsilon(t, 2-2*math.Cbrt(101.325/(101.325+house.Pressure)), f.Figure.Value, 1e-6)
	q.House.NoDegas = false
	s, err = m.Study(t.Context(), q)
	require.NoError(t, err)
	assert.NotContains(t, codes(s.Findings), "rubber-gives-under-pressure")
}

func TestNothingIsSaidOfWhatNobodyKnows(t *testing.T) {
	c := full.Case{Kind: kinds.Usual, House: practice.Usual()}
	assert.Empty(t, c.Dragged())
	assert.Empty(t, c.Measured())
}
