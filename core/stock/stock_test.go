package stock_test

import (
	"testing"

	"bathyform/core/stock"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func on(day int) stock.Day { return stock.Day(20_000 + day) }

// can is a lot of a 2:1 resin.
func can(name string, bought int, kilos float64) stock.Lot {
	return stock.Lot{Name: name, Bought: on(bought), Has: stock.Amount{A: kilos * 2000 / 3, B: kilos * 1000 / 3}}
}

var twoToOne = stock.Amount{A: 2, B: 1}

func drawn(day int, lot string, grams float64) stock.Drawn {
	return stock.Drawn{Day: on(day), Lot: lot, Amount: stock.Amount{A: grams * 2 / 3, B: grams / 3}}
}

func TestWhatIsLeftOfALot(t *testing.T) {
	open := can("L-1", 1, 3)
	open.Opened = on(2)
	for _, c := range []struct {
		name  string
		shelf stock.Shelf
		want  float64
	}{
		{"as bought", stock.Shelf{Lots: []stock.Lot{can("L-1", 1, 3)}}, 3000},
		{"what was weighed is drawn", stock.Shelf{Lots: []stock.Lot{can("L-1", 1, 3)},
			Drawn: []stock.Drawn{drawn(3, "L-1", 90), drawn(4, "L-1", 60)}}, 2850},
		{"without a lot it goes off the open " +
			"one", stock.Shelf{Lots: []stock.Lot{can("L-0", 1, 1), open}, Drawn: []stock.Drawn{drawn(3, "", 90)}}, 3910},
		{"a count puts it right, what went before is in it",
			stock.Shelf{Lots: []stock.Lot{can("L-1", 1, 3)}, Drawn: []stock.Drawn{drawn(3, "L-1", 90), drawn(6, "L-1", 60)},
				Counted: []stock.Counted{{Day: on(5), Lot: "L-1", Amount: stock.Amount{A: 1200, B: 600}}}}, 1740},
		{"the shorter part bounds it", stock.Shelf{Lots: []stock.Lot{can("L-1", 1, 3)},
			Counted: []stock.Counted{{Day: on(5), Lot: "L-1", Amount: stock.Amount{A: 1200, B: 100}}}}, 300},
	} {
		c.shelf.Ratio = twoToOne
		assert.InDelta(t, c.want, c.shelf.Level(on(20)).Usable, 1e-6, c.name)
	}
}

func TestLooseDrawsGoFromOneLotToTheNext(t *testing.T) {
	s := stock.Shelf{Lots: []stock.Lot{can("L-2", 2, 1), can("L-1", 1, 0.1)}, Ratio: twoToOne,
		Drawn: []stock.Drawn{drawn(3, "", 150), drawn(4, "L-9", 30)}}
	l := s.Level(on(5))
	assert.Equal(t, "L-1", l.Lots[0].Name, "bought first")
	assert.InDelta(t, 0, l.Lots[0].Total(), 1e-9)
	assert.InDelta(t, 920, l.Lots[1].Total(), 1e-9)
	assert.InDelta(t, 80, l.Lots[1].Assumed, 1e-9)
	assert.Equal(t, []string{"L-9"}, l.Strange)
	assert.Zero(t, l.Loose)
	s.Drawn = append(s.Drawn, drawn(5, "", 5000))
	assert.InDelta(t, 4080, s.Level(on(5)).Loose, 1e-6)
	early := stock.Shelf{Lots: []stock.Lot{can("L-1", 9, 1)}, Ratio: twoToOne, Drawn: []stock.Drawn{drawn(3, "", 150)}}
	assert.InDelta(t, 1000, early.Level(on(10)).Usable, 1e-9, "it was not bought yet")
}

func TestALotPastItsDayIsNotCounted(t *testing.T) {
	l := can("L-1", 1, 1)
	l.Opened, l.Keeps, l.Expires = on(2), 10, on(28)
	end, ok := l.Ends()
	require.True(t, ok)
	assert.Equal(t, on(12), end, "open, it keeps ten days")
	level := stock.Shelf{Lots: []stock.Lot{l}, Ratio: twoToOne}.Level(on(13))
	assert.Zero(t, level.Usable)
	assert.InDelta(t, 1000, level.Past, 1e-9)
	l.Keeps = 0
	assert.InDelta(t, 1000, stock.Shelf{Lots: []stock.Lot{l}, Ratio: twoToOne}.Level(on(28)).Usable, 1e-9, "good on its last day")
}

func TestItRunsOutBeforeTheOrderIsDone(t *testing.T) {
	s := stock.Shelf{Lots: []stock.Lot{can("L-1", 1, 2)}, Ratio: twoToOne}
	for day := 11; day <= 20; day++ {
		s.Drawn = append(s.Drawn, drawn(day, "L-1", 100))
	}
	level := s.Level(on(20))
	needs := []stock.Need{{Order: "cleats", Grams: 800, Due: on(28)}, {Order: "collars", Grams: 600}}
	o := s.Outlook(level, needs, on(20))
	assert.InDelta(t, 400, o.Short, 1e-6)
	assert.InDelta(t, 1000.0/9, o.Pace, 1e-6, "a kilogram in the nine days since the first")
	assert.Equal(t, on(29), o.RunsTo)
	assert.Equal(t, []string{"collars"}, o.Cuts, "what is due comes first")
	assert.Zero(t, s.Outlook(level, needs[:1], on(20)).Short)
	assert.Zero(t, s.Outlook(level, needs[:1], on(20)).RunsTo)
	fresh := stock.Shelf{Lots: []stock.Lot{can("L-1", 1, 0.5)}, Ratio: twoToOne}
	o = fresh.Outlook(fresh.Level(on(20)), needs[:1], on(20))
	assert.False(t, o.Paced)
	assert.Equal(t, on(25), o.RunsTo, "800 g in the eight days until it is due")
}

// Nothing is lost or found: what was bought is what is left and what was drawn.
func TestStockIsConserved(t *testing.T) {
	s := stock.Shelf{Lots: []stock.Lot{can("a", 1, 1), can("b", 2, 2), can("c", 3, 0.5)}, Ratio: twoToOne}
	sum := 0.0
	for i := range 25 {
		g := float64(7*i%90 + 3)
		s.Drawn = append(s.Drawn, drawn(4+i%20, []string{"", "a", "b"}[i%3], g))
		sum += g
	}
	l := s.Level(on(28))
	left := 0.0
	for _, lot := range l.Lots {
		left += lot.Total()
		assert.InDelta(t, lot.Has.Total(), lot.Total()+lot.Drawn.Total(), 1e-9)
	}
	assert.InDelta(t, 3500, left+sum-l.Loose, 1e-6)
}
