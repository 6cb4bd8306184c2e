package standin

import (
	"fmt"
	"math"
	"math/rand/v2"
	"time"
)

// scale is a gram scale with its faults: it settles, drifts and trembles, has a
// resolution and a capacity, and is tared.
type scale struct {
	faults
	load, wanted, rate float64 // g on it, g that are being poured on, g/s
	shown              float64 // g, as it settles
	tare               float64
	drift              float64 // g/min
	wandered           float64
	noise              float64 // g
	digit, most        float64
	unit               string
	random             *rand.Rand
}

// NewScale is a scale of 0.1 g up to 3000 g.
func NewScale() Instrument {
	return &scale{
		digit:  0.1,
		most:   3000,
		noise:  0.02,
		unit:   "g",
		random: rand.New(rand.NewPCG(1, 2)),
	} //nolint:gosec // it trembles the same way each time
}

// settles is how fast what a scale shows follows what lies on it, a second.
const settles = 6.0

// Says is the line of a reading.
func (s *scale) Says(gone time.Duration) (string, bool) {
	seconds := gone.Seconds()
	if step := s.rate * seconds; s.rate > 0 {
		s.load = min(s.wanted, s.load+step)
		if s.load >= s.wanted {
			s.rate = 0
		}
	}
	s.wandered += s.drift * seconds / 60
	was := s.shown
	s.shown += (s.load - s.shown) * (1 - math.Exp(-settles*seconds))
	if s.load > s.most {
		return s.said("scale overload", gone)
	}
	grams := s.shown - s.tare + s.wandered + s.noise*(2*s.random.Float64()-1)
	grams = math.Round(grams/s.digit) * s.digit
	if grams == 0 {
		grams = 0 // never minus nothing
	}
	steady := ""
	if s.rate == 0 && math.Abs(s.shown-was) < s.digit/4 && math.Abs(s.shown-s.load) < s.digit/2 {
		steady = " steady"
	}
	if s.unit == "oz" {
		return s.said(fmt.Sprintf("scale %.3f oz%s", grams/28.349523125, steady), gone)
	}
	digits := max(0, int(math.Ceil(-math.Log10(s.digit)-1e-9)))
	return s.said(fmt.Sprintf("scale %.*f g%s", digits, grams, steady), gone)
}

// Does takes a command.
func (s *scale) Does(words []string) error {
	if ok, err := s.fault(words); ok {
		return err
	}
	var err error
	switch words[0] {
	case "tare":
		s.tare, s.wandered = s.load, 0
	case "take": // all of it off
		s.load, s.rate = 0, 0
	case "put": // so many g more, at once
		var more float64
		if more, err = figure(words, 1, -1e5, 1e5); err == nil {
			s.load = max(0, s.load+more)
		}
	case "pour": // so many g more, at so many g a second
		var more, rate float64
		if more, err = figure(words, 1, 0, 1e5); err == nil {
			if rate, err = figure(append(words, "10"), 2, 0.01, 1e4); err == nil {
				s.wanted, s.rate = s.load+more, rate
			}
		}
	case "stop":
		s.rate = 0
	case "drift":
		s.drift, err = figure(words, 1, -1e3, 1e3)
	case "noise":
		s.noise, err = figure(words, 1, 0, 1e3)
	case "resolution":
		var digit float64
		if digit, err = figure(words, 1, 0.001, 100); err == nil {
			s.digit = digit
		}
	case "capacity":
		s.most, err = figure(words, 1, 1, 1e6)
	case "unit":
		if len(words) < 2 || words[1] != "g" && words[1] != "oz" {
			return fmt.Errorf("it shows g or oz")
		}
		s.unit = words[1]
	default:
		return fmt.Errorf(
			"a scale does: tare, take, put G, pour G [G/S], stop, drift G/MIN, noise G, resolution G, capacity G, unit g|oz, " +
				"unplug S, rubbish S, stuck S",
		)
	}
	return err
}
