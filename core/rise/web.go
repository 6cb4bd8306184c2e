package rise

import (
	"fmt"
	"math"
	"slices"

	"bathyform/core/channel"
	"bathyform/core/flow"
	"bathyform/core/gate"

	"gonum.org/v1/gonum/spatial/r3"
)

// web is the channels of a layout as a network: they join where an end of one
// lies on the way of another.
type web struct {
	flow.Network
	of     []int // the layout's channel, by the network's
	joints []joint
	gates  map[int][]int // network channels that end in a cavity, by cavity
}

type joint struct {
	at   r3.Vec
	name string
}

// well is the node that all wells are: they are kept full together.
const well = "well"

func cavityNode(i int) string { return fmt.Sprintf("cavity %d", i+1) }

// webOf is the network of a layout's channels; false where it has none.
func webOf(l gate.Layout) (web, bool) {
	w := web{gates: map[int][]int{}, Network: flow.Network{Nodes: []string{well}}}
	for i, c := range l.Channels {
		if carries(c.Kind) {
			w.run(l, i, c)
		}
	}
	for i := range l.Cavities {
		if len(w.gates[i]) == 0 {
			return w, false
		}
	}
	return w, len(l.Cavities) > 0
}

// carries is whether resin runs through a channel on its way into a cavity.
func carries(k channel.Kind) bool {
	switch k {
	case channel.Well, channel.Sprue, channel.Runner, channel.Gate:
		return true
	}
	return false
}

// run adds a channel, in parts between its joints.
func (w *web) run(l gate.Layout, i int, c gate.Channel) {
	const on = 1e-4 // mm
	at := []float64{0, c.Length()}
	for k, o := range l.Channels {
		if k == i || !carries(o.Kind) {
			continue
		}
		for _, end := range []r3.Vec{o.Path[0], o.Path[len(o.Path)-1]} {
			if along, off := c.Along(end); off < on && along > on && along < at[1]-on {
				at = append(at, along)
			}
		}
	}
	slices.Sort(at)
	at = slices.CompactFunc(at, func(a, b float64) bool { return math.Abs(a-b) < on })
	last := w.node(l, c, 0)
	for k := 1; k < len(at); k++ {
		next := w.node(l, c, at[k])
		part := flow.Channel{From: last, To: next, Bore: c.Bore / 1000, Length: (at[k] - at[k-1]) / 1000}
		switch {
		case c.Rim > 0: // as wide as it is there
			part.Bore, part.Rim = c.Wide(at[k-1])/1000, c.Wide(at[k])/1000
		case c.Half != (r3.Vec{}):
			part.Half = true
		case c.Flat != (r3.Vec{}):
			part.Width, part.Height, part.Bore = part.Bore, min(c.Thick, c.Bore)/1000, 0
		}
		w.Channels, w.of = append(w.Channels, part), append(w.of, i)
		last = next
	}
	if c.Cavity != channel.Shared && c.Kind != channel.Well {
		w.gates[c.Cavity] = append(w.gates[c.Cavity], len(w.Channels)-1)
	}
}

// node is the name of a place so far along a channel.
func (w *web) node(l gate.Layout, c gate.Channel, along float64) string {
	const near = 1e-3 // mm
	p := c.At(along)
	first, last := along == 0, along >= c.Length()-near
	name := ""
	switch {
	case first && c.Foot >= l.Top-near, last && c.Top >= l.Top-near:
		return well
	case c.Cavity != channel.Shared && c.Kind != channel.Well && (first || last) && r3.Norm(r3.Sub(p, c.Mouth())) < near:
		if name = cavityNode(c.Cavity); len(w.gates[c.Cavity]) > 0 {
			return name
		}
	default:
		for _, j := range w.joints {
			if r3.Norm(r3.Sub(p, j.at)) < near {
				return j.name
			}
		}
		name = fmt.Sprintf("joint %d", len(w.joints)+1)
		w.joints = append(w.joints, joint{p, name})
	}
	w.Nodes = append(w.Nodes, name)
	return name
}

// way is the network's channels from the well to a cavity, the shortest way.
func (w *web) way(cavity int) []int {
	type came struct{ from, by int }
	at := map[string]int{}
	for i, n := range w.Nodes {
		at[n] = i
	}
	reached := map[int]came{0: {-1, -1}}
	queue := []int{0}
	for k := 0; k < len(queue); k++ {
		for i, c := range w.Channels {
			for _, step := range [2][2]int{{at[c.From], at[c.To]}, {at[c.To], at[c.From]}} {
				if _, ok := reached[step[1]]; step[0] == queue[k] && !ok {
					reached[step[1]] = came{step[0], i}
					queue = append(queue, step[1])
				}
			}
		}
	}
	var out []int
	for n, ok := at[cavityNode(cavity)]; ok && n > 0; n = reached[n].from {
		if _, known := reached[n]; !known {
			return nil
		}
		out = append(out, reached[n].by)
	}
	return out
}
