package outline

import (
	"bytes"
	"encoding/xml"
	"errors"
	"fmt"
	"io"
	"math"
	"strconv"
	"strings"

	"bathyform/core/plane"
)

// pxPerInch is what a CSS pixel is (CSS Values and Units 3: 96 to the inch).
const pxPerInch = 96

// ParseSVG reads closed shapes of an SVG drawing: paths with all their
// commands, rectangles, circles, ellipses, polygons and polylines, with
// nested transforms, in the units that its width and viewBox give (SVG 1.1,
// chapters 7 to 9).
func ParseSVG(data []byte) (Drawing, error) {
	d := xml.NewDecoder(bytes.NewReader(data))
	d.Strict = false
	d.Entity = map[string]string{}
	g := &gather{}
	var stack []matrix
	skip := 0 // inside definitions
	seen := false
	for {
		token, err := d.Token()
		if errors.Is(err, io.EOF) {
			break
		}
		if err != nil {
			return Drawing{}, fmt.Errorf("the SVG cannot be read: %w", err)
		}
		switch e := token.(type) {
		case xml.Directive:
			return Drawing{}, errors.New("the SVG begins with a document type (DOCTYPE), which may declare anything: " +
				"save it again as plain SVG, or take that line out")
		case xml.StartElement:
			at := map[string]string{}
			for _, a := range e.Attr {
				at[a.Name.Local] = a.Value
			}
			m := identity
			if len(stack) > 0 {
				m = stack[len(stack)-1]
			} else if e.Name.Local == "svg" {
				seen = true
				var note string
				if m, note, err = rootMatrix(at); err != nil {
					return Drawing{}, err
				}
				if note != "" {
					g.notes = append(g.notes, note)
				}
			}
			if t := at["transform"]; t != "" {
				own, err := parseTransform(t)
				if err != nil {
					return Drawing{}, err
				}
				m = m.mul(own)
			}
			stack = append(stack, m)
			switch e.Name.Local {
			case "defs", "clipPath", "mask", "pattern", "symbol", "marker":
				skip++
			case "use":
				g.notes = append(g.notes, "a clone (use) was left out; unlink clones before exporting")
			case "text":
				g.notes = append(g.notes, "text was left out; turn it into paths before exporting")
			}
			if skip == 0 && at["display"] != "none" {
				if err := g.shape(e.Name.Local, at, m); err != nil {
					return Drawing{}, err
				}
			}
		case xml.EndElement:
			if len(stack) > 0 {
				stack = stack[:len(stack)-1]
			}
			switch e.Name.Local {
			case "defs", "clipPath", "mask", "pattern", "symbol", "marker":
				skip = max(0, skip-1)
			}
		}
	}
	if !seen {
		return Drawing{}, errors.New("this file is not an SVG drawing")
	}
	return g.done()
}

// matrix is a b c d e f of SVG: x' = a x + c y + e, y' = b x + d y + f.
type matrix [6]float64

var identity = matrix{1, 0, 0, 1, 0, 0}

func (m matrix) mul(n matrix) matrix {
	return matrix{m[0]*n[0] + m[2]*n[1], m[1]*n[0] + m[3]*n[1], m[0]*n[2] + m[2]*n[3], m[1]*n[2] + m[3]*n[3],
		m[0]*n[4] + m[2]*n[5] + m[4], m[1]*n[4] + m[3]*n[5] + m[5]}
}

func (m matrix) apply(p plane.Point) plane.Point {
	return plane.Point{m[0]*p[0] + m[2]*p[1] + m[4], m[1]*p[0] + m[3]*p[1] + m[5]}
}

func (m matrix) scale() float64 { return math.Sqrt(math.Abs(m[0]*m[3] - m[1]*m[2])) }

// rootMatrix turns user units into mm with y upwards.
func rootMatrix(at map[string]string) (m matrix, note string, err error) {
	mm := 25.4 / pxPerInch
	box := numbersIn(at["viewBox"])
	width, unit, ok := svgLength(at["width"])
	switch {
	case ok && len(box) == 4 && box[2] > 0 && unit != "":
		mm = width / box[2]
	case ok && unit == "" && len(box) == 4 && box[2] > 0:
		mm = width / box[2]
		note = "the drawing gives no unit; 96 units were taken for an inch"
	default:
		note = "the drawing gives no size; 96 units were taken for an inch"
	}
	if !(mm > 0) || math.IsInf(mm, 0) {
		return m, "", errors.New("the drawing's width and viewBox make no scale")
	}
	return matrix{mm, 0, 0, -mm, 0, 0}, note, nil
}

