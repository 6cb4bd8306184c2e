// Package attitude compares ways up: how a part is best turned for the pour.
// A good way up has few high spots that want a vent and little air in them,
// for the resin in the cavity and for the rubber round the master, and makes
// a low mould on a small floor.
package attitude

import (
	"cmp"
	"context"
	"math"
	"slices"

	"bathyform/core/derive"
	"bathyform/core/draw"
	"bathyform/core/fill"
	"bathyform/core/mesh"
	"bathyform/core/parallel"
	"bathyform/core/quantity"

	"gonum.org/v1/gonum/spatial/r3"
)

// Way is one way up and what it does.
type Way struct {
	Up     r3.Vec
	Vents  int     // high spots of the cavity that want a vent, the highest one included
	Air    float64 // mm³ that a single vent at the highest spot leaves in the cavity
	Under  int     // places under the part that keep air from the rubber
	Rubber float64 // mm³ of air in them
	Height float64 // of the part, mm
	Floor  float64 // plan rectangle of the part, mm²
	Score  float64 // less is better
	Front  bool    // no other way is better in vents, in air and in height at once

	Cell float64 // of the grid, mm
}

// AirNumber is the air left in the cavity with the sum behind it.
func (w Way) AirNumber(pockets []fill.Pocket) derive.Number {
	n := derive.Of(
		quantity.Volume,
		w.Air/1000,
		"sum of the pockets that are left when every body of the cavity has one vent, at its highest spot",
		w.gridInputs()...)
	for i, p := range pockets {
		if i == mostListed {
			break
		}
		if p.Volume >= Worthwhile {
			n.Inputs = append(
				n.Inputs,
				derive.From("pocket", quantity.Volume, p.Volume/1000, "the cavity above the height where its last way out is closed"),
			)
		}
	}
	return n
}

// RubberNumber is the air under the part with the sum behind it.
func (w Way) RubberNumber() derive.Number {
	return derive.Of(
		quantity.Volume,
		w.Rubber/1000,
		"sum of the places under the part that rubber rising round it shuts off",
		append(
			[]derive.Input{
				derive.From("places", quantity.Number, float64(w.Under), "the trapped-air analysis, run for the space round the part"),
			},
			w.gridInputs()...)...)
}

// FloorNumber is the plan rectangle with the sum behind it, in cm².
func (w Way) FloorNumber() derive.Number {
	return derive.Of(
		quantity.Area,
		w.Floor/100,
		"length × width of the part seen from above",
		derive.From("height of the part this way up", quantity.Length, w.Height, "the mesh"),
	)
}

// mostListed is how many pockets a sum names.
const mostListed = 8

func (w Way) gridInputs() []derive.Input {
	return []derive.Input{
		derive.From("cell of the grid", quantity.Length, w.Cell, "the part's longest side, divided; finer when the hand rests"),
		derive.From("smallest pocket counted (mm³)", quantity.Number, Worthwhile, "common practice, no source"),
	}
}

// Worthwhile is the smallest pocket in mm³ that counts between ways up: a
// bubble of about a millimetre and a half. Common practice, no source.
const Worthwhile = 2

// ventBore is that of the one vent, mm.
const ventBore = 2

// Cells along the longest side while a hand turns the part, and when it rests.
const (
	CoarseCells = 64
	FineCells   = 128
)

