package fill

import (
	"math"
)

// surfaceTree builds the tree of passes on the mesh itself: places are
// vertices, neighbours share an edge, and from the edges of ledges a straight
// rise leads to the ceiling above.
func (s *Space) surfaceTree() {
	height := make([]float64, len(s.at))
	for i, p := range s.at {
		height[i] = p.Z
		if s.around && p.Z <= s.floor+s.contact {
			height[i] = math.Inf(-1) // stands on the floor: nothing breathes there
		}
	}
	order, rank := rankDown(height)

	s.ceiling = make([]int32, len(s.tris))
	facing := s.facings(rank)
	start := make([]int32, len(s.at)+1)
	for t, tri := range s.tris {
		top := tri[0]
		for _, i := range tri[1:] {
			if rank[i] < rank[top] {
				top = i
			}
		}
		s.ceiling[t] = top
		for _, i := range tri {
			if i != top {
				start[i+1]++
			}
		}
	}
	rises := s.findRises(facing)
	for _, r := range rises {
		if r.to >= 0 {
			start[r.from+1]++
		}
	}
	for i := 1; i < len(start); i++ {
		start[i] += start[i-1]
	}
	to := make([]int32, start[len(start)-1])
	next := make([]int32, len(s.at))
	copy(next, start)
	// Joining both lower corners to the highest is enough: the third edge of
	// a triangle never opens an earlier way than these two.
	for t, tri := range s.tris {
		top := s.ceiling[t]
		for _, i := range tri {
			if i != top {
				to[next[i]] = top
				next[i]++
			}
		}
	}
	for _, r := range rises {
		if r.to >= 0 {
			to[next[r.from]] = r.to
			next[r.from]++
		} else if !math.IsInf(height[r.from], -1) {
			s.always = append(s.always, opening{r.from, height[r.from]})
		}
	}
	s.tree = growTree(height, order, links{start, to})
	if !s.around {
		for node, v := range s.tree.lowest {
			if v >= 0 && s.tree.parent[node] < 0 { // fed at its lowest point
				s.always = append(s.always, opening{v, height[v]})
			}
		}
	}
}

// Ways a vertex's triangles face, seen from the free space.
const (
	hasCeiling = 1 << iota // a triangle that keeps air below it, or a wall
	hasFloor               // a triangle with free space above it, or a wall
	hasHigher              // a neighbour that is not lower
)

// steepness below which a triangle counts as a wall: its plan area over its
// area. Well above float32 noise, far below any draft.
const wall = 1e-5

func (s *Space) facings(rank []int32) []uint8 {
	facing := make([]uint8, len(s.at))
	for t, tri := range s.tris {
		a, b, c := &s.at[tri[0]], &s.at[tri[1]], &s.at[tri[2]]
		plan := 2 * s.plans[t]
		nx := (b.Y-a.Y)*(c.Z-a.Z) - (b.Z-a.Z)*(c.Y-a.Y)
		ny := (b.Z-a.Z)*(c.X-a.X) - (b.X-a.X)*(c.Z-a.Z)
		steep := wall * wall * (nx*nx + ny*ny)
		var flags uint8
		switch {
		case plan*plan <= steep:
			flags = hasCeiling | hasFloor
		case plan > 0:
			flags = hasCeiling
		default:
			flags = hasFloor
		}
		ra, rb, rc := rank[tri[0]], rank[tri[1]], rank[tri[2]]
		best := min(ra, rb, rc)
		for k, i := range tri {
			facing[i] |= flags
			if [3]int32{ra, rb, rc}[k] != best {
				facing[i] |= hasHigher
			}
		}
	}
	return facing
}

// rise is a straight way up through free space from a vertex to the ceiling
// above, or to the open air when to is openTop.
type rise struct{ from, to int32 }

// findRises shoots a line up from every vertex where the space may open
// upwards: on the edge of a ledge, or on top of something that stands in the
// space. Elsewhere the surface itself is as good a way.
func (s *Space) findRises(facing []uint8) []rise {
	var rises []rise
	for v := range s.at {
		ledge := facing[v]&(hasCeiling|hasFloor) == hasCeiling|hasFloor
		top := facing[v]&hasFloor != 0 && facing[v]&hasHigher == 0
		if !ledge && !top {
			continue
		}
		for side := range 2 {
			to, found := openTop, s.around
			if t := s.stood.over(int32(v), side); t != openTop {
				to = s.ceiling[t]
				found = s.plans[t] > 0 // else the line starts outside the space
			}
			if found && to != int32(v) {
				rises = append(rises, rise{int32(v), to})
				break
			}
		}
	}
	return rises
}
