// Package draw finds out how a part leaves its mould: looked at along a draw
// direction, which faces come away upwards, which downwards, which either
// way, and which are locked; what rubber is shut in behind them; and which
// directions are the best to draw along.
//
// The part stands in columns along the draw. Whatever lies between a column's
// first and last solid stretch and is not solid itself is rubber that is
// locked both ways: undercut. Heights are where the column meets the
// triangles, so volumes are far better than the cell.
package draw

import (
	"context"
	"errors"
	"fmt"
	"math"

	"bathyform/core/grid"
	"bathyform/core/mesh"

	"gonum.org/v1/gonum/spatial/r3"
)

// DefaultCells is the resolution along the part's longest side when no cell
// size is asked for.
const DefaultCells = 128

// Options say how a draw is looked at.
type Options struct {
	Cell float64 // side of a column in mm; 0 for DefaultCells along the longest side

	// OneSided is for moulds of one piece, that the part leaves along the
	// draw direction only: what stands over any part of it is locked, up to
	// the open face, which is level with the part's last point.
	OneSided bool
}

// Space is a body of rubber that is locked along the draw.
type Space struct {
	Volume  float64 // mm³
	Depth   float64 // how far the rubber must give way across the draw, mm
	Opening float64 // area through which it does, mm²
	Height  float64 // along the draw, mm
	Centre  r3.Vec  // centroid, mesh coordinates
	Deepest r3.Vec  // mesh coordinates
	Out     r3.Vec  // unit vector from Deepest the way out
	Lo, Hi  float64 // reach along the draw, in the frame, mm

	Form
	Leave
	Up, Down Pass // of a collar, as it leaves with the upper half or the lower
}

// Class is how a face comes away.
type Class uint8

// Faces drawn up come away along the draw, faces drawn down against it; a
// wall goes either way; a locked face neither way.
const (
	Up Class = iota
	Down
	Wall
	Locked
)

// Faces sums the surface by class, in mm².
type Faces struct{ Up, Down, Wall, Locked float64 }

// Draft sums the surface that is not locked by its angle to the draw, in mm²:
// a wall drawn along itself has none.
type Draft struct{ Under1, Under3, Under5, Over float64 }

// Outline is the part's edge as seen along the draw, where a parting line
// would run. Good to a cell.
type Outline struct {
	Length float64 // mm, of outer edge and through holes
	Level  float64 // height along the draw of the plane nearest to it, mm
	Off    float64 // mean distance of the line from that plane, mm
}

// Analysis is what one draw direction does.
type Analysis struct {
	Dir     r3.Vec // unit vector
	Cell    float64
	Spaces  []Space // largest first
	Volume  float64 // of all Spaces, mm³
	Sealed  float64 // mm³ of hollows with no way out, which no rubber reaches
	Height  float64 // of the part along the draw, mm
	Plan    float64 // mm² of the part's shadow, good to a cell
	Faces   Faces
	Draft   Draft
	Outline Outline
	Classes []Class // of each triangle, what most of it is
	Low     float64 // of the part along the draw, in the frame, mm

	OneSided bool
	locked   *locked
}

// Undercut reports whether anything is locked.
func (a Analysis) Undercut() bool { return len(a.Spaces) > 0 }

// Analyse looks at a part along a direction of any length, unless ctx ends
// before.
func Analyse(ctx context.Context, m *mesh.Mesh, dir r3.Vec, opt Options) (Analysis, error) {
	v, err := look(ctx, m, dir, opt)
	if err != nil {
		return Analysis{}, err
	}
	a := Analysis{
		Dir:      v.frame.Up,
		Cell:     v.cols.Cell,
		Height:   v.high - v.low,
		Low:      v.low,
		OneSided: v.oneSided,
		Plan:     v.shadow(),
		Outline:  v.outline(),
	}
	if a.Spaces, a.Sealed, a.locked, err = v.spaces(ctx); err != nil {
		return Analysis{}, err
	}
	for _, s := range a.Spaces {
		a.Volume += s.Volume
	}
	v.classify(ctx, &a)
	return a, ctx.Err()
}

// view is a part seen along one direction.
type view struct {
	frame     grid.Frame
	mesh      *mesh.Mesh
	at        []r3.Vec
	cols      *grid.Columns
	oneSided  bool
	low, high float64
	longest   float64
	first     []float64 // of each column: where it enters the part; +Inf where it does not
	last      []float64 // and where it leaves it for good
	gaps      []gap
	start     []int32         // gaps of column c are gaps[start[c]:start[c+1]]
	hits      []grid.Crossing // scratch of gapsAt
	boxes     []r3.Box        // of each triangle in the frame
}

// gap is a locked stretch of a column.
type gap struct {
	column int32
	lo, hi float64
}

// tolerance is the depth in mm below which an undercut is put down to facets
// and to the surface's own roughness: rubber does not notice it.
func (v *view) tolerance() float64 { return min(0.05, v.longest/1000) }

