package fill

import (
	"errors"
	"fmt"
	"math"
	"sync/atomic"

	"bathyform/core/grid"
	"bathyform/core/mesh"

	"gonum.org/v1/gonum/spatial/r3"
)

// Stood is a mesh stood one way up, with the vertical lines through it: what
// the space inside it and every space round it have in common. It may be used
// from several goroutines.
type Stood struct {
	Frame     grid.Frame
	mesh      *mesh.Mesh
	at        []r3.Vec // vertices in the frame
	low, high float64
	contact   float64 // how near a point must be to a floor to stand on it, mm
	columns   *grid.Columns
	crossings []grid.Crossing // of column c's centre line: crossings[meets[c]:meets[c+1]]
	meets     []int32
	above     [2][]int32 // what lies over each vertex, once asked: 1 for nothing, else 2 more than the triangle
}

// Stand stands a mesh one way up and meets it with a line through each column
// of side cell, mm; 0 takes the longest side of the part over [DefaultCells].
func Stand(m *mesh.Mesh, up r3.Vec, cell float64) (*Stood, error) {
	if len(m.Triangles) == 0 {
		return nil, errors.New("the mesh holds no triangles")
	}
	frame, err := grid.NewFrame(up)
	if err != nil {
		return nil, err
	}
	s := &Stood{Frame: frame, mesh: m, at: make([]r3.Vec, len(m.Vertices)), low: math.Inf(1), high: math.Inf(-1)}
	for i, v := range m.Vertices {
		s.at[i] = frame.In(v)
	}
	for _, tri := range m.Triangles {
		for _, i := range tri {
			s.low, s.high = min(s.low, s.at[i].Z), max(s.high, s.at[i].Z)
		}
	}
	box := m.Bounds()
	size := r3.Sub(box.Max, box.Min)
	longest := max(size.X, size.Y, size.Z)
	if longest <= 0 {
		return nil, errors.New("the mesh has no extent")
	}
	s.contact = 1e-5 * longest
	switch {
	case cell == 0:
		cell = longest / DefaultCells
	case cell < 0 || math.IsNaN(cell):
		return nil, fmt.Errorf("the cell must be more than 0, not %g mm", cell)
	case cell > longest:
		cell = longest
	}
	if s.columns, err = grid.LayColumns(s.at, m.Triangles, cell); err != nil {
		return nil, err
	}
	s.meetColumns()
	for k := range s.above {
		s.above[k] = make([]int32, len(s.at))
	}
	return s, nil
}

func (s *Stood) meetColumns() {
	n := s.columns.NX * s.columns.NY
	s.meets = make([]int32, n+1)
	s.crossings = make([]grid.Crossing, 0, 2*n)
	for c := range n {
		if bin := s.columns.Over(c); len(bin) > 0 {
			from := len(s.crossings)
			x, y := s.columns.Centre(c)
			for _, t := range bin {
				s.crossings = s.columns.Meet(t, x, y, s.crossings)
			}
			grid.SortCrossings(s.crossings[from:])
		}
		s.meets[c+1] = int32(len(s.crossings))
	}
}

// over returns the triangle that a line straight up from vertex v meets
// first, past those that meet in it, or openTop. The line starts a hair
// beside the vertex, off walls that it stands on, on one side or the other.
func (s *Stood) over(v int32, side int) int32 {
	const nothing = 1
	known := &s.above[side][v]
	if t := atomic.LoadInt32(known); t != 0 {
		return t - nothing - 1
	}
	sign := 1 - 2*float64(side)
	p := s.at[v]
	x, y := p.X+sign*s.contact*0.0618, p.Y+sign*s.contact*0.0382
	var few [8]grid.Crossing
	hits := few[:0]
	for _, t := range s.columns.Over(s.columns.ColumnAt(x, y)) {
		if tri := s.mesh.Triangles[t]; tri[0] != v && tri[1] != v && tri[2] != v {
			hits = s.columns.Meet(t, x, y, hits)
		}
	}
	first, best := openTop, math.Inf(1)
	for _, h := range hits {
		if h.Z > p.Z && h.Z < best {
			best, first = h.Z, h.Tri
		}
	}
	atomic.StoreInt32(known, first+nothing+1)
	return first
}
