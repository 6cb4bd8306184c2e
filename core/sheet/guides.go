package sheet

import (
	"fmt"
	"math"

	"bathyform/core/box"
	"bathyform/core/gang"
	"bathyform/core/key"
	"bathyform/core/mesh"
	"bathyform/core/pieces"
	"bathyform/core/plane"
	"bathyform/core/slit"
	"bathyform/core/tone"

	"gonum.org/v1/gonum/spatial/r3"
)

// depthEvery is how often the depth to the part is written on a guide, mm.
const depthEvery = 25.0

// Wrap is the guide that is wrapped round a block: where to cut, how deep,
// where to begin and where to stop.
func Wrap(g slit.Guide) Sheet {
	s := Sheet{Name: "Cut guide, wrapped round the block"}
	s.Lines = append(s.Lines, rectangle(tone.Cut, 0, 0, g.Round, g.Height))
	path := make([]plane.Point, len(g.Path))
	next := 0.0
	for i, m := range g.Path {
		path[i] = plane.Point{m.Along, m.Up}
		if m.Along >= next {
			words := "clear"
			if !math.IsInf(m.Depth, 1) {
				words = fmt.Sprintf("%.0f deep", m.Depth)
			}
			s.write(m.Along, m.Up+5, 2.5, words)
			next = m.Along + depthEvery
		}
	}
	s.Lines = append(s.Lines, line(tone.Score, path, false))
	for _, c := range g.Corners {
		s.Lines = append(s.Lines, line(tone.Mark, []plane.Point{{c, 0}, {c, g.Height}}, false))
	}
	s.Lines = append(s.Lines, line(tone.Mark, []plane.Point{{g.Hinge, 0}, {g.Hinge, g.Height}}, false))
	for x := g.Hinge; x < g.Round; x += 6 {
		s.Lines = append(
			s.Lines,
			line(tone.Mark, []plane.Point{{x, 0}, {min(g.Round, x+g.Height/4), min(g.Height, (min(g.Round, x+g.Height/4)-x)*4)}}, false),
		)
	}
	s.write(2, 2, 4, fmt.Sprintf("start; first pass %.0f mm deep; half A is above", g.First))
	s.write(g.Hinge+2, g.Height/2, 4, "hinge: do not cut")
	s.ruled()
	return s
}

// Fins are the strips of tape that stand on the parting of a clear block: one
// for each loop of the line, with a mark wherever it climbs.
func Fins(p pieces.Plan, width float64) Sheet {
	s := Sheet{Name: "Tape fins"}
	y := 0.0
	at := func(q plane.Point) float64 { return p.Sheet(q[0], q[1]) }
	rings := p.Shadow()
	stairs := 0.0 // the outline followed on a lattice is longer than the line
	for _, ring := range rings {
		for i, q := range ring {
			r := ring[(i+1)%len(ring)]
			stairs += math.Hypot(math.Hypot(r[0]-q[0], r[1]-q[1]), at(r)-at(q))
		}
	}
	for n, ring := range rings {
		long, from := 0.0, -math.MaxFloat64
		for i, q := range ring {
			r := ring[(i+1)%len(ring)]
			if long-from > depthEvery {
				s.Lines = append(s.Lines, line(tone.Mark, []plane.Point{{long, y}, {long, y + 3}}, false))
				s.write(long+1, y+width+1, 2.5, fmt.Sprintf("%+.0f", at(q)-p.Level))
				from = long
			}
			long += p.Line / stairs * math.Hypot(math.Hypot(r[0]-q[0], r[1]-q[1]), at(r)-at(q))
		}
		s.Lines = append(s.Lines, rectangle(tone.Cut, 0, y, long, width))
		s.write(2, y+4, 3, fmt.Sprintf("fin %d; figures are mm over the level of the parting", n+1))
		y += width + 3*between
	}
	s.ruled()
	return s
}

// Keyed adds the keys to a parting board: holes for the nuts, marks for bars.
func (s Sheet) Keyed(keys []key.Key) Sheet {
	for _, k := range keys {
		switch k.Kind {
		case key.Bevel:
			continue
		case key.Bar, key.Strip:
			sin, cos := math.Sincos(k.Turn)
			d := k.Reach() - k.Radius
			s.Lines = append(s.Lines, line(tone.Mark, []plane.Point{{k.X - d*cos, k.Y - d*sin}, {k.X + d*cos, k.Y + d*sin}}, false),
				line(tone.Cut, shifted(circle(k.Radius), k.X, k.Y), true))
		default:
			s.Lines = append(s.Lines, line(tone.Cut, shifted(circle(k.Radius), k.X, k.Y), true))
		}
		if k.Odd {
			s.write(k.X+k.Radius+1, k.Y, 3, "odd one")
		}
	}
	return s
}

// flange is how far a shell's flange stands out, and boltEvery the way
// between its bolts, mm. Common practice, no source.
const (
	flange    = 25.0
	boltEvery = 70.0
)

// Flange is the board on which the first half of a shell ends: the skin's
// outline cut out, bolts marked.
func Flange(outer *mesh.Mesh, draw r3.Vec) (Sheet, error) {
	s := Sheet{Name: "Shell flange"}
	shape, err := gang.Seen(outer, draw)
	if err != nil {
		return s, err
	}
	rim, err := box.Of(box.Contour, box.Ask{Hull: shape.Convex, Beside: flange})
	if err != nil {
		return s, err
	}
	middle, err := box.Of(box.Contour, box.Ask{Hull: shape.Convex, Beside: flange / 2})
	if err != nil {
		return s, err
	}
	s.Lines = append(s.Lines, line(tone.Cut, rim.Ring, true), line(tone.Cut, shape.Ring, true))
	n := max(4, int(math.Round(middle.Wall/boltEvery)))
	for i := range n {
		p := along(middle.Ring, middle.Wall*float64(i)/float64(n))
		s.Lines = append(s.Lines, line(tone.Mark, shifted(circle(3.2), p[0], p[1]), true))
	}
	s.ruled()
	return s, nil
}

// along is the place so far round a ring.
func along(ring []plane.Point, way float64) plane.Point {
	for i, p := range ring {
		q := ring[(i+1)%len(ring)]
		l := math.Hypot(q[0]-p[0], q[1]-p[1])
		if way <= l && l > 0 {
			return plane.Point{p[0] + way/l*(q[0]-p[0]), p[1] + way/l*(q[1]-p[1])}
		}
		way -= l
	}
	return ring[0]
}

// Bounds is the sheet's extent, mm.
func (s Sheet) Bounds() (low, high plane.Point) { return s.bounds() }
