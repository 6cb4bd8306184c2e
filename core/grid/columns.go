package grid

import (
	"fmt"
	"math"

	"gonum.org/v1/gonum/spatial/r3"
)

// Columns stand on a regular plan grid over a mesh and know which triangles
// lie over each cell, so that a vertical line meets only a few of them.
type Columns struct {
	Cell     float64
	NX, NY   int
	X0, Y0   float64 // low corner of cell 0, 0
	at       []r3.Vec
	tris     [][3]int32
	binStart []int32 // triangles over cell c are bins[binStart[c]:binStart[c+1]]
	bins     []int32
}

// Shift of the grid against the part, in cells: irrational, so that walls
// drawn on round numbers do not run through column centres.
const (
	shiftX = 0.414213562373095
	shiftY = 0.302775637731995
)

// maxColumns bounds memory; a finer grid than this is a mistake in the cell size.
const maxColumns = 6_000_000

// LayColumns lays columns of side cell over a mesh whose vertices at are given
// in a frame, and files the triangles under them.
func LayColumns(at []r3.Vec, tris [][3]int32, cell float64) (*Columns, error) {
	inf := math.Inf(1)
	minX, minY, maxX, maxY := inf, inf, -inf, -inf
	for _, p := range at {
		minX, maxX = min(minX, p.X), max(maxX, p.X)
		minY, maxY = min(minY, p.Y), max(maxY, p.Y)
	}
	g := &Columns{at: at, tris: tris, Cell: cell}
	nx, ny := math.Ceil((maxX-minX)/cell)+1, math.Ceil((maxY-minY)/cell)+1
	if nx*ny > maxColumns {
		return nil, fmt.Errorf(
			"a cell of %.3g mm makes %.0f columns, more than the %d that are allowed; use a larger cell",
			cell,
			nx*ny,
			maxColumns,
		)
	}
	g.NX, g.NY = int(nx), int(ny)
	g.X0, g.Y0 = minX-cell*shiftX, minY-cell*shiftY
	g.binTriangles()
	return g, nil
}

// Over returns the triangles whose plan rectangle touches column c.
func (g *Columns) Over(c int) []int32 { return g.bins[g.binStart[c]:g.binStart[c+1]] }

// ColumnAt returns the column that holds a plan position, or the nearest one.
func (g *Columns) ColumnAt(x, y float64) int { return g.CellY(y)*g.NX + g.CellX(x) }

// Spans reports whether a place lies among the columns.
func (g *Columns) Spans(x, y float64) bool {
	return x >= g.X0 && y >= g.Y0 && x <= g.X0+float64(g.NX)*g.Cell && y <= g.Y0+float64(g.NY)*g.Cell
}

// Crossings appends where the vertical line at x, y meets the mesh, upwards.
func (g *Columns) Crossings(x, y float64, to []Crossing) []Crossing {
	from := len(to)
	for _, t := range g.Over(g.ColumnAt(x, y)) {
		to = g.Meet(t, x, y, to)
	}
	SortCrossings(to[from:])
	return to
}

// CellX and CellY return the row of cells that holds a plan coordinate.
func (g *Columns) CellX(x float64) int { return clamp(int((x-g.X0)/g.Cell), g.NX) }
func (g *Columns) CellY(y float64) int { return clamp(int((y-g.Y0)/g.Cell), g.NY) }

func clamp(i, n int) int { return max(0, min(i, n-1)) }

// Centre returns the plan position of a column's centre line.
func (g *Columns) Centre(c int) (x, y float64) {
	return g.X0 + (float64(c%g.NX)+0.5)*g.Cell, g.Y0 + (float64(c/g.NX)+0.5)*g.Cell
}

// binTriangles files every triangle under the cells that its plan rectangle touches.
func (g *Columns) binTriangles() {
	type rect struct{ x0, x1, y0, y1 int32 }
	rects := make([]rect, len(g.tris))
	g.binStart = make([]int32, g.NX*g.NY+1)
	for t, tri := range g.tris {
		a, b, c := &g.at[tri[0]], &g.at[tri[1]], &g.at[tri[2]]
		r := rect{
			int32(g.CellX(min(a.X, b.X, c.X))), int32(g.CellX(max(a.X, b.X, c.X))),
			int32(g.CellY(min(a.Y, b.Y, c.Y))), int32(g.CellY(max(a.Y, b.Y, c.Y))),
		}
		rects[t] = r
		for y := r.y0; y <= r.y1; y++ {
			row := g.binStart[int(y)*g.NX+1:]
			for x := r.x0; x <= r.x1; x++ {
				row[x]++
			}
		}
	}
	for c := 1; c < len(g.binStart); c++ {
		g.binStart[c] += g.binStart[c-1]
	}
	g.bins = make([]int32, g.binStart[len(g.binStart)-1])
	next := make([]int32, g.NX*g.NY)
	copy(next, g.binStart)
	for t, r := range rects {
		for y := r.y0; y <= r.y1; y++ {
			row := next[int(y)*g.NX:]
			for x := r.x0; x <= r.x1; x++ {
				g.bins[row[x]] = int32(t)
				row[x]++
			}
		}
	}
}

// Crossing is where a vertical line meets a triangle.
type Crossing struct {
	Z     float64
	Tri   int32
	Rises int32 // +1 where the line enters the part going up, -1 where it leaves
}

// side tells on which side of the plan line from vertex i to vertex j the
// point lies. Both triangles on an edge ask with the same rounding. A point
// exactly on an edge or over a vertex counts as if it lay a little to the
// right, and by far less than that up the plan, for all of them alike: it
// belongs to just one triangle of a sheet (simulation of simplicity,
// Edelsbrunner and Mücke 1990, from memory).
func (g *Columns) side(i, j int32, x, y float64) bool {
	if i < j {
		return g.left(i, j, x, y)
	}
	return !g.left(j, i, x, y)
}

func (g *Columns) left(i, j int32, x, y float64) bool {
	a, b := &g.at[i], &g.at[j]
	dx, dy := b.X-a.X, b.Y-a.Y
	switch c := dx*(y-a.Y) - dy*(x-a.X); {
	case c != 0:
		return c > 0
	case dy != 0:
		return dy < 0
	}
	return dx > 0
}

// Meet appends where the vertical line at x, y crosses triangle t.
func (g *Columns) Meet(t int32, x, y float64, to []Crossing) []Crossing {
	tri := &g.tris[t]
	i, j, k := tri[0], tri[1], tri[2]
	left := g.side(i, j, x, y)
	if g.side(j, k, x, y) != left || g.side(k, i, x, y) != left {
		return to
	}
	a, b, c := &g.at[i], &g.at[j], &g.at[k]
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
	return append(to, Crossing{z, t, rises})
}

// SortCrossings puts crossings in the order that a line meets them going up;
// where faces lie on one another it enters before it leaves.
func SortCrossings(c []Crossing) {
	for i := 1; i < len(c); i++ {
		for j := i; j > 0 && (c[j].Z < c[j-1].Z || c[j].Z == c[j-1].Z && c[j].Rises > c[j-1].Rises); j-- {
			c[j], c[j-1] = c[j-1], c[j]
		}
	}
}
