package main

import (
	"context"
	"encoding/json"
	"math"
	"testing"

	"bathyform/core/mesh/meshtest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

func gatesOf(t *testing.T, args ...string) gated {
	t.Helper()
	cmd := gatesCommand()
	cmd.SetContext(context.Background())
	out, err := answer(cmd, "", append(args, "--json")...)
	require.NoError(t, err)
	var got gated
	require.NoError(t, json.Unmarshal([]byte(out), &got))
	return got
}

// A brick of 30 by 20 by 10 mm laid six times: where its corners lie is put
// together here from what is printed, and every channel is held against them.
func TestGatesAreLaidForBricks(t *testing.T) {
	path := file(t, meshtest.Box(r3.Vec{X: 100, Y: 50, Z: -5}, r3.Vec{X: 130, Y: 70, Z: 5}).WriteSTL())
	got := gatesOf(t, path, "--count", "6", "--clearance", "4")
	require.Len(t, got.Cavities, 6)
	assert.InDelta(t, 6*6000, got.Cavity, 1)
	assert.InDelta(t, got.Cavity+got.Channel, got.Shot, 1e-6)
	assert.Zero(t, got.Overlap)
	assert.Zero(t, got.AirLeft)
	assert.Empty(t, got.Pockets)
	assert.GreaterOrEqual(t, got.Clearance, 3.99)

	var sum, scar float64
	kinds := map[string]int{}
	for _, c := range got.Channels {
		kinds[c.Kind]++
		sum += c.Volume
		if c.Kind == "gate" || c.Kind == "vent" {
			scar += math.Pi / 4 * c.Bore * c.Bore
		}
		for i := 1; i < len(c.Path); i++ {
			for k := range 101 {
				at := [3]float64{}
				for j := range at {
					at[j] = c.Path[i-1][j] + float64(k)/100*(c.Path[i][j]-c.Path[i-1][j])
					assert.True(t, at[j] >= 0 && at[j] <= got.Box[j]+1e-9, "%s leaves the box", c.Kind)
				}
				for n, cavity := range got.Cavities {
					if n != c.Cavity {
						assert.GreaterOrEqual(t, fromBrick(cavity, at)-c.Bore/2, 3.99, "%s of %d by cavity %d", c.Kind, c.Cavity, n)
					}
				}
			}
		}
	}
	assert.InDelta(t, got.Channel, sum, 1e-6)
	assert.InDelta(t, got.Scar, scar, 1e-6)
	assert.Equal(t, 6, kinds["gate"])
	assert.Equal(t, 6, kinds["vent"])
	assert.Equal(t, 1, kinds["well"])
}

// fromBrick is how far a place is from the brick in a cavity.
func fromBrick(c placeJSON, at [3]float64) float64 {
	sin, cos := math.Sincos(c.Turn * math.Pi / 180)
	x, y, z := at[0]-c.X, at[1]-c.Y, at[2]-c.Z
	x, y = cos*x+sin*y, cos*y-sin*x
	return r3.Norm(r3.Vec{X: max(0, 100-x, x-130), Y: max(0, 50-y, y-70), Z: max(0, -5-z, z-5)})
}

func TestGatesSayWhatTheyCannot(t *testing.T) {
	path := file(t, meshtest.Sphere(12, 20).WriteSTL())
	for want, args := range map[string][]string{
		"--count must be 1 or more":     {path, "--count", "0"},
		"from 1 to 200 cavities":        {path, "--count", "201"},
		"--pot must be more than 0":     {path, "--pot", "-4"},
		"--pot or --floor, not both":    {path, "--pot", "100", "--floor", "100x100"},
		"--floor wants a width":         {path, "--floor", "100"},
		"--vents wants all, few":        {path, "--vents", "some"},
		"feed must be low or top":       {path, "--feed", "side"},
		"clearance of the channels":     {path, "--clearance", "0"},
		"--quality must be":             {path, "--quality", "fine"},
		"not one cavity has room":       {path, "--pot", "30"},
		"way up needs three finite":     {path, "--up", "0,0,0"},
		"there is room for 1 cavities":  {path, "--floor", "70x60", "--count", "9"},
		"no such file":                  {"nowhere.stl"},
		"lie between 0.5 mm and 100 mm": {path, "--clearance", "1e9"},
	} {
		cmd := gatesCommand()
		cmd.SetContext(context.Background())
		_, err := answer(cmd, "", args...)
		assert.ErrorContains(t, err, want)
	}
	cmd := gatesCommand()
	cmd.SetContext(context.Background())
	out, err := answer(cmd, "", path)
	require.NoError(t, err)
	assert.Contains(t, out, "1 cavity in")
	assert.Contains(t, out, "sprue")
}
