// Package blockout builds a stand-in for a part that has no mesh out of a few
// plain solids, added or cut away one after the other, until it is near
// enough to plan a mould by.
package blockout

import (
	"errors"
	"fmt"
	"math"

	"bathyform/core/grid"
	"bathyform/core/mesh"

	"gonum.org/v1/gonum/spatial/r3"
)

// Kind of solid.
type Kind string

// The solids. Each stands on the middle of its base and reaches up along its
// axis.
const (
	Box      Kind = "box"      // length, width, height
	Cylinder Kind = "cylinder" // diameter, height
	Cone     Kind = "cone"     // lower and upper diameter, height
	Sphere   Kind = "sphere"   // diameter
	Tube     Kind = "tube"     // outer and inner diameter, height
	Prism    Kind = "prism"    // outline, height
	Turned   Kind = "turned"   // profile of radius and height
)

// Solid is one of them at its place.
type Solid struct {
	Kind    Kind
	Cut     bool      `json:",omitempty"` // taken away instead of added
	At      r3.Vec    // middle of the base, mm
	Axis    string    `json:",omitempty"` // x, y or z; empty for z
	A, B, C float64   // the measures of its kind, mm: C is the height
	Rings   [][]Point `json:",omitempty"` // of a prism or a turned solid, mm; holes are rings within rings
}

// Point is a corner of an outline, mm.
type Point [2]float64

// Bounds on what is built.
const (
	MostSolids = 60
	mostCells  = 110 // along the longest side, of what is not thin
	thinCells  = 3.2 // that the thinnest solid is thick
	mostSize   = 3000
	mostPoints = 600 // of all rings of a solid

	mostLattice = 5e6 // points
)

// ErrNothing says that no solid is left.
var ErrNothing = errors.New("nothing is left: what was added has been cut away again; make the cut smaller or move it")

// Check says what is wrong with a solid, in words for the field beside it.
func (s Solid) Check() error {
	for _, v := range []float64{s.At.X, s.At.Y, s.At.Z, s.A, s.B, s.C} {
		if math.IsNaN(v) || math.Abs(v) > mostSize {
			return fmt.Errorf("the %s has a measure or a place of %g mm; at most %d can be built", s.Kind, v, mostSize)
		}
	}
	if s.Axis != "" && s.Axis != "x" && s.Axis != "y" && s.Axis != "z" {
		return fmt.Errorf("the %s must stand along x, y or z, not %q", s.Kind, s.Axis)
	}
	need := func(name string, v float64) error {
		if !(v > 0) {
			return fmt.Errorf("the %s of the %s must be more than 0", name, s.Kind)
		}
		return nil
	}
	switch s.Kind {
	case Box:
		return errors.Join(need("length", s.A), need("width", s.B), need("height", s.C))
	case Cylinder:
		return errors.Join(need("diameter", s.A), need("height", s.C))
	case Cone:
		if s.A < 0 || s.B < 0 || s.A+s.B == 0 {
			return errors.New("a cone needs a lower or an upper diameter")
		}
		return need("height", s.C)
	case Sphere:
		return need("diameter", s.A)
	case Tube:
		if s.B >= s.A {
			return fmt.Errorf("a tube's inner diameter of %g mm does not go into its outer one of %g mm", s.B, s.A)
		}
		return errors.Join(need("outer diameter", s.A), need("inner diameter", s.B), need("height", s.C))
	case Prism, Turned:
		points := 0
		for _, r := range s.Rings {
			if len(r) < 3 {
				return fmt.Errorf("an outline of the %s has fewer than three corners", s.Kind)
			}
			points += len(r)
			for _, p := range r {
				if math.IsNaN(p[0]+p[1]) || math.Abs(p[0]) > mostSize || math.Abs(p[1]) > mostSize {
					return fmt.Errorf("a corner of the %s lies more than %d mm away", s.Kind, mostSize)
				}
				if s.Kind == Turned && p[0] < 0 {
					return errors.New("a turned profile must not cross its axis: every radius is 0 or more")
				}
			}
		}
		if points == 0 || points > mostPoints {
			return fmt.Errorf("the %s needs an outline of 3 to %d corners, not %d", s.Kind, mostPoints, points)
		}
		if s.Kind == Prism {
			return need("height", s.C)
		}
		return nil
	}
	return fmt.Errorf("%q is no solid that can be built", s.Kind)
}

