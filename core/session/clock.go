package session

import (
	"math"

	"bathyform/core/mix"
)

// heat is a shop's warmth from a time on.
type heat struct {
	from    float64 // s
	celsius float64
}

// ends is when something is over that takes so many s at the plan's temperature, where
// the shop's warmth changes meanwhile: the shares of what has passed add up.
func (p Plan) ends(from, takes float64, warmth []heat) float64 {
	left, faster := takes, mix.Traits{Q10: p.Q10}.Faster()
	for i, h := range warmth {
		until := math.Inf(1)
		if i+1 < len(warmth) {
			until = warmth[i+1].from
		}
		if until <= from {
			continue
		}
		pace := math.Pow(faster, (h.celsius-p.Celsius)/10)
		if need := left / pace; from+need <= until {
			return from + need
		}
		left -= (until - from) * pace
		from = until
	}
	return from + left
}

// Clock is something that runs.
type Clock struct {
	Name    string
	PotLife bool // not a wait, but the time in which it can be poured
	Step    string
	Mix     int
	From    float64 // s
	Until   float64
}

// late is the share of a pot life that is left when it is called out.
const late = 0.25

// fits is whether what is still to be done with a mix is done before it gels, as
// far as the minutes of the steps tell: s that it takes, and that are left.
func (s State) fitsIn(mix int) (takes, left float64, known bool) {
	m := s.plan.Mixes[mix]
	if m.PotLife <= 0 {
		return 0, 0, false
	}
	for _, st := range s.Steps[min(s.At, len(s.Steps)):] {
		if st.pours(mix) {
			takes += st.Minutes * 60
		}
	}
	left = m.PotLife
	for _, c := range s.Clocks {
		if c.PotLife && c.Mix == mix {
			left = c.Until - s.Now
		}
	}
	return takes, left, true
}
