// Package parts makes the masters of the demo shop from parameters. Each
// shows a different difficulty of the trade.
package parts

import (
	"math"
	"sync"

	"bathyform/core/grid"
	"bathyform/core/mesh"

	"gonum.org/v1/gonum/spatial/r3"
)

// Part is one demo master.
type Part struct {
	Key        string
	Name       string
	Difficulty string // what a caster has to look out for
	field      grid.Field
	box        r3.Box
	cell       float64
	once       *sync.Once
	mesh       *mesh.Mesh
}

// Mesh returns the part's mesh in mm, made on first use. It must not be changed.
func (p *Part) Mesh() *mesh.Mesh {
	p.once.Do(func() { p.mesh = grid.Sharp(p.field, p.box, p.cell) })
	return p.mesh
}

func v(x, y, z float64) r3.Vec { return r3.Vec{X: x, Y: y, Z: z} }

func part(key, name, difficulty string, low, high r3.Vec, cell float64, f grid.Field) *Part {
	margin := v(2*cell, 2*cell, 2*cell)
	return &Part{key, name, difficulty, f, r3.Box{Min: r3.Sub(low, margin), Max: r3.Add(high, margin)}, cell, &sync.Once{}, nil}
}

var all = []*Part{
	part("deck-cleat", "Deck cleat", "two horns, two separate high spots",
		v(-52, -15, 0), v(52, 15, 44), 1.13, deckCleat()),
	part("ballast-bulb", "Ballast bulb", "thick all through: heat and shrinkage",
		v(-24, -24, 0), v(24, 24, 80), 1.27, ballastBulb()),
	part("collar-half", "Collar half", "ears and a rib, several high spots; gangs well",
		v(-48, 0, 0), v(48, 36, 26), 1.07, collarHalf()),
	part("sensor-guard", "Sensor guard", "slender legs, a high spot on each",
		v(-36, -36, 0), v(36, 36, 62), 0.79, sensorGuard()),
	part("drogue-hub", "Drogue hub", "six sockets that lock the rubber from above",
		v(-42, -42, 0), v(42, 42, 20), 1.17, drogueHub()),
	part("instrument-bezel", "Instrument bezel", "a thin stepped ring: flash, and a half that floats",
		v(-40, -40, 0), v(40, 40, 8), 0.79, instrumentBezel()),
}

// All lists the demo parts in the order they are offered.
func All() []*Part { return all }

// ByKey finds a demo part.
func ByKey(key string) (*Part, bool) {
	for _, p := range all {
		if p.Key == key {
			return p, true
		}
	}
	return nil, false
}

func deckCleat() grid.Field {
	const base, waist = 4.0, 17.0 // half height of the foot, height of the horns' root
	foot := block(v(0, 0, base), v(30, 13, base), 2.5)
	neck := joined(8, drum(v(-9, 0, base), v(-9, 0, waist+2), 6.5, 1), drum(v(9, 0, base), v(9, 0, waist+2), 6.5, 1))
	horn := func(s float64) grid.Field {
		return joined(6,
			rod(v(0, 0, waist+3), v(s*24, 0, waist+5), 7.5, 6.5),
			rod(v(s*24, 0, waist+5), v(s*40, 0, waist+14), 6.5, 5.5),
			ball(v(s*43, 0, waist+17), 6.5))
	}
	body := joined(6, joined(5, foot, neck), horn(-1), horn(1))
	bolt := func(s float64) grid.Field { return drum(v(s*22, 0, -5), v(s*22, 0, 12), 2.6, 0.1) }
	return cut(1, body, bolt(-1), bolt(1))
}

func ballastBulb() grid.Field {
	return joined(14,
		ball(v(0, 0, 22), 22),
		rod(v(0, 0, 30), v(0, 0, 74), 16, 4.5))
}

func collarHalf() grid.Field {
	const height = 24.0
	shell := cut(0.8, drum(v(0, 0, 0), v(0, 0, height), 31, 1.5), drum(v(0, 0, -5), v(0, 0, height+5), 22, 0.1))
	ear := func(s float64) grid.Field { return block(v(s*36, 4, height/2), v(9, 4, height/2), 1.5) }
	rib := drum(v(0, 0, height/2-2.5), v(0, 0, height/2+2.5), 35, 1)
	ribbed := joined(2, shell, cut(0.8, rib, drum(v(0, 0, -5), v(0, 0, height+5), 27, 0.1)))
	halfRing := half(ribbed, v(0, 0.6, 0), v(0, -1, 0))
	hole := func(s float64) grid.Field { return drum(v(s*38, -5, height/2), v(s*38, 15, height/2), 3.2, 0) }
	return cut(0, half(joined(3, halfRing, ear(-1), ear(1)), v(0, 0.6, 0), v(0, -1, 0)),
		hole(-1), hole(1))
}

func sensorGuard() grid.Field {
	parts := []grid.Field{hoop(5, 28, 4.2)}
	for i := range 4 {
		a := math.Pi/4 + float64(i)*math.Pi/2
		c, s := math.Cos(a), math.Sin(a)
		knee, tip := v(25*c, 25*s, 30), v(20*c, 20*s, 50)
		parts = append(parts, rod(v(28*c, 28*s, 5), knee, 3, 2.4), rod(knee, tip, 2.4, 2), ball(v(19*c, 19*s, 54), 3.6))
	}
	return joined(2.5, parts...)
}

func drogueHub() grid.Field {
	const height = 18.0
	disc := drum(v(0, 0, 0), v(0, 0, height), 40, 0)
	tools := []grid.Field{drum(v(0, 0, -5), v(0, 0, height+5), 8, 0)}
	for i := range 6 {
		a := float64(i)*math.Pi/3 + 0.17
		c, s := math.Cos(a), math.Sin(a)
		tools = append(tools, drum(v(22*c, 22*s, height/2), v(50*c, 50*s, height/2), 5, 0))
	}
	return cut(0, disc, tools...)
}

func instrumentBezel() grid.Field {
	annulus := func(z0, z1, inner, outer float64) grid.Field {
		return cut(0.4, drum(v(0, 0, z0), v(0, 0, z1), outer, 0.4), drum(v(0, 0, -9), v(0, 0, 19), inner, 0.1))
	}
	return joined(0.3, annulus(0, 3, 30, 38), annulus(0, 6, 33, 36))
}
