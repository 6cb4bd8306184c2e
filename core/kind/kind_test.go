package kind

import (
	"testing"

	"bathyform/core/practice"
	"bathyform/core/strip"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func usual() Case {
	return Case{Quantity: 40, Length: 60, Width: 40, Height: 30, Volume: 30_000, Area: 9000,
		Clearance: practice.Clearance{Beside: 12, Below: 13, Above: 20}, Seam: 200, FlatBack: 0.1, Median: 12, Thinnest: 5,
		CureHours: 16, Life: 40, Pot: 240}
}

func find(t *testing.T, c Choice, k Kind) Entry {
	t.Helper()
	for _, e := range c.Entries {
		if e.Kind == k {
			return e
		}
	}
	require.Fail(t, "not listed", k)
	return Entry{}
}

func TestEveryKindIsHeldAgainstThePart(t *testing.T) {
	got := Rank(usual())
	assert.Len(t, got.Entries, 10)
	assert.Empty(t, got.NotWorth)
	for _, e := range got.Entries {
		assert.NotEmpty(t, append(append([]string{}, e.For...), e.Against...), e.Name)
		assert.Positive(t, e.Rubber.Value, e.Name)
	}
	assert.InEpsilon(t, (84.0*64*63-30_000)/1000, find(t, got, Cut).Rubber.Value, 1e-9, "the box less the part")
}

func TestWhatSpeaksForWhich(t *testing.T) {
	for _, c := range []struct {
		name  string
		with  func(*Case)
		first Kind
	}{
		{"a flat-backed badge", func(c *Case) { c.FlatBack, c.Height, c.Rough = 0.95, 8, true }, OpenFace},
		{"a plain lump", func(*Case) {}, Cut},
		{"a hub whose sockets no rubber strips out of", func(c *Case) { c.Worst, c.Locked = strip.SidePiece, 6; c.Length = 90 }, Pieces},
		{"a thin ring", func(c *Case) { c.Median, c.Height = 3, 6; c.Length = 76; c.Volume = 9000 }, Squeeze},
	} {
		k := usual()
		c.with(&k)
		assert.Equal(t, c.first, Rank(k).Entries[0].Kind, c.name)
	}
	few, many := usual(), usual()
	few.Quantity, many.Quantity = 20, 400
	gain := func(c Case) float64 { r := Rank(c); return find(t, r, Clay).Score - find(t, r, Shell).Score }
	assert.Negative(t, gain(few), "a shell does not pay for twenty")
	assert.Positive(t, gain(many), "it does for four hundred")
}

func TestNotWorthCastingIsSaidFirst(t *testing.T) {
	k := usual()
	k.Quantity, k.Median = 1, 0.4
	assert.Len(t, Rank(k).NotWorth, 2)
}

func TestBigMouldsDoNotFitThePot(t *testing.T) {
	k := usual()
	k.Length = 400
	e := find(t, Rank(k), Cut)
	assert.False(t, e.Pot)
	k.Pot = 0
	assert.True(t, find(t, Rank(k), Cut).Pot, "no pot, no limit")
}

func TestTheFiguresOfAKindOpenToTheirSums(t *testing.T) {
	c := usual()
	c.Quantity, c.Life, c.LifeFrom, c.CureFrom = 90, 40, "a log of moulds", "a data sheet"
	for _, e := range Rank(c).Entries {
		rubber := 1.0
		for _, in := range e.Rubber.Inputs {
			rubber *= in.Value
			require.NotNil(t, in.Number, "%s: %s opens further", e.Name, in.Name)
		}
		assert.InEpsilon(t, e.Rubber.Value, rubber, 1e-9, "%s: rubber of a mould × moulds", e.Name)
		in := e.Hours.Inputs
		require.Len(t, in, 3, e.Name)
		assert.InEpsilon(t, e.Hours.Value, in[0].Value*in[1].Value+in[2].Value, 1e-9, "%s: cures × cure + work", e.Name)
		assert.Equal(t, "a data sheet", in[1].Source)
	}
	cut := find(t, Rank(c), Cut)
	assert.Equal(t, 3, cut.Remakes)
	assert.InEpsilon(t, 3*(84.0*64*63-30_000)/1000, cut.Rubber.Value, 1e-9)
}
