package rise_test

import (
	"math"
	"testing"

	"bathyform/core/axis"
	"bathyform/core/bench"
	"bathyform/core/design"
	"bathyform/core/finding"
	"bathyform/core/mesh"
	"bathyform/core/mesh/meshtest"
	"bathyform/core/part"
	"bathyform/core/practice"
	"bathyform/core/rise"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

// studied is a mesh drawn and poured along z, parted where it is said.
func studied(t *testing.T, m *mesh.Mesh, kind design.Kind, up axis.Axis, parting float64) bench.Study {
	t.Helper()
	m, r, err := mesh.Load(m.WriteSTL(), 1)
	require.NoError(t, err)
	b := bench.Take(part.Master{Name: "part", Mesh: m, Report: r})
	d, err := b.Start(t.Context(), practice.Usual())
	require.NoError(t, err)
	d.Draw, d.RubberUpA, d.RubberUpB, d.Parting = up, up, up.Opposite(), &parting
	s, err := b.Study(t.Context(), bench.Question{Design: d, Kind: kind, House: practice.Usual()})
	require.NoError(t, err)
	return s
}

// A cup of 30 mm inner width and 20 mm depth, rim down at z = 0.
func cup() *mesh.Mesh {
	return meshtest.Turned(
		96,
		[2]float64{0, 20},
		[2]float64{15, 20},
		[2]float64{15, 0},
		[2]float64{18, 0},
		[2]float64{18, 24},
		[2]float64{0, 24},
	)
}

func TestRubberShutsInAirUnderACup(t *testing.T) {
	s := studied(t, cup(), design.Clay, axis.PlusZ, -1e-3)
	found := rise.RubberFindings(s.Pours[0])
	require.NotEmpty(t, found)
	assert.Equal(t, "rubber-shuts-in-air", found[0].Code)
	assert.Equal(t, finding.Watch, found[0].Severity)
	assert.InEpsilon(t, math.Pi*15*15*20/1000, found[0].Figure.Value, 0.01, "all of its inside")
	require.NotEmpty(t, s.Pours[0].Pockets)
	assert.InDelta(t, s.Pours[0].PartLow, s.Pours[0].Pockets[0].SealHeight, 0.01, "from the rim on")
	assert.Equal(t, 3, rise.Brushed(s.Pours[0], 3), "one place in each of three cavities")

	over := studied(t, cup(), design.Clay, axis.MinusZ, -24-1e-3)
	assert.Empty(t, rise.RubberFindings(over.Pours[0]), "turned over, it fills like a bowl")
}

func TestABowlThatTheBedClosesOffIsTheOtherHalfs(t *testing.T) {
	s := studied(t, cup(), design.Clay, axis.PlusZ, 12)
	for _, pour := range s.Pours {
		assert.Empty(t, rise.RubberFindings(pour), "%s: its rubber never comes into the upper part of the bowl", pour.Name)
	}
	block := studied(t, cup(), design.Cut, axis.PlusZ, 12)
	assert.NotEmpty(t, rise.RubberFindings(block.Pours[0]), "a cup set over a board keeps its air")
}

func TestAirIsCountedAsTheLevelRises(t *testing.T) {
	r := studied(t, cup(), design.Clay, axis.PlusZ, -1e-3).Pours[0]
	last := 0.0
	for _, h := range r.Heights {
		air := r.AirBelow(h)
		assert.GreaterOrEqual(t, air, last-1e-9, "air that is shut in stays")
		last = air
	}
	assert.InEpsilon(t, math.Pi*15*15*20, last, 0.01)
	assert.Zero(t, r.AirBelow(r.PartLow-1))
	tall := 0.0
	r.Places(func(low r3.Vec, height float64, pocket int) {
		tall = max(tall, height)
		assert.Zero(t, pocket)
	})
	assert.InDelta(t, 20, tall, 1)
}

// The rail of a pour holds what is poured, from its floor up.
func TestTheRailRunsFromTheFloorToTheTop(t *testing.T) {
	s := studied(t, meshtest.Box(r3.Vec{}, r3.Vec{X: 40, Y: 30, Z: 20}), design.Cut, axis.PlusZ, 10)
	require.Len(t, s.Pours, 1)
	r := s.Pours[0]
	assert.Equal(t, "Block", r.Name)
	assert.InDelta(t, 13, r.PartLow, 1e-6)
	assert.InDelta(t, 33, r.PartHigh, 1e-6)
	assert.InDelta(t, 53, r.Top, 1e-6)
	require.NotEmpty(t, r.Volumes)
	assert.Zero(t, r.Volumes[0])
	for i := 1; i < len(r.Volumes); i++ {
		assert.GreaterOrEqual(t, r.Volumes[i], r.Volumes[i-1])
	}
	assert.InEpsilon(t, (64+9)*54*53-40*30*20-1000*s.Plan.Channels.Value, r.Volumes[len(r.Volumes)-1], 1e-6)
	marks := map[string]float64{}
	for _, m := range s.Resin.Marks {
		marks[m.Kind] = m.Height
	}
	assert.InDelta(t, 13, marks["part-low"], 1e-6)
	assert.Contains(t, marks, "sprue")
	assert.Contains(t, marks, "vent")
}
