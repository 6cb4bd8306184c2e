package gang

import (
	"math"
	"math/bits"

	"bathyform/core/plane"
)

// Cells of the raster that outlines are packed on.
const (
	rasterCells = 360   // along the longer side of the room
	rasterLeast = 0.25  // mm, a cell's least side
	covered     = 0.708 // of a cell, from its middle to its corner
)

// room is what cavities must lie in: a floor from 0, 0, or a circle about it.
type room struct {
	wide, deep float64
	radius     float64 // of a round one; then wide and deep are its square's
}

func (r room) low() plane.Point {
	if r.radius > 0 {
		return plane.Point{-r.radius, -r.radius}
	}
	return plane.Point{}
}

// stamp is a shape turned one way, on the raster: rows of bits.
type stamp struct {
	shape, turn   int
	ring          []plane.Point // turned, about its middle
	bounds        [4]float64
	reach         float64    // of the ring, from its middle
	x0, y0        int        // cell of its low corner, about its middle
	raw, grown    [][]uint64 // what it covers, and what must be free for it
	gx, gy        int        // of grown's low corner, from raw's
	cursor, limit int        // where in the scan it still may have room
}

// packing fills a room with outlines on a raster, one after the other, each
// at the lowest place that is free for it, leftmost: cavities of several
// shapes, each turned as it fits best. What is free is asked of the raster,
// which is a little too careful; the layout is checked by the outlines
// afterwards.
type packing struct {
	room   room
	cell   float64
	nx, ny int
	taken  [][]uint64
	stamps []*stamp
	gap    float64
	slack  float64
	upward bool // columns before rows
}

// Placed is a pose of one of several shapes.
type Placed struct {
	Pose
	Shape int
}

func newPacking(shapes []Shape, turns []float64, r room, gap float64, upward bool) *packing {
	gap = min(gap, math.Hypot(r.wide, r.deep)) // more is no different
	p := &packing{room: r, gap: gap, upward: upward}
	p.cell = max(rasterLeast, max(r.wide, r.deep)/rasterCells)
	p.nx, p.ny = int(r.wide/p.cell)+1, int(r.deep/p.cell)+1
	p.taken = make([][]uint64, p.ny+2)
	for y := range p.taken {
		p.taken[y] = make([]uint64, p.nx/64+2)
	}
	for i, s := range shapes {
		own := turns
		if s.Round {
			own = turns[:1]
		}
		for k, turn := range own {
			ring := laid(s.Ring, Pose{Turn: turn})
			if b := bounds(ring); b[1]-b[0] > r.wide+p.cell || b[3]-b[2] > r.deep+p.cell {
				continue // it has no room, so that nobody asks how it would lie
			}
			p.stamps = append(p.stamps, p.stampOf(i, k, ring, gap+2*s.Slack))
		}
	}
	return p
}

// stampOf marks what a ring covers, and that widened by the gap.
func (p *packing) stampOf(shape, turn int, ring []plane.Point, gap float64) *stamp {
	s := &stamp{shape: shape, turn: turn, ring: ring, bounds: bounds(ring), limit: (p.nx + 1) * (p.ny + 1)}
	for _, q := range ring {
		s.reach = max(s.reach, math.Hypot(q[0], q[1]))
	}
	mark := func(reach float64) (x0, y0 int, rows [][]uint64) {
		x0, y0 = int(math.Floor((s.bounds[0]-reach)/p.cell)), int(math.Floor((s.bounds[2]-reach)/p.cell))
		x1, y1 := int(math.Ceil((s.bounds[1]+reach)/p.cell)), int(math.Ceil((s.bounds[3]+reach)/p.cell))
		rows = make([][]uint64, y1-y0+1)
		for y := range rows {
			rows[y] = make([]uint64, (x1-x0)/64+1)
			for x := 0; x <= x1-x0; x++ {
				at := plane.Point{(float64(x+x0) + 0.5) * p.cell, (float64(y+y0) + 0.5) * p.cell}
				if plane.Inside(ring, at) || fromRing(at, ring) <= reach {
					rows[y][x/64] |= 1 << (x % 64)
				}
			}
		}
		return x0, y0, rows
	}
	s.x0, s.y0, s.raw = mark(covered * p.cell)
	x, y, grown := mark(gap + covered*p.cell)
	s.gx, s.gy, s.grown = x-s.x0, y-s.y0, grown
	return s
}

func fromRing(at plane.Point, ring []plane.Point) float64 {
	least := math.Inf(1)
	for i, a := range ring {
		least = min(least, toSegment(at, a, ring[(i+1)%len(ring)]))
	}
	return math.Sqrt(least)
}

