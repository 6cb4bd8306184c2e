package session

import "math"

// q10 is by how much faster a mix reacts when it is 10 °C warmer, as for the
// times of a sheet (ASTM F1980 has the same form).
const q10 = 2

// heat is a shop's warmth from a time on.
type heat struct {
	from    float64 // s
	celsius float64
}

// ends is when something is over that takes so many s at a temperature, where the
// shop's warmth changes meanwhile: the shares of what has passed add up.
func ends(from, takes, at float64, warmth []heat) float64 {
	left := takes
	for i, h := range warmth {
		until := math.Inf(1)
		if i+1 < len(warmth) {
			until = warmth[i+1].from
		}
		if until <= from {
			continue
		}
		pace := math.Pow(q10, (h.celsius-at)/10)
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
