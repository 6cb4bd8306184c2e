package mesh

import (
	"math"
	"runtime"
	"sync"
	"sync/atomic"

	"gonum.org/v1/gonum/spatial/r3"
)

// Sum adds numbers of mixed size and sign without losing the small ones
// (Neumaier's variant of Kahan summation, Z. Angew. Math. Mech. 54 (1974) 39).
type Sum struct{ total, lost float64 }

// Add takes one more number into the sum.
func (s *Sum) Add(x float64) {
	t := s.total + x
	if math.Abs(s.total) >= math.Abs(x) {
		s.lost += (s.total - t) + x
	} else {
		s.lost += (x - t) + s.total
	}
	s.total = t
}

// Value returns the sum so far.
func (s *Sum) Value() float64 { return s.total + s.lost }

// Volume returns the enclosed volume in mm³ by the divergence theorem, summed
// about the centre of the bounds so that a mesh far from the origin loses
// nothing. It is negative for a mesh that is inside out and depends on the
// choice of centre when the mesh is open: see [Mesh.OpenVolume].
func (m *Mesh) Volume() float64 {
	volume, _ := m.VolumeAndArea()
	return volume
}

// Area returns the surface in mm².
func (m *Mesh) Area() float64 {
	_, area := m.VolumeAndArea()
	return area
}

// VolumeAndArea measures both in one pass.
func (m *Mesh) VolumeAndArea() (volume, area float64) {
	centre := m.Bounds().Center()
	const chunk = 1 << 15 // the same chunks on any machine, so the same rounding
	n := (len(m.Triangles) + chunk - 1) / chunk
	volumes, areas := make([]float64, n), make([]float64, n)
	inChunks(n, func(i int) {
		var v, s Sum
		for t := i * chunk; t < min((i+1)*chunk, len(m.Triangles)); t++ {
			a, b, c := m.Corners(t)
			normal := r3.Cross(r3.Sub(b, a), r3.Sub(c, a))
			v.Add(r3.Dot(r3.Sub(a, centre), normal))
			s.Add(math.Sqrt(r3.Norm2(normal)))
		}
		volumes[i], areas[i] = v.Value(), s.Value()
	})
	var v, s Sum
	for i := range volumes {
		v.Add(volumes[i])
		s.Add(areas[i])
	}
	return v.Value() / 6, s.Value() / 2
}

// inChunks calls f for 0 to n-1, spread over the processors there are.
func inChunks(n int, f func(i int)) {
	var next atomic.Int64
	var wg sync.WaitGroup
	for range min(n, runtime.GOMAXPROCS(0)) {
		wg.Go(func() {
			for i := int(next.Add(1)) - 1; i < n; i = int(next.Add(1)) - 1 {
				f(i)
			}
		})
	}
	wg.Wait()
}

// VolumeAbove returns the volume of a closed mesh above the plane at height
// level along the unit vector up, exact for the tessellation.
func (m *Mesh) VolumeAbove(up r3.Vec, level float64) float64 {
	var sum Sum
	for t := range m.Triangles {
		a, b, c := m.Corners(t)
		plan := r3.Dot(up, r3.Cross(r3.Sub(b, a), r3.Sub(c, a))) / 2
		sum.Add(PrismAbove(plan, r3.Dot(up, a)-level, r3.Dot(up, b)-level, r3.Dot(up, c)-level))
	}
	return sum.Value()
}

// PrismAbove returns the volume between a plane and the part of a triangle
// that lies above it: plan is the triangle's signed area seen along the
// plane's normal, h0, h1 and h2 are its corners' heights over the plane.
// Summed over a closed surface these prisms give the volume above the plane.
func PrismAbove(plan, h0, h1, h2 float64) float64 {
	h0, h1, h2 = falling(h0, h1, h2)
	switch {
	case h2 >= 0:
		return plan * (h0 + h1 + h2) / 3
	case h0 <= 0:
		return 0
	case h1 <= 0: // only the tip h0 stands above
		return plan * (h0 / (h0 - h1)) * (h0 / (h0 - h2)) * h0 / 3
	default: // all but the tip h2 stands above
		below := (h2 / (h2 - h0)) * (h2 / (h2 - h1)) * h2 / 3
		return plan * ((h0+h1+h2)/3 - below)
	}
}

// falling sorts three heights from the highest down.
func falling(a, b, c float64) (high, middle, low float64) {
	if a < b {
		a, b = b, a
	}
	if b < c {
		b, c = c, b
	}
	if a < b {
		a, b = b, a
	}
	return a, b, c
}

// PlanAbove returns the signed plan area of the part of a triangle that lies
// above a plane, by the same arguments as [PrismAbove]. Summed over a closed
// surface it gives the area of the section in the plane.
func PlanAbove(plan, h0, h1, h2 float64) float64 {
	h0, h1, h2 = falling(h0, h1, h2)
	switch {
	case h2 >= 0:
		return plan
	case h0 <= 0:
		return 0
	case h1 <= 0:
		return plan * (h0 / (h0 - h1)) * (h0 / (h0 - h2))
	default:
		return plan * (1 - (h2/(h2-h0))*(h2/(h2-h1)))
	}
}
