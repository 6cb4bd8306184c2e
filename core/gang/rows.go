package gang

import (
	"math"

	"bathyform/core/plane"
)

// pattern is cavities repeated without end: rows along x of one or two poses
// in turn, each row shifted against the one below.
type pattern struct {
	kind   string
	cells  []Pose  // of a row, from x 0 on
	period float64 // of a row
	rise   float64 // from row to row
	shift  float64 // of every other row, or of every row if lean
	lean   bool
}

// patterns proposes rows at several turns: straight, shifted and nested.
func (t *table) patterns() []pattern {
	turns := []float64{0, 90, 45, 135, 30, 60, 120, 150}
	if t.shape.Round {
		turns = turns[:1]
	}
	var out []pattern
	for _, turn := range turns {
		pitch := t.slide(turn, turn, 0, false)
		for _, share := range []float64{0, 0.5, 0.25, 0.33} {
			shift := share * pitch
			p := pattern{kind: "rows", cells: []Pose{{Turn: turn}}, period: pitch, shift: shift}
			if share == 0.5 {
				p.kind = "hexagons"
			}
			p.rise = t.riseOf(p)
			out = append(out, p)
			if share != 0 && share != 0.5 {
				p.lean = true
				out = append(out, p)
			}
		}
		if t.shape.Round {
			break
		}
		b := bounds(t.shape.Laid(Pose{Turn: turn}))
		tall := b[3] - b[2]
		for _, off := range []float64{0, -0.5, -0.3, -0.15, 0.15, 0.3, 0.5} {
			y := off * tall
			one, two := t.slide(turn, turn+180, y, false), t.slide(turn+180, turn, -y, false)
			own := t.slide(turn, turn, 0, false)
			two = max(two, own-one)
			if math.IsInf(one, -1) || math.IsInf(two, -1) || one+two <= 0 {
				continue
			}
			p := pattern{kind: "nested pairs", cells: []Pose{{Turn: turn}, {X: one, Y: y, Turn: turn + 180}}, period: one + two}
			for _, share := range []float64{0, 0.5} {
				p.shift = share * p.period
				p.rise = t.riseOf(p)
				out = append(out, p)
			}
		}
		if turn == 0 || turn == 90 {
			out = append(out, t.hooked(turn, b[1]-b[0])...)
		}
	}
	return out
}

// hooked are pairs of which one is let down into the other, as the arms of
// one U go between those of another.
func (t *table) hooked(turn, wide float64) (out []pattern) {
	if t.shape.Slack == 0 && math.Abs(plane.Area(plane.Hull(t.shape.Ring))) <= t.shape.Area*(1+eps) {
		return nil // nothing to go between
	}
	own := t.slide(turn, turn, 0, false)
	for _, off := range []float64{0.2, 0.3, 0.4, 0.5, 0.6, 0.8} {
		x := off * wide
		y := t.slide(turn, turn+180, x, true)
		if math.IsInf(y, -1) {
			continue
		}
		two := t.slide(turn+180, turn, -y, false)
		if math.IsInf(two, -1) {
			two = 0
		}
		p := pattern{kind: "nested pairs", cells: []Pose{{Turn: turn}, {X: x, Y: y, Turn: turn + 180}}, period: max(own, x+two)}
		if p.period <= 0 {
			continue
		}
		p.rise = t.riseOf(p)
		out = append(out, p)
	}
	return out
}

// riseOf is how far a row must stand over the one below it.
func (t *table) riseOf(p pattern) float64 {
	rise := 0.0
	reach := int(math.Ceil((2*t.shape.Radius+t.gap)/p.period)) + 1
	for _, a := range p.cells {
		for _, b := range p.cells {
			for _, shift := range []float64{p.shift, -p.shift} {
				for n := -reach; n <= reach; n++ {
					off := b.X - a.X + shift + float64(n)*p.period
					if math.Abs(off) >= 2*t.shape.Radius+t.gap {
						continue
					}
					if d := t.slide(a.Turn, b.Turn, off, true); !math.IsInf(d, -1) {
						rise = max(rise, d-(b.Y-a.Y))
					}
				}
			}
		}
	}
	return max(rise, 1e-3)
}

func (p pattern) row(n int) (shift float64) {
	if p.lean {
		return math.Mod(float64(n)*p.shift, p.period)
	}
	return float64(n%2) * p.shift
}

// floor fills a rectangle.
func (t *table) floor() []Layout {
	wide, deep := t.ask.Wide-2*(t.ask.Edge+t.shape.Slack), t.ask.Deep-2*(t.ask.Edge+t.shape.Slack)
	outlined := t.outlined(room{wide: wide, deep: deep})
	var out []Layout
	for _, swapped := range []bool{false, true} {
		w, d := wide, deep
		if swapped {
			w, d = deep, wide
		}
		for _, p := range t.patterns() {
			for _, poses := range [][]Pose{t.fill(p, w, d, false), t.fill(p, w, d, true)} {
				if len(poses) == 0 {
					continue
				}
				if swapped {
					poses = quarter(poses)
				}
				if len(poses) > t.wanted() {
					poses = poses[:t.wanted()]
				}
				out = append(out, t.boxed(p.kind, poses))
			}
		}
	}
	out = append(out, t.mixed()...)
	return append(out, outlined()...)
}

// quarter turns a layout by 90 degrees.
func quarter(poses []Pose) []Pose {
	out := make([]Pose, len(poses))
	for i, p := range poses {
		out[i] = Pose{-p.Y, p.X, p.Turn + 90}
	}
	return out
}

// fill puts a pattern into a rectangle of w by d, row by row from its corner.
// Loose lets a shifted row start where the wall allows and not where the
// pattern says, which sometimes has room for one more.
func (t *table) fill(p pattern, w, d float64, loose bool) []Pose {
	rings := make([][4]float64, len(p.cells))
	low := math.Inf(1)
	for i, c := range p.cells {
		rings[i] = bounds(t.shape.Laid(c))
		low = min(low, rings[i][2])
	}
	var out []Pose
	start := math.Inf(1)
	for _, r := range rings {
		start = min(start, r[0])
	}
	for n := 0; len(out) < t.wanted(); n++ {
		y := -low + float64(n)*p.rise
		placed := false
		shift := p.row(n)
		if loose && shift > p.period/2 {
			shift -= p.period
		}
		for k := -1; k < 2*Most; k++ {
			for i, c := range p.cells {
				x := -start + shift + float64(k)*p.period
				left, right := x+rings[i][0], x+rings[i][1]
				top := y + rings[i][3]
				if left < -t.tol || right > w+t.tol || top > d+t.tol {
					continue
				}
				out = append(out, Pose{x + c.X, y + c.Y, c.Turn})
				placed = true
			}
			if -start+shift+float64(k)*p.period > w {
				break
			}
		}
		if !placed {
			break
		}
	}
	return out
}

// smallest looks for the box of least area that holds the number asked for.
func (t *table) smallest(patterns []pattern) []Layout {
	n := t.ask.Count
	var out []Layout
	for _, p := range patterns {
		for rows := 1; rows <= n && rows <= 40; rows++ {
			each := (n + rows - 1) / rows
			var poses []Pose
			for r := 0; r < rows && len(poses) < n; r++ {
				for k := 0; k < each && len(poses) < n; k++ {
					c := p.cells[k%len(p.cells)]
					poses = append(poses, Pose{c.X + p.row(r) + float64(k/len(p.cells))*p.period, c.Y + float64(r)*p.rise, c.Turn})
				}
			}
			out = append(out, t.boxed(p.kind, poses))
		}
	}
	return out
}
