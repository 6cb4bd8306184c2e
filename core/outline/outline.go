// Package outline reads flat outlines from drawings, so that a part without
// a mesh can be made of its outline and a thickness: closed rings in mm,
// curves flattened to a stated tolerance, y upwards.
package outline

import (
	"bytes"
	"errors"
	"fmt"
	"math"
	"slices"

	"bathyform/core/plane"
)

// Drawing is what a file holds.
type Drawing struct {
	Rings [][]plane.Point // closed; a hole is a ring within a ring
	Notes []string        // what was left out and why
}

// Tolerance is how far in mm a flattened curve may lie from the true one.
const Tolerance = 0.02

// Bounds on a drawing.
const (
	mostPoints = 200_000
	mostRings  = 500
)

// ErrNone says that a drawing holds no closed outline.
var ErrNone = errors.New("the drawing holds no closed outline; close its lines, or draw the outline as one path")

// Parse reads an SVG or a DXF, told by its contents.
func Parse(data []byte) (Drawing, error) {
	head := bytes.TrimLeft(data[:min(len(data), 4096)], "\xef\xbb\xbf \t\r\n")
	switch {
	case len(bytes.TrimSpace(data)) == 0:
		return Drawing{}, errors.New("the file is empty")
	case bytes.HasPrefix(head, []byte("<")):
		return ParseSVG(data)
	case bytes.HasPrefix(head, []byte("AutoCAD Binary DXF")):
		return Drawing{}, errors.New("this is a binary DXF; export it as text, version R12")
	case bytes.HasPrefix(head, []byte("0\r\n")) || bytes.HasPrefix(head, []byte("0\n")) || bytes.HasPrefix(head, []byte("999")):
		return ParseDXF(data)
	}
	return Drawing{}, errors.New("this is no drawing that can be read: export the outline as SVG or as DXF R12")
}

// gather closes, joins and checks what was drawn.
type gather struct {
	rings [][]plane.Point
	loose [][]plane.Point // open pieces that may join
	notes []string
	count int
}

func (g *gather) points(n int) error {
	if g.count += n; g.count > mostPoints {
		return fmt.Errorf("the drawing has more than %d corners; simplify it first", mostPoints)
	}
	return nil
}

func (g *gather) ring(r []plane.Point) {
	for len(r) > 1 && near(r[0], r[len(r)-1], 1e-9) {
		r = r[:len(r)-1]
	}
	if len(r) >= 3 && !(math.Abs(plane.Area(r)) <= 1e-9) { // one that is no number is told later
		g.rings = append(g.rings, r)
	}
}

func (g *gather) open(p []plane.Point) {
	if len(p) >= 2 {
		g.loose = append(g.loose, p)
	}
}

// done joins loose ends that meet, and gives the drawing.
func (g *gather) done() (Drawing, error) {
	size := 0.0
	lo, hi := plane.Point{math.Inf(1), math.Inf(1)}, plane.Point{math.Inf(-1), math.Inf(-1)}
	for _, list := range [][][]plane.Point{g.rings, g.loose} {
		for _, r := range list {
			for _, p := range r {
				if math.IsNaN(p[0]+p[1]) || math.IsInf(p[0]+p[1], 0) {
					return Drawing{}, errors.New("a coordinate of the drawing is not a finite number")
				}
				lo, hi = plane.Point{min(lo[0], p[0]), min(lo[1], p[1])}, plane.Point{max(hi[0], p[0]), max(hi[1], p[1])}
			}
		}
	}
	size = max(hi[0]-lo[0], hi[1]-lo[1])
	g.join(max(1e-6, min(2e-4*size, g.usual()/4)))
	if n := len(g.loose); n > 0 {
		g.notes = append(g.notes, fmt.Sprintf("%d open lines do not close and were left out", n))
	}
	if len(g.rings) == 0 {
		return Drawing{}, ErrNone
	}
	if len(g.rings) > mostRings {
		return Drawing{}, fmt.Errorf("the drawing has %d outlines; at most %d can be used", len(g.rings), mostRings)
	}
	slices.SortStableFunc(g.rings, func(a, b []plane.Point) int {
		switch x, y := math.Abs(plane.Area(a)), math.Abs(plane.Area(b)); {
		case x > y:
			return -1
		case x < y:
			return 1
		}
		return 0
	})
	return Drawing{g.rings, g.notes}, nil
}

