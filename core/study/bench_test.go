package study_test

import (
	"testing"

	"bathyform/core/blockout"
	"bathyform/core/mesh"
	"bathyform/core/practice"
	"bathyform/core/study"

	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

// A fine mesh with upright walls, which the columns of a grid run along.
func BenchmarkSurveyOfABlock(b *testing.B) {
	built, err := blockout.Build([]blockout.Solid{{Kind: blockout.Box, A: 40, B: 30, C: 20}})
	require.NoError(b, err)
	m, r, err := mesh.Load(built.WriteSTL(), 1)
	require.NoError(b, err)
	b.Logf("%d triangles", len(m.Triangles))
	for b.Loop() {
		p := study.Prepare(partOf(m, r))
		if _, err := p.Survey(study.Question{Draw: r3.Vec{Z: 1}, Wanted: 40}, practice.Usual()); err != nil {
			b.Fatal(err)
		}
	}
}
