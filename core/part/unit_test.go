package part

import (
	"testing"

	"bathyform/core/mesh"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

func TestAReportIsReadInAnotherUnit(t *testing.T) {
	native := mesh.Report{Volume: 2, VolumeError: 0.1, Area: 10, Bounds: r3.Box{Max: r3.Vec{X: 2, Y: 1, Z: 1}}}
	inches, err := In(native, 1, mesh.Inch)
	require.NoError(t, err)
	assert.InEpsilon(t, 2*25.4*25.4*25.4, inches.Volume, 1e-12)
	assert.InEpsilon(t, 10*25.4*25.4, inches.Area, 1e-12)
	assert.InEpsilon(t, 50.8, inches.Bounds.Max.X, 1e-12)
	back, err := In(inches, 25.4, mesh.Millimetre)
	require.NoError(t, err)
	assert.InEpsilon(t, native.Volume, back.Volume, 1e-12)
	assert.InEpsilon(t, native.VolumeError, back.VolumeError, 1e-12)
	_, err = In(mesh.Report{Bounds: r3.Box{Max: r3.Vec{X: 50}}}, 1, mesh.Metre)
	assert.ErrorContains(t, err, "50 m long")
	_, err = In(native, 1, "furlong")
	assert.Error(t, err)
}
