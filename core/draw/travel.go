package draw

import (
	"container/heap"
	"math"
	"runtime"
	"sync"

	"bathyform/core/grid"

	"gonum.org/v1/gonum/spatial/r3"
)

// way is how the rubber of one body gets out across the draw.
type way struct {
	depth   float64
	opening float64
	deepest r3.Vec // frame
	out     r3.Vec // frame, unit
}

// travel measures for each body, slice by slice across the draw, the longest
// of the shortest ways through its rubber to where rubber is free. A body
// that has none is left out. The ways are straight wherever the mask of a
// slice allows (any-angle paths, after Nash et al. 2007, from memory); a
// straight one is then measured between the true surfaces.
func (v *view) travel(body []int32) map[int32]way {
	s := v.slice()
	out := make(map[int32]way)
	best := make(map[int32]deep)
	found := make([]map[int32]deep, s.count)
	opens := make([]map[int32]way, s.count)
	workers := max(1, min(runtime.GOMAXPROCS(0), 8))
	var wg sync.WaitGroup
	for w := range workers {
		wg.Go(func() {
			mine := *s // with a scratch of its own
			mine.voxel = make([]int32, len(s.voxel))
			for k := w; k < s.count; k += workers {
				opens[k] = make(map[int32]way)
				found[k] = mine.spread(k, body, opens[k])
			}
		})
	}
	wg.Wait()
	for k := range s.count {
		for root, w := range opens[k] {
			sum := out[root]
			sum.opening += w.opening
			out[root] = sum
		}
		for _, d := range found[k] {
			if b, ok := best[d.body]; !ok || d.rank > b.rank {
				best[d.body] = d
			}
		}
	}
	for root, d := range best {
		w := out[root]
		w.depth, w.deepest, w.out = v.measure(d)
		out[root] = w
	}
	return out
}

// deep is the deepest place of a body so far.
type deep struct {
	body     int32
	rank     float64 // about how deep, mm
	dist     float64 // mm, centre of the free cell to centre of this
	x, y, z  float64
	fx, fy   float64 // where the last straight piece of the way out ends
	straight bool    // the way out is one straight piece
}

// slicer cuts the gaps into voxels, slice by slice.
type slicer struct {
	*view
	dz     float64
	count  int
	starts []int32 // voxels of slice k are gapOf[starts[k]:starts[k+1]]
	gapOf  []int32
	voxel  []int32   // of each column in the slice at hand: voxel + 1
	dist   []float64 // of each voxel of the slice
	from   []int32   // column of the turning point, or the free column, a straight line leads to
	base   []float64 // way left from there
	done   []bool
}

// mostSlices bounds the work along the draw.
const mostSlices = 192

func (v *view) slice() *slicer {
	s := &slicer{view: v, dz: max(v.cols.Cell, (v.high-v.low)/mostSlices)}
	s.count = int((v.high-v.low)/s.dz) + 1
	each := func(f func(k int, i int32)) {
		for i, g := range v.gaps {
			k0 := int(math.Ceil((g.lo-v.low)/s.dz - 0.5))
			k1 := int(math.Floor((g.hi-v.low)/s.dz - 0.5))
			if k1 < k0 { // thinner than a slice
				k0 = int(((g.lo+g.hi)/2 - v.low) / s.dz)
				k1 = k0
			}
			for k := max(0, k0); k <= min(k1, s.count-1); k++ {
				f(k, int32(i))
			}
		}
	}
	s.starts = make([]int32, s.count+1)
	each(func(k int, _ int32) { s.starts[k+1]++ })
	for k := range s.count {
		s.starts[k+1] += s.starts[k]
	}
	s.gapOf = make([]int32, s.starts[s.count])
	next := append([]int32(nil), s.starts...)
	each(func(k int, i int32) { s.gapOf[next[k]] = i; next[k]++ })
	s.voxel = make([]int32, v.cols.NX*v.cols.NY)
	return s
}

var around = [8][2]int{{1, 0}, {-1, 0}, {0, 1}, {0, -1}, {1, 1}, {1, -1}, {-1, 1}, {-1, -1}}

