package life_test

import (
	"math"
	"testing"

	"bathyform/core/life"

	"github.com/stretchr/testify/assert"
)

// Two examples out of the handbooks, from memory: 11 events in 800 against 21 in 3011
// (the ratio of rates 1.9715, its exact interval 0.8584 to 4.2773), and 41 breast
// cancers in 28,010 woman-years against 15 in 19,017 (Rothman: 1.86, exact about 1.01
// to 3.6).
func TestRatesAreComparedExactly(t *testing.T) {
	c := life.Compare(life.Side{Worn: 11, Pulls: 800}, life.Side{Worn: 21, Pulls: 3011})
	assert.InDelta(t, 1.971488, c.Ratio, 1e-6)
	assert.InDelta(t, 0.8584, c.Low, 1e-4)
	assert.InDelta(t, 4.2773, c.High, 1e-4)
	assert.True(t, c.Tells)
	c = life.Compare(life.Side{Worn: 41, Pulls: 28010}, life.Side{Worn: 15, Pulls: 19017})
	assert.InDelta(t, 1.86, c.Ratio, 5e-3)
	assert.InDelta(t, 1.01, c.Low, 1e-2)
	assert.InDelta(t, 3.6, c.High, 5e-2)
}

func TestALogOfAFewMouldsTellsNothing(t *testing.T) {
	few := life.Compare(life.Side{Worn: 4, Pulls: 200}, life.Side{Worn: 9, Pulls: 200})
	assert.False(t, few.Tells)
	assert.Less(t, few.Low, 1.0)
	assert.Greater(t, few.High, 1.0, "from half as often to oftener")
	none := life.Compare(life.Side{Worn: 3, Pulls: 90}, life.Side{Pulls: 100})
	assert.True(t, math.IsNaN(none.Ratio))
	assert.True(t, math.IsInf(none.High, 1))
	assert.Greater(t, none.Low, 0.0)
	assert.True(t, math.IsNaN(life.Compare(life.Side{}, life.Side{Worn: 3, Pulls: 90}).Ratio))
}
