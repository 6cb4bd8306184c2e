package fill

import (
	"math"
	"slices"
)

// passTree is the merge tree of the free space under a falling level: a leaf
// for every high spot, and a node wherever two pools of air become one when
// the level drops to the pass between them. It does not depend on where the
// openings are, so moving a vent only walks the tree again.
//
// Places are numbered; the caller says how high each is and which are
// neighbours. A place belongs to the branch that runs through it: from its
// node down to the node's parent.
type passTree struct {
	height []float64 // of each node: a high spot, or a pass
	parent []int32   // the lower node it runs into, -1 for the lowest
	apex   []int32   // highest place above the node
	branch []int32   // of each place, -1 for places that were left out
	lowest []int32   // the last place of each root branch, -1 for other nodes
}

// links lists for each place the neighbours that are not lower.
type links struct {
	start []int32
	to    []int32
}

// rankDown orders places from the highest down, ties by number; left-out
// places have height -Inf and come last.
func rankDown(height []float64) (order, rank []int32) {
	type key struct {
		z float64
		i int32
	}
	keys := make([]key, len(height))
	for i, z := range height {
		keys[i] = key{z, int32(i)}
	}
	slices.SortFunc(keys, func(a, b key) int {
		switch {
		case a.z > b.z:
			return -1
		case a.z < b.z:
			return 1
		default:
			return int(a.i - b.i)
		}
	})
	order, rank = make([]int32, len(height)), make([]int32, len(height))
	for r, k := range keys {
		order[r] = k.i
		rank[k.i] = int32(r)
	}
	return order, rank
}

func growTree(height []float64, order []int32, up links) *passTree {
	n := len(height)
	t := &passTree{branch: make([]int32, n)}
	pool := make([]int32, n)     // union-find over places
	poolNode := make([]int32, n) // node of a pool, kept at its root
	for i := range pool {
		pool[i] = -1
		t.branch[i] = -1
	}
	find := func(i int32) int32 {
		for pool[i] != i {
			pool[i] = pool[pool[i]]
			i = pool[i]
		}
		return i
	}
	newNode := func(z float64, apex int32) int32 {
		t.height = append(t.height, z)
		t.parent = append(t.parent, -1)
		t.apex = append(t.apex, apex)
		t.lowest = append(t.lowest, -1)
		return int32(len(t.height) - 1)
	}
	for _, v := range order {
		if math.IsInf(height[v], -1) {
			break
		}
		pool[v] = v
		node := int32(-1)
		merged := false
		for _, u := range up.to[up.start[v]:up.start[v+1]] {
			if pool[u] < 0 {
				continue
			}
			root := find(u)
			if root == find(v) {
				continue
			}
			other := poolNode[root]
			pool[root] = v // v is processed later, so it stays the root of its pool
			switch {
			case node < 0:
				node = other
				continue
			case !merged:
				pass := newNode(height[v], t.apex[node])
				t.parent[node] = pass
				node, merged = pass, true
			}
			t.parent[other] = node
			if height[t.apex[other]] > height[t.apex[node]] {
				t.apex[node] = t.apex[other]
			}
		}
		if node < 0 {
			node = newNode(height[v], v)
		}
		poolNode[v] = node
		t.branch[v] = node
		t.lowest[node] = v
	}
	for node := range t.lowest {
		if t.parent[node] >= 0 {
			t.lowest[node] = -1
		}
	}
	return t
}