// Build makes one closed mesh of the solids, taken in turn. Its facets are
// about a hundredth of its length; edges come out as sharp as that allows.
func Build(solids []Solid) (*mesh.Mesh, error) {
	if len(solids) == 0 {
		return nil, errors.New("add a first solid")
	}
	if len(solids) > MostSolids {
		return nil, fmt.Errorf("at most %d solids can be built together", MostSolids)
	}
	box := r3.Box{
		Min: r3.Vec{X: math.Inf(1), Y: math.Inf(1), Z: math.Inf(1)},
		Max: r3.Vec{X: math.Inf(-1), Y: math.Inf(-1), Z: math.Inf(-1)},
	}
	fields := make([]grid.Field, len(solids))
	added := false
	for i, s := range solids {
		if err := s.Check(); err != nil {
			return nil, fmt.Errorf("solid %d: %w", i+1, err)
		}
		local, low, high := s.field()
		fields[i] = s.placed(local)
		if s.Cut {
			continue
		}
		added = true
		for _, p := range corners(low, high) {
			q := s.out(p)
			box.Min = r3.Vec{X: min(box.Min.X, q.X), Y: min(box.Min.Y, q.Y), Z: min(box.Min.Z, q.Z)}
			box.Max = r3.Vec{X: max(box.Max.X, q.X), Y: max(box.Max.Y, q.Y), Z: max(box.Max.Z, q.Z)}
		}
	}
	if !added {
		return nil, errors.New("every solid is a cut; add one to cut from")
	}
	whole := func(p r3.Vec) float64 {
		d := math.Inf(1)
		for i, f := range fields {
			if solids[i].Cut {
				d = max(d, -f(p))
			} else {
				d = min(d, f(p))
			}
		}
		return d
	}
	size := r3.Sub(box.Max, box.Min)
	cell := cellFor(solids, size)
	margin := r3.Scale(cell*2, r3.Vec{X: 1, Y: 1, Z: 1})
	m := grid.Sharp(whole, r3.Box{Min: r3.Sub(box.Min, margin), Max: r3.Add(box.Max, margin)}, cell)
	if len(m.Triangles) == 0 {
		return nil, ErrNothing
	}
	return m, nil
}

// cellFor is a cell that the thinnest solid is some of thick, as far as the
// lattice does not become too large.
func cellFor(solids []Solid, size r3.Vec) float64 {
	cell := max(size.X, size.Y, size.Z) / mostCells
	for _, s := range solids {
		if t := s.thinnest(); t > 0 {
			n := float64(thinCells)
			if s.Kind != Box && s.Kind != Prism { // a round one is cut into chords
				n *= 2
			}
			cell = min(cell, t/n)
		}
	}
	for (size.X/cell+4)*(size.Y/cell+4)*(size.Z/cell+4) > mostLattice {
		cell *= 1.1
	}
	return cell
}

// thinnest is the least measure of a solid, or of its wall, mm.
func (s Solid) thinnest() float64 {
	switch s.Kind {
	case Box:
		return min(s.A, s.B, s.C)
	case Cylinder, Prism:
		if s.Kind == Cylinder {
			return min(s.A, s.C)
		}
		return s.C
	case Sphere:
		return s.A
	case Tube:
		return min((s.A-s.B)/2, s.C)
	}
	return 0
}

func corners(low, high r3.Vec) []r3.Vec {
	return []r3.Vec{low, high, {X: low.X, Y: low.Y, Z: high.Z}, {X: low.X, Y: high.Y, Z: low.Z}, {X: high.X, Y: low.Y, Z: low.Z},
		{X: high.X, Y: high.Y, Z: low.Z}, {X: high.X, Y: low.Y, Z: high.Z}, {X: low.X, Y: high.Y, Z: high.Z}}
}

// out and in lead from the solid's own axes, z up, to the part's and back.
func (s Solid) out(p r3.Vec) r3.Vec {
	switch s.Axis {
	case "x":
		p = r3.Vec{X: p.Z, Y: p.X, Z: p.Y}
	case "y":
		p = r3.Vec{X: p.Y, Y: p.Z, Z: p.X}
	}
	return r3.Add(p, s.At)
}

func (s Solid) in(p r3.Vec) r3.Vec {
	p = r3.Sub(p, s.At)
	switch s.Axis {
	case "x":
		return r3.Vec{X: p.Y, Y: p.Z, Z: p.X}
	case "y":
		return r3.Vec{X: p.Z, Y: p.X, Z: p.Y}
	}
	return p
}

func (s Solid) placed(local grid.Field) grid.Field {
	return func(p r3.Vec) float64 { return local(s.in(p)) }
}

