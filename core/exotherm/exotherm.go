// Package exotherm tells how hot a curing section becomes: resin that sets
// heats itself, a thick place more than a thin one, and the rubber round it
// takes up what it can in the time.
//
// The reaction is taken as of the first order and twice as fast for every ten
// degrees (Castro and Macosko 1980; Semenov 1928 for the feedback): a caution,
// not a simulation of the cure. The resin's data sheet goes first.
package exotherm

import (
	"math"

	"bathyform/core/mix"
)

// Slab is a section that cures between two faces.
type Slab struct {
	Thick   float64 // mm
	Density float64 // g/mL
	Demould float64 // min at the shop's temperature, when 95 % has reacted
	Rubber  float64 // mm of rubber behind each face; 0 for open air
}

// What a cast urethane and silicone rubber are like; from memory. A sheet
// seldom says.
const (
	Reaction = 200.0  // J/g that the reaction sets free
	capacity = 1800.0 // J/(kg K)
	film     = 8.0    // W/(m² K) to still air
	conducts = 0.2    // W/(m K), resin and rubber
	rubberRC = 1.2e6  // J/(m³ K) that rubber holds
	spread   = 1e-7   // m²/s at which heat spreads in rubber
	reacted  = 20.0   // ln of it in the demould time: 95 %
	q10      = mix.UsualQ10
)

// Adiabatic is how much hotter the resin would become if no heat left it, K.
const Adiabatic = Reaction * 1000 / capacity

// Peak is how much hotter than the shop the middle becomes, K: with the heat
// that the rubber beside it takes up while it cures.
func (s Slab) Peak() float64 {
	half := s.Thick / 2000 // m
	rate := math.Log(reacted) / (s.Demould * 60)
	if half <= 0 || s.Demould <= 0 {
		return 0
	}
	own := s.Density * 1000 * capacity * half // J/(m² K), half the section
	beside := 0.0
	if s.Rubber > 0 {
		beside = rubberRC * min(s.Rubber/1000, math.Sqrt(spread*s.Demould*60))
	}
	u := 1 / (1/film + s.Rubber/1000/conducts)
	tau := (own + beside) / u
	tau *= 1 + u*half/conducts/3 // the middle is hotter than the face
	return peak(Adiabatic*own/(own+beside), rate, tau)
}

// peak integrates dT/dt = ΔT·dX/dt − T/τ with dX/dt = k (1−X) Q10^(T/10) and
// returns the highest T, in K.
func peak(rise, rate, tau float64) float64 {
	slope := func(x, t float64) (dx, dt float64) {
		dx = rate * (1 - x) * math.Pow(q10, t/10)
		return dx, rise*dx - t/tau
	}
	x, t, most := 0.0, 0.0, 0.0
	for range 200_000 {
		dx, dt := slope(x, t)
		// a step short against how fast it reacts now and against the cooling
		h := 0.01 * min(tau, 1/(rate*math.Pow(q10, t/10)))
		bx, bt := slope(x+h/2*dx, t+h/2*dt)
		cx, ct := slope(x+h/2*bx, t+h/2*bt)
		ex, et := slope(x+h*cx, t+h*ct)
		x, t = x+h/6*(dx+2*bx+2*cx+ex), t+h/6*(dt+2*bt+2*ct+et)
		if t < most-1e-9 && t < 0.999*most {
			break
		}
		most = max(most, t)
	}
	return most
}

// Slower is how many times longer a section takes to cure than the left-over
// in the cup, which heats itself: twice for every ten degrees between them.
func Slower(cup, section float64) float64 {
	return math.Pow(q10, max(0, cup-section)/2/10) // on average each is half as warm as at its peak
}