// svgLength reads a length with its unit, in mm.
func svgLength(s string) (mm float64, unit string, ok bool) {
	s = strings.TrimSpace(s)
	i := len(s)
	for i > 0 && (s[i-1] < '0' || s[i-1] > '9') && s[i-1] != '.' {
		i--
	}
	v, err := strconv.ParseFloat(strings.TrimSpace(s[:i]), 64)
	unit = strings.ToLower(strings.TrimSpace(s[i:]))
	per, known := map[string]float64{"": 25.4 / pxPerInch, "px": 25.4 / pxPerInch, "mm": 1, "cm": 10, "in": 25.4,
		"pt": 25.4 / 72, "pc": 25.4 / 6, "q": 0.25}[unit]
	if err != nil || !known {
		return 0, "", false
	}
	if unit == "px" {
		unit = ""
	}
	return v * per, unit, v > 0
}

func parseTransform(s string) (matrix, error) {
	m := identity
	for rest := strings.TrimSpace(s); rest != ""; rest = strings.TrimLeft(rest, " ,\t\r\n") {
		name, tail, ok := strings.Cut(rest, "(")
		args, after, closed := strings.Cut(tail, ")")
		if !ok || !closed {
			return m, fmt.Errorf("the transform %q cannot be read", s)
		}
		n := numbersIn(args)
		arg := func(i int, otherwise float64) float64 {
			if i < len(n) {
				return n[i]
			}
			return otherwise
		}
		var own matrix
		switch strings.TrimSpace(name) {
		case "matrix":
			if len(n) != 6 {
				return m, fmt.Errorf("the transform %q needs six numbers", s)
			}
			copy(own[:], n)
		case "translate":
			own = matrix{1, 0, 0, 1, arg(0, 0), arg(1, 0)}
		case "scale":
			own = matrix{arg(0, 1), 0, 0, arg(1, arg(0, 1)), 0, 0}
		case "rotate":
			a := arg(0, 0) * math.Pi / 180
			c, sn := math.Cos(a), math.Sin(a)
			x, y := arg(1, 0), arg(2, 0)
			own = matrix{1, 0, 0, 1, x, y}.mul(matrix{c, sn, -sn, c, 0, 0}).mul(matrix{1, 0, 0, 1, -x, -y})
		case "skewX":
			own = matrix{1, 0, math.Tan(arg(0, 0) * math.Pi / 180), 1, 0, 0}
		case "skewY":
			own = matrix{1, math.Tan(arg(0, 0) * math.Pi / 180), 0, 1, 0, 0}
		default:
			return m, fmt.Errorf("the transform %q is not known", name)
		}
		m = m.mul(own)
		rest = after
	}
	return m, nil
}

func numbersIn(s string) (out []float64) {
	p := pathScanner{s: s}
	for {
		v, ok := p.number()
		if !ok {
			return out
		}
		out = append(out, v)
	}
}

func (g *gather) shape(name string, at map[string]string, m matrix) error {
	num := func(key string) float64 {
		v := numbersIn(at[key])
		if len(v) == 0 {
			return 0
		}
		return v[0]
	}
	put := func(points []plane.Point, closed bool) error {
		out := make([]plane.Point, len(points))
		for i, p := range points {
			out[i] = m.apply(p)
		}
		if closed {
			g.ring(out)
		} else {
			g.open(out)
		}
		return g.points(len(points))
	}
	// flattened in user units so fine that they are right in mm
	fine := max(m.scale(), 1e-9)
	round := func(cx, cy, rx, ry float64) error {
		points := arc(plane.Point{cx * fine, cy * fine}, rx*fine, ry*fine, 0, 0, 2*math.Pi)
		for i := range points {
			points[i] = plane.Point{points[i][0] / fine, points[i][1] / fine}
		}
		return put(points, true)
	}
	switch name {
	case "rect":
		x, y, w, h := num("x"), num("y"), num("width"), num("height")
		if w <= 0 || h <= 0 {
			return nil
		}
		return put([]plane.Point{{x, y}, {x + w, y}, {x + w, y + h}, {x, y + h}}, true)
	case "circle":
		return round(num("cx"), num("cy"), num("r"), num("r"))
	case "ellipse":
		return round(num("cx"), num("cy"), num("rx"), num("ry"))
	case "polygon", "polyline":
		n := numbersIn(at["points"])
		var points []plane.Point
		for i := 0; i+1 < len(n); i += 2 {
			points = append(points, plane.Point{n[i], n[i+1]})
		}
		return put(points, name == "polygon")
	case "path":
		return parsePath(at["d"], fine, put)
	}
	return nil
}

