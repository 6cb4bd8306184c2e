package weigh

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// shown are readings five times a second.
func shown(grams ...float64) (out []Reading) {
	for i, g := range grams {
		out = append(out, Reading{At: 0.2 * float64(i), Grams: g})
	}
	return out
}

func still(g float64, n int) (out []float64) {
	for range n {
		out = append(out, g)
	}
	return out
}

// A figure counts once it has stood for a second within a digit.
func TestAFigureCountsOnceItStandsStill(t *testing.T) {
	w := Usual(0.1)
	for name, c := range map[string]struct {
		readings []Reading
		grams    float64
		ok       bool
	}{
		"nothing yet":            {nil, 0, false},
		"too young":              {shown(104.6, 104.6, 104.6), 0, false},
		"it stands":              {shown(still(104.6, 6)...), 104.6, true},
		"a digit to and fro":     {shown(104.6, 104.7, 104.6, 104.7, 104.6, 104.7), 104.7, true},
		"it moves":               {shown(104.2, 104.3, 104.4, 104.5, 104.6, 104.7), 0, false},
		"it has come to stand":   {shown(append([]float64{20, 60, 90, 103}, still(104.6, 6)...)...), 104.6, true},
		"overloaded in between":  {append(shown(still(5, 5)...), Reading{At: 1, Over: true}), 0, false},
		"one reading in a while": {[]Reading{{At: 0, Grams: 5}, {At: 3, Grams: 5}}, 0, false},
	} {
		grams, ok := w.Settled(c.readings)
		assert.Equal(t, c.ok, ok, name)
		assert.Equal(t, c.grams, grams, name)
	}
}

// What is wrong with a scale is told, with what to do about it.
func TestAScaleThatIsWrongIsNotBelieved(t *testing.T) {
	w := Usual(0.1)
	ramp := func(perSecond float64, seconds int) (out []Reading) {
		for i := range seconds * 5 {
			at := 0.2 * float64(i)
			out = append(out, Reading{At: at, Grams: 50 + perSecond*at})
		}
		return out
	}
	for name, c := range map[string]struct {
		readings []Reading
		after    float64
		want     Trouble
	}{
		"in order":           {shown(still(5, 6)...), 0, None},
		"it has just begun":  {nil, 5, None},
		"unplugged":          {shown(still(5, 6)...), 3, Silent},
		"overloaded":         {[]Reading{{Over: true}}, 0, Overload},
		"tared with the cup": {shown(-12), 0, Below},
		"a digit below":      {shown(-0.1), 0, None},
		"it drifts":          {ramp(0.02, 21), 0, Creeping},
		"it is poured":       {ramp(2, 21), 0, None},
		"drop by drop":       {append(ramp(0, 15), ramp(0.01, 5)...), 0, None},
	} {
		now := c.after
		if n := len(c.readings); n > 0 {
			now += c.readings[n-1].At
		}
		got := w.Trouble(c.readings, now)
		assert.Equal(t, c.want, got, name)
		assert.Equal(t, c.want != None, got.Says() != "", name)
	}
}