// Look weighs one way up. Sound says that the mesh encloses its volume.
func Look(m *mesh.Mesh, sound bool, up r3.Vec, cells float64) (Way, []fill.Pocket, error) {
	box := m.Bounds()
	size := r3.Sub(box.Max, box.Min)
	cell := max(size.X, size.Y, size.Z) / cells
	space, err := fill.Prepare(m, up, fill.Options{Cell: cell, Sound: sound})
	if err != nil {
		return Way{}, nil, err
	}
	w := Way{Cell: cell, Up: space.Frame.Up, Height: space.High() - space.Low(), Floor: floor(m, space)}
	pockets, err := afterHighestVent(space)
	if err != nil {
		return w, nil, err
	}
	pockets = slices.DeleteFunc(pockets, func(p fill.Pocket) bool { return p.Volume < Worthwhile }) // dents of facets
	w.Vents = 1 + len(pockets)
	for _, p := range pockets {
		w.Air += p.Volume
	}
	around, err := fill.Prepare(m, up, fill.Options{Cell: cell, Sound: sound, Around: true, Headroom: 1})
	if err != nil {
		return w, nil, err
	}
	under, err := around.Trap(nil)
	if err != nil {
		return w, nil, err
	}
	for _, p := range under.Pockets {
		if p.Volume >= Worthwhile {
			w.Under++
			w.Rubber += p.Volume
		}
	}
	volume := math.Abs(m.Volume())
	longest := max(size.X, size.Y, size.Z)
	// A vent costs as much as a pocket of a fiftieth of the part or a third of its length in height.
	w.Score = 0.3*float64(
		w.Vents-1,
	) + 15*w.Air/volume + 0.15*float64(
		w.Under,
	) + 5*w.Rubber/volume + 0.9*w.Height/longest + 0.3*w.Floor/(longest*longest)
	return w, pockets, nil
}

// afterHighestVent are the pockets that are left when each body of the cavity
// has one vent, at its highest point.
func afterHighestVent(space *fill.Space) ([]fill.Pocket, error) {
	closed, err := space.Trap(nil)
	if err != nil {
		return nil, err
	}
	var vents []fill.Opening
	for _, p := range closed.Pockets {
		vents = append(vents, fill.Opening{At: p.Apex, Bore: ventBore})
	}
	left, err := space.Trap(vents)
	return left.Pockets, err
}

func floor(m *mesh.Mesh, space *fill.Space) float64 {
	inf := math.Inf(1)
	x0, x1, y0, y1 := inf, -inf, inf, -inf
	for _, p := range m.Vertices {
		q := space.Frame.In(p)
		x0, x1, y0, y1 = min(x0, q.X), max(x1, q.X), min(y0, q.Y), max(y1, q.Y)
	}
	return (x1 - x0) * (y1 - y0)
}

// Progress is how far a search has come; Ways holds what is new.
type Progress struct {
	Done, Total int
	Ways        []Way
}

// atOnce is how many ways are weighed between two words to the caster.
const atOnce = 12

// Search weighs the mesh's own six ways and n more spread evenly over the
// sphere, and marks the front: the ways that no other beats in everything.
// They come back the best first, the same on every machine.
func Search(ctx context.Context, m *mesh.Mesh, sound bool, n int, told func(Progress)) ([]Way, error) {
	dirs := []r3.Vec{{Z: 1}, {Z: -1}, {X: 1}, {X: -1}, {Y: 1}, {Y: -1}}
	for _, d := range draw.HalfSphere(n / 2) {
		dirs = append(dirs, d, r3.Scale(-1, d))
	}
	ways := make([]Way, len(dirs))
	err := parallel.Each(ctx, len(dirs), atOnce, func(i int) (err error) {
		ways[i], _, err = Look(m, sound, dirs[i], CoarseCells)
		return err
	}, func(from, to int) {
		if told != nil {
			told(Progress{to, len(dirs), slices.Clone(ways[from:to])})
		}
	})
	if err != nil {
		return nil, err
	}
	markFront(ways)
	slices.SortStableFunc(ways, func(a, b Way) int { return cmp.Compare(a.Score, b.Score) })
	return ways, nil
}

func markFront(ways []Way) {
	for i := range ways {
		a := &ways[i]
		a.Front = !slices.ContainsFunc(ways, func(b Way) bool {
			noWorse := b.Vents <= a.Vents && b.Air <= a.Air && b.Rubber <= a.Rubber && b.Height <= a.Height
			return noWorse && (b.Vents < a.Vents || b.Air < a.Air || b.Rubber < a.Rubber || b.Height < a.Height)
		})
	}
}
