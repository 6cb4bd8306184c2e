package standin

import (
	"fmt"
	"math"
	"time"
)

// gauge is that of a pressure pot, or of a vacuum chamber in which what is
// degassed foams.
type gauge struct {
	faults
	name          string
	at, wanted    float64 // kPa
	rate, leak    float64 // kPa/s
	most, relief  float64 // kPa; a relief valve opens at relief, where there is one
	foams         bool
	tall, entrain float64 // mm of what is degassed, and the share of it that is air
}

// Says is the line of a reading: pressure, and how high it foams.
func (g *gauge) Says(gone time.Duration) (string, bool) {
	seconds := gone.Seconds()
	if g.rate > 0 {
		step := g.rate * seconds
		if math.Abs(g.wanted-g.at) <= step {
			g.at, g.rate = g.wanted, 0
		} else {
			g.at += math.Copysign(step, g.wanted-g.at)
		}
	}
	g.at = max(0, g.at-g.leak*seconds)
	if g.relief > 0 {
		g.at = min(g.at, g.relief)
	}
	if !g.foams {
		return g.said(fmt.Sprintf("%s %.1f kPa", g.name, g.at), gone)
	}
	return g.said(fmt.Sprintf("%s %.1f kPa %.0f mm", g.name, g.at, g.height()), gone)
}

// air is the pressure of the atmosphere, kPa.
const air = 101.325

// height is how high it foams: 1 + φ (pa / pb − 1) times as high (Boyle).
func (g *gauge) height() float64 {
	left := max(1, air-g.at)
	return g.tall * (1 + g.entrain*(air/left-1))
}

// Does takes a command.
func (g *gauge) Does(words []string) error {
	if ok, err := g.fault(words); ok {
		return err
	}
	var err error
	switch words[0] {
	case "to": // a pressure, at so many kPa a second
		var to, rate float64
		if to, err = figure(words, 1, 0, g.most); err == nil {
			if rate, err = figure(append(words, "20"), 2, 0.1, 1e4); err == nil {
				g.wanted, g.rate = to, rate
			}
		}
	case "vent":
		g.wanted, g.rate = 0, 50
	case "leak":
		g.leak, err = figure(words, 1, 0, 1e3)
	case "relief":
		if g.foams {
			return fmt.Errorf("a vacuum gauge has no relief valve")
		}
		g.relief, err = figure(words, 1, 0, g.most)
	case "fill": // so many mm of a mix, of which a share is air
		if !g.foams {
			return fmt.Errorf("a pot gauge sees nothing foam")
		}
		if g.tall, err = figure(words, 1, 0, 1e4); err == nil {
			g.entrain, err = figure(append(words, "0.05"), 2, 0, 0.9)
		}
	default:
		return fmt.Errorf("a gauge does: to KPA [KPA/S], vent, leak KPA/S, relief KPA, fill MM [SHARE], unplug S, rubbish S, stuck S")
	}
	return err
}

// room is a thermo-hygrometer.
type room struct {
	faults
	celsius, humid float64
	warms          float64 // °C/min
}

// Says is the line of a reading.
func (r *room) Says(gone time.Duration) (string, bool) {
	r.celsius += r.warms * gone.Minutes()
	return r.said(fmt.Sprintf("air %.1f °C %.0f %%", r.celsius, r.humid), gone)
}

// Does takes a command.
func (r *room) Does(words []string) error {
	if ok, err := r.fault(words); ok {
		return err
	}
	var err error
	switch words[0] {
	case "celsius":
		r.celsius, err = figure(words, 1, -20, 60)
	case "humidity":
		r.humid, err = figure(words, 1, 0, 100)
	case "warms":
		r.warms, err = figure(words, 1, -10, 10)
	default:
		return fmt.Errorf("it does: celsius C, humidity PERCENT, warms C/MIN, unplug S, rubbish S, stuck S")
	}
	return err
}