// spread finds the ways out in slice k, adds up the openings of the bodies in
// it, and returns the deepest place of each body.
func (s *slicer) spread(k int, body []int32, ways map[int32]way) map[int32]deep {
	voxels := s.gapOf[s.starts[k]:s.starts[k+1]]
	if len(voxels) == 0 {
		return nil
	}
	g := s.cols
	n := len(voxels)
	s.dist, s.from, s.base, s.done = resize(s.dist, n), resize(s.from, n), resize(s.base, n), resize(s.done, n)
	for i, gi := range voxels {
		s.voxel[s.gaps[gi].column] = int32(i) + 1
		s.dist[i], s.done[i] = math.Inf(1), false
	}
	z := s.low + (float64(k)+0.5)*s.dz
	free := func(x, y int) bool {
		if x < 0 || y < 0 || x >= g.NX || y >= g.NY {
			return true
		}
		c := y*g.NX + x
		if s.voxel[c] != 0 {
			return false
		}
		return z < s.first[c] || !s.oneSided && z > s.last[c]
	}
	h := &queue{}
	for i, gi := range voxels {
		c := int(s.gaps[gi].column)
		x, y := c%g.NX, c/g.NX
		for e, d := range around {
			if !free(x+d[0], y+d[1]) {
				continue
			}
			step := g.Cell
			if e >= 4 {
				if !free(x+d[0], y) && !free(x, y+d[1]) {
					continue // no way out through a corner
				}
				step *= math.Sqrt2
			}
			if step < s.dist[i] {
				s.dist[i], s.base[i] = step, 0
				s.from[i] = int32((y+d[1]+1)*(g.NX+2) + x + d[0] + 1)
			}
		}
		if !math.IsInf(s.dist[i], 1) {
			heap.Push(h, item{s.dist[i], int32(i)})
		}
	}
	for h.Len() > 0 {
		i := heap.Pop(h).(item).voxel
		if s.done[i] {
			continue
		}
		s.done[i] = true
		c := int(s.gaps[voxels[i]].column)
		x, y := c%g.NX, c/g.NX
		fx, fy := s.fromXY(i)
		for e, d := range around {
			nx, ny := x+d[0], y+d[1]
			j := s.voxelAt(nx, ny)
			if j < 0 || s.done[j] || e >= 4 && (s.voxelAt(nx, y) < 0 || s.voxelAt(x, ny) < 0) {
				continue
			}
			if straight := s.base[i] + g.Cell*math.Hypot(float64(nx-fx), float64(ny-fy)); straight < s.dist[j]-1e-12 &&
				s.sees(nx, ny, fx, fy) {
				s.dist[j], s.from[j], s.base[j] = straight, s.from[i], s.base[i]
				heap.Push(h, item{straight, j})
				continue
			}
			step := g.Cell
			if e >= 4 {
				step *= math.Sqrt2
			}
			if turned := s.dist[i] + step; turned < s.dist[j]-1e-12 && !s.sees(nx, ny, fx, fy) {
				s.dist[j], s.from[j], s.base[j] = turned, int32((y+1)*(g.NX+2)+x+1), s.dist[i]
				heap.Push(h, item{turned, j})
			}
		}
	}
	found := make(map[int32]deep)
	for i, gi := range voxels {
		c := int(s.gaps[gi].column)
		x, y := c%g.NX, c/g.NX
		if s.done[i] {
			b := body[gi]
			fx, fy := s.fromXY(int32(i))
			w := ways[b]
			w.opening += g.Cell * min(s.dz, s.gaps[gi].hi-s.gaps[gi].lo) * mouth(x, y, free)
			ways[b] = w
			// behind the deepest rubber stands the part; where it does not, there is a shorter way on the other side
			rank := s.dist[i]
			if bx, by := x-sign(fx-x), y-sign(fy-y); s.voxelAt(bx, by) < 0 && !free(bx, by) {
				rank += g.Cell / 2
			}
			if f, ok := found[b]; !ok || rank > f.rank {
				px, py := g.Centre(c)
				ex := px + float64(fx-x)*g.Cell
				ey := py + float64(fy-y)*g.Cell
				found[b] = deep{b, rank, s.dist[i], px, py, max(s.gaps[gi].lo, min(z, s.gaps[gi].hi)), ex, ey, s.base[i] == 0}
			}
		}
	}
	for _, gi := range voxels {
		s.voxel[s.gaps[gi].column] = 0
	}
	return found
}

func sign(i int) int { return min(max(i, -1), 1) }