// parsePath reads path data; scale is how many mm a user unit is.
func parsePath(d string, scale float64, put func([]plane.Point, bool) error) error {
	p := pathScanner{s: d}
	var points []plane.Point
	var at, start, control plane.Point
	var command, last byte
	flush := func(closed bool) error {
		defer func() { points = nil }()
		if len(points) < 2 {
			return nil
		}
		return put(points, closed)
	}
	line := func(q plane.Point) { points = append(points, q); at = q }
	curve := func(a, b, c plane.Point) { // cubic
		from := at
		// from the second differences: how far a chord of n pieces is off
		dev := math.Hypot(from[0]-2*a[0]+b[0], from[1]-2*a[1]+b[1]) + math.Hypot(a[0]-2*b[0]+c[0], a[1]-2*b[1]+c[1])
		n := int(math.Ceil(math.Sqrt(0.75 * dev * scale / Tolerance)))
		n = max(1, min(n, 500))
		for i := 1; i <= n; i++ {
			t := float64(i) / float64(n)
			u := 1 - t
			line(plane.Point{
				u*u*u*from[0] + 3*u*u*t*a[0] + 3*u*t*t*b[0] + t*t*t*c[0],
				u*u*u*from[1] + 3*u*u*t*a[1] + 3*u*t*t*b[1] + t*t*t*c[1],
			})
		}
	}
	for {
		if c, ok := p.letter(); ok {
			command = c
		} else if p.end() {
			break
		} else if command == 0 {
			return errors.New("a path does not begin with a move")
		}
		rel := command >= 'a'
		base := plane.Point{}
		if rel {
			base = at
		}
		bad := false
		num := func() float64 {
			v, ok := p.number()
			bad = bad || !ok
			return v
		}
		pair := func() plane.Point { x := num(); y := num(); return plane.Point{base[0] + x, base[1] + y} }
		kind := command &^ 0x20
		switch kind {
		case 'M':
			if err := flush(false); err != nil {
				return err
			}
			q := pair()
			at, start = q, q
			points = []plane.Point{q}
			command -= 'M' - 'L' // further pairs are lines
		case 'L':
			line(pair())
		case 'H':
			line(plane.Point{base[0] + num(), at[1]})
		case 'V':
			line(plane.Point{at[0], base[1] + num()})
		case 'C':
			a, b, c := pair(), pair(), pair()
			curve(a, b, c)
			control = b
		case 'S':
			a := at
			if last == 'C' || last == 'S' {
				a = plane.Point{2*at[0] - control[0], 2*at[1] - control[1]}
			}
			b, c := pair(), pair()
			curve(a, b, c)
			control = b
		case 'Q', 'T':
			var q plane.Point
			if kind == 'Q' {
				q = pair()
			} else if last == 'Q' || last == 'T' {
				q = plane.Point{2*at[0] - control[0], 2*at[1] - control[1]}
			} else {
				q = at
			}
			c, from := pair(), at
			curve(
				plane.Point{from[0] + 2*(q[0]-from[0])/3, from[1] + 2*(q[1]-from[1])/3},
				plane.Point{c[0] + 2*(q[0]-c[0])/3, c[1] + 2*(q[1]-c[1])/3},
				c,
			)
			control = q
		case 'A':
			rx, ry, tilt := math.Abs(num()), math.Abs(num()), num()*math.Pi/180
			large, sweep := p.flag(&bad), p.flag(&bad)
			to := pair()
			if !bad {
				for _, q := range ellipticArc(at, to, rx, ry, tilt, large, sweep, scale) {
					line(q)
				}
				line(to)
			}
		case 'Z':
			if err := flush(true); err != nil {
				return err
			}
			at = start
			points = []plane.Point{start}
			command = 0
		default:
			return fmt.Errorf("the path command %q is not known", string(command))
		}
		if bad {
			return errors.New("a path breaks off in the middle of a command")
		}
		last = kind
		if command == 0 {
			if _, ok := p.peek(); !ok {
				break
			}
		}
	}
	return flush(false)
}

