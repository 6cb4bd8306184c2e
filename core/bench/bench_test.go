package bench_test

import (
	"runtime"
	"testing"

	"bathyform/core/attitude"
	"bathyform/core/bench"
	"bathyform/core/blockout"
	"bathyform/core/design"
	"bathyform/core/draw"
	"bathyform/core/mesh"
	"bathyform/core/mesh/meshtest"
	"bathyform/core/part"
	"bathyform/core/survey"
	"bathyform/demo/parts"

	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

// loaded is a demo part as a file holds it.
func loaded(b *testing.B, key string) (*mesh.Mesh, mesh.Report) {
	b.Helper()
	p, ok := parts.ByKey(key)
	require.True(b, ok)
	m, r, err := mesh.Load(p.Mesh().WriteSTL(), 1)
	require.NoError(b, err)
	return m, r
}

// A demo part looked over for the first time.
func BenchmarkSurvey(b *testing.B) {
	m, r := loaded(b, "deck-cleat")
	for b.Loop() {
		p := bench.Take(part.Master{Mesh: m, Report: r})
		if _, _, err := p.Survey(b.Context(), survey.Question{Master: p.Part, Draw: r3.Vec{Y: 1}, Rubber: &tin, Resin: &quick, Wanted: 40},
			house); err != nil {
			b.Fatal(err)
		}
	}
}

// What the server works out when a hand drags a vent of the cleat.
func BenchmarkMovedVent(b *testing.B) {
	m, r := loaded(b, "deck-cleat")
	p := bench.Take(part.Master{Mesh: m, Report: r})
	q := asked(b, p)
	q.Kind = design.Clay
	at := q.Design.Vents[0].At
	i := 0
	for b.Loop() {
		i++
		q.Design.Vents = append([]design.Vent(nil), q.Design.Vents...)
		q.Design.Vents[0].At = design.Place{at[0] + 0.01*float64(i%50), at[1], at[2]}
		if _, err := p.Study(b.Context(), q); err != nil {
			b.Fatal(err)
		}
	}
}

// The study of a design that was asked before.
func BenchmarkStudyAgain(b *testing.B) {
	m, r := loaded(b, "deck-cleat")
	p := bench.Take(part.Master{Mesh: m, Report: r})
	q := asked(b, p)
	for b.Loop() {
		if _, err := p.Study(b.Context(), q); err != nil {
			b.Fatal(err)
		}
	}
}

// A master that was never seen, down to its study.
func BenchmarkFirstStudy(b *testing.B) {
	m, r := loaded(b, "deck-cleat")
	for b.Loop() {
		p := bench.Take(part.Master{Mesh: m, Report: r})
		if _, err := p.Study(b.Context(), asked(b, p)); err != nil {
			b.Fatal(err)
		}
	}
}

// A fine mesh with upright walls, which the columns of a grid run along.
func BenchmarkSurveyOfABlock(b *testing.B) {
	built, err := blockout.Build([]blockout.Solid{{Kind: blockout.Box, A: 40, B: 30, C: 20}})
	require.NoError(b, err)
	m, r, err := mesh.Load(built.WriteSTL(), 1)
	require.NoError(b, err)
	b.Logf("%d triangles", len(m.Triangles))
	for b.Loop() {
		p := bench.Take(part.Master{Mesh: m, Report: r})
		if _, _, err := p.Survey(b.Context(), survey.Question{Master: p.Part, Draw: r3.Vec{Z: 1}, Wanted: 40}, house); err != nil {
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
		p := bench.Take(part.Master{Mesh: m, Report: r})
		_, _, err := p.Survey(b.Context(), survey.Question{Master: p.Part, Draw: r3.Vec{Z: 1}, Wanted: 40}, house)
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
