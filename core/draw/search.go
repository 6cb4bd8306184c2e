package draw

import (
	"cmp"
	"context"
	"math"
	"slices"

	"bathyform/core/mesh"
	"bathyform/core/parallel"

	"gonum.org/v1/gonum/spatial/r3"
)

// Offer is one draw direction in the search, with the figures it is judged by.
type Offer struct {
	Dir      r3.Vec
	Undercut float64 // mm³, good to a cell
	Height   float64 // of the part along the draw, mm
	Outline  Outline
	Score    float64 // less is better
}

// Progress is how far a search has come.
type Progress struct {
	Done, Total int
	Best        []Offer // so far, the best first
}

// Grids of the search, in cells along the longest side.
const (
	coarseCells = 56
	fineCells   = 128
)

// Wanted is how many draws a search offers.
const Wanted = 3

// apart is how far offers must differ, in radians: nearer ones are the same idea.
const apart = 25 * math.Pi / 180

// Search looks for the best directions to draw a part along: least undercut
// first, then the flattest and shortest parting line and the lowest mould. It
// tries the mesh's own axes, then n directions spread evenly over half the
// sphere (a direction and its opposite are one draw), and looks closer about
// the best. The answer does not depend on the machine. Told is called now and
// then, never twice at a time.
func Search(ctx context.Context, m *mesh.Mesh, n int, told func(Progress)) ([]Offer, error) {
	dirs := append([]r3.Vec{{Z: 1}, {X: 1}, {Y: 1}}, HalfSphere(n)...)
	box := m.Bounds()
	size := r3.Sub(box.Max, box.Min)
	longest := max(size.X, size.Y, size.Z)
	volume := math.Abs(m.Volume())
	near := []float64{5, 2.2, 1, 0.4} // degrees, of the closer looks
	total := len(dirs) + Wanted*len(near)*len(ring)
	done := 0
	var all []Offer
	look := func(dirs []r3.Vec, cells float64) error {
		offers, err := judge(ctx, m, dirs, longest/cells, volume, func(some []Offer) {
			done += len(some)
			if told != nil {
				told(Progress{done, total, best(append(slices.Clone(all), some...))})
			}
		})
		all = append(all, offers...)
		return err
	}
	if err := look(dirs[:3], coarseCells); err != nil { // something to show at once
		return nil, err
	}
	if err := look(dirs[3:], coarseCells); err != nil {
		return nil, err
	}
	for _, deg := range near {
		var closer []r3.Vec
		for _, o := range best(all) {
			closer = append(closer, about(o.Dir, deg*math.Pi/180)...)
		}
		if err := look(closer, coarseCells); err != nil {
			return nil, err
		}
	}
	fine := slices.Clone(dirs[:3]) // what parts are mostly drawn along is weighed as closely as what coarse cells found beside it
	for _, o := range best(all) {
		fine = append(fine, o.Dir)
	}
	out, err := judge(ctx, m, fine, longest/fineCells, volume, nil)
	if err != nil {
		return nil, err
	}
	return best(out), nil
}

// atOnce is how many directions are weighed between two words to the caster.
const atOnce = 24

// judge weighs directions on all processors; some is told of every finished batch.
func judge(ctx context.Context, m *mesh.Mesh, dirs []r3.Vec, cell, volume float64, some func([]Offer)) ([]Offer, error) {
	out := make([]Offer, len(dirs))
	err := parallel.Each(ctx, len(dirs), atOnce, func(i int) (err error) {
		out[i], err = weigh(ctx, m, dirs[i], cell, volume)
		return err
	}, func(from, to int) {
		if some != nil {
			some(out[from:to])
		}
	})
	return out, err
}

// Undercut is how much rubber is locked along a direction, mm³, good to a cell.
func Undercut(ctx context.Context, m *mesh.Mesh, dir r3.Vec, cell float64) (float64, error) {
	v, err := look(ctx, m, dir, Options{Cell: cell})
	if err != nil {
		return 0, err
	}
	return v.locks(), nil
}

// locks is the volume of all locked stretches, mm³, good to a cell.
func (v *view) locks() (volume float64) {
	for _, g := range v.gaps {
		volume += (g.hi - g.lo) * v.cols.Cell * v.cols.Cell
	}
	return volume
}

func weigh(ctx context.Context, m *mesh.Mesh, dir r3.Vec, cell, volume float64) (Offer, error) {
	v, err := look(ctx, m, dir, Options{Cell: cell})
	if err != nil {
		return Offer{}, err
	}
	o := Offer{Dir: v.frame.Up, Height: v.high - v.low, Outline: v.outline(), Undercut: v.locks()}
	// Weights: an undercut of a tenth of the part outweighs any line; a line
	// off its plane by a tenth of the part outweighs a third more of its
	// length or height. Common practice puts them in this order.
	o.Score = 20*o.Undercut/volume + 4*o.Outline.Off/v.longest + 0.4*o.Outline.Length/(math.Pi*v.longest) + 0.6*o.Height/v.longest
	return o, nil
}

// best picks the offers with the lowest scores that are clearly different.
func best(all []Offer) []Offer {
	sorted := slices.Clone(all)
	slices.SortStableFunc(sorted, func(a, b Offer) int { return cmp.Compare(a.Score, b.Score) })
	var out []Offer
	for _, o := range sorted {
		same := slices.ContainsFunc(out, func(p Offer) bool { return math.Abs(r3.Dot(p.Dir, o.Dir)) > math.Cos(apart) })
		if !same {
			if out = append(out, o); len(out) == Wanted {
				break
			}
		}
	}
	return out
}

// HalfSphere returns n directions spread evenly over half the sphere, z not
// below 0 (Fibonacci lattice).
func HalfSphere(n int) []r3.Vec {
	out := make([]r3.Vec, n)
	golden := math.Pi * (3 - math.Sqrt(5))
	for i := range out {
		z := (float64(i) + 0.5) / float64(n)
		r := math.Sqrt(1 - z*z)
		a := golden * float64(i)
		out[i] = r3.Vec{X: r * math.Cos(a), Y: r * math.Sin(a), Z: z}
	}
	return out
}

var ring = [6]float64{0, math.Pi / 3, 2 * math.Pi / 3, math.Pi, 4 * math.Pi / 3, 5 * math.Pi / 3}

// about returns directions in a ring round one.
func about(dir r3.Vec, angle float64) []r3.Vec {
	helper := r3.Vec{X: 1}
	if math.Abs(dir.X) > 0.7 {
		helper = r3.Vec{Y: 1}
	}
	u := r3.Unit(r3.Cross(dir, helper))
	w := r3.Cross(dir, u)
	out := make([]r3.Vec, 0, len(ring))
	for _, a := range ring {
		side := r3.Add(r3.Scale(math.Cos(a), u), r3.Scale(math.Sin(a), w))
		out = append(out, r3.Unit(r3.Add(r3.Scale(math.Cos(angle), dir), r3.Scale(math.Sin(angle), side))))
	}
	return out
}