// place puts one more of a shape at its lowest free place; not ok where there is none.
func (p *packing) place(shape int) (at Placed, turn int, ok bool) {
	best, bestTop, bestSide := (*stamp)(nil), math.Inf(1), math.Inf(1)
	var bx, by int
	for _, s := range p.stamps {
		if s.shape != shape {
			continue
		}
		x, y, free := p.next(s)
		if !free {
			continue
		}
		top, side := float64(y)*p.cell+s.bounds[3], float64(x)*p.cell+s.bounds[1]
		if p.upward {
			top, side = side, top
		}
		if top < bestTop-1e-9 || top < bestTop+1e-9 && side < bestSide {
			best, bestTop, bestSide, bx, by = s, top, side, x, y
		}
	}
	if best == nil {
		return at, 0, false
	}
	for y, row := range best.raw {
		p.or(by+best.y0+y, bx+best.x0, row)
	}
	low := p.room.low()
	return Placed{Pose{X: low[0] + float64(bx)*p.cell, Y: low[1] + float64(by)*p.cell}, shape}, best.turn, true
}

// next is the first place in the scan that is free for a stamp: what was
// taken stays taken, so that the scan goes on from there.
func (p *packing) next(s *stamp) (x, y int, ok bool) {
	for ; s.cursor < s.limit; s.cursor++ {
		x, y = s.cursor%(p.nx+1), s.cursor/(p.nx+1)
		if p.upward {
			x, y = s.cursor/(p.ny+1), s.cursor%(p.ny+1)
		}
		if p.fits(s, x, y) && p.free(s, x, y) {
			return x, y, true
		}
	}
	return 0, 0, false
}

// fits reports whether a stamp lies in the room.
func (p *packing) fits(s *stamp, x, y int) bool {
	const touch = 1e-9
	px, py := float64(x)*p.cell, float64(y)*p.cell
	if px+s.bounds[0] < -touch || py+s.bounds[2] < -touch || px+s.bounds[1] > p.room.wide+touch || py+s.bounds[3] > p.room.deep+touch {
		return false
	}
	if r := p.room.radius; r > 0 {
		far := math.Hypot(px-r, py-r)
		if far+s.reach <= r {
			return true
		}
		if far > r {
			return false
		}
		for _, q := range s.ring {
			if math.Hypot(px+q[0]-r, py+q[1]-r) > r+touch {
				return false
			}
		}
	}
	return true
}

func (p *packing) free(s *stamp, x, y int) bool {
	x += s.x0 + s.gx
	y += s.y0 + s.gy
	for r, row := range s.grown {
		if y+r < 0 || y+r >= len(p.taken) {
			continue
		}
		taken := p.taken[y+r]
		for w, word := range row {
			if word == 0 {
				continue
			}
			at := x + 64*w
			if at <= -64 {
				continue
			}
			if at < 0 {
				word >>= -at
				at = 0
			}
			k, shift := at/64, at%64
			if k < len(taken) && taken[k]&(word<<shift) != 0 {
				return false
			}
			if shift > 0 && k+1 < len(taken) && taken[k+1]&(word>>(64-shift)) != 0 {
				return false
			}
		}
	}
	return true
}

func (p *packing) or(y, x int, row []uint64) {
	if y < 0 || y >= len(p.taken) {
		return
	}
	for w, word := range row {
		for word != 0 {
			b := bits.TrailingZeros64(word)
			word &^= 1 << b
			if at := x + 64*w + b; at >= 0 && at/64 < len(p.taken[y]) {
				p.taken[y][at/64] |= 1 << (at % 64)
			}
		}
	}
}

// turnings are the sets of turns that outlines are tried in.
var turnings = [][]float64{{0, 90, 180, 270}, {0, 180}, {90, 270}, {0, 90, 180, 270, 45, 135, 225, 315}}

// outlined packs a shape by its outline into the room there is, while the
// caller looks for something else; what comes back waits for it.
func (t *table) outlined(r room) func() []Layout {
	// nothing to pack by outline: where the edges take all of the room, and where a gap is so wide that rows do
	if t.shape.Round || !(r.wide > 0 && r.deep > 0) || 3*t.ask.Gap > max(r.wide, r.deep) {
		return func() []Layout { return nil }
	}
	all := make([]Layout, 2*len(turnings))
	done := make(chan struct{})
	go func() {
		defer close(done)
		for i := range all {
			turns := turnings[i/2]
			p := newPacking([]Shape{t.shape}, turns, r, t.ask.Gap, i%2 == 1)
			var poses []Pose
			for len(poses) < t.wanted() {
				at, turn, ok := p.place(0)
				if !ok {
					break
				}
				at.Turn = turns[turn]
				poses = append(poses, at.Pose)
			}
			switch {
			case len(poses) == 0:
			case r.radius > 0:
				all[i] = t.potted("by outline", poses)
			default:
				all[i] = t.boxed("by outline", poses)
			}
		}
	}()
	return func() []Layout {
		<-done
		return all
	}
}
