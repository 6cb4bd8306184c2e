package fill

import (
	"fmt"
	"math"

	"gonum.org/v1/gonum/spatial/r3"
)

// interval is one stretch of free space in a column, between a floor and a
// ceiling. Heights are where the column's centre line meets the triangles.
type interval struct {
	column      int32
	lo, hi      float64
	floor, roof int32 // triangles; onFloor and openTop where there is none
}

const (
	onFloor int32 = -1 // the stretch stands on the floor of the box
	openTop int32 = -1 // nothing above: open to the air
)

// columns holds the free space as stretches along up on a regular plan grid,
// and which triangles lie over each cell.
type columns struct {
	cell       float64
	nx, ny     int
	x0, y0     float64 // low corner of cell 0, 0
	binStart   []int32 // triangles over cell c are bins[binStart[c]:binStart[c+1]]
	bins       []int32
	start      []int32 // stretches of column c are spans[start[c]:start[c+1]]
	spans      []interval
	overlapped bool // some column enters a body twice or leaves one it is not in
}

// Shift of the grid against the part, in cells: irrational, so that walls
// drawn on round numbers do not run through column centres.
const (
	shiftX = 0.414213562373095
	shiftY = 0.302775637731995
)

// maxColumns bounds memory; a finer grid than this is a mistake in the cell size.
const maxColumns = 6_000_000

func (s *Space) layGrid(cell float64) error {
	inf := math.Inf(1)
	minX, minY, maxX, maxY := inf, inf, -inf, -inf
	for _, p := range s.at {
		minX, maxX = min(minX, p.X), max(maxX, p.X)
		minY, maxY = min(minY, p.Y), max(maxY, p.Y)
	}
	g := &s.grid
	g.cell = cell
	nx, ny := math.Ceil((maxX-minX)/cell)+1, math.Ceil((maxY-minY)/cell)+1
	if nx*ny > maxColumns {
		return fmt.Errorf("a cell of %.3g mm makes %.0f columns, more than the %d that are allowed; use a larger cell", cell, nx*ny, maxColumns)
	}
	g.nx, g.ny = int(nx), int(ny)
	g.x0, g.y0 = minX-cell*shiftX, minY-cell*shiftY
	return nil
}

func (g *columns) cellX(x float64) int { return clamp(int((x-g.x0)/g.cell), g.nx) }
func (g *columns) cellY(y float64) int { return clamp(int((y-g.y0)/g.cell), g.ny) }

func clamp(i, n int) int { return max(0, min(i, n-1)) }

// centre returns the plan position of a column's centre line.
func (g *columns) centre(c int) (x, y float64) {
	return g.x0 + (float64(c%g.nx)+0.5)*g.cell, g.y0 + (float64(c/g.nx)+0.5)*g.cell
}

// binTriangles files every triangle under the cells that its plan rectangle touches.
func (s *Space) binTriangles() {
	g := &s.grid
	type rect struct{ x0, x1, y0, y1 int32 }
	rects := make([]rect, len(s.tris))
	g.binStart = make([]int32, g.nx*g.ny+1)
	for t, tri := range s.tris {
		a, b, c := &s.at[tri[0]], &s.at[tri[1]], &s.at[tri[2]]
		r := rect{
			int32(g.cellX(min(a.X, b.X, c.X))), int32(g.cellX(max(a.X, b.X, c.X))),
			int32(g.cellY(min(a.Y, b.Y, c.Y))), int32(g.cellY(max(a.Y, b.Y, c.Y))),
		}
		rects[t] = r
		for y := r.y0; y <= r.y1; y++ {
			row := g.binStart[int(y)*g.nx+1:]
			for x := r.x0; x <= r.x1; x++ {
				row[x]++
			}
		}
	}
	for c := 1; c < len(g.binStart); c++ {
		g.binStart[c] += g.binStart[c-1]
	}
	g.bins = make([]int32, g.binStart[len(g.binStart)-1])
	next := make([]int32, g.nx*g.ny)
	copy(next, g.binStart)
	for t, r := range rects {
		for y := r.y0; y <= r.y1; y++ {
			row := next[int(y)*g.nx:]
			for x := r.x0; x <= r.x1; x++ {
				g.bins[row[x]] = int32(t)
				row[x]++
			}
		}
	}
}

// crossing is where a vertical line meets a triangle.
type crossing struct {
	z     float64
	tri   int32
	rises int32 // +1 where the line enters the part going up, -1 where it leaves
}

// side tells on which side of the plan line from vertex i to vertex j the
// point lies. Both triangles on an edge ask with the same rounding, and a
// point exactly on the edge belongs to just one of them.
func (s *Space) side(i, j int32, x, y float64) bool {
	if i < j {
		return s.cross(i, j, x, y) >= 0
	}
	return !(s.cross(j, i, x, y) >= 0)
}

