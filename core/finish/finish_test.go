package finish

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestWhatACastingCostsAfterTheMould(t *testing.T) {
	edge := Casting{Seam: 250}
	assert.InEpsilon(t, 1.0, edge.Minutes().Value, 1e-12, "a quarter of a metre along an edge takes a minute")
	wall := Casting{Seam: 250, Across: 1}
	assert.InEpsilon(t, 2.0, wall.Minutes().Value, 1e-12, "twice that where it shows")
	vented := Casting{Seam: 250, Scars: []float64{8, 2, 2}}
	assert.Greater(t, vented.Minutes().Value, edge.Minutes().Value+3*perScar)
	assert.Greater(
		t,
		Casting{Scars: []float64{8}}.Minutes().Value,
		Casting{Scars: []float64{2}}.Minutes().Value,
		"a broad gate is sawn and sanded longer",
	)
	precise := vented
	precise.Quality = "precision"
	assert.InEpsilon(t, 1.6*vented.Minutes().Value, precise.Minutes().Value, 1e-12)
	assert.Positive(t, Casting{Land: 100, FreeFace: 400}.Minutes().Value)
	assert.Zero(t, Casting{}.Minutes().Value)
	assert.Equal(t, Seam(100, 1), Seam(100, 7), "no more than all of it crosses walls")
}

func TestEveryNumberOfTheMinutesOpens(t *testing.T) {
	n := Casting{Seam: 250, Across: 0.5, Scars: []float64{8, 2}, Land: 100, FreeFace: 400, Quality: "precision"}.Minutes()
	sum := 0.0
	for _, in := range n.Inputs[2:] {
		assert.NotNil(t, in.Number, "%s says how it was worked out", in.Name)
		sum += in.Value
	}
	assert.InEpsilon(t, n.Value, n.Inputs[0].Value*n.Inputs[1].Value*sum, 1e-12, "pace times care times the rest, as its formula says")
	assert.Contains(t, n.Note, "no source")
	slow := Casting{Seam: 250, Pace: 1.5}
	assert.InEpsilon(t, 1.5, slow.Minutes().Value, 1e-12, "the shop's own watch")
	for share := 0.0; share < 0.85; share += 0.1 {
		assert.Less(t, Seam(100, share), Seam(100, share+0.1), "the more of it shows, the longer")
	}
}
