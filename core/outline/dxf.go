package outline

import (
	"bytes"
	"errors"
	"fmt"
	"math"
	"strconv"
	"strings"

	"bathyform/core/plane"
)

// ParseDXF reads the closed outlines of a text DXF of version R12 or with the
// same entities: lines, arcs, circles, polylines of both kinds with bulges,
// ellipses and splines. Its unit is $INSUNITS, mm where it says none.
func ParseDXF(data []byte) (Drawing, error) {
	pairs, err := dxfPairs(data)
	if err != nil {
		return Drawing{}, err
	}
	g := &gather{}
	unit, section := 1.0, ""
	other := map[string]int{}
	for i := 0; i < len(pairs); {
		if pairs[i].code != 0 {
			i++
			continue
		}
		name := pairs[i].value
		end := i + 1
		for end < len(pairs) && pairs[end].code != 0 {
			end++
		}
		e := dxfEntity(pairs[i+1 : end])
		if name == "SECTION" {
			section = e.text(2)
			mm, err := e.unit()
			if err != nil {
				return Drawing{}, err
			}
			if mm > 0 {
				unit = mm
			}
		}
		if section == "ENTITIES" {
			if name == "POLYLINE" { // its corners follow as entities of their own
				var corners []dxfEntity
				for end < len(pairs) && pairs[end].value == "VERTEX" {
					next := end + 1
					for next < len(pairs) && pairs[next].code != 0 {
						next++
					}
					corners = append(corners, dxfEntity(pairs[end+1:next]))
					end = next
				}
				g.bulged(corners, e.number(70)&1 == 1, unit)
			} else if !g.entity(name, e, unit) {
				other[name]++
			}
			if err := g.points(1); err != nil {
				return Drawing{}, err
			}
		}
		i = end
	}
	for _, name := range []string{"TEXT", "MTEXT", "INSERT", "HATCH", "DIMENSION", "3DFACE", "SOLID"} {
		if n := other[name]; n > 0 {
			g.notes = append(g.notes, fmt.Sprintf("%d %s left out; explode blocks and text before exporting", n, name))
		}
	}
	return g.done()
}

type dxfPair struct {
	code  int
	value string
}

type dxfEntity []dxfPair

func dxfPairs(data []byte) ([]dxfPair, error) {
	lines := bytes.Split(data, []byte("\n"))
	pairs := make([]dxfPair, 0, len(lines)/2)
	for i := 0; i+1 < len(lines); i += 2 {
		text := strings.TrimSpace(string(lines[i]))
		if text == "" && i+2 >= len(lines) {
			break
		}
		code, err := strconv.Atoi(text)
		if err != nil {
			return nil, fmt.Errorf("line %d of the DXF should be a group code, not %.20q", i+1, text)
		}
		value := strings.TrimSpace(string(lines[i+1]))
		pairs = append(pairs, dxfPair{code, value})
		if code == 0 && value == "EOF" {
			return pairs, nil
		}
	}
	if len(pairs) == 0 {
		return nil, errors.New("the DXF holds nothing")
	}
	return nil, errors.New("the DXF is cut short: its end is missing; export or copy it again")
}

// unit is the length in mm that a header section gives, 0 where it gives none.
func (e dxfEntity) unit() (float64, error) {
	for i, p := range e {
		if p.code != 9 || p.value != "$INSUNITS" || i+1 == len(e) {
			continue
		}
		mm, ok := map[string]float64{"0": 1, "1": 25.4, "2": 304.8, "4": 1, "5": 10, "6": 1000}[e[i+1].value]
		if !ok {
			return 0, fmt.Errorf("the drawing's unit ($INSUNITS %s) is not a length that parts are drawn in", e[i+1].value)
		}
		return mm, nil
	}
	return 0, nil
}

func (e dxfEntity) text(code int) string {
	for _, p := range e {
		if p.code == code {
			return p.value
		}
	}
	return ""
}

func (e dxfEntity) number(code int) int {
	n, _ := strconv.Atoi(e.text(code))
	return n
}

func (e dxfEntity) value(code int) float64 {
	v, err := strconv.ParseFloat(e.text(code), 64)
	if err != nil && e.text(code) != "" {
		return math.NaN()
	}
	return v
}

func (e dxfEntity) at(x, y int, unit float64) plane.Point {
	return plane.Point{e.value(x) * unit, e.value(y) * unit}
}