func look(ctx context.Context, m *mesh.Mesh, dir r3.Vec, opt Options) (*view, error) {
	if len(m.Triangles) == 0 {
		return nil, errors.New("the mesh holds no triangles")
	}
	frame, err := grid.NewFrame(dir)
	if err != nil {
		return nil, fmt.Errorf("draw: %w", err)
	}
	box := m.Bounds()
	size := r3.Sub(box.Max, box.Min)
	v := &view{frame: frame, mesh: m, oneSided: opt.OneSided, longest: max(size.X, size.Y, size.Z)}
	cell := opt.Cell
	switch {
	case !(v.longest > 0):
		return nil, errors.New("the mesh has no extent")
	case cell == 0:
		cell = v.longest / DefaultCells
	case cell < 0 || math.IsNaN(cell):
		return nil, fmt.Errorf("the cell must be more than 0, not %g mm", cell)
	}
	v.at = make([]r3.Vec, len(m.Vertices))
	v.low, v.high = math.Inf(1), math.Inf(-1)
	for i, p := range m.Vertices {
		v.at[i] = frame.In(p)
		v.low, v.high = min(v.low, v.at[i].Z), max(v.high, v.at[i].Z)
	}
	if v.cols, err = grid.LayColumns(v.at, m.Triangles, cell); err != nil {
		return nil, err
	}
	v.cut(ctx)
	return v, ctx.Err()
}

// cut finds where every column enters and leaves the part and what is locked
// between. Depth counts how many bodies enclose the line, so bodies that run
// into one another are one. It leaves off when ctx ends.
func (v *view) cut(ctx context.Context) {
	g := v.cols
	n := g.NX * g.NY
	v.first, v.last = make([]float64, n), make([]float64, n)
	v.start = make([]int32, n+1)
	for c := range n {
		if c%g.NX == 0 && ctx.Err() != nil {
			return
		}
		v.first[c], v.last[c] = math.Inf(1), math.Inf(-1)
		if len(g.Over(c)) > 0 {
			x, y := g.Centre(c)
			v.first[c], v.last[c] = v.gapsAt(x, y, func(lo, hi float64) {
				v.gaps = append(v.gaps, gap{int32(c), lo, hi})
			})
		}
		v.start[c+1] = int32(len(v.gaps))
	}
}

// gapsAt calls f for every locked stretch of the vertical line at x, y and
// returns where the line first enters the part and last leaves it.
func (v *view) gapsAt(x, y float64, f func(lo, hi float64)) (first, last float64) {
	first, last = math.Inf(1), math.Inf(-1)
	touching := 1e-5 * v.longest
	v.hits = v.cols.Crossings(x, y, v.hits[:0])
	depth := int32(0)
	for _, h := range v.hits {
		before := depth
		depth = max(0, depth+h.Rises)
		switch {
		case before == 0 && depth == 1:
			if h.Z > last+touching && !math.IsInf(last, -1) {
				f(last, h.Z)
			}
			first = min(first, h.Z)
		case before == 1 && depth == 0:
			last = h.Z
		}
	}
	if v.oneSided && !math.IsInf(last, -1) && v.high > last+max(touching, v.tolerance()) {
		f(last, v.high)
	}
	return first, last
}

// lockedAt tells whether rubber at a point of the frame is locked, and
// whether the point is inside the part.
func (v *view) lockedAt(x, y, z float64, buf []grid.Crossing) (locked, solid bool, hits []grid.Crossing) {
	hits = v.cols.Crossings(x, y, buf[:0])
	depth, below, above := int32(0), false, false
	for _, h := range hits {
		if h.Z <= z {
			below = true
			depth = max(0, depth+h.Rises)
		} else {
			above = true
		}
	}
	solid = depth > 0
	if v.oneSided {
		return !solid && below && z < v.high, solid, hits
	}
	return !solid && below && above, solid, hits
}

// shadow is the part's area as seen along the draw.
func (v *view) shadow() float64 {
	n := 0
	for _, z := range v.first {
		if !math.IsInf(z, 1) {
			n++
		}
	}
	return float64(n) * v.cols.Cell * v.cols.Cell
}

// outline follows the edge of the part's shadow.
func (v *view) outline() Outline {
	g := v.cols
	covered := func(x, y int) bool {
		return x >= 0 && y >= 0 && x < g.NX && y < g.NY && !math.IsInf(v.first[y*g.NX+x], 1)
	}
	var edges float64
	var rims [][2]float64
	for y := range g.NY {
		for x := range g.NX {
			if !covered(x, y) {
				continue
			}
			n := 0
			for _, d := range [4][2]int{{1, 0}, {-1, 0}, {0, 1}, {0, -1}} {
				if !covered(x+d[0], y+d[1]) {
					n++
				}
			}
			if n > 0 {
				edges += float64(n)
				c := y*g.NX + x
				rims = append(rims, [2]float64{v.first[c], max(v.first[c], v.last[c])}) // an open facet is never left again
			}
		}
	}
	// a line in any direction crosses 4/π as many cell sides as it is long
	out := Outline{Length: edges * g.Cell * math.Pi / 4}
	out.Level, out.Off = nearestLevel(rims)
	return out
}

// nearestLevel returns the height with the least mean distance to a set of
// height ranges, and that distance: the parting may run anywhere up a wall.
func nearestLevel(rims [][2]float64) (level, off float64) {
	if len(rims) == 0 {
		return 0, 0
	}
	away := func(z float64) float64 {
		var sum float64
		for _, r := range rims {
			sum += max(0, r[0]-z, z-r[1])
		}
		return sum / float64(len(rims))
	}
	lo, hi := math.Inf(1), math.Inf(-1)
	for _, r := range rims {
		lo, hi = min(lo, r[0]), max(hi, r[1])
	}
	for range 60 { // a convex function: golden section would gain nothing here
		a, b := lo+(hi-lo)/3, hi-(hi-lo)/3
		if away(a) <= away(b) {
			hi = b
		} else {
			lo = a
		}
	}
	level = (lo + hi) / 2
	return level, away(level)
}
