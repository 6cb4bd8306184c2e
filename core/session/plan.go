// Package session is work at the bench while it is done: a rubber pour or a
// casting run, step by step, with what was weighed, the clocks that run, and the
// way on when something goes wrong.
//
// A session is a plan and what has happened since; where it stands is worked out
// from these two alone, so that nothing is lost with a page, a tablet or a
// server. Times are in s since any moment; nothing here knows a clock.
package session

import "bathyform/core/finding"

// Kind is what a session does.
type Kind string

// The sessions.
const (
	Rubber  Kind = "rubber"  // moulds are poured
	Casting Kind = "casting" // castings are
)

// Plan is what a session is going to do.
type Plan struct {
	Kind      Kind
	Job       string
	Lesson    string `json:",omitempty"` // that it trains; empty for real work
	Material  string
	Moulds    []Mould
	Mixes     []Mix
	Steps     []Step
	Pots      int     // that moulds stand in; 0 for none
	Celsius   float64 // in the shop, for which the times are
	Q10       float64 `json:",omitempty"` // times as fast the material reacts 10 °C warmer; 0 for the usual
	Humid     float64 // per cent; 0 where nobody knows
	Lot       string  `json:",omitempty"` // of the resin or rubber
	Digit     float64 // g, of the scale
	Tolerance float64 // per cent of the ratio
	Spares    []Spare `json:",omitempty"`
	Before    []finding.Finding
}

// Mould is one that is poured, or cast in.
type Mould struct {
	ID       string `json:",omitempty"` // on the rack
	Number   string
	Cavities int
	Pulls    int // that it has done before
	Pot      int // from 1; 0 for none
}

// Spare is a small open mould that takes what is mixed too much.
type Spare struct {
	Name  string
	Grams float64
}

// Role is what a part is to a mix.
type Role string

// The parts of a mix.
const (
	PartA  Role = "A"
	PartB  Role = "B"
	Colour Role = "colour"
)

// Part is one thing that goes into the cup.
type Part struct {
	Name  string
	Role  Role
	Grams float64 // planned; drops where it is counted
	Drops bool    `json:",omitempty"`
	Marks float64 `json:",omitempty"` // mL, where the shop measures by volume
}

// Fill is what one mould gets of a mix.
type Fill struct {
	Mould   int
	Grams   float64
	Area    float64 // mm² of the surface as it is nearly full
	Side    float64 // mm, the longest of it
	Where   string
	Minutes float64
}

// Mix is one cup.
type Mix struct {
	Name    string
	Parts   []Part // in the order at the scale
	Fills   []Fill
	Ratio   float64 // A to B by weight; 0 for what has one part
	Density float64 // g/mL
	PotLife float64 // s from when A meets B, at the plan's temperature and of this mass
	Cup     float64 // mL that the cup must hold
	Foams   float64 // mL that it climbs to under vacuum; 0 where it is not degassed
	Keeps   float64 // g that stay in the cup
}

// Planned is what the whole mix weighs, g.
func (m Mix) Planned() (sum float64) {
	for _, p := range m.Parts {
		if !p.Drops {
			sum += p.Grams
		}
	}
	return sum
}

// last is the part with which the pot life begins: the second of A and B.
func (m Mix) last() int {
	found, at := 0, -1
	for i, p := range m.Parts {
		if p.Role == PartA || p.Role == PartB {
			if found++; found == 2 {
				at = i
			}
		}
	}
	return at
}

// first is the part that the others follow.
func (m Mix) first() int {
	for i, p := range m.Parts {
		if p.Role != Colour {
			return i
		}
	}
	return 0
}

// Act is what is done in a step.
type Act string

// The acts at the bench.
const (
	Do       Act = "do"
	Check    Act = "check"
	Protect  Act = "protect"
	Tare     Act = "tare"
	Weigh    Act = "weigh"
	Count    Act = "count"
	Stir     Act = "stir"
	Degas    Act = "degas"
	Pour     Act = "pour"
	Plug     Act = "plug"
	Pot      Act = "pot"
	Pressure Act = "pressure"
	Wait     Act = "wait"
	Look     Act = "look"  // at what came out of one cavity
	Birth    Act = "birth" // at a new mould
	Record   Act = "record"
)

// Step is one thing to do. Mix, Part, Fill, Mould and Cavity say what it is about;
// -1 for nothing, cavities from 0.
type Step struct {
	Key     string
	Act     Act
	Do      string
	Items   []string `json:",omitempty"` // to be looked at one by one
	Why     string   `json:",omitempty"`
	Caution string   `json:",omitempty"`
	Minutes float64  `json:",omitempty"` // that it takes, or that it waits
	Mix     int
	Part    int
	Fill    int
	Mould   int
	Cavity  int
}

// Timed is whether the minutes are counted down.
func (s Step) Timed() bool {
	return s.Minutes > 0 && (s.Act == Stir || s.Act == Degas || s.Act == Wait)
}

// pours is whether a step belongs to the time in which a mix can be poured.
func (s Step) pours(mix int) bool {
	return s.Mix == mix && (s.Act == Stir || s.Act == Degas || s.Act == Pour || s.Act == Plug || s.Act == Pot || s.Act == Do)
}

// blank is a step about nothing.
func blank(act Act, do string) Step {
	return Step{Act: act, Do: do, Mix: -1, Part: -1, Fill: -1, Mould: -1, Cavity: -1}
}
