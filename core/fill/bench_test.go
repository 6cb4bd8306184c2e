package fill

import (
	"math"
	"testing"

	"bathyform/core/grid"
	"bathyform/core/mesh"

	"gonum.org/v1/gonum/spatial/r3"
)

// knobbly is a lump with a dozen separate high spots and about 70,000 triangles.
func knobbly() *mesh.Mesh {
	f := func(p r3.Vec) float64 {
		return r3.Norm(r3.Vec{X: p.X, Y: p.Y * 1.4, Z: p.Z * 1.8}) - 42 - 3.5*math.Sin(p.X/4.1)*math.Cos(p.Y/4.7+1) - 2*math.Sin(p.Z/5.3)
	}
	return grid.Net(f, r3.Box{Min: r3.Vec{X: -55, Y: -55, Z: -55}, Max: r3.Vec{X: 55, Y: 55, Z: 55}}, 0.755)
}

func BenchmarkTrap(b *testing.B) {
	m := knobbly()
	b.Logf("%d triangles", len(m.Triangles))
	vent := Opening{m.Vertices[len(m.Vertices)-1], 2}
	for _, cells := range []float64{128, 256} {
		box := m.Bounds()
		size := r3.Sub(box.Max, box.Min)
		cell := max(size.X, size.Y, size.Z) / cells
		for _, c := range []struct {
			name string
			opt  Options
		}{
			{"surface", Options{Cell: cell, Sound: true}},
			{"columns", Options{Cell: cell}},
			{"rubber", Options{Cell: cell, Sound: true, Around: true, Headroom: 10}},
		} {
			name := map[float64]string{128: "128", 256: "256"}[cells] + "/" + c.name
			b.Run(name+"/mesh to pockets", func(b *testing.B) {
				for b.Loop() {
					s, err := Prepare(m, zUp, c.opt)
					if err != nil {
						b.Fatal(err)
					}
					if _, err := s.Trap([]Opening{vent}); err != nil {
						b.Fatal(err)
					}
				}
			})
			s, err := Prepare(m, zUp, c.opt)
			if err != nil {
				b.Fatal(err)
			}
			b.Run(name+"/vent moved", func(b *testing.B) {
				for b.Loop() {
					if _, err := s.Trap([]Opening{vent}); err != nil {
						b.Fatal(err)
					}
				}
			})
		}
	}
}

// BenchmarkAnotherFloor is what a parting that is dragged asks: the same part
// round which rubber rises from another floor.
func BenchmarkAnotherFloor(b *testing.B) {
	s, err := Stand(knobbly(), zUp, 0)
	if err != nil {
		b.Fatal(err)
	}
	floor := s.low
	for b.Loop() {
		floor += 0.001
		if _, err := s.Space(Options{Sound: true, Around: true, Floor: &floor, Headroom: 10}); err != nil {
			b.Fatal(err)
		}
	}
}
