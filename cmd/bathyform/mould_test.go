package main

import (
	"encoding/json"
	"fmt"
	"math"
	"testing"

	"bathyform/core/mesh/meshtest"
	"bathyform/core/part"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

func printed[T any](t *testing.T, args ...string) (out T) {
	t.Helper()
	text, bad, status := run(t, nil, args...)
	require.Zero(t, status, bad)
	require.NoError(t, json.Unmarshal([]byte(text), &out))
	return out
}

// plate is 60 by 40 by 14 mm.
func plate(t *testing.T) string {
	return file(t, meshtest.Box(r3.Vec{}, r3.Vec{X: 60, Y: 40, Z: 14}).WriteSTL())
}

func TestMouldPrintsTheOnePlan(t *testing.T) {
	path := plate(t)
	for _, kind := range []string{"parting-board", "clayed-up", "cut", "tape-parted", "three-piece", "squeeze", "open-face",
		"stretch", "shell"} {
		t.Run(kind, func(t *testing.T) {
			p := printed[planned](t, "mould", path, "--kind", kind, "--draw", "0,0,1", "--clearance", "10", "--json")
			assert.Equal(t, kind, p.Kind)
			assert.Equal(t, 1, p.Cavities)
			assert.InEpsilon(t, 60*40*14, p.Part, 1e-9)
			sum := 0.0
			for _, q := range p.Pours {
				sum += q.Volume
				assert.NotEmpty(t, q.Name)
				assert.Regexp(t, `^[+-][xyz]$`, q.Up)
			}
			assert.InEpsilon(t, p.Rubber, sum, 1e-9)
			if kind != "shell" {
				assert.InEpsilon(t, p.Box[0]*p.Box[1]*p.Box[2]-p.Part-p.Channels, p.Rubber, 1e-9, "box less part, less what rods leave")
			}
			// The gate comes in the parting, so that nothing lies below. Beside: the well is a cone from 8 to 16 mm over 12, and
			// begins 2 mm under the part's top; 5 mm to the edge there put its axis (5 + 14/3) / (√8/3) off, and half its rim
			// and 4 mm lie beyond.
			box := []float64{70 + 10.253 + 8 + 4, 60, 14 + 10 + 10}
			switch kind {
			case "squeeze":
				// a land of 8 mm, a half-round channel that holds a tenth of the part round it, and 4 to the wall
				around := 2*(60+40) + 2*math.Pi*(8+2.8)
				beside := 8 + math.Sqrt(8*0.1*60*40*14/(math.Pi*around)) + 4
				box = []float64{60 + 2*beside, 40 + 2*beside, 14 + 10 + 10}
			case "stretch": // it has no parting: 5 mm, half of the runner of 6 and of the sprue of 8, and 4 to the wall lie below
				box[2] += 6
			case "open-face":
				box = []float64{80, 60, 14 + 10}
			}
			if kind != "shell" {
				assert.InDeltaSlice(t, box, p.Box[:], 0.06)
			}
			assert.InEpsilon(t, p.Shot.Cavity+p.Shot.Channels+p.Shot.Margin, p.Shot.Total, 1e-9)
			assert.Equal(t, p.Channels, p.Shot.Channels)
			assert.Equal(t, kind == "open-face", p.Channels == 0)
			minutes := 0.0
			for _, s := range p.Steps {
				assert.NotEmpty(t, s.Text)
				minutes += s.Minutes
			}
			assert.InEpsilon(t, minutes/60, p.First, 1e-9)
			assert.Positive(t, p.Life)
			for _, f := range p.Findings {
				assert.NotEmpty(t, f.Code)
				assert.Contains(t, []string{"stop", "watch", "note"}, f.Severity)
			}
		})
	}
}

func TestKindsPrintsTheSameFiguresInOrder(t *testing.T) {
	path := plate(t)
	rows := printed[[]rankedJSON](t, "kinds", path, "--quantity", "30", "--elongation", "400", "--json")
	require.Len(t, rows, 10)
	for i, r := range rows {
		assert.NotEmpty(t, r.Why, r.Kind)
		if i > 0 && r.Fits == rows[i-1].Fits && r.Score != nil {
			assert.GreaterOrEqual(t, *r.Score, *rows[i-1].Score)
		}
		if r.Rubber == nil || i%2 == 1 { // every other one is worked out twice
			continue
		}
		p := printed[planned](t, "mould", path, "--kind", r.Kind, "--quantity", "30", "--elongation", "400", "--json")
		assert.InEpsilon(t, p.Rubber, *r.Rubber, 1e-9, r.Kind)
		assert.InEpsilon(t, p.First, *r.First, 1e-9, r.Kind)
	}
	assert.False(t, rows[len(rows)-1].Fits)
	more := printed[[]rankedJSON](t, "kinds", path, "--quantity", "400", "--json")
	for _, r := range more {
		if r.Moulds != nil {
			assert.Greater(t, *r.Moulds, 1, "%s does not last for four hundred", r.Kind)
		}
	}
}

func TestAMasterByMeasureOnTheCommandLine(t *testing.T) {
	p := printed[planned](t, "mould", "--size", "60x40x14", "--volume", "20", "--kind", "open face block", "--count", "2", "--json")
	assert.Equal(t, "open-face", p.Kind)
	assert.Equal(t, 2, p.Cavities)
	assert.InEpsilon(t, p.Box[0]*p.Box[1]*p.Box[2]-40_000, p.Rubber, 1e-9)
	assert.InDelta(t, 40_000, p.Shot.Cavity, 1e-6)
	rows := printed[[]rankedJSON](t, "kinds", "--size", "60x40x14", "--volume", "20", "--json")
	fits := 0
	for _, r := range rows {
		if r.Fits {
			fits++
		}
	}
	assert.GreaterOrEqual(t, fits, 4)
}

// A slanting draw turns the part; its mould is that of the part drawn upright.
func TestASlantingDrawIsThatOfThePartTurned(t *testing.T) {
	tilt := r3.NewRotation(0.4, r3.Vec{X: 1})
	up := tilt.Rotate(r3.Vec{Z: 1})
	slanting := file(t, meshtest.Box(r3.Vec{}, r3.Vec{X: 60, Y: 40, Z: 14}).Turned(tilt).WriteSTL())
	dir := fmt.Sprintf("%v,%v,%v", up.X, up.Y, up.Z)
	p := printed[planned](t, "mould", slanting, "--kind", "cut", "--draw", dir, "--up", dir, "--json")
	q := printed[planned](t, "mould", plate(t), "--kind", "cut", "--draw", "0,0,1", "--up", "0,0,1", "--json")
	assert.InEpsilon(t, q.Rubber, p.Rubber, 1e-4)
	assert.InDelta(t, q.Box[2], p.Box[2], 1e-3)
	_, err := part.Turn{}.Upright(r3.Vec{})
	assert.Error(t, err)
}

func TestMouldsThatCannotBeAskedFor(t *testing.T) {
	path := plate(t)
	for says, args := range map[string][]string{
		"--kind wants one of":    {"mould", path, "--kind", "injection"},
		"not \"block\"":          {"mould", path, "--kind", "block"},
		"name the file":          {"mould", "--kind", "cut"},
		"not by both":            {"mould", path, "--size", "1x2x3", "--volume", "1"},
		"as in 60x40x20":         {"mould", "--size", "60x40", "--volume", "1"},
		"does not go into a box": {"mould", "--size", "10x10x10", "--volume", "50"},
		"clearance beside":       {"mould", path, "--clearance", "-3"},
		"must be 1 or more":      {"kinds", path, "--quantity", "0"},
		"a box is a rectangle":   {"mould", path, "--form", "star"},
		"--quality wants":        {"mould", path, "--quality", "best"},
		"--shore wants":          {"kinds", path, "--shore", "-5"},
		"must run along an axis": {"mould", path, "--up", "1,1,1"},
		"another kind":           {"mould", path, "--kind", "sheet-pressed"},
		"no such file":           {"mould", "nowhere.stl"},
		"encloses no volume":     {"kinds", file(t, meshtest.Box(r3.Vec{}, r3.Vec{X: 20, Y: 20}).WriteSTL())},
		"more than the 60":       {"mould", path, "--count", "61"},
	} {
		_, bad, status := run(t, nil, args...)
		assert.Equal(t, unusable, status, says)
		assert.Contains(t, bad, says)
	}
}
