package part

import (
	"math"
	"testing"

	"bathyform/core/mesh"
	"bathyform/core/mesh/meshtest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

func TestMeasuresMustFitTogether(t *testing.T) {
	good := Measured{Length: 60, Width: 40, Height: 30, Volume: 72, How: "displaced water"}
	assert.NoError(t, good.Check(), "a block fills its box to the brim")
	for name, change := range map[string]func(*Measured){
		"length":  func(m *Measured) { m.Length = 0 },
		"width":   func(m *Measured) { m.Width = -1 },
		"height":  func(m *Measured) { m.Height = math.NaN() },
		"volume":  func(m *Measured) { m.Volume = math.Inf(1) },
		"go into": func(m *Measured) { m.Volume = 72.1 },
	} {
		m := good
		change(&m)
		assert.ErrorContains(t, m.Check(), name)
	}
}

func TestMasterByMeshAndByMeasure(t *testing.T) {
	m, r, err := mesh.Load(meshtest.Box(r3.Vec{X: 1, Y: 2, Z: 3}, r3.Vec{X: 11, Y: 22, Z: 33}).WriteSTL(), 1)
	require.NoError(t, err)
	byMesh := Master{Mesh: m, Report: r}
	byMeasure := Master{Measured: &Measured{Length: 10, Width: 20, Height: 30, Volume: 6, How: "weight over density"}}
	assert.InEpsilon(t, 6000, byMesh.Volume(), 1e-12)
	assert.InEpsilon(t, 6000, byMeasure.Volume(), 1e-12)
	assert.Contains(t, byMesh.VolumeSource(), "exact")
	assert.Contains(t, byMeasure.VolumeSource(), "weight over density")
	low, high := byMesh.Span(r3.Vec{Z: -1})
	assert.Equal(t, [2]float64{-33, -3}, [2]float64{low, high})
	low, high = byMeasure.Span(r3.Vec{Y: 1})
	assert.Equal(t, [2]float64{0, 20}, [2]float64{low, high})
	byMesh.Report.VolumeError = 3
	assert.Contains(t, byMesh.VolumeSource(), "closed flat")
	assert.Zero(t, Master{}.Volume())
	assert.Equal(t, r3.Box{}, Master{}.Bounds())
}