// field is the signed distance to the solid in its own axes, and its box there.
func (s Solid) field() (f grid.Field, low, high r3.Vec) {
	upTo := func(p r3.Vec, h float64) float64 { return math.Abs(p.Z-h/2) - h/2 }
	round := func(d float64, h float64) (low, high r3.Vec) {
		return r3.Vec{X: -d / 2, Y: -d / 2}, r3.Vec{X: d / 2, Y: d / 2, Z: h}
	}
	switch s.Kind {
	case Box:
		return func(p r3.Vec) float64 {
			return both(both(math.Abs(p.X)-s.A/2, math.Abs(p.Y)-s.B/2), upTo(p, s.C))
		}, r3.Vec{X: -s.A / 2, Y: -s.B / 2}, r3.Vec{X: s.A / 2, Y: s.B / 2, Z: s.C}
	case Cylinder:
		low, high = round(s.A, s.C)
		return func(p r3.Vec) float64 { return both(math.Hypot(p.X, p.Y)-s.A/2, upTo(p, s.C)) }, low, high
	case Cone:
		low, high = round(max(s.A, s.B), s.C)
		lean := math.Hypot(1, (s.A-s.B)/2/s.C)
		return func(p r3.Vec) float64 {
			r := s.A/2 + (s.B-s.A)/2*p.Z/s.C
			return both((math.Hypot(p.X, p.Y)-r)/lean, upTo(p, s.C))
		}, low, high
	case Sphere:
		low, high = round(s.A, s.A)
		return func(p r3.Vec) float64 { return r3.Norm(r3.Sub(p, r3.Vec{Z: s.A / 2})) - s.A/2 }, low, high
	case Tube:
		low, high = round(s.A, s.C)
		return func(p r3.Vec) float64 {
			r := math.Hypot(p.X, p.Y)
			return both(both(r-s.A/2, s.B/2-r), upTo(p, s.C))
		}, low, high
	}
	x0, x1, y0, y1 := math.Inf(1), math.Inf(-1), math.Inf(1), math.Inf(-1)
	for _, ring := range s.Rings {
		for _, p := range ring {
			x0, x1, y0, y1 = min(x0, p[0]), max(x1, p[0]), min(y0, p[1]), max(y1, p[1])
		}
	}
	if s.Kind == Turned {
		return func(p r3.Vec) float64 { return flat(s.Rings, math.Hypot(p.X, p.Y), p.Z) }, r3.Vec{
				X: -x1,
				Y: -x1,
				Z: y0,
			}, r3.Vec{
				X: x1,
				Y: x1,
				Z: y1,
			}
	}
	return func(p r3.Vec) float64 {
		up := upTo(p, s.C)
		if up > s.C { // far over or under: its height is enough
			return up
		}
		return both(flat(s.Rings, p.X, p.Y), up)
	}, r3.Vec{X: x0, Y: y0}, r3.Vec{X: x1, Y: y1, Z: s.C}
}

// both is the distance to what two solids share, true to its edges outside.
func both(a, b float64) float64 {
	if a > 0 && b > 0 {
		return math.Hypot(a, b)
	}
	return max(a, b)
}

// flat is the signed distance in the plane to rings, negative inside by the
// even-odd rule.
func flat(rings [][]Point, x, y float64) float64 {
	best, inside := math.Inf(1), false
	for _, r := range rings {
		for i := range r {
			a, b := r[i], r[(i+1)%len(r)]
			dx, dy := b[0]-a[0], b[1]-a[1]
			px, py := x-a[0], y-a[1]
			t := 0.0
			if l := dx*dx + dy*dy; l > 0 {
				t = max(0, min(1, (px*dx+py*dy)/l))
			}
			ex, ey := px-t*dx, py-t*dy
			best = min(best, ex*ex+ey*ey)
			if (a[1] > y) != (b[1] > y) && x < a[0]+dx*(y-a[1])/dy {
				inside = !inside
			}
		}
	}
	if inside {
		return -math.Sqrt(best)
	}
	return math.Sqrt(best)
}

// nearEnough is how far a block-out's volume may be off the real part's and
// still stand in for it: less than what stays in a cup. Common practice, no source.
const nearEnough = 0.05

// Against holds a block-out's volume against the water that the real part
// displaces: the share by which it is off, NaN when nothing sensible was
// measured, and whether that is near enough.
func Against(volume, displaced float64) (off float64, near bool) {
	if !(displaced > 0) {
		return math.NaN(), false
	}
	off = volume/displaced - 1
	return off, math.Abs(off) <= nearEnough
}
