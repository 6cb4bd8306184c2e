package main

import (
	"encoding/json"
	"testing"

	. "bathyform/core/grid/gridtest"
	"bathyform/core/mesh"
	"bathyform/core/mesh/meshtest"
	"bathyform/core/strip"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

// told runs a command that has to succeed and reads what it prints.
func told[T any](t *testing.T, args ...string) (got T) {
	t.Helper()
	out, bad, status := run(t, nil, append(args, "--json")...)
	require.Zero(t, status, bad)
	require.NoError(t, json.Unmarshal([]byte(out), &got))
	return got
}

// A ring upright, a mug and a spool: what the draw locks, and what the mould
// in pieces makes of it.
func TestLocksAreNamedAndAnswered(t *testing.T) {
	ring := file(t, Mesh(Ring(V(0, 0, 0), V(1, 0, 0), 20, 5), V(-5, -25, -25), V(5, 25, 25), 70).WriteSTL())
	d := told[drawing](t, "draw", ring)
	require.Len(t, d.Locks, 1)
	assert.Equal(t, strip.Threaded, d.Locks[0].Mode)
	assert.Equal(t, strip.Another, d.Locks[0].Answer, "it draws along its axis")
	assert.False(t, d.Opens)
	assert.Empty(t, told[drawing](t, "draw", ring, "--dir", "1,0,0").Locks)

	dir := t.TempDir()
	p := told[inPieces](t, "pieces", ring, "--out", dir)
	assert.True(t, p.Opens)
	require.Len(t, p.Locks, 1)
	assert.Equal(t, strip.SidePiece, p.Locks[0].Answer)
	assert.Equal(t, "Side 1", p.Locks[0].Piece)
	h := told[inPieces](t, "pieces", ring, "--out", dir, "--halves-only")
	assert.False(t, h.Opens)
	assert.Equal(t, strip.Another, h.Locks[0].Answer)

	spool := file(t, meshtest.Turned(90, [2]float64{0, 0}, [2]float64{20, 0}, [2]float64{20, 6}, [2]float64{12, 6}, [2]float64{12, 20},
		[2]float64{20, 20}, [2]float64{20, 26}, [2]float64{0, 26}).WriteSTL())
	for _, c := range []struct {
		args  []string
		opens bool
	}{
		{[]string{"--elongation", "350"}, true}, // 67 % and bending, of 88
		{[]string{"--elongation", "250"}, false},
		{[]string{"--elongation", "250", "--pulls", "2"}, true},
		{[]string{"--elongation", "350", "--clearance", "40"}, true},
	} {
		got := told[inPieces](t, append([]string{"pieces", spool, "--out", dir, "--halves-only"}, c.args...)...)
		require.Len(t, got.Locks, 1)
		assert.Equal(t, strip.Collar, got.Locks[0].Mode)
		assert.InDelta(t, 0.667, got.Locks[0].Strain, 0.2)
		assert.Equal(t, c.opens, got.Opens, "%v", c.args)
	}
}

func TestWallsAtPlaces(t *testing.T) {
	plate := file(t, meshtest.Box(r3.Vec{}, r3.Vec{X: 70, Y: 70, Z: 2}).WriteSTL())
	got := told[wallsOut](t, "walls", plate, "--at", "35,35,9", "--at", "0,0,0")
	assert.InDelta(t, 2, got.Thinnest, 0.01)
	assert.InDelta(t, 2, got.Thickest, 0.01)
	require.Len(t, got.At, 2)
	assert.InDelta(t, 2, got.At[0].Thickness, 0.02)
	assert.InDelta(t, 2, got.At[1].Thickness, 0.1, "a corner is as thick as its plate")
	_, bad, status := run(t, nil, "walls", plate, "--at", "1,2")
	assert.Equal(t, unusable, status)
	assert.NotEmpty(t, bad)
}

func TestHollowsAndOverlapsAreToldApart(t *testing.T) {
	box := meshtest.Box(r3.Vec{}, r3.Vec{X: 40, Y: 40, Z: 40})
	hollow := meshtest.Box(r3.Vec{X: 10, Y: 10, Z: 10}, r3.Vec{X: 30, Y: 30, Z: 30})
	for i, tri := range hollow.Triangles {
		hollow.Triangles[i] = [3]int32{tri[0], tri[2], tri[1]}
	}
	all := &mesh.Mesh{}
	all.Append(box)
	all.Append(hollow)
	got := told[inspection](t, "inspect", file(t, all.WriteSTL()))
	assert.Equal(t, 1, got.Hollows)
	assert.InDelta(t, 8000, got.Hollow, 1e-3)
	assert.InDelta(t, 56000, got.Volume, 1e-3)
	assert.InDelta(t, 64000, got.Cast, 1e-3)

	dir := t.TempDir()
	p := told[inPieces](t, "pieces", file(t, all.WriteSTL()), "--out", dir)
	assert.InDelta(t, 64000, p.Part, 1e-3)
	sum := p.Part
	for _, q := range p.Pieces {
		sum += q.Volume
	}
	assert.InEpsilon(t, p.Box, sum, 1e-3, "no loose lump inside")

	two := &mesh.Mesh{}
	two.Append(box)
	two.Append(meshtest.Box(r3.Vec{X: 30, Y: 30, Z: 30}, r3.Vec{X: 50, Y: 50, Z: 50}))
	over := told[inspection](t, "inspect", file(t, two.WriteSTL()))
	assert.InDelta(t, 1000, over.Overlap, 5)
	assert.InDelta(t, 64000+8000-1000, over.Volume, 5)
	assert.Contains(t, over.Warnings[len(over.Warnings)-1], "bodies 1 and 2")
}

func TestASetOfFilesIsLaidTogether(t *testing.T) {
	a := file(t, meshtest.Box(r3.Vec{}, r3.Vec{X: 40, Y: 20, Z: 10}).WriteSTL())
	b := file(t, meshtest.Cylinder(12, 10, 48).WriteSTL())
	got := told[ganged](t, "gang", a, b, "--ratio", "2:1", "--floor", "200x150")
	require.Positive(t, got.Sets)
	assert.Equal(t, 3*got.Sets, got.Placed)
	count := [2]int{}
	for _, p := range got.Poses {
		count[p.Part]++
	}
	assert.Equal(t, [2]int{2 * got.Sets, got.Sets}, count)
	for _, ratio := range []string{"2", "2:0", "2:x", "1:1:1"} {
		_, bad, status := run(t, nil, "gang", a, b, "--ratio", ratio, "--floor", "200x150")
		assert.Equal(t, unusable, status, ratio)
		assert.Contains(t, bad, "--ratio")
	}
}
