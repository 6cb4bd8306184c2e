// Package shell lays the blanket of a mould whose rubber is a skin of even
// thickness in a rigid shell: the clay that is built up round the part first,
// and whose place the rubber takes.
package shell

import (
	"context"
	"errors"
	"fmt"
	"math"

	"bathyform/core/grid"
	"bathyform/core/mesh"

	"gonum.org/v1/gonum/spatial/r3"
)

// Blanket is a skin of rubber round a part.
type Blanket struct {
	Outer   *mesh.Mesh // what the shell is made over, closed, mesh coordinates
	Body    *mesh.Mesh // the skin itself: Outer with the part as a hollow
	Volume  float64    // of the skin, mm³
	Bridged float64    // of it that fills undercuts, so that the shell draws, mm³
	Area    float64    // of Outer, mm²
	Cell    float64    // of the lattice, mm
}

// DefaultCells is the resolution along the longest side.
const DefaultCells = 72

// Make lays a skin round a part that leaves its shell along a draw.
func Make(ctx context.Context, m *mesh.Mesh, draw r3.Vec, thick float64, cells int) (Blanket, error) {
	if math.IsNaN(thick) || thick < 2 || thick > 60 {
		return Blanket{}, fmt.Errorf("a blanket is between 2 and 60 mm thick, not %g: thinner tears, thicker is a block", thick)
	}
	frame, err := grid.NewFrame(draw)
	if err != nil {
		return Blanket{}, fmt.Errorf("draw: %w", err)
	}
	part := math.Abs(m.Volume())
	if !(part > 0) {
		return Blanket{}, errors.New("the mesh encloses no volume, so there is nothing to lay a skin round")
	}
	in := &mesh.Mesh{Vertices: make([]r3.Vec, len(m.Vertices)), Triangles: m.Triangles}
	for i, p := range m.Vertices {
		in.Vertices[i] = frame.In(p)
	}
	if cells == 0 {
		cells = DefaultCells
	}
	s, err := survey(ctx, in, thick, cells)
	if err != nil {
		return Blanket{}, err
	}
	s.bridge()
	outer := grid.Dual(s.Lattice, func(p int) bool { return s.body[p] }, s.hit)
	out := Blanket{Cell: s.Cell, Bridged: float64(s.filled) * s.Cell * s.Cell * s.Cell}
	volume := 0.0
	volume, out.Area = outer.VolumeAndArea()
	out.Volume = volume - part
	for i, p := range outer.Vertices {
		outer.Vertices[i] = frame.Out(p)
	}
	out.Outer = outer
	out.Body = &mesh.Mesh{}
	out.Body.Append(outer)
	hollow := &mesh.Mesh{Vertices: m.Vertices, Triangles: make([][3]int32, len(m.Triangles))}
	for i, t := range m.Triangles {
		hollow.Triangles[i] = [3]int32{t[0], t[2], t[1]}
	}
	out.Body.Append(hollow)
	return out, ctx.Err()
}

// skin is the body under the shell on a lattice in the frame of the draw.
type skin struct {
	grid.Lattice
	tree   *mesh.Tree
	thick  float64
	body   []bool
	filled int // points that only bridge
}

