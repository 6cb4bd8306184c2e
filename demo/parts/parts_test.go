package parts

import (
	"testing"

	"bathyform/core/mesh"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestDemoPartsAreSoundAndSmall(t *testing.T) {
	for _, p := range All() {
		t.Run(p.Key, func(t *testing.T) {
			m, r, err := mesh.Load(p.Mesh().WriteSTL(), 1)
			require.NoError(t, err)
			assert.True(t, r.Edges.Closed(), "%+v", r.Edges)
			assert.Equal(t, 1, r.Bodies)
			assert.Empty(t, r.Warnings)
			assert.Greater(t, r.Volume, 3000.0)
			assert.Greater(t, r.Triangles, 3000)
			assert.Less(t, r.Triangles, 60000)
			assert.Less(t, m.Bounds().Min.Z, 1.0)
			t.Logf("%d triangles, %.1f mL, %.0f x %.0f x %.0f mm", r.Triangles, r.Volume/1000,
				r.Bounds.Max.X-r.Bounds.Min.X, r.Bounds.Max.Y-r.Bounds.Min.Y, r.Bounds.Max.Z-r.Bounds.Min.Z)
		})
	}
	_, ok := ByKey("deck-cleat")
	assert.True(t, ok)
	_, ok = ByKey("anchor")
	assert.False(t, ok)
}
