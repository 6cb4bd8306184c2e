package fill

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"bathyform/core/mesh"

	"gonum.org/v1/gonum/spatial/r3"
)

// Opening is a round channel from just inside the surface straight up to the
// open air. Its whole mouth counts.
type Opening struct {
	At   r3.Vec  // where it leaves the surface, mesh coordinates, mm
	Bore float64 // diameter, mm
}

// Pocket is air that cannot leave once the liquid has passed its seal height.
type Pocket struct {
	Volume     float64 // mm³
	Apex       r3.Vec  // highest point, mesh coordinates
	ApexHeight float64 // along up, mm
	SealHeight float64 // along up, mm; the lowest point of the space when Isolated
	Isolated   bool    // the space has no way out at all
	node       int32
}

// Trapped is what a set of openings leaves shut in.
type Trapped struct {
	Pockets []Pocket // largest first
	Volume  float64  // of all pockets, mm³
	Ignored float64  // pockets smaller than this, mm³, are left out
	pocket  []int32  // of each node: index into Pockets, noPocket where it drains
}

const noPocket int32 = -1

// negligible is the volume below which a pocket is put down to facets: a
// bubble of a third of a millimetre, or a millionth of the part.
func (s *Space) negligible() float64 {
	v := math.Abs(s.volume)
	return max(1e-6*v, min(0.02, 1e-4*v))
}

// Trap finds the air that the given openings leave shut in. The cavity is
// fed at its lowest point, which lets no air out above itself.
func (s *Space) Trap(openings []Opening) (Trapped, error) {
	open := slices.Clone(s.always)
	for i, o := range openings {
		mouth, err := s.mouth(o)
		if err != nil {
			return Trapped{}, fmt.Errorf("vent %d: %w", i+1, err)
		}
		open = append(open, mouth...)
	}
	return s.trap(open), nil
}

func (s *Space) trap(open []opening) Trapped {
	t := s.tree
	drain := make([]float64, len(t.height)) // highest opening on the node's own branch
	for i := range drain {
		drain[i] = math.Inf(-1)
	}
	for _, o := range open {
		node := t.branch[o.place]
		if node < 0 {
			continue
		}
		for t.parent[node] >= 0 && t.height[t.parent[node]] >= o.z {
			node = t.parent[node]
		}
		drain[node] = max(drain[node], o.z)
	}
	above := make([]bool, len(t.height)) // something above the node's own branch drains
	for node := range t.height {         // nodes are numbered from the top down
		if p := t.parent[node]; p >= 0 && (above[node] || !math.IsInf(drain[node], -1)) {
			above[p] = true
		}
	}
	found := Trapped{Ignored: s.negligible(), pocket: make([]int32, len(t.height))}
	var all []Pocket
	for node := int32(len(t.height)) - 1; node >= 0; node-- {
		found.pocket[node] = noPocket
		if above[node] {
			continue
		}
		p := Pocket{node: node, SealHeight: drain[node]}
		if parent := t.parent[node]; math.IsInf(drain[node], -1) {
			switch {
			case parent < 0:
				p.Isolated = true
			case above[parent], drain[parent] >= t.height[parent]-s.contact:
				// what is below drains; or the way over, a level bridge, does, and on either side of it air is shut in by itself
				p.SealHeight = t.height[parent]
			default:
				found.pocket[node] = found.pocket[parent]
				continue
			}
		}
		found.pocket[node] = int32(len(all))
		all = append(all, p)
	}
	s.measure(all, found.pocket)

	keep := make([]int32, len(all))
	for i := range all {
		keep[i] = noPocket
	}
	order := make([]int32, 0, len(all))
	for i := range all {
		if all[i].Volume > found.Ignored {
			order = append(order, int32(i))
		}
	}
	slices.SortStableFunc(order, func(a, b int32) int { return cmp.Compare(all[b].Volume, all[a].Volume) })
	var sum mesh.Sum
	for rank, i := range order {
		keep[i] = int32(rank)
		found.Pockets = append(found.Pockets, all[i])
		sum.Add(all[i].Volume)
	}
	for node, p := range found.pocket {
		if p != noPocket {
			found.pocket[node] = keep[p]
		}
	}
	found.Volume = sum.Value()
	return found
}

