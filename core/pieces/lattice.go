package pieces

import (
	"context"
	"math"

	"bathyform/core/grid"
	"bathyform/core/mesh"
	"bathyform/core/parallel"
	"bathyform/core/plane"

	"gonum.org/v1/gonum/spatial/r3"
)

// edge of the part on a line of the lattice.
type crossing struct {
	at    float64
	tri   int32
	enter bool
}

// block is the part in its box on a lattice, all in the frame of the draw:
// which points are part, and exactly where every line of the lattice meets it.
type block struct {
	grid.Lattice
	box    r3.Box // inside of the mould box
	walls  []Wall // of a box that is no block
	room   Room
	region *plane.Region // of a wall with hollows; else nil
	at     []r3.Vec
	mesh   *mesh.Mesh
	part   []bool
	cols   *grid.Columns   // along z
	lines  [3][][]crossing // along x by (j, k), along y by (k, i), along z by (i, j)
}

// offset of the lattice against the box, in cells: no side of the box lies on
// a plane of points.
const offset = 1.381966

// lay puts a lattice of about so many cells along the longest side over a box.
func lay(ctx context.Context, m *mesh.Mesh, at []r3.Vec, box r3.Box, cells float64) (*block, error) {
	size := r3.Sub(box.Max, box.Min)
	cell := max(size.X, size.Y, size.Z) / cells
	count := func(x float64) int { return int(math.Ceil(x/cell+2*offset)) + 1 }
	b := &block{box: box, at: at, mesh: m}
	b.Lattice = grid.Lattice{
		Low:  r3.Sub(box.Min, r3.Scale(offset*cell, r3.Vec{X: 1, Y: 1, Z: 1})),
		Cell: cell,
		NX:   count(size.X),
		NY:   count(size.Y),
		NZ:   count(size.Z),
	}
	b.part = make([]bool, b.Points())
	n := [3]int{b.NX, b.NY, b.NZ}
	low := [3]float64{b.Low.X, b.Low.Y, b.Low.Z}
	if err := parallel.Each(ctx, 3, 3, func(axis int) error {
		u, v := (axis+1)%3, (axis+2)%3 // turned in a ring, so that the mesh keeps its orientation
		turned := make([]r3.Vec, len(at))
		for i, p := range at {
			c := [3]float64{p.X, p.Y, p.Z}
			turned[i] = r3.Vec{X: c[u], Y: c[v], Z: c[axis]}
		}
		cols, err := grid.LayColumns(turned, m.Triangles, cell)
		if err != nil {
			return err
		}
		if axis == 2 {
			b.cols = cols
		}
		b.lines[axis] = make([][]crossing, n[u]*n[v])
		var hits []grid.Crossing
		for q := range n[v] {
			if err := ctx.Err(); err != nil {
				return err
			}
			y := low[v] + float64(q)*cell
			if y < cols.Y0 || y > cols.Y0+float64(cols.NY)*cell {
				continue
			}
			for p := range n[u] {
				x := low[u] + float64(p)*cell
				if x < cols.X0 || x > cols.X0+float64(cols.NX)*cell {
					continue
				}
				hits = cols.Crossings(x, y, hits[:0])
				b.lines[axis][q*n[u]+p] = outer(hits)
			}
		}
		return nil
	}, nil); err != nil {
		return nil, err
	}
	for j := range b.NY {
		for i := range b.NX {
			line := b.lines[2][j*b.NX+i]
			for c := 0; c+1 < len(line); c += 2 {
				from := max(0, int(math.Ceil((line[c].at-b.Low.Z)/cell)))
				to := min(b.NZ-1, int(math.Floor((line[c+1].at-b.Low.Z)/cell)))
				for k := from; k <= to; k++ {
					b.part[b.Index(i, j, k)] = true
				}
			}
		}
	}
	return b, nil
}

// missed is the share of the part that lies in walls so thin that no point of
// the lattice is in them, as seen along the axis that misses most: the pieces
// would be shaped as if they were not there.
func (b *block) missed() float64 {
	low := [3]float64{b.Low.X, b.Low.Y, b.Low.Z}
	worst := 0.0
	for axis, lines := range b.lines {
		var all, lost float64
		for _, line := range lines {
			for c := 0; c+1 < len(line); c += 2 {
				from, to := (line[c].at-low[axis])/b.Cell, (line[c+1].at-low[axis])/b.Cell
				all += to - from
				if math.Ceil(from) > math.Floor(to) {
					lost += to - from
				}
			}
		}
		if all > 0 {
			worst = max(worst, lost/all)
		}
	}
	return worst
}