// entity takes one entity; false for one that is no outline.
func (g *gather) entity(name string, e dxfEntity, unit float64) bool {
	const deg = math.Pi / 180
	c := e.at(10, 20, unit)
	switch name {
	case "LINE":
		g.open([]plane.Point{c, e.at(11, 21, unit)})
	case "CIRCLE":
		g.ring(arc(c, e.value(40)*unit, e.value(40)*unit, 0, 0, 2*math.Pi))
	case "ARC":
		r, a, b := e.value(40)*unit, e.value(50)*deg, e.value(51)*deg
		if b = a + math.Mod(b-a, 2*math.Pi); b <= a {
			b += 2 * math.Pi
		}
		g.open(append([]plane.Point{{c[0] + r*math.Cos(a), c[1] + r*math.Sin(a)}}, arc(c, r, r, 0, a, b-a)...))
	case "ELLIPSE":
		major := e.at(11, 21, unit)
		rx := math.Hypot(major[0], major[1])
		a, b := e.value(41), e.value(42)
		if b <= a {
			b += 2 * math.Pi
		}
		points := arc(c, rx, rx*e.value(40), math.Atan2(major[1], major[0]), a, b-a)
		if b-a > 2*math.Pi-1e-6 {
			g.ring(points)
		} else {
			first := arc(c, rx, rx*e.value(40), math.Atan2(major[1], major[0]), a-1e-9, 1e-9)
			g.open(append(first, points...))
		}
	case "LWPOLYLINE":
		var corners []dxfEntity
		for i, p := range e {
			if p.code == 10 {
				end := i + 1
				for end < len(e) && e[end].code != 10 {
					end++
				}
				corners = append(corners, e[i:end])
			}
		}
		g.bulged(corners, e.number(70)&1 == 1, unit)
	case "SPLINE":
		g.spline(e, unit)
	case "SECTION", "ENDSEC", "SEQEND", "VERTEX", "POINT", "VIEWPORT":
	default:
		return false
	}
	return true
}

// bulged follows a polyline; a bulge is the tangent of a quarter of the arc's angle.
func (g *gather) bulged(corners []dxfEntity, closed bool, unit float64) {
	var points []plane.Point
	n := len(corners)
	for i, v := range corners {
		p := v.at(10, 20, unit)
		if i == 0 {
			points = append(points, p)
		}
		if i == n-1 && !closed {
			break
		}
		q := corners[(i+1)%n].at(10, 20, unit)
		if b := v.value(42); b != 0 && p != q {
			sweep := 4 * math.Atan(b)
			chord := math.Hypot(q[0]-p[0], q[1]-p[1])
			r := chord / 2 / math.Sin(sweep/2)
			mid := math.Sqrt(math.Max(0, r*r-chord*chord/4))
			if math.Abs(sweep) > math.Pi {
				mid = -mid
			}
			side := math.Copysign(mid, b)
			c := plane.Point{(p[0]+q[0])/2 - side*(q[1]-p[1])/chord, (p[1]+q[1])/2 + side*(q[0]-p[0])/chord}
			a := math.Atan2(p[1]-c[1], p[0]-c[0])
			points = append(points, arc(c, math.Abs(r), math.Abs(r), 0, a, sweep)...)
		} else {
			points = append(points, q)
		}
	}
	if closed {
		g.ring(points)
	} else {
		g.open(points)
	}
}

// spline flattens a B-spline by de Boor's algorithm.
func (g *gather) spline(e dxfEntity, unit float64) {
	degree := e.number(71)
	var knots []float64
	var points []plane.Point
	for i, p := range e {
		switch p.code {
		case 40:
			v, _ := strconv.ParseFloat(p.value, 64)
			knots = append(knots, v)
		case 10:
			points = append(points, e[i:].at(10, 20, unit))
		}
	}
	n := len(points)
	if degree < 1 || degree > 12 || n <= degree || len(knots) != n+degree+1 {
		g.notes = append(g.notes, "a spline without its knots was left out; export it as a polyline")
		return
	}
	var length float64
	for i := 1; i < n; i++ {
		length += math.Hypot(points[i][0]-points[i-1][0], points[i][1]-points[i-1][1])
	}
	steps := max(8*n, min(4000, int(length/math.Sqrt(8*Tolerance*max(length/10, Tolerance)))*4))
	lo, hi := knots[degree], knots[n]
	out := make([]plane.Point, 0, steps+1)
	d := make([]plane.Point, degree+1)
	span := degree
	for i := range steps + 1 {
		u := lo + (hi-lo)*float64(i)/float64(steps)
		for span < n-1 && u >= knots[span+1] {
			span++
		}
		copy(d, points[span-degree:span+1])
		for r := 1; r <= degree; r++ {
			for j := degree; j >= r; j-- {
				k := span - degree + j
				f := 0.0
				if w := knots[k+degree-r+1] - knots[k]; w != 0 {
					f = (u - knots[k]) / w
				}
				d[j] = plane.Point{(1-f)*d[j-1][0] + f*d[j][0], (1-f)*d[j-1][1] + f*d[j][1]}
			}
		}
		out = append(out, d[degree])
	}
	out = plane.Simplified(append(out, out[0]), Tolerance/4)
	if e.number(70)&1 == 1 || near(points[0], points[n-1], 1e-9) {
		g.ring(out)
	} else {
		g.open(out)
	}
}
