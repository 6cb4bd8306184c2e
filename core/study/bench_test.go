package study_test

import (
	"runtime"
	"testing"

	"bathyform/core/attitude"
	"bathyform/core/blockout"
	"bathyform/core/draw"
	"bathyform/core/mesh"
	"bathyform/core/mesh/meshtest"
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

// Memory of a part of a million triangles, all of it looked over and searched.
func BenchmarkSurveyOfAMillionTriangles(b *testing.B) {
	m, r, err := mesh.Load(meshtest.Sphere(60, 1002).WriteSTL(), 1)
	require.NoError(b, err)
	b.Logf("%d triangles", len(m.Triangles))
	most := uint64(0)
	for b.Loop() {
		p := study.Prepare(partOf(m, r))
		_, err := p.Survey(study.Question{Draw: r3.Vec{Z: 1}, Wanted: 40}, practice.Usual())
		require.NoError(b, err)
		_, err = draw.Search(b.Context(), m, 400, nil)
		require.NoError(b, err)
		_, _, err = attitude.Look(m, r.Sound, r3.Vec{X: 0.1, Z: 1}, attitude.FineCells)
		require.NoError(b, err)
		var stats runtime.MemStats
		runtime.ReadMemStats(&stats)
		most = max(most, stats.Sys)
	}
	b.ReportMetric(float64(most)/1e6, "MB")
}