// survey marks every point that the part or its skin holds.
func survey(ctx context.Context, m *mesh.Mesh, thick float64, cells int) (*skin, error) {
	box := m.Bounds()
	size := r3.Add(r3.Sub(box.Max, box.Min), r3.Vec{X: 2 * thick, Y: 2 * thick, Z: 2 * thick})
	cell := max(size.X, size.Y, size.Z) / float64(cells)
	count := func(x float64) int { return int(math.Ceil(x/cell)) + 4 }
	s := &skin{thick: thick, tree: mesh.NewTree(m)}
	reach := thick + 1.618*cell // no point of the lattice lies on a flat side of the part
	s.Lattice = grid.Lattice{
		Low:  r3.Sub(box.Min, r3.Vec{X: reach, Y: reach, Z: reach}),
		Cell: cell,
		NX:   count(size.X),
		NY:   count(size.Y),
		NZ:   count(size.Z),
	}
	cols, err := grid.LayColumns(m.Vertices, m.Triangles, cell)
	if err != nil {
		return nil, err
	}
	s.body = make([]bool, s.Points())
	var hits []grid.Crossing
	for j := range s.NY {
		if err := ctx.Err(); err != nil {
			return nil, err
		}
		for i := range s.NX {
			at := s.At(i, j, 0)
			hits = hits[:0]
			if at.X >= cols.X0 && at.Y >= cols.Y0 && at.X <= cols.X0+float64(cols.NX)*cell && at.Y <= cols.Y0+float64(cols.NY)*cell {
				hits = cols.Crossings(at.X, at.Y, hits)
			}
			s.column(i, j, hits)
		}
	}
	return s, nil
}

// column marks one column; a distance that was measured spares its neighbours.
func (s *skin) column(i, j int, hits []grid.Crossing) {
	depth, next := int32(0), 0
	for k := 0; k < s.NZ; k++ {
		at := s.At(i, j, k)
		for next < len(hits) && hits[next].Z <= at.Z {
			depth += hits[next].Rises
			next++
		}
		p := s.Index(i, j, k)
		if depth > 0 {
			s.body[p] = true
			continue
		}
		d := s.away(at)
		s.body[p] = d < s.thick
		if skip := int((d - s.thick) / s.Cell); skip > 0 { // nothing nearer can come sooner
			for range skip {
				if k+1 < s.NZ {
					k++
					for next < len(hits) && hits[next].Z <= s.At(i, j, k).Z {
						depth += hits[next].Rises
						next++
					}
					if depth > 0 {
						s.body[s.Index(i, j, k)] = true
					}
				}
			}
		}
	}
}

// away is the distance to the part's surface.
func (s *skin) away(p r3.Vec) float64 {
	at, t := s.tree.Nearest(p, 1e9, nil)
	if t < 0 {
		return math.Inf(1)
	}
	return r3.Norm(r3.Sub(p, at))
}

// bridge fills every column between its lowest and its highest point, so that
// both halves of the shell leave along the draw.
func (s *skin) bridge() {
	for c := range s.NX * s.NY {
		line := s.body[c*s.NZ : (c+1)*s.NZ]
		first, last := -1, -1
		for k, in := range line {
			if in {
				if first < 0 {
					first = k
				}
				last = k
			}
		}
		for k := first; k >= 0 && k < last; k++ {
			if !line[k] {
				line[k] = true
				s.filled++
			}
		}
	}
}

// hit finds where an edge leaves the skin: at its thickness, or half way
// where the point was only bridged.
func (s *skin) hit(i, j, k, axis int, forward bool) grid.Hit {
	step := s.Cell
	if !forward {
		step = -step
	}
	along := [3]r3.Vec{{X: step}, {Y: step}, {Z: step}}[axis]
	from := s.At(i, j, k)
	at := func(share float64) r3.Vec { return r3.Add(from, r3.Scale(share, along)) }
	depth := func(share float64) float64 { return s.away(at(share)) - s.thick }
	lo, hi := 0.0, 1.0
	dlo, dhi := depth(lo), depth(hi)
	if dhi <= 0 || dlo > 0 {
		return grid.Hit{At: at(0.5), Normal: r3.Scale(1/s.Cell, along)}
	}
	share := 0.5
	for range 4 { // regula falsi: a distance is nearly straight over a cell
		share = lo + (hi-lo)*dlo/(dlo-dhi)
		d := depth(share)
		if d > 0 {
			hi, dhi = share, d
		} else {
			lo, dlo = share, d
		}
		if math.Abs(d) < 1e-4*s.Cell {
			break
		}
	}
	p := at(share)
	near, _ := s.tree.Nearest(p, 1e9, nil)
	return grid.Hit{At: p, Normal: r3.Unit(r3.Sub(p, near))}
}
