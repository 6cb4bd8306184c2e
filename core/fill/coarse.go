package fill

import "math"

// columnTree builds the tree of passes over the grid, for meshes whose
// surface cannot be trusted: places are stretches of free space, as high as
// their ceilings; two stretches of neighbouring columns breathe into one
// another where they overlap. Walls thinner than about a cell and a half may
// be missed.
func (s *Space) columnTree() {
	g := &s.grid
	height := make([]float64, len(g.spans))
	for i := range g.spans {
		height[i] = g.spans[i].hi
	}
	order, rank := rankDown(height)
	var pairs []rise
	for i := range g.spans {
		c := int(g.spans[i].column)
		x, y := c%g.NX, c/g.NX
		for _, d := range [4][2]int{{1, 0}, {0, 1}, {1, 1}, {-1, 1}} {
			nx, ny := x+d[0], y+d[1]
			if nx < 0 || nx >= g.NX || ny >= g.NY {
				continue
			}
			n := ny*g.NX + nx
			for j := g.start[n]; j < g.start[n+1]; j++ {
				if g.spans[i].lo < g.spans[j].hi && g.spans[j].lo < g.spans[i].hi {
					if rank[i] > rank[j] {
						pairs = append(pairs, rise{int32(i), j})
					} else {
						pairs = append(pairs, rise{j, int32(i)})
					}
				}
			}
		}
	}
	start := make([]int32, len(height)+1)
	for _, p := range pairs {
		start[p.from+1]++
	}
	for i := 1; i < len(start); i++ {
		start[i] += start[i-1]
	}
	to := make([]int32, len(pairs))
	next := make([]int32, len(height))
	copy(next, start)
	for _, p := range pairs {
		to[next[p.from]] = p.to
		next[p.from]++
	}
	s.tree = growTree(height, order, links{start, to})

	if s.around {
		for i := range g.spans {
			if g.spans[i].roof == openTop {
				s.always = append(s.always, opening{int32(i), g.spans[i].hi})
			}
		}
		return
	}
	lowest := make([]float64, len(s.tree.height))
	at := make([]int32, len(s.tree.height))
	for node := range lowest {
		lowest[node] = math.Inf(1)
	}
	for i := range g.spans {
		root := s.tree.root(s.tree.branch[i])
		if g.spans[i].lo < lowest[root] {
			lowest[root], at[root] = g.spans[i].lo, int32(i)
		}
	}
	for node, z := range lowest {
		if !math.IsInf(z, 1) {
			s.always = append(s.always, opening{at[node], z})
		}
	}
}

// root returns the lowest node below a node.
func (t *passTree) root(node int32) int32 {
	for t.parent[node] >= 0 {
		node = t.parent[node]
	}
	return node
}
