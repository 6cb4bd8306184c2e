package gang

import (
	"math"
	"slices"
)

// mixed fills a floor with rectangles that lie both ways round: the floor is
// cut through again and again (guillotine), and once into four blocks about a
// fifth, which no such cut makes; each block holds rectangles of one way
// round. After Steudel 1979 and Bischoff and Dowsland 1982, from memory.
func (t *table) mixed() (out []Layout) {
	b := bounds(t.shape.Ring)
	if t.shape.Round {
		return nil
	}
	r := &rectangles{a: b[1] - b[0] + t.gap, b: b[3] - b[2] + t.gap, known: make(map[[2]int]cut)}
	wide, deep := t.ask.Wide-2*(t.ask.Edge+t.shape.Slack)+t.gap, t.ask.Deep-2*(t.ask.Edge+t.shape.Slack)+t.gap
	if r.a <= 0 || r.b <= 0 || wide*deep > 4*Most*r.a*r.b {
		return nil
	}
	r.unit = min(r.a, r.b) / 64
	var poses []Pose
	middle := [2]float64{(b[0] + b[1]) / 2, (b[2] + b[3]) / 2} // of the rectangle, about the shape's middle
	put := func(x, y float64, turned bool) {
		p := Pose{X: x + (r.a-t.gap)/2 - middle[0], Y: y + (r.b-t.gap)/2 - middle[1]}
		if turned {
			p = Pose{X: x + (r.b-t.gap)/2 + middle[1], Y: y + (r.a-t.gap)/2 - middle[0], Turn: 90}
		}
		poses = append(poses, p)
	}
	r.best(wide, deep, true).lay(r, 0, 0, put)
	if len(poses) == 0 {
		return nil
	}
	if len(poses) > t.wanted() {
		poses = poses[:t.wanted()]
	}
	return []Layout{t.boxed("both ways round", poses)}
}

// rectangles of one size, gap included, in blocks of a floor.
type rectangles struct {
	a, b  float64
	unit  float64 // sizes that differ by less are one block's
	known map[[2]int]cut
}

// cut is how a block is filled: with rows of rectangles one way round, or by
// parts.
type cut struct {
	count      int
	wide, deep float64
	turned     bool
	parts      []part
}

type part struct {
	x, y float64
	cut  cut
}

const room0 = 1e-6 // mm of rounding that a block may be short

func fits(room, size float64) int { return int(math.Floor((room + room0) / size)) }

// best is the fullest way to fill a block.
func (r *rectangles) best(wide, deep float64, five bool) cut {
	if wide+room0 < min(r.a, r.b) || deep+room0 < min(r.a, r.b) {
		return cut{}
	}
	key := [2]int{int(math.Floor((wide + room0) / r.unit)), int(math.Floor((deep + room0) / r.unit))}
	if c, ok := r.known[key]; ok && c.wide <= wide+room0 && c.deep <= deep+room0 && !five {
		return c
	}
	straight, turned := fits(wide, r.a)*fits(deep, r.b), fits(wide, r.b)*fits(deep, r.a)
	c := cut{count: straight, wide: wide, deep: deep}
	if turned > straight {
		c.count, c.turned = turned, true
	}
	r.known[key] = c
	most := int(math.Floor((wide*deep + room0) / (r.a * r.b)))
	take := func(parts ...part) {
		n := 0
		for _, p := range parts {
			n += p.cut.count
		}
		if n > c.count {
			c = cut{count: n, wide: wide, deep: deep, parts: parts}
		}
	}
	for _, x := range r.sums(wide / 2) {
		if c.count == most {
			break
		}
		take(part{0, 0, r.best(x, deep, false)}, part{x, 0, r.best(wide-x, deep, false)})
	}
	for _, y := range r.sums(deep / 2) {
		if c.count == most {
			break
		}
		take(part{0, 0, r.best(wide, y, false)}, part{0, y, r.best(wide, deep-y, false)})
	}
	if five && c.count < most {
		xs, ys := r.sums(wide), r.sums(deep)
		for _, x1 := range xs {
			for _, x2 := range xs {
				for _, y1 := range ys {
					for _, y2 := range ys {
						// blocks turning about a middle one
						if c.count == most || x1 >= x2 || y1 >= y2 {
							continue
						}
						take(
							part{0, 0, r.best(x1, y2, false)},
							part{x1, 0, r.best(wide-x1, y1, false)},
							part{x2, y1, r.best(wide-x2, deep-y1, false)},
							part{0, y2, r.best(x2, deep-y2, false)},
							part{x1, y1, r.best(x2-x1, y2-y1, false)},
						)
					}
				}
			}
		}
	}
	r.known[key] = c
	return c
}

// sums are the lengths up to most that rectangles in a row add up to.
func (r *rectangles) sums(most float64) (out []float64) {
	for i := 0; float64(i)*r.a <= most+room0; i++ {
		for j := 0; float64(i)*r.a+float64(j)*r.b <= most+room0; j++ {
			if i+j > 0 {
				out = append(out, float64(i)*r.a+float64(j)*r.b)
			}
		}
	}
	slices.Sort(out)
	return slices.CompactFunc(out, func(a, b float64) bool { return b-a < room0 })
}

func (c cut) lay(r *rectangles, x, y float64, put func(x, y float64, turned bool)) {
	for _, p := range c.parts {
		p.cut.lay(r, x+p.x, y+p.y, put)
	}
	if len(c.parts) > 0 {
		return
	}
	a, b := r.a, r.b
	if c.turned {
		a, b = b, a
	}
	for j := range fits(c.deep, b) {
		for i := range fits(c.wide, a) {
			put(x+float64(i)*a, y+float64(j)*b, c.turned)
		}
	}
}
