package pieces

import (
	"context"
	"math"
	"testing"

	"bathyform/core/key"
	"bathyform/core/mesh"
	"bathyform/core/mesh/meshtest"
	"bathyform/core/practice"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

// A rod of 8 mm through the parting leaves half of itself in each half, one of 1
// mm is left to the drill: pieces, part and channels fill the box.
func TestChannelsAreCastIntoTheHalves(t *testing.T) {
	m := meshtest.Box(r3.Vec{}, r3.Vec{X: 40, Y: 30, Z: 20})
	c := Choices{
		Draw:      r3.Vec{Z: 1},
		Clearance: practice.Clearance{Beside: 25, Below: 12, Above: 12},
		Keys:      key.Choices{Kind: key.None},
	}
	plain, err := Make(context.Background(), m, c, nil)
	require.NoError(t, err)
	level := plain.Level
	long := 20.0
	c.Parting = &level
	c.Bores = []Bore{
		{Path: []r3.Vec{{X: 55, Y: 5, Z: level}, {X: 55, Y: 5 + long, Z: level}}, Wide: 8, Volume: math.Pi * 16 * long},
		{Path: []r3.Vec{{X: -10, Y: 0, Z: level}, {X: -10, Y: 20, Z: level}}, Wide: 1, Volume: math.Pi / 4 * 20},
	}
	bored, err := Make(context.Background(), m, c, nil)
	require.NoError(t, err)
	assert.InDelta(t, math.Pi*16*long, bored.Bored, 1e-9, "the thin one is none of it")
	for i := range bored.Pieces {
		gone := plain.Pieces[i].Volume - bored.Pieces[i].Volume
		assert.InEpsilon(t, math.Pi*8*long, gone, 0.03, "half of the rod is gone from %s", bored.Pieces[i].Name)
		_, r, err := mesh.Load(bored.Pieces[i].Mesh.WriteSTL(), 1)
		require.NoError(t, err)
		assert.True(t, r.Sound, "%s is closed", bored.Pieces[i].Name)
	}
	assert.Less(t, bored.Error(), 0.004)
}

// A cone by its formula, and a bend that is round on the outside.
func TestHowFarAPlaceIsFromABore(t *testing.T) {
	cone := Bore{Path: []r3.Vec{{}, {Z: 10}}, Wide: 4, Rim: 8}
	assert.InDelta(t, -3, cone.beyond(r3.Vec{Z: 5}, cone.Length()), 1e-9)
	assert.InDelta(t, 2, cone.beyond(r3.Vec{X: 5, Z: 5}, cone.Length()), 1e-9)
	assert.InDelta(t, 1, cone.beyond(r3.Vec{Z: 11}, cone.Length()), 1e-9, "beyond its plane end")
	bent := Bore{Path: []r3.Vec{{}, {X: 10}, {X: 10, Z: 10}}, Wide: 2}
	assert.InDelta(t, math.Sqrt2-1, bent.beyond(r3.Vec{X: 11, Z: -1}, bent.Length()), 1e-9)
}

// A rod of n sides holds n/2 r² sin(2π/n) for every millimetre of its way, bends
// and all; a cone as a pyramid that is cut off.
func TestARodIsTheBodyOfItsBore(t *testing.T) {
	const n = 24
	round := n / 2 * math.Sin(2*math.Pi/n)
	for name, c := range map[string]struct {
		bore Bore
		mm3  float64
	}{
		"straight": {Bore{Path: []r3.Vec{{}, {X: 30}}, Wide: 8}, round * 16 * 30},
		"bent": {
			Bore{Path: []r3.Vec{{}, {X: 30}, {X: 30, Z: 20}, {X: 30, Y: 25, Z: 40}}, Wide: 4},
			round * 4 * (50 + math.Hypot(25, 20)),
		},
		"tapered": {Bore{Path: []r3.Vec{{}, {Z: 12}}, Wide: 8, Rim: 16}, round * 12 * (16 + 32 + 64) / 3},
	} {
		m := c.bore.Body(n)
		assert.InEpsilon(t, c.mm3, m.Volume(), 1e-9, name)
		_, r, err := mesh.Load(m.WriteSTL(), 1)
		require.NoError(t, err)
		assert.True(t, r.Sound, name)
	}
	assert.Nil(t, Bore{Path: []r3.Vec{{}, {X: 30}}, Wide: 8, Half: r3.Vec{Z: 1}}.Body(n), "that one is of clay")
}