// Reached is what is shut in of the spaces that the liquid gets into at all:
// an isolated one is no air that it shuts in on its way.
func (t Trapped) Reached() Trapped {
	out := Trapped{Ignored: t.Ignored, pocket: slices.Clone(t.pocket)}
	rank := make([]int32, len(t.Pockets))
	var sum mesh.Sum
	for i, p := range t.Pockets {
		if rank[i] = noPocket; !p.Isolated {
			rank[i] = int32(len(out.Pockets))
			out.Pockets = append(out.Pockets, p)
			sum.Add(p.Volume)
		}
	}
	for node, p := range out.pocket {
		if p != noPocket {
			out.pocket[node] = rank[p]
		}
	}
	out.Volume = sum.Value()
	return out
}

// measure gives each pocket its volume and apex.
func (s *Space) measure(all []Pocket, pocket []int32) {
	for i := range all {
		p := &all[i]
		apex := s.tree.apex[p.node]
		if s.exact {
			p.Apex, p.ApexHeight = s.mesh.Vertices[apex], s.at[apex].Z
		} else {
			span := &s.grid.spans[apex]
			p.Apex, p.ApexHeight = s.Frame.Out(s.plan(span, span.hi)), span.hi
		}
		if p.Isolated {
			p.SealHeight = math.Inf(1) // found below
		}
	}
	if s.exact {
		s.measureSurface(all, pocket)
	} else {
		s.measureColumns(all, pocket)
	}
}

func (s *Space) measureSurface(all []Pocket, pocket []int32) {
	of := func(t int) int32 {
		if node := s.tree.branch[s.ceiling[t]]; node >= 0 {
			return pocket[node]
		}
		return noPocket
	}
	for t, tri := range s.tris {
		if p := of(t); p != noPocket && all[p].Isolated {
			low := min(s.at[tri[0]].Z, s.at[tri[1]].Z, s.at[tri[2]].Z)
			all[p].SealHeight = min(all[p].SealHeight, max(low, s.floorIfAround()))
		}
	}
	sums := make([]mesh.Sum, len(all))
	for t, tri := range s.tris {
		p := of(t)
		if p == noPocket {
			continue
		}
		level := all[p].SealHeight
		if v := mesh.PrismAbove(s.plans[t], s.at[tri[0]].Z-level, s.at[tri[1]].Z-level, s.at[tri[2]].Z-level); v != 0 {
			sums[p].Add(v)
		}
	}
	for p := range all {
		all[p].Volume = sums[p].Value()
	}
}

func (s *Space) floorIfAround() float64 {
	if s.around {
		return s.floor
	}
	return math.Inf(-1)
}

func (s *Space) measureColumns(all []Pocket, pocket []int32) {
	for i := range s.grid.spans {
		if p := pocket[s.tree.branch[i]]; p != noPocket && all[p].Isolated {
			all[p].SealHeight = min(all[p].SealHeight, s.grid.spans[i].lo)
		}
	}
	area := s.grid.Cell * s.grid.Cell
	for i := range s.grid.spans {
		span := &s.grid.spans[i]
		if p := pocket[s.tree.branch[i]]; p != noPocket {
			if lo := max(span.lo, all[p].SealHeight); span.hi > lo {
				all[p].Volume += area * (span.hi - lo)
			}
		}
	}
}

// Stretch is a part of a column, in the frame: a square about X, Y from
// height Lo to height Hi.
type Stretch struct {
	X, Y, Lo, Hi float64
	Pocket       int // index into Trapped.Pockets
}

// Stretches returns the trapped air column by column, for drawing: every
// column, or every second or third of every second or third row. A stretch
// then stands for a square of every × Cell.
func (s *Space) Stretches(found Trapped, every int) []Stretch {
	var out []Stretch
	if len(found.Pockets) == 0 {
		return out
	}
	for i := range s.grid.spans {
		span := &s.grid.spans[i]
		if c := int(span.column); c%s.grid.NX%every != 0 || c/s.grid.NX%every != 0 {
			continue
		}
		place := int32(i)
		if s.exact {
			if span.roof == openTop {
				continue
			}
			place = s.ceiling[span.roof]
		}
		node := s.tree.branch[place]
		if node < 0 || found.pocket[node] == noPocket {
			continue
		}
		p := found.pocket[node]
		if lo := max(span.lo, found.Pockets[p].SealHeight); span.hi > lo {
			x, y := s.grid.Centre(int(span.column))
			out = append(out, Stretch{x, y, lo, span.hi, int(p)})
		}
	}
	return out
}