// usual is how far the ends of half the open pieces are apart, or more.
func (g *gather) usual() float64 {
	if len(g.loose) == 0 {
		return 0
	}
	long := make([]float64, len(g.loose))
	for i, p := range g.loose {
		long[i] = math.Hypot(p[len(p)-1][0]-p[0][0], p[len(p)-1][1]-p[0][1])
	}
	slices.Sort(long)
	return long[len(long)/2]
}

// join puts open pieces together, end to end, until they close. Pieces are
// found by the cell that their ends lie in.
func (g *gather) join(tol float64) {
	type cell [2]int64
	cellOf := func(p plane.Point) cell { return cell{int64(math.Floor(p[0] / tol)), int64(math.Floor(p[1] / tol))} }
	pieces := g.loose
	g.loose = nil
	ends := make(map[cell][]int) // pieces with an end there, the first first
	for i, p := range pieces {
		first, last := cellOf(p[0]), cellOf(p[len(p)-1])
		ends[first] = append(ends[first], i)
		if last != first {
			ends[last] = append(ends[last], i)
		}
	}
	used := make([]bool, len(pieces))
	meets := func(at plane.Point) (best int) {
		best = -1
		c := cellOf(at)
		for dx := int64(-1); dx <= 1; dx++ {
			for dy := int64(-1); dy <= 1; dy++ {
				here := cell{c[0] + dx, c[1] + dy}
				list := ends[here]
				for len(list) > 0 && used[list[0]] {
					list = list[1:]
				}
				ends[here] = list
				for k, i := range list[:min(len(list), crowded)] {
					if q := pieces[i]; !used[i] && (best < 0 || i < best) && (near(at, q[0], tol) || near(at, q[len(q)-1], tol)) {
						best = list[k]
						break
					}
				}
			}
		}
		return best
	}
	for i := len(pieces) - 1; i >= 0; i-- {
		if used[i] {
			continue
		}
		used[i] = true
		p := slices.Clone(pieces[i])
		for !near(p[0], p[len(p)-1], tol) {
			k := meets(p[len(p)-1])
			if k < 0 {
				break
			}
			used[k] = true
			q := pieces[k]
			if !near(p[len(p)-1], q[0], tol) {
				q = slices.Clone(q)
				slices.Reverse(q)
			}
			p = append(p, q[1:]...)
		}
		if len(p) > 3 && near(p[0], p[len(p)-1], tol) {
			g.ring(p[:len(p)-1])
		} else {
			g.loose = append(g.loose, p)
		}
	}
}

// crowded is how many ends in one place are looked at; more are a scribble.
const crowded = 64

func near(a, b plane.Point, tol float64) bool { return math.Hypot(a[0]-b[0], a[1]-b[1]) <= tol }

// arc flattens a circular or elliptic arc about c from angle a by sweep, with
// half axes rx, ry turned by tilt; the first point is left out.
func arc(c plane.Point, rx, ry, tilt, a, sweep float64) []plane.Point {
	r := max(rx, ry)
	step := math.Pi / 8
	if r > Tolerance {
		step = min(step, 2*math.Acos(1-Tolerance/r))
	}
	n := max(1, int(math.Ceil(math.Abs(sweep)/step)))
	n = min(n, 2000)
	out := make([]plane.Point, n)
	ct, st := math.Cos(tilt), math.Sin(tilt)
	for i := range out {
		t := a + sweep*float64(i+1)/float64(n)
		x, y := rx*math.Cos(t), ry*math.Sin(t)
		out[i] = plane.Point{c[0] + x*ct - y*st, c[1] + x*st + y*ct}
	}
	return out
}