// ellipticArc follows SVG 1.1, appendix F.6.5: from end points to the centre.
func ellipticArc(from, to plane.Point, rx, ry, tilt float64, large, sweep bool, scale float64) []plane.Point {
	if rx == 0 || ry == 0 || from == to {
		return nil
	}
	c, s := math.Cos(tilt), math.Sin(tilt)
	dx, dy := (from[0]-to[0])/2, (from[1]-to[1])/2
	x, y := c*dx+s*dy, -s*dx+c*dy
	if l := x*x/(rx*rx) + y*y/(ry*ry); l > 1 {
		rx, ry = rx*math.Sqrt(l), ry*math.Sqrt(l)
	}
	f := math.Sqrt(math.Max(0, (rx*rx*ry*ry-rx*rx*y*y-ry*ry*x*x)/(rx*rx*y*y+ry*ry*x*x)))
	if large == sweep {
		f = -f
	}
	cx, cy := f*rx*y/ry, -f*ry*x/rx
	centre := plane.Point{c*cx - s*cy + (from[0]+to[0])/2, s*cx + c*cy + (from[1]+to[1])/2}
	a := math.Atan2((y-cy)/ry, (x-cx)/rx)
	b := math.Atan2((-y-cy)/ry, (-x-cx)/rx)
	turn := b - a
	if sweep && turn < 0 {
		turn += 2 * math.Pi
	} else if !sweep && turn > 0 {
		turn -= 2 * math.Pi
	}
	out := arc(plane.Point{centre[0] * scale, centre[1] * scale}, rx*scale, ry*scale, tilt, a, turn)
	for i := range out {
		out[i] = plane.Point{out[i][0] / scale, out[i][1] / scale}
	}
	return out[:len(out)-1]
}

// pathScanner cuts path data into letters and numbers.
type pathScanner struct {
	s string
	i int
}

func (p *pathScanner) space() {
	for p.i < len(p.s) && strings.IndexByte(" ,\t\r\n\f", p.s[p.i]) >= 0 {
		p.i++
	}
}

func (p *pathScanner) end() bool { p.space(); return p.i >= len(p.s) }

func (p *pathScanner) peek() (byte, bool) {
	if p.end() {
		return 0, false
	}
	return p.s[p.i], true
}

func (p *pathScanner) letter() (byte, bool) {
	c, ok := p.peek()
	if !ok || !(c >= 'a' && c <= 'z' || c >= 'A' && c <= 'Z') {
		return 0, false
	}
	p.i++
	return c, true
}

func (p *pathScanner) flag(bad *bool) bool {
	c, ok := p.peek()
	if !ok || c != '0' && c != '1' {
		*bad = true
		return false
	}
	p.i++
	return c == '1'
}

func (p *pathScanner) number() (float64, bool) {
	p.space()
	from, dot, exp := p.i, false, false
	for ; p.i < len(p.s); p.i++ {
		c := p.s[p.i]
		switch {
		case c >= '0' && c <= '9':
		case (c == '-' || c == '+') && (p.i == from || p.s[p.i-1] == 'e' || p.s[p.i-1] == 'E'):
		case c == '.' && !dot && !exp:
			dot = true
		case (c == 'e' || c == 'E') && p.i > from && !exp:
			exp = true
		default:
			goto out
		}
	}
out:
	v, err := strconv.ParseFloat(p.s[from:p.i], 64)
	if err != nil {
		p.i = from
		return 0, false
	}
	return v, true
}
