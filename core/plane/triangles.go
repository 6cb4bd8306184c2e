package plane

import "math"

// Triangles fills a simple anticlockwise ring with triangles of its corners,
// anticlockwise (ears cut off one by one; Meisters 1975). One that crosses
// itself is cut somehow.
func Triangles(r []Point) [][3]int32 {
	out, _ := Cut(r, math.MaxInt)
	return out
}

// Cut is Triangles for a ring that nobody has looked at: it is left once so
// many corners have been looked at. It returns how many looks are left, fewer
// than none where they did not do.
func Cut(r []Point, looks int) (out [][3]int32, left int) {
	n := len(r)
	if n < 3 {
		return nil, looks
	}
	c := cutting{ring: r, before: make([]int32, n), after: make([]int32, n), in: make([]bool, n)}
	for i := range n {
		c.before[i], c.after[i] = int32((i+n-1)%n), int32((i+1)%n)
	}
	c.inward()
	out = make([][3]int32, 0, n-2)
	at, tried := int32(0), 0
	for corners := n; corners > 3; {
		p, q, s := c.before[at], at, c.after[at]
		if c.looked > looks {
			return nil, looks - c.looked
		}
		if tried < corners && !c.isEar(p, q, s) { // where none is one it crosses itself or has no area: any cut is as good
			at, tried = s, tried+1
			continue
		}
		out = append(out, [3]int32{p, q, s})
		c.after[p], c.before[s] = s, p
		c.drop(q)
		for _, o := range [2]int32{p, s} { // a corner that points outwards never turns in again
			if c.turn(c.before[o], o, c.after[o]) > 0 {
				c.drop(o)
			}
		}
		at, tried, corners = p, 0, corners-1
	}
	return append(out, [3]int32{c.before[at], at, c.after[at]}), looks - c.looked
}

// cutting is a ring from which ears are cut. What lies in an ear, if anything
// does, is a corner that points inwards: they are sorted into squares.
type cutting struct {
	ring          []Point
	before, after []int32 // round what is left
	in            []bool  // points inwards
	many, sorted  int     // that do, now and when they were sorted
	low           Point
	cell          float64
	nx, ny        int
	squares       [][]int32
	looked        int
}

// turn is twice the area of a triangle, positive anticlockwise.
func (c *cutting) turn(i, j, k int32) float64 {
	p, q, s := c.ring[i], c.ring[j], c.ring[k]
	return (q[0]-p[0])*(s[1]-p[1]) - (q[1]-p[1])*(s[0]-p[0])
}

// inward finds the corners that point inwards.
func (c *cutting) inward() {
	all := make([]int32, len(c.ring))
	for i := range all {
		k := int32(i)
		all[i] = k
		if c.turn(c.before[k], k, c.after[k]) <= 0 {
			c.in[k] = true
			c.many++
		}
	}
	c.sort(all)
}

// drop takes a corner out of those that point inwards. The fewer are left,
// the larger the ears and the squares.
func (c *cutting) drop(k int32) {
	if !c.in[k] {
		return
	}
	c.in[k] = false
	if c.many--; c.many > few && 4*c.many < c.sorted {
		var all []int32
		for _, square := range c.squares {
			all = append(all, square...)
		}
		c.sort(all)
	}
}

const few = 16

// sort puts those of some corners that point inwards into squares.
func (c *cutting) sort(some []int32) {
	in := make([]int32, 0, c.many)
	low, high := Point{math.Inf(1), math.Inf(1)}, Point{math.Inf(-1), math.Inf(-1)}
	for _, k := range some {
		if p := c.ring[k]; c.in[k] {
			in = append(in, k)
			low, high = Point{min(low[0], p[0]), min(low[1], p[1])}, Point{max(high[0], p[0]), max(high[1], p[1])}
		}
	}
	c.sorted = len(in)
	if len(in) == 0 {
		low, high = Point{}, Point{}
	}
	wide, deep := high[0]-low[0], high[1]-low[1]
	c.low, c.cell = low, math.Sqrt(wide*deep/float64(max(1, len(in))))
	if !(c.cell > max(wide, deep)/1000) { // a line, or no number at all
		c.cell = max(wide, deep, math.SmallestNonzeroFloat64) / 1000
	}
	c.nx, c.ny = c.square(high[0], 0, math.MaxInt32)+1, c.square(high[1], 1, math.MaxInt32)+1
	c.squares = make([][]int32, c.nx*c.ny)
	for _, k := range in {
		s := c.square(c.ring[k][1], 1, c.ny)*c.nx + c.square(c.ring[k][0], 0, c.nx)
		c.squares[s] = append(c.squares[s], k)
	}
}

// square is the column or row of squares that a coordinate lies in.
func (c *cutting) square(x float64, axis, n int) int {
	at := math.Floor((x - c.low[axis]) / c.cell)
	if !(at >= 0) {
		return 0
	}
	return int(min(at, float64(n-1), 1000))
}

// isEar tells whether nothing of the ring lies in the triangle at a corner.
func (c *cutting) isEar(p, q, s int32) bool {
	if c.turn(p, q, s) <= 0 {
		return false
	}
	a, b, d := c.ring[p], c.ring[q], c.ring[s]
	for y := c.square(min(a[1], b[1], d[1]), 1, c.ny); y <= c.square(max(a[1], b[1], d[1]), 1, c.ny); y++ {
		from, to := c.inRow(y, a, b, d)
		for x := from; x <= to; x++ {
			square := c.squares[y*c.nx+x]
			c.looked += len(square) + 1
			for _, o := range square {
				if !c.in[o] || c.ring[o] == a || c.ring[o] == b || c.ring[o] == d {
					continue
				}
				if c.turn(p, q, o) >= 0 && c.turn(q, s, o) >= 0 && c.turn(s, p, o) >= 0 {
					return false
				}
			}
		}
	}
	return true
}

// inRow is the first and the last square of a row that a triangle reaches into.
func (c *cutting) inRow(y int, corners ...Point) (from, to int) {
	low, high := c.low[1]+float64(y)*c.cell, c.low[1]+float64(y+1)*c.cell
	if y == 0 {
		low = math.Inf(-1)
	}
	if y == c.ny-1 {
		high = math.Inf(1)
	}
	left, right := math.Inf(1), math.Inf(-1)
	for i, p := range corners {
		q := corners[(i+1)%len(corners)]
		if p[1] > q[1] {
			p, q = q, p
		}
		if p[1] > high || q[1] < low {
			continue
		}
		at := func(z float64) float64 { // along the edge, held to its ends
			if z <= p[1] || q[1] == p[1] {
				return p[0]
			}
			return p[0] + min(1, (z-p[1])/(q[1]-p[1]))*(q[0]-p[0])
		}
		ends := [2]float64{at(low), at(high)}
		if q[1] == p[1] {
			ends[1] = q[0]
		}
		left, right = min(left, ends[0], ends[1]), max(right, ends[0], ends[1])
	}
	return max(0, c.square(left, 0, c.nx)-1), min(c.nx-1, c.square(right, 0, c.nx)+1) // rounding
}
