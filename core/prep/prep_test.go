package prep

import (
	"testing"

	"bathyform/core/inhibit"

	"github.com/stretchr/testify/assert"
)

func keys(steps []Step) (out []string) {
	for _, s := range steps {
		out = append(out, s.Key)
	}
	return out
}

func TestNothingThatThePartDoesNotNeed(t *testing.T) {
	metal := List(Case{Surface: inhibit.Metal, Family: inhibit.Platinum, FlatBack: true, Generation: 1})
	assert.Equal(t, []string{"fix", "wipe"}, keys(metal))
}

func TestWhatWasFoundMakesTheList(t *testing.T) {
	got := List(Case{Surface: inhibit.PrintResin, Family: inhibit.Platinum, RubberName: "platinum 20 A", Fill: 2, Recesses: 1,
		Inserts: []Insert{{Kind: Thread, Note: "M4"}, {Kind: Hole}, {Kind: Magnet}}, Quality: "precision", Generation: 2, Shrink: 0.3})
	assert.Equal(
		t,
		[]string{"generation", "fill", "insert-0-thread", "insert-1-hole", "insert-2-magnet", "sand", "brush", "hang", "inhibit", "wipe"},
		keys(got),
	)
	for _, s := range got {
		assert.NotEmpty(t, s.Do)
		assert.NotEmpty(t, s.Why)
	}
	assert.Contains(t, got[0].Why, "0.6 %", "shrink is counted twice")
	assert.Contains(t, got[2].Do, "M4")
	assert.Contains(t, got[5].Caution, "blushes", "paint warns on the day's weather")
}

func TestATestThatWentWellIsNotAskedForAgain(t *testing.T) {
	c := Case{Surface: inhibit.PrintResin, Family: inhibit.Platinum, Tested: true}
	assert.NotContains(t, keys(List(c)), "inhibit")
	c.Tested, c.TestFailed = false, true
	steps := List(c)
	assert.Contains(t, keys(steps), "inhibit")
}

func TestPrimingWaitsForTheDay(t *testing.T) {
	caution := func(d *Day) string {
		for _, s := range List(Case{Surface: inhibit.PrintPLA, Quality: "good", Day: d}) {
			if s.Key == "sand" {
				return s.Caution
			}
		}
		return ""
	}
	for says, d := range map[string]*Day{
		"between 10 and 32 °C": nil,
		"Not today: at 84 %":   {20, 84},
		"Not today: at 4 °C":   {4, 50},
		"Not now: at 36 °C":    {36, 40},
		"primer dries well":    {21, 45},
	} {
		assert.Contains(t, caution(d), says)
	}
	assert.Error(t, Day{Celsius: 200, Humidity: 50}.Check())
	assert.Error(t, Day{Celsius: 20, Humidity: 120}.Check())
	assert.NoError(t, Day{Celsius: 20, Humidity: 50}.Check())
}
