package draw

import (
	"math"
	"testing"

	"bathyform/core/grid"
	"bathyform/core/mesh"

	"gonum.org/v1/gonum/spatial/r3"
)

// knobbly is a lump with undercuts on all sides and about 70,000 triangles.
func knobbly() *mesh.Mesh {
	f := func(p r3.Vec) float64 {
		return r3.Norm(r3.Vec{X: p.X, Y: p.Y * 1.4, Z: p.Z * 1.8}) - 42 - 3.5*math.Sin(p.X/4.1)*math.Cos(p.Y/4.7+1) - 2*math.Sin(p.Z/5.3)
	}
	return grid.Net(f, r3.Box{Min: r3.Vec{X: -55, Y: -55, Z: -55}, Max: r3.Vec{X: 55, Y: 55, Z: 55}}, 0.755)
}

// At 128 cells, one direction.
func BenchmarkAnalyse(b *testing.B) {
	m := knobbly()
	b.Logf("%d triangles", len(m.Triangles))
	for _, c := range []struct {
		name string
		opt  Options
	}{{"both ways", Options{}}, {"one way", Options{OneSided: true}}} {
		b.Run(c.name, func(b *testing.B) {
			for b.Loop() {
				if _, err := Analyse(b.Context(), m, r3.Vec{X: 0.3, Y: 0.2, Z: 1}, c.opt); err != nil {
					b.Fatal(err)
				}
			}
		})
	}
}

// 400 directions over half the sphere, and the closer looks.
func BenchmarkSearch(b *testing.B) {
	m := knobbly()
	for b.Loop() {
		if _, err := Search(b.Context(), m, 400, nil); err != nil {
			b.Fatal(err)
		}
	}
}
