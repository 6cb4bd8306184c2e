package key

import (
	"fmt"
	"math"
	"testing"

	"bathyform/core/mesh"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// poured sums a key's rise over a fine lattice.
func poured(k Key, box [4]float64) (volume float64) {
	const step = 0.05
	for x := box[0] + step/2; x < box[1]; x += step {
		for y := box[2] + step/2; y < box[3]; y += step {
			volume += k.Rise(x, y) * step * step
		}
	}
	return volume
}

func TestVolumesAreThoseOfTheRise(t *testing.T) {
	around := [4]float64{-16, 16, -14, 14}
	for _, k := range []Key{
		{Kind: Dome, Radius: 6}, {Kind: Bar, Radius: 4}, {Kind: Bar, Radius: 4, Turn: 0.7},
		{Kind: Pin, Radius: 2}, {Kind: Bevel, Radius: 4, Inside: around},
	} {
		t.Run(fmt.Sprint(k.Kind, k.Turn), func(t *testing.T) {
			assert.InEpsilon(t, poured(k, around), k.Volume(), 0.005)
			if k.Kind != Bevel {
				assert.InDelta(t, k.Height(), k.Rise(0, 0), 1e-9, "full height in its middle")
				assert.Zero(t, k.Rise(k.Reach()+0.01, 0.0)*k.Rise(0, k.Reach()+0.01), "nothing beside its foot")
			}
		})
	}
	assert.InEpsilon(t, 4.0, Key{Kind: Bevel, Radius: 4, Inside: around}.Rise(-16, 0), 1e-9, "a bevel is highest at the wall")
}

// block is a block of 120 by 90 mm with a part of 60 by 30 in its middle.
func block(spots ...Spot) Room {
	const nx, ny = 121, 91
	taken := make([]bool, nx*ny)
	for j := range ny {
		for i := range nx {
			taken[j*nx+i] = i >= 30 && i <= 90 && j >= 30 && j <= 60
		}
	}
	return Clearing(0, 0, 1, nx, ny, taken, [4]float64{0, 120, 0, 90}, spots)
}

func TestKeysStandClearOfEverything(t *testing.T) {
	sprue := Spot{X: 15, Y: 15, Radius: 8}
	for _, kind := range []Kind{Dome, Bar, Pin, Strip} {
		t.Run(string(kind), func(t *testing.T) {
			p, err := Place(block(sprue), Choices{Kind: kind})
			require.NoError(t, err)
			assert.Empty(t, p.Short)
			assert.GreaterOrEqual(t, len(p.Keys), 4)
			odd := 0
			for i, k := range p.Keys {
				dx, dy := max(30-k.X, k.X-90, 0), max(30-k.Y, k.Y-60, 0)
				assert.GreaterOrEqual(t, math.Hypot(dx, dy), k.Radius+wall-1, "key %d to the part", i+1)
				assert.GreaterOrEqual(t, min(k.X, 120-k.X, k.Y, 90-k.Y), k.Radius+wall-1e-9, "key %d to the wall", i+1)
				assert.GreaterOrEqual(t, math.Hypot(k.X-sprue.X, k.Y-sprue.Y), k.Radius+wall+sprue.Radius-1e-9, "key %d to the sprue", i+1)
				for _, o := range p.Keys[:i] {
					assert.Greater(t, math.Hypot(k.X-o.X, k.Y-o.Y), k.Radius+o.Radius)
				}
				if k.Odd {
					odd++
				}
			}
			assert.Equal(t, 1, odd, "one unlike the rest")
			assert.Positive(t, p.Volume)
			assert.False(t, closesTurned(p.Keys), "turned round it must not close")
		})
	}
}

// closesTurned reports whether every key finds an equal one half a turn round.
func closesTurned(keys []Key) bool {
	for _, k := range keys {
		met := false
		for _, o := range keys {
			met = met || math.Hypot(120-k.X-o.X, 90-k.Y-o.Y) < 1 && math.Abs(k.Radius-o.Radius) < 0.1
		}
		if !met {
			return false
		}
	}
	return true
}

func TestTooLittleRoomIsTold(t *testing.T) {
	taken := make([]bool, 40*40)
	for i := range taken {
		x, y := i%40, i/40
		taken[i] = x > 2 && x < 37 && y > 2 && y < 37
	}
	tight := Clearing(0, 0, 1, 40, 40, taken, [4]float64{0, 39, 0, 39}, nil)
	p, err := Place(tight, Choices{})
	require.NoError(t, err)
	assert.Empty(t, p.Keys)
	assert.Contains(t, p.Short, "no room for a key")
	p, err = Place(block(), Choices{Kind: None})
	require.NoError(t, err)
	assert.Contains(t, p.Short, "Nothing holds the halves")
	p, err = Place(block(), Choices{Kind: Bevel})
	require.NoError(t, err)
	require.Len(t, p.Keys, 1)
	assert.Contains(t, p.Short, "more than one way")
	assert.LessOrEqual(t, p.Keys[0].Radius*bevelRun, 15.0, "half of the wall beside the part stays level")
}

func TestAskedForSizesAndNonsense(t *testing.T) {
	p, err := Place(block(), Choices{Kind: Dome, Size: 4})
	require.NoError(t, err)
	for _, k := range p.Keys[1:] {
		assert.Equal(t, 4.0, k.Radius)
	}
	for _, c := range []Choices{{Kind: "hooks"}, {Size: -1}, {Size: math.NaN()}, {Size: 1000}} {
		_, err := Place(block(), c)
		assert.Error(t, err)
	}
}

func TestKeysCanBePrinted(t *testing.T) {
	for _, k := range []Key{
		{Kind: Dome, Radius: 6, X: 3, Y: -2}, {Kind: Bar, Radius: 4, Turn: 0.5}, {Kind: Pin, Radius: 2},
		{Kind: Strip, Radius: 5, Turn: 0.3},
	} {
		m := k.Body(0)
		_, r, err := mesh.Load(m.WriteSTL(), 1)
		require.NoError(t, err)
		assert.Zero(t, r.Edges.Open, k.Kind)
		assert.InEpsilon(t, k.Volume(), m.Volume(), 0.03, "%s: as many corners as a printer needs", k.Kind)
		assert.Less(t, k.Body(0.2).Volume(), m.Volume(), "with play it is smaller")
	}
	assert.Empty(t, Key{Kind: Bevel, Radius: 3}.Body(0).Triangles)
}
