package hours

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// nine to five, Monday to Friday
var shop = Shop{Open: 540, Close: 1020, Days: [7]bool{true, true, true, true, true}}

func laid(t *testing.T, from float64, weekday int, tasks ...Task) []Slot {
	t.Helper()
	s, err := shop.Lay(tasks, from, weekday)
	require.NoError(t, err)
	return s
}

func TestHandsKeepHoursAndRubberDoesNot(t *testing.T) {
	s := laid(
		t,
		600,
		0,
		Task{Name: "box", Minutes: 60, Hands: true},
		Task{Name: "cure", Minutes: 960},
		Task{Name: "open", Minutes: 30, Hands: true},
	)
	assert.Equal(t, 660.0, s[1].From, "cures from when it is poured")
	assert.Equal(t, 1620.0, s[1].To, "at three in the night")
	assert.Equal(t, 1440.0+540, s[2].From, "opened when the shop is")
}

func TestAMixDoesNotWaitOverNight(t *testing.T) {
	mix := []Task{
		{Name: "mix", Minutes: 10, Hands: true},
		{Name: "degas", Minutes: 10, Hands: true, With: true},
		{Name: "pour", Minutes: 10, Hands: true, With: true},
	}
	s := laid(t, 1005, 0, mix...)
	assert.Equal(t, 1440.0+540, s[0].From, "half an hour does not fit before five")
	assert.Equal(t, s[0].To, s[1].From)
	assert.Equal(t, s[1].To, s[2].From)
	s = laid(t, 990, 0, mix...)
	assert.Equal(t, 990.0, s[0].From, "it just does")
}

func TestWeekendsAreFree(t *testing.T) {
	s := laid(t, 1000, 4, Task{Name: "box", Minutes: 60, Hands: true})
	assert.Equal(t, 3*1440.0+540, s[0].From, "Friday's work goes to Monday")
	s = laid(t, 0, 5, Task{Name: "cure", Minutes: 100})
	assert.Zero(t, s[0].From, "rubber cures on Saturday")
	s = laid(t, 0, 0, Task{Name: "carving", Minutes: 3000, Hands: true})
	assert.Equal(t, 540.0, s[0].From, "what takes longer than a day begins in the morning")
}

func TestHoursThatCannotBe(t *testing.T) {
	for _, s := range []Shop{{}, {Open: 600, Close: 630, Days: shop.Days}, {Open: 540, Close: 1020},
		{Open: -5, Close: 1020, Days: shop.Days}} {
		_, err := s.Lay(nil, 0, 0)
		assert.Error(t, err)
	}
	_, err := shop.Lay([]Task{{Name: "time travel", Minutes: -1}}, 0, 0)
	assert.ErrorContains(t, err, "time travel")
}
