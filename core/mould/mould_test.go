package mould

import (
	"math"
	"testing"

	"bathyform/core/mesh"
	"bathyform/core/mesh/meshtest"
	"bathyform/core/part"
	"bathyform/core/practice"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

func master(t *testing.T, m *mesh.Mesh) part.Master {
	t.Helper()
	m, r, err := mesh.Load(m.WriteSTL(), 1)
	require.NoError(t, err)
	return part.Master{Name: "test", Mesh: m, Report: r}
}

func choices(draw part.Axis) Choices {
	return Choices{Draw: draw, Attitudes: Attitudes{RubberA: draw, RubberB: draw.Opposite(), Resin: "+z"},
		Clearance: practice.Clearance{Beside: 10, Below: 12, Above: 20}}
}

var house = practice.Usual()

func TestBallIsPartedAtItsEquator(t *testing.T) {
	m := master(t, meshtest.Moved(meshtest.Sphere(20, 96), r3.NewRotation(0, r3.Vec{X: 1}), r3.Vec{X: 7, Y: 8, Z: 9}))
	for _, draw := range part.Axes {
		p, err := Make(m, choices(draw), house)
		require.NoError(t, err)
		dir, _ := draw.Dir()
		assert.InDelta(t, r3.Dot(dir, r3.Vec{X: 7, Y: 8, Z: 9}), p.Parting, 0.6, "draw %s", draw)
		assert.InDelta(t, 60, p.Length.Value, 0.01)
		assert.InDelta(t, 72, p.Height.Value, 0.01)
	}
}

func TestEvenSectionIsPartedWhereTheRubberIsHalved(t *testing.T) {
	m := master(t, meshtest.Box(r3.Vec{}, r3.Vec{X: 30, Y: 20, Z: 40}))
	p, err := Make(m, choices("+z"), house)
	require.NoError(t, err)
	assert.InDelta(t, p.Halves[0].Volume.Value, p.Halves[1].Volume.Value, 0.6)
	assert.Contains(t, p.Proposal.Why, "shared evenly")
	// box from -12 to 60, so by hand: halves equal where 72/2 less the part's share balances
	boxed := 50.0 * 40
	want := (boxed*(60+-12) - 600*40) / (2 * (boxed - 600))
	assert.InDelta(t, want, p.Parting, 0.2)
}

// Law: the halves and the part make up the box, whatever the parting.
func TestHalvesAndPartMakeUpTheBox(t *testing.T) {
	m := master(t, meshtest.Turned(64, [2]float64{0, 0}, [2]float64{20, 0}, [2]float64{20, 10}, [2]float64{9, 10}, [2]float64{9, 40}, [2]float64{0, 40}))
	for _, draw := range part.Axes {
		low, high := m.Span(dirOf(draw))
		for _, f := range []float64{-0.1, 0, 0.25, 0.5, 0.99} {
			c := choices(draw)
			z := low + f*(high-low)
			c.Parting = &z
			p, err := Make(m, c, house)
			require.NoError(t, err)
			sum := p.Halves[0].Volume.Value + p.Halves[1].Volume.Value + p.PartVolume.Value
			assert.InEpsilon(t, p.BoxVolume.Value, sum, 1e-12)
			size := r3.Sub(p.Box.Max, p.Box.Min)
			assert.InEpsilon(t, size.X*size.Y*size.Z/1000, p.BoxVolume.Value, 1e-12)
		}
	}
}

func dirOf(a part.Axis) r3.Vec { d, _ := a.Dir(); return d }

func TestSectionsOfABall(t *testing.T) {
	m := meshtest.Sphere(20, 200)
	areas, above := sections(m, r3.Vec{Z: 1}, -20, 20)
	for i := range areas {
		z := levelAt(-20, 20, i)
		assert.InDelta(t, math.Pi*(400-z*z), areas[i], 0.01*math.Pi*400)
		assert.InDelta(t, m.VolumeAbove(r3.Vec{Z: 1}, z), above[i], 1e-6)
	}
}

func TestMeasuredMasterStillGetsABoxAndRubber(t *testing.T) {
	m := part.Master{Measured: &part.Measured{Length: 60, Width: 40, Height: 30, Volume: 50, How: "displaced water"}}
	p, err := Make(m, choices("+z"), house)
	require.NoError(t, err)
	assert.InEpsilon(t, 80*60*62/1000.0, p.BoxVolume.Value, 1e-12)
	assert.InEpsilon(t, 80*60*62/1000.0-50, p.Halves[0].Volume.Value+p.Halves[1].Volume.Value, 1e-12)
	assert.Contains(t, p.Halves[0].Volume.Note, "not known")
}

func TestMouldsThatCannotBe(t *testing.T) {
	m := master(t, meshtest.Sphere(20, 32))
	far := 500.0
	for says, change := range map[string]func(*Choices){
		"clearance beside": func(c *Choices) { c.Clearance.Beside = 0 },
		"clearance below":  func(c *Choices) { c.Clearance.Below = -3 },
		"clearance above":  func(c *Choices) { c.Clearance.Above = 9999 },
		"not one of":       func(c *Choices) { c.Draw = "up" },
		"outside the box":  func(c *Choices) { c.Parting = &far },
	} {
		c := choices("+z")
		change(&c)
		_, err := Make(m, c, house)
		assert.ErrorContains(t, err, says)
	}
	_, err := Make(part.Master{}, choices("+z"), house)
	assert.ErrorIs(t, err, part.ErrNoMaster)
}

func TestBoardsForAKnownBox(t *testing.T) {
	m := master(t, meshtest.Box(r3.Vec{}, r3.Vec{X: 60, Y: 30, Z: 20}))
	h := house
	h.PanelThick, h.Freeboard = 5, 10
	p, err := Make(m, choices("+z"), h)
	require.NoError(t, err)
	// inside 80 x 50 x 52; boards butted, the end walls outside
	assert.InDelta(t, 80, p.Length.Value, 1e-9)
	assert.InDelta(t, 50, p.Width.Value, 1e-9)
	assert.InDelta(t, 52, p.Height.Value, 1e-9)
	require.Len(t, p.Panels, 3)
	for i, want := range [][3]float64{{2, 80, 62}, {2, 60, 62}, {1, 90, 60}} {
		assert.Equal(t, int(want[0]), p.Panels[i].Count)
		assert.InDelta(t, want[1], p.Panels[i].A.Value, 1e-9, p.Panels[i].Name)
		assert.InDelta(t, want[2], p.Panels[i].B.Value, 1e-9, p.Panels[i].Name)
	}
	for _, n := range []float64{p.Halves[0].Volume.Value, p.Halves[1].Volume.Value} {
		assert.Positive(t, n)
	}
}

func TestClearancesFollowTheWayUpOfTheFirstPour(t *testing.T) {
	m := master(t, meshtest.Box(r3.Vec{}, r3.Vec{X: 60, Y: 30, Z: 20}))
	for up, want := range map[part.Axis]r3.Box{
		"+z": {Min: r3.Vec{X: -10, Y: -10, Z: -12}, Max: r3.Vec{X: 70, Y: 40, Z: 40}},
		"-z": {Min: r3.Vec{X: -10, Y: -10, Z: -20}, Max: r3.Vec{X: 70, Y: 40, Z: 32}},
		"+x": {Min: r3.Vec{X: -12, Y: -10, Z: -10}, Max: r3.Vec{X: 80, Y: 40, Z: 30}},
		"-y": {Min: r3.Vec{X: -10, Y: -20, Z: -10}, Max: r3.Vec{X: 70, Y: 42, Z: 30}},
	} {
		c := choices("+z")
		c.Attitudes.RubberA = up
		p, err := Make(m, c, house)
		require.NoError(t, err)
		assert.Equal(t, want, p.Box, "up %s", up)
	}
}
