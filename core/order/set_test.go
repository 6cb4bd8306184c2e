package order

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestSetsAreCountedByTheScarcestPart(t *testing.T) {
	kit := []Member{
		{Name: "Cleat", PerSet: 4, Good: 88, Ordered: 240, Resin: "fast"},
		{Name: "Hub", PerSet: 1, Good: 30, Ordered: 60, Resin: "fast"},
	}
	got := CountSet(kit)
	assert.Equal(t, 22, got.Complete, "88 cleats, four a kit")
	assert.Equal(t, []bool{true, false}, got.Short)
	assert.Empty(t, got.Notes)

	kit[1].Good = 3
	got = CountSet(kit)
	assert.Equal(t, 3, got.Complete)
	assert.Equal(t, []bool{false, true}, got.Short)
}

func TestSetsThatDoNotFitTogetherAreSaid(t *testing.T) {
	got := CountSet([]Member{
		{Name: "Grip", PerSet: 2, Ordered: 100, Resin: "Soft", Flexible: true},
		{Name: "Body", PerSet: 1, Ordered: 40, Resin: "Hard"},
	})
	assert.Equal(t, []string{
		"The orders do not match: enough for 40 sets of one part and for 50 of another.",
		"More than one resin: they are cast apart, Body in Hard; Grip in Soft.",
		"Rigid and flexible parts never share a mould: their shots and demould times differ.",
	}, got.Notes)
	assert.Zero(t, CountSet(nil).Complete)
}