// outer keeps the crossings of the union of all bodies, in pairs.
func outer(hits []grid.Crossing) []crossing {
	var out []crossing
	depth := int32(0)
	for _, h := range hits {
		before := depth
		depth = max(0, depth+h.Rises)
		if before == 0 && depth == 1 {
			out = append(out, crossing{h.Z, h.Tri, true})
		} else if before == 1 && depth == 0 {
			out = append(out, crossing{h.Z, h.Tri, false})
		}
	}
	return out[:len(out)&^1]
}

// meets returns where the edge from a point along an axis first meets the
// part, as a share of the edge, and the part's own normal there.
func (b *block) meets(i, j, k, axis int, forward bool) (share float64, normal r3.Vec, ok bool) {
	at := [3]int{i, j, k}
	n := [3]int{b.NX, b.NY, b.NZ}
	low := [3]float64{b.Low.X, b.Low.Y, b.Low.Z}
	u, v := (axis+1)%3, (axis+2)%3
	start := low[axis] + float64(at[axis])*b.Cell
	share = math.Inf(1)
	for _, c := range b.lines[axis][at[v]*n[u]+at[u]] {
		d := (c.at - start) / b.Cell
		if !forward {
			d = -d
		}
		if d >= 0 && d <= 1 && d < share {
			share, normal, ok = d, b.normal(c.tri), true
		}
	}
	return share, normal, ok
}

func (b *block) normal(t int32) r3.Vec {
	tri := b.mesh.Triangles[t]
	n := r3.Cross(r3.Sub(b.at[tri[1]], b.at[tri[0]]), r3.Sub(b.at[tri[2]], b.at[tri[0]]))
	if length := r3.Norm(n); length > 0 {
		return r3.Scale(1/length, n)
	}
	return r3.Vec{Z: 1}
}

// near returns the lattice point nearest to a place, -1 beside the lattice.
func (b *block) near(p r3.Vec) int {
	i, j, k := int(math.Round((p.X-b.Low.X)/b.Cell)), int(math.Round((p.Y-b.Low.Y)/b.Cell)), int(math.Round((p.Z-b.Low.Z)/b.Cell))
	if i < 0 || j < 0 || k < 0 || i >= b.NX || j >= b.NY || k >= b.NZ {
		return -1
	}
	return b.Index(i, j, k)
}

// steps lead from a point's index to those of its six neighbours.
func (b *block) steps() [6]int {
	x, y := b.Index(1, 0, 0), b.Index(0, 1, 0)
	return [6]int{x, -x, y, -y, 1, -1}
}

// eroded keeps the points whose six neighbours hold as well: what is sure in
// spite of the lattice's cell.
func (b *block) eroded(holds func(index int) bool) []bool {
	out := make([]bool, b.Points())
	steps := b.steps()
	rows(b.NY-2, func(j int) {
		for i := 1; i < b.NX-1; i++ {
			for k := 1; k < b.NZ-1; k++ {
				p := b.Index(i, j+1, k)
				sure := holds(p)
				for _, s := range steps {
					sure = sure && holds(p+s)
				}
				out[p] = sure
			}
		}
	})
	return out
}

// leaves reports whether a point carried along a direction to the outside of
// the box meets nothing that is blocked.
func (b *block) leaves(p, dir r3.Vec, blocked []bool) bool {
	const step = 0.7 // of a cell
	x, y, z := (p.X-b.Low.X)/b.Cell+0.5, (p.Y-b.Low.Y)/b.Cell+0.5, (p.Z-b.Low.Z)/b.Cell+0.5
	for {
		x, y, z = x+step*dir.X, y+step*dir.Y, z+step*dir.Z
		i, j, k := int(x), int(y), int(z)
		if x < 0 || y < 0 || z < 0 || i >= b.NX || j >= b.NY || k >= b.NZ {
			return true
		}
		if blocked[b.Index(i, j, k)] {
			return false
		}
	}
}