// mouth is how wide a locked cell opens into free ones, in cells: its free
// sides, each by the share with which it faces the way that the edge of the
// free cells round about it does.
func mouth(x, y int, free func(x, y int) bool) (width float64) {
	var side [4]bool
	open := false
	for k, d := range around[:4] {
		side[k] = free(x+d[0], y+d[1])
		open = open || side[k]
	}
	if !open {
		return 0
	}
	const reach = 3
	var nx, ny float64
	for dy := -reach; dy <= reach; dy++ {
		for dx := -reach; dx <= reach; dx++ {
			if dx*dx+dy*dy <= reach*reach && free(x+dx, y+dy) {
				nx, ny = nx+float64(dx), ny+float64(dy)
			}
		}
	}
	length := math.Hypot(nx, ny)
	if length == 0 {
		return 0
	}
	for k, d := range around[:4] {
		if side[k] {
			width += max(0, (float64(d[0])*nx+float64(d[1])*ny)/length)
		}
	}
	return width
}

func resize[T any](s []T, n int) []T {
	if cap(s) < n {
		return make([]T, n, n+n/2)
	}
	return s[:n]
}

// fromXY is the cell that a voxel's straight way leads to; it may lie one
// cell outside the grid.
func (s *slicer) fromXY(i int32) (x, y int) {
	w := int32(s.cols.NX + 2)
	return int(s.from[i]%w) - 1, int(s.from[i]/w) - 1
}

func (s *slicer) voxelAt(x, y int) int32 {
	if x < 0 || y < 0 || x >= s.cols.NX || y >= s.cols.NY {
		return -1
	}
	return s.voxel[y*s.cols.NX+x] - 1
}

// sees tells whether a straight line between two cells runs through locked
// cells only, the far end aside.
func (s *slicer) sees(x0, y0, x1, y1 int) bool {
	dx, dy := x1-x0, y1-y0
	n := max(dx, -dx, dy, -dy)
	for i := 1; i < n; i++ {
		x := x0 + int(math.Round(float64(i*dx)/float64(n)))
		y := y0 + int(math.Round(float64(i*dy)/float64(n)))
		if s.voxelAt(x, y) < 0 {
			return false
		}
	}
	return true
}

// measure gives a way out its true length: from the surface behind the
// deepest cell to where the rubber comes free.
func (v *view) measure(d deep) (depth float64, deepest, out r3.Vec) {
	cell := v.cols.Cell
	length := math.Hypot(d.fx-d.x, d.fy-d.y)
	ux, uy := (d.fx-d.x)/length, (d.fy-d.y)/length
	var buf []grid.Crossing
	state := func(t float64) (locked, solid bool) {
		locked, solid, buf = v.lockedAt(d.x+t*ux, d.y+t*uy, d.z, buf)
		return locked, solid
	}
	back, ok := edge(0, -1.5*cell, func(t float64) bool { _, solid := state(t); return solid })
	if !ok { // the rubber behind has a shorter way out on another side
		back = 0
	}
	exit := length - cell/2 // a way round a corner is good to half a cell
	if d.straight {
		if at, ok := edge(max(0, length-2.5*cell), length+cell,
			func(t float64) bool { locked, solid := state(t); return !locked && !solid }); ok {
			exit = at
		}
	}
	deepest = r3.Vec{X: d.x + back*ux, Y: d.y + back*uy, Z: d.z}
	return d.dist - length + exit - back, deepest, r3.Vec{X: ux, Y: uy}
}

// edge finds where a property begins on the way from a to b.
func edge(a, b float64, there func(float64) bool) (at float64, ok bool) {
	const steps = 12
	at = a
	for i := 1; i <= steps; i++ {
		next := a + (b-a)*float64(i)/steps
		if there(next) {
			for range 20 {
				if mid := (at + next) / 2; there(mid) {
					next = mid
				} else {
					at = mid
				}
			}
			return (at + next) / 2, true
		}
		at = next
	}
	return b, false
}

type item struct {
	dist  float64
	voxel int32
}

type queue []item

func (q queue) Len() int { return len(q) }
func (q queue) Less(i, j int) bool {
	return q[i].dist < q[j].dist || q[i].dist == q[j].dist && q[i].voxel < q[j].voxel
}
func (q queue) Swap(i, j int) { q[i], q[j] = q[j], q[i] }
func (q *queue) Push(x any)   { *q = append(*q, x.(item)) }
func (q *queue) Pop() any {
	old := *q
	last := old[len(old)-1]
	*q = old[:len(old)-1]
	return last
}