func (s *Space) cross(i, j int32, x, y float64) float64 {
	a, b := &s.at[i], &s.at[j]
	return (b.X-a.X)*(y-a.Y) - (b.Y-a.Y)*(x-a.X)
}

// meet appends where the vertical line at x, y crosses triangle t.
func (s *Space) meet(t int32, x, y float64, to []crossing) []crossing {
	tri := &s.tris[t]
	i, j, k := tri[0], tri[1], tri[2]
	left := s.side(i, j, x, y)
	if s.side(j, k, x, y) != left || s.side(k, i, x, y) != left {
		return to
	}
	a, b, c := &s.at[i], &s.at[j], &s.at[k]
	ux, uy, vx, vy := b.X-a.X, b.Y-a.Y, c.X-a.X, c.Y-a.Y
	det := ux*vy - uy*vx
	if det == 0 {
		return to
	}
	px, py := x-a.X, y-a.Y
	z := a.Z + ((px*vy-py*vx)*(b.Z-a.Z)+(ux*py-uy*px)*(c.Z-a.Z))/det
	z = max(min(z, max(a.Z, b.Z, c.Z)), min(a.Z, b.Z, c.Z))
	rises := int32(1)
	if left { // anticlockwise in plan: the surface faces up, the line leaves
		rises = -1
	}
	return append(to, crossing{z, t, rises})
}

func sortCrossings(c []crossing) {
	for i := 1; i < len(c); i++ {
		for j := i; j > 0 && (c[j].z < c[j-1].z || c[j].z == c[j-1].z && c[j].rises > c[j-1].rises); j-- {
			c[j], c[j-1] = c[j-1], c[j]
		}
	}
}

// cutColumns finds the stretches of free space in every column.
func (s *Space) cutColumns() {
	g := &s.grid
	n := g.nx * g.ny
	g.start = make([]int32, n+1)
	g.spans = make([]interval, 0, n+n/4)
	var hits []crossing
	for c := range n {
		hits = hits[:0]
		bin := g.bins[g.binStart[c]:g.binStart[c+1]]
		if len(bin) > 0 {
			x, y := g.centre(c)
			for _, t := range bin {
				hits = s.meet(t, x, y, hits)
			}
			sortCrossings(hits)
		}
		if s.around {
			s.spansRound(int32(c), hits)
		} else {
			s.spansInside(int32(c), hits)
		}
		g.start[c+1] = int32(len(g.spans))
	}
}

// touching, times contact, is the rounding of heights between faces that lie
// on one another.
const touching = 1e-4

// spansInside adds the stretches inside the part. Depth counts how many
// bodies enclose the line, so bodies that run into one another make one space.
func (s *Space) spansInside(column int32, hits []crossing) {
	g := &s.grid
	depth, first := int32(0), len(g.spans)
	lo, floor := math.Inf(1), onFloor
	for _, h := range hits {
		depth += h.rises
		switch last := len(g.spans) - 1; {
		case h.rises > 0 && depth == 1:
			lo, floor = h.z, h.tri
			if last >= first && h.z-g.spans[last].hi < touching*s.contact { // bodies that touch are one space
				lo, floor = g.spans[last].lo, g.spans[last].floor
				g.spans = g.spans[:last]
				g.overlapped = true
			}
		case h.rises < 0 && depth == 0:
			if h.z > lo {
				g.spans = append(g.spans, interval{column, lo, h.z, floor, h.tri})
			}
			lo = math.Inf(1)
		}
		if depth > 1 || depth < 0 {
			g.overlapped = true
			depth = max(depth, 0)
		}
	}
	if depth != 0 {
		g.overlapped = true
	}
}

// spansRound adds the stretches outside the part, from the floor to the open top.
func (s *Space) spansRound(column int32, hits []crossing) {
	g := &s.grid
	depth, lo, floor := int32(0), s.floor, onFloor
	for _, h := range hits {
		before := depth
		depth += h.rises
		switch {
		case before == 0 && depth == 1:
			if h.z > lo+s.contact {
				g.spans = append(g.spans, interval{column, lo, h.z, floor, h.tri})
			}
		case depth == 0 && h.rises < 0:
			lo, floor = max(h.z, s.floor), h.tri
			if h.z < s.floor {
				floor = onFloor
			}
		}
		if depth > 1 || depth < 0 {
			g.overlapped = true
			depth = max(depth, 0)
		}
	}
	if depth != 0 {
		g.overlapped = true
	}
	if s.top > lo {
		g.spans = append(g.spans, interval{column, lo, s.top, floor, openTop})
	}
}

// plan returns the centre of a stretch's column in the frame at height z.
func (s *Space) plan(i *interval, z float64) r3.Vec {
	x, y := s.grid.centre(int(i.column))
	return r3.Vec{X: x, Y: y, Z: z}
}
