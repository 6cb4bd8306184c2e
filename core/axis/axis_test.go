package axis

import (
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

func TestEveryWayGoesThereAndBack(t *testing.T) {
	require.Len(t, All, 6)
	for _, a := range All {
		read, err := Parse(a.String())
		require.NoError(t, err)
		assert.Equal(t, a, read)
		assert.InDelta(t, 1, r3.Norm(a.Dir()), 0)
		assert.Equal(t, r3.Scale(-1, a.Dir()), a.Opposite().Dir(), "%s", a)
		assert.Equal(t, a, a.Opposite().Opposite())
		assert.True(t, a.Along(a.Opposite()))
		assert.Equal(t, a.String()[0] == '-', a.Negative())
		near, exact := Nearest(r3.Scale(3, a.Dir()))
		assert.Equal(t, a, near)
		assert.True(t, exact)
	}
	assert.False(t, PlusX.Along(PlusY))
	_, exact := Nearest(r3.Vec{X: 1, Z: 0.1})
	assert.False(t, exact)
}

func TestTextIsReadStrictly(t *testing.T) {
	for _, bad := range []string{"", "z", "+w", "up", "+z ", "++"} {
		var a Axis
		assert.Error(t, json.Unmarshal([]byte(`"`+bad+`"`), &a), bad)
	}
	doc, err := json.Marshal(struct{ Up Axis }{MinusY})
	require.NoError(t, err)
	assert.JSONEq(t, `{"Up":"-y"}`, string(doc))
	assert.Equal(t, r3.Vec{Z: 1}, Axis(0).Dir(), "nothing said is +z")
	assert.NotPanics(t, func() { Axis(200).Dir() }, "whatever it holds")
}

func TestSpanOfABox(t *testing.T) {
	b := r3.Box{Min: r3.Vec{X: -2, Y: 1, Z: 3}, Max: r3.Vec{X: 5, Y: 2, Z: 9}}
	low, high := MinusX.Span(b)
	assert.Equal(t, [2]float64{-5, 2}, [2]float64{low, high})
}
