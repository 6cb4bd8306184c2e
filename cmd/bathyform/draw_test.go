package main

import (
	"encoding/json"
	"math"
	"os"
	"testing"

	"bathyform/core/mesh"
	"bathyform/core/mesh/meshtest"
	"bathyform/demo/parts"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

func TestDrawNamesWhatIsLocked(t *testing.T) {
	mushroom := file(
		t,
		meshtest.Turned(90, [2]float64{0, 0}, [2]float64{5, 0}, [2]float64{5, 20}, [2]float64{12, 20}, [2]float64{12, 28},
			[2]float64{0, 28}).
			WriteSTL(),
	)
	ask := func(args ...string) (got drawing) {
		out, bad, status := run(t, nil, append([]string{"draw", mushroom, "--json"}, args...)...)
		require.Zero(t, status, bad)
		require.NoError(t, json.Unmarshal([]byte(out), &got))
		return got
	}
	two := ask("--dir", "1,0,0")
	assert.False(t, two.Undercut)
	assert.NotNil(t, two.Spaces)
	assert.Zero(t, two.Area)

	one := ask("--dir", "0,0,-1", "--one-sided")
	assert.True(t, one.Undercut)
	require.Len(t, one.Spaces, 1)
	assert.InEpsilon(t, math.Pi*(144-25)*20, one.Volume, 0.02)
	assert.InDelta(t, 7, one.Spaces[0].Depth, 0.2)
	assert.InDelta(t, 10, one.Spaces[0].Centre[2], 0.2)
	assert.False(t, ask("--dir", "0,0,1", "--one-sided").Undercut)
}

func TestDrawRefusesWhatItCannotUse(t *testing.T) {
	block := file(t, meshtest.Cylinder(5, 10, 24).WriteSTL())
	for name, args := range map[string][]string{
		"no such way": {"draw", block, "--dir", "0,0,0"},
		"two numbers": {"draw", block, "--dir", "1,2"},
		"cell":        {"draw", block, "--cell", "-1"},
		"no file":     {"draw", block + "x"},
	} {
		_, bad, status := run(t, nil, args...)
		assert.Equal(t, unusable, status, name)
		assert.NotEmpty(t, bad, name)
	}
}

func TestPiecesAreWrittenAndFillTheBox(t *testing.T) {
	hub, ok := parts.ByKey("drogue-hub")
	require.True(t, ok)
	part := file(t, hub.Mesh().WriteSTL())
	dir := t.TempDir()
	out, bad, status := run(t, nil, "pieces", part, "--draw", "0,0,1", "--out", dir, "--json")
	require.Zero(t, status, bad)
	var got inPieces
	require.NoError(t, json.Unmarshal([]byte(out), &got))
	require.GreaterOrEqual(t, len(got.Pieces), 3)
	sum := got.Part
	for i, p := range got.Pieces {
		assert.Equal(t, i+1, p.Order)
		data, err := os.ReadFile(p.File)
		require.NoError(t, err)
		_, r, err := mesh.Load(data, 1)
		require.NoError(t, err)
		assert.Zero(t, r.Edges.Open, p.Name)
		assert.InEpsilon(t, p.Volume, r.Volume, 1e-4, "%s as written", p.Name)
		assert.Less(t, p.Catches, 1.0, p.Name)
		sum += r.Volume
	}
	assert.InEpsilon(t, got.Box, sum, 0.003)

	out, bad, status = run(t, nil, "pieces", part, "--draw", "0,0,1", "--halves-only", "--clearance", "15", "--out", dir)
	require.Zero(t, status, bad)
	assert.Contains(t, out, "in 2 pieces")
	assert.Contains(t, out, "stripped")
	for name, args := range map[string][]string{
		"no clearance": {"pieces", part, "--clearance", "0"},
		"no draw":      {"pieces", part, "--draw", "0,0,0"},
		"too high":     {"pieces", part, "--parting", "900"},
	} {
		_, bad, status := run(t, nil, append(args, "--out", dir)...)
		assert.Equal(t, unusable, status, name)
		assert.NotEmpty(t, bad, name)
	}
}

func TestGangsAreLaidForScripts(t *testing.T) {
	disc := file(t, meshtest.Cylinder(22.5, 10, 90).WriteSTL())
	ask := func(args ...string) (got ganged) {
		out, bad, status := run(t, nil, append([]string{"gang", disc, "--json"}, args...)...)
		require.Zero(t, status, bad)
		require.NoError(t, json.Unmarshal([]byte(out), &got))
		assert.Len(t, got.Poses, got.Placed)
		return got
	}
	pot := ask("--pot", "240", "--gap", "8", "--edge", "10")
	assert.Equal(t, 13, pot.Placed)
	assert.LessOrEqual(t, pot.Diameter, 240.001)
	four := ask("--count", "4", "--gap", "8", "--edge", "12")
	assert.Equal(t, 4, four.Placed)
	assert.InDelta(t, 122*122, four.Width*four.Depth, 30)
	assert.InEpsilon(t, four.Width*four.Depth*43-4*math.Pi*22.5*22.5*10, four.Rubber, 0.01)

	out, bad, status := run(t, nil, "gang", disc, "--count", "30", "--floor", "120x120", "--json")
	assert.Equal(t, unusable, status)
	assert.Contains(t, bad, "no room for so many")
	assert.Contains(t, out, `"placed"`, "what has room is shown all the same")
	for name, args := range map[string][]string{"floor": {"--floor", "12"}, "nothing": {}, "count": {"--count", "0"},
		"pot": {"--pot", "-3"}, "small": {"--pot", "50"}, "up": {"--count", "2", "--up", "0,0,0"}} {
		_, bad, status := run(t, nil, append([]string{"gang", disc}, args...)...)
		assert.Equal(t, unusable, status, name)
		assert.NotEmpty(t, bad, name)
	}
}

func TestPiecesAndGangsOfAPartDrawnInInches(t *testing.T) {
	inches := file(t, meshtest.Box(r3.Vec{}, r3.Vec{X: 2, Y: 1, Z: 0.5}).WriteSTL())
	dir := t.TempDir()
	out, bad, status := run(t, nil, "pieces", inches, "--unit", "in", "--clearance", "10", "--out", dir, "--json")
	require.Zero(t, status, bad)
	var got inPieces
	require.NoError(t, json.Unmarshal([]byte(out), &got))
	assert.InEpsilon(t, 50.8*25.4*12.7, got.Part, 1e-6)
	assert.InEpsilon(t, 70.8*45.4*32.7, got.Box, 1e-6)
	require.Len(t, got.Pieces, 2)
	assert.InEpsilon(t, got.Box-got.Part, got.Pieces[0].Volume+got.Pieces[1].Volume, 1e-3)
	assert.Equal(t, [3]float64{0, 0, 1}, got.Pieces[0].Draw)
	assert.Equal(t, [3]float64{0, 0, -1}, got.Pieces[1].Draw)

	out, bad, status = run(t, nil, "gang", inches, "--unit", "in", "--count", "2", "--gap", "8", "--edge", "10")
	require.Zero(t, status, bad)
	assert.Contains(t, out, "2 cavities")

	// an open mesh is closed flat and goes on
	box := meshtest.Box(r3.Vec{}, r3.Vec{X: 40, Y: 30, Z: 20})
	box.Triangles = box.Triangles[:len(box.Triangles)-1]
	out, bad, status = run(t, nil, "pieces", file(t, box.WriteSTL()), "--clearance", "10", "--out", dir, "--json")
	require.Zero(t, status, bad)
	require.NoError(t, json.Unmarshal([]byte(out), &got))
	assert.InEpsilon(t, 60*50*40-24000, got.Pieces[0].Volume+got.Pieces[1].Volume, 2e-3)
}
