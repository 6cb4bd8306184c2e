package flow

import (
	"fmt"
	"math"

	"bathyform/core/mix"
)

// Channel runs between two nodes. It is round, or round and tapered, or
// rectangular: Bore and Width leave each other out.
type Channel struct {
	From, To      string
	Bore          float64
	Rim           float64 // the bore at its other end where it tapers, else 0
	Half          bool    // half round
	Width, Height float64
	Length        float64
}

// Resistance is what the channel resists, Pa s/m³.
func (c Channel) Resistance(viscosity float64) float64 {
	switch {
	case c.Bore == 0:
		return Duct(viscosity, c.Width, c.Height, c.Length)
	case c.Rim > 0:
		return Cone(viscosity, c.Bore, c.Rim, c.Length)
	case c.Half:
		return HalfTube(viscosity, c.Bore, c.Length)
	}
	return Tube(viscosity, c.Bore, c.Length)
}

// Reynolds is that of a flow through the channel where it is narrowest. A
// rectangular channel counts by four times its area over its girth.
func (c Channel) Reynolds(density, viscosity, flow float64) float64 {
	if c.Bore == 0 {
		return 2 * density * math.Abs(flow) / ((c.Width + c.Height) * viscosity)
	}
	bore := c.Bore
	if c.Rim > 0 {
		bore = min(bore, c.Rim)
	}
	return Reynolds(density, viscosity, bore, flow)
}

func (c Channel) check() error {
	round, flat := c.Bore != 0 || c.Rim != 0, c.Width != 0 || c.Height != 0
	for _, v := range []float64{c.Bore, c.Rim, c.Width, c.Height, c.Length} {
		if math.IsNaN(v) || math.IsInf(v, 0) || v < 0 {
			return fmt.Errorf("its sizes must be numbers of 0 and more, not %g m", v)
		}
	}
	switch {
	case round && flat:
		return fmt.Errorf("it is either round or rectangular: give a bore, or a width and a height")
	case flat && (c.Width == 0 || c.Height == 0):
		return fmt.Errorf("a rectangular channel wants a width and a height of more than 0")
	case !flat && c.Bore == 0:
		return fmt.Errorf("its bore must be more than 0: nothing runs through it")
	case c.Length == 0:
		return fmt.Errorf("its length must be more than 0")
	case c.From == c.To:
		return fmt.Errorf("it leads back to %q", c.From)
	}
	return nil
}

// Cavity is filled at a node. It is as wide below as above; what stands in it
// presses back.
type Cavity struct {
	Node   string
	Volume float64
	Height float64 // of its top over its floor; 0 where its back pressure is not looked at
	Base   float64 // of its floor over the level that the well's pressure is counted from
}

// Network is a mould's channels with a resin at a pressure in its well.
type Network struct {
	Viscosity float64
	Density   float64
	Pressure  float64    // at the well, over the air's
	Growth    mix.Growth // from when it is poured
	Nodes     []string   // the well first
	Channels  []Channel
	Cavities  []Cavity
}

// Limits of what is worked out.
const (
	mostNodes    = 2000
	mostCavities = 200

	leastResistance, mostResistance = 1e-3, 1e24 // Pa s/m³: a bucket's mouth, a hair a kilometre long
)

// Run is what a channel does as the pour begins.
type Run struct {
	Resistance float64 // Pa s/m³
	Flow       float64 // m³/s from its From to its To
	Reynolds   float64
	Share      float64 // of what leaves the well, 0 to 1
}

// Filled is when a cavity is full.
type Filled struct {
	At    float64 // s from the pour, +Inf for never
	Never string  // why never, empty where it fills
}

// Solution is how a network fills.
type Solution struct {
	Runs     []Run // by channel
	Cavities []Filled
}

// Why a cavity does not fill.
const (
	CutOff  = "no channel leads to it from the well"
	TooHigh = "the resin comes to rest below its top: a higher well, or a lower cavity"
	Gels    = "the resin sets before: wider channels, a slower resin, or less at a time"
)

// Check says what in a network cannot be, by name.
func (n Network) Check() error {
	for _, v := range []struct {
		name  string
		value float64
	}{{"viscosity", n.Viscosity}, {"density", n.Density}, {"pressure", n.Pressure}} {
		if !(v.value > 0) || math.IsInf(v.value, 1) {
			return fmt.Errorf("the %s must be more than 0, not %g", v.name, v.value)
		}
	}
	switch {
	case len(n.Nodes) == 0 || len(n.Channels) == 0:
		return fmt.Errorf("a network wants a well and at least one channel")
	case len(n.Nodes) > mostNodes:
		return fmt.Errorf("%d nodes are more than the %d that can be handled", len(n.Nodes), mostNodes)
	case len(n.Cavities) > mostCavities:
		return fmt.Errorf("%d cavities are more than the %d that can be handled", len(n.Cavities), mostCavities)
	}
	names := map[string]bool{}
	for _, name := range n.Nodes {
		if names[name] {
			return fmt.Errorf("node %q is there twice", name)
		}
		names[name] = true
	}
	for i, c := range n.Channels {
		for _, end := range []string{c.From, c.To} {
			if !names[end] {
				return fmt.Errorf("channel %d: there is no node %q", i+1, end)
			}
		}
		if err := c.check(); err != nil {
			return fmt.Errorf("channel %d, %s to %s: %w", i+1, c.From, c.To, err)
		}
		if r := c.Resistance(n.Viscosity); !(r >= leastResistance && r <= mostResistance) {
			return fmt.Errorf("channel %d, %s to %s: its sizes are not those of a channel in a mould: it would resist %.2g Pa s/m³",
				i+1, c.From, c.To, r)
		}
	}
	taken := map[string]int{}
	for i, c := range n.Cavities {
		other, twice := taken[c.Node]
		switch {
		case !names[c.Node]:
			return fmt.Errorf("cavity %d: there is no node %q", i+1, c.Node)
		case c.Node == n.Nodes[0]:
			return fmt.Errorf("cavity %d is the well itself: lead a channel to it", i+1)
		case twice:
			return fmt.Errorf("cavities %d and %d are at one node: give each a gate of its own", other, i+1)
		case !(c.Volume > 0) || math.IsInf(c.Volume, 1):
			return fmt.Errorf("cavity %d: its volume must be more than 0", i+1)
		case !(c.Height >= 0) || math.IsInf(c.Height, 1):
			return fmt.Errorf("cavity %d: its height must be 0 or more", i+1)
		case !(c.Base >= 0) || math.IsInf(c.Base, 1):
			return fmt.Errorf("cavity %d: its floor must not lie lower than heads are counted from", i+1)
		}
		taken[c.Node] = i + 1
	}
	return nil
}

// Solve works out what every channel carries as the pour begins, and when
// each cavity is full. While they fill, resin stands in the cavities and
// presses back; a cavity that is full takes no more, and its share goes to the
// others. It is exact, but for a back pressure of a millionth of the well's
// where a cavity's is not looked at, and for a cavity that stands so high that
// nothing comes up to it at first: whether something does is looked at again
// whenever another is full.
func (n Network) Solve() (Solution, error) {
	if err := n.Check(); err != nil {
		return Solution{}, err
	}
	web := n.web()
	out := Solution{Cavities: make([]Filled, len(n.Cavities))}
	reached := n.reached()
	var filling []basin
	for i, c := range n.Cavities {
		out.Cavities[i] = Filled{At: math.Inf(1)}
		base := Head(n.Density, c.Base)
		rise := Head(n.Density, c.Height)
		if c.Height == 0 {
			rise = 1e-6 * n.Pressure
		}
		full := base + rise
		switch {
		case !reached[c.Node]:
			out.Cavities[i].Never = CutOff
			continue
		case full >= n.Pressure:
			out.Cavities[i].Never = TooHigh
		}
		filling = append(filling, basin{which: i, node: web.at[c.Node], full: full, capacity: c.Volume / rise, pressure: base, empty: true})
	}
	out.Runs = n.runs(web, filling)
	for i, t := range web.fill(n.Pressure, filling) {
		really, sets := n.Growth.Takes(t)
		out.Cavities[i] = Filled{At: really}
		if !sets {
			out.Cavities[i] = Filled{At: math.Inf(1), Never: Gels}
		}
	}
	return out, nil
}

// reached are the nodes that some channel leads to from the well.
func (n Network) reached() map[string]bool {
	next := map[string][]string{}
	for _, c := range n.Channels {
		next[c.From], next[c.To] = append(next[c.From], c.To), append(next[c.To], c.From)
	}
	seen := map[string]bool{n.Nodes[0]: true}
	for queue := []string{n.Nodes[0]}; len(queue) > 0; queue = queue[1:] {
		for _, to := range next[queue[0]] {
			if !seen[to] {
				seen[to] = true
				queue = append(queue, to)
			}
		}
	}
	return seen
}

// runs is what the channels carry while every cavity is empty.
func (n Network) runs(w *web, empty []basin) []Run {
	_, reached, _ := awake(w.between(empty), n.Pressure, empty)
	pressures := w.pressures(n.Pressure, reached)
	runs, out := make([]Run, len(n.Channels)), 0.0
	for i, c := range n.Channels {
		r := c.Resistance(n.Viscosity)
		q := (pressures[w.at[c.From]] - pressures[w.at[c.To]]) / r
		runs[i] = Run{Resistance: r, Flow: q, Reynolds: c.Reynolds(n.Density, n.Viscosity, q)}
		switch n.Nodes[0] {
		case c.From:
			out += q
		case c.To:
			out -= q
		}
	}
	for i := range runs {
		if out > 0 {
			runs[i].Share = math.Abs(runs[i].Flow) / out
		}
	}
	return runs
}

// Spread is the latest filling time over the earliest; 1 is in balance, +Inf
// where one never fills.
func (s Solution) Spread() float64 {
	if len(s.Cavities) == 0 {
		return 1
	}
	first, last := math.Inf(1), 0.0
	for _, c := range s.Cavities {
		first, last = min(first, c.At), max(last, c.At)
	}
	if math.IsInf(last, 1) {
		return last
	}
	return last / first
}
