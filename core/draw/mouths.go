package draw

import (
	"cmp"
	"math"
	"slices"

	"bathyform/core/forest"

	"gonum.org/v1/gonum/spatial/r3"
)

// Mouth is where a locked body opens to rubber that is free: one connected
// stretch of its surface, upright along the draw.
type Mouth struct {
	Area   float64 // mm²
	Above  float64 // mm² of it that opens to rubber over the part, which the upper half holds
	Below  float64 // mm² that opens to rubber under the part; the rest opens beside it
	Height float64 // the greatest, along the draw, mm
	Length float64 // along its line across the draw, mm
	Lo, Hi float64 // how far it reaches along the draw, in the frame, mm
	Centre r3.Vec  // mesh coordinates
	Out    r3.Vec  // unit vector the way it faces, across the draw, mesh coordinates
	Rings  int     // edges of the body, seen along the draw, that it runs round all the way
	Outer  bool    // one of them is the outermost
	Beside []Rim   // samples of where it opens beside the part

	middle r3.Vec // frame
	facing r3.Vec // frame, not of unit length
	sides  []bank
}

// bank is one column's side of a mouth: its area and the way the mouth faces
// there, in the frame.
type bank struct {
	area float64
	out  r3.Vec
}

// Rim is where a mouth opens at one place beside the part, in the frame.
type Rim struct{ X, Y, Lo, Hi float64 }

// rims is how many samples of a mouth are kept.
const rims = 32

// Form is how a locked body hangs together with the rest of the rubber and
// how it lies about the part.
type Form struct {
	Mouths []Mouth // the largest first
	Holes  int     // in the body as seen along the draw: posts of the part that run through it, and bores
}

// Threads is how many ways the rubber closes on itself through the part for a
// piece that holds the body by some of its mouths: no stretching frees it
// from these. Every mouth but one is a way through and every post a way
// round, but for those that a mouth goes all round: the piece slides over the
// end of what it lies round. (Mayer-Vietoris over the body, its mouths and
// the rest of the piece, which can be lifted off along the draw and so holds
// no loop of its own.)
func (f Form) Threads(by func(Mouth) bool) int {
	n, rings := 0, 0
	for _, m := range f.Mouths {
		if by(m) {
			n++
			rings += m.Rings
		}
	}
	return max(0, n-1) + f.Holes - min(rings, f.Holes)
}

// Round reports whether the body lies round the part and opens outwards, as a groove does.
func (f Form) Round() bool {
	return f.Holes > 0 && slices.ContainsFunc(f.Mouths, func(m Mouth) bool { return m.Outer })
}

// Bored reports whether it lies round a bore of the part and opens into it.
func (f Form) Bored() bool {
	return !f.Round() && slices.ContainsFunc(f.Mouths, func(m Mouth) bool { return m.Rings > 0 })
}

// face is a stretch of the side of a column through which a locked body opens.
type face struct {
	gap    int32
	side   int8 // of the column, as in around
	kind   int8
	lo, hi float64
}

const (
	beside int8 = iota
	above
	below
)

// Least of what counts, against the lattice's own crumbs: a mouth and a post
// in cells, and the share of an edge from which a mouth runs all round it.
const (
	leastMouth  = 1.5
	leastPost   = 4
	allRound    = 0.9
	smallBeside = 0.02 // of the largest mouth
)

// forms finds the mouths and holes of every body.
func (v *view) forms(body []int32) map[int32]Form {
	g := v.cols
	var faces []face
	for i := range v.gaps {
		a := &v.gaps[i]
		x, y := int(a.column)%g.NX, int(a.column)/g.NX
		for side, d := range around[:4] {
			nx, ny := x+d[0], y+d[1]
			put := func(kind int8, lo, hi float64) {
				if hi > lo {
					faces = append(faces, face{int32(i), int8(side), kind, lo, hi})
				}
			}
			if nx < 0 || ny < 0 || nx >= g.NX || ny >= g.NY || math.IsInf(v.first[ny*g.NX+nx], 1) {
				put(beside, a.lo, a.hi)
				continue
			}
			n := ny*g.NX + nx
			put(below, a.lo, min(a.hi, v.first[n]))
			if !v.oneSided {
				put(above, max(a.lo, v.last[n]), a.hi)
			}
		}
	}
	mouth := v.joined(faces, body)
	byBody := make(map[int32][]int)
	for i, f := range faces {
		byBody[body[f.gap]] = append(byBody[body[f.gap]], i)
	}
	gapsOf := make(map[int32][]int32)
	for i, root := range body {
		gapsOf[root] = append(gapsOf[root], int32(i))
	}
	out := make(map[int32]Form, len(gapsOf))
	for root, gaps := range gapsOf {
		out[root] = v.form(faces, byBody[root], mouth, gaps)
	}
	return out
}

// joined gives every face the index of one that stands for its mouth: faces
// of one body that meet at a corner of the lattice at the same height.
func (v *view) joined(faces []face, body []int32) []int32 {
	g := v.cols
	joined := forest.New(len(faces))
	corners := make(map[int32][]int32, len(faces))
	for i, f := range faces {
		c := int(v.gaps[f.gap].column)
		x, y := c%g.NX, c/g.NX
		ends := [4][2][2]int{{{1, 0}, {1, 1}}, {{0, 0}, {0, 1}}, {{0, 1}, {1, 1}}, {{0, 0}, {1, 0}}}[f.side]
		for _, e := range ends {
			at := int32((y+e[1])*(g.NX+1) + x + e[0])
			for _, o := range corners[at] {
				q := faces[o]
				if body[q.gap] == body[f.gap] && min(q.hi, f.hi) > max(q.lo, f.lo) {
					joined.Join(int32(i), o)
				}
			}
			corners[at] = append(corners[at], int32(i))
		}
	}
	return joined.Roots()
}

// form gathers one body's faces into mouths and counts the holes in its shadow.
func (v *view) form(faces []face, mine []int, mouth []int32, gaps []int32) Form {
	g := v.cols
	cell := g.Cell
	sums := make(map[int32]*Mouth)
	sides := make(map[int32]map[[2]int32]bool) // columns' sides that a mouth takes up
	for _, i := range mine {
		f := faces[i]
		m := sums[mouth[i]]
		if m == nil {
			m = &Mouth{Lo: math.Inf(1), Hi: math.Inf(-1)}
			sums[mouth[i]], sides[mouth[i]] = m, make(map[[2]int32]bool)
		}
		area := cell * (f.hi - f.lo)
		d := around[f.side]
		x, y := g.Centre(int(v.gaps[f.gap].column))
		m.Area += area
		switch f.kind {
		case above:
			m.Above += area
		case below:
			m.Below += area
		default:
			m.Beside = append(m.Beside, Rim{x + cell/2*float64(d[0]), y + cell/2*float64(d[1]), f.lo, f.hi})
		}
		m.Height = max(m.Height, f.hi-f.lo)
		m.Lo, m.Hi = min(m.Lo, f.lo), max(m.Hi, f.hi)
		m.middle = r3.Add(m.middle, r3.Scale(area, r3.Vec{X: x + cell/2*float64(d[0]), Y: y + cell/2*float64(d[1]), Z: (f.lo + f.hi) / 2}))
		m.facing = r3.Add(m.facing, r3.Scale(area, r3.Vec{X: float64(d[0]), Y: float64(d[1])}))
		sides[mouth[i]][[2]int32{v.gaps[f.gap].column, int32(f.side)}] = true
	}
	largest := 0.0
	for _, m := range sums {
		largest = max(largest, m.Area)
	}
	var form Form
	holes, edges := v.edgesOf(gaps)
	for key, m := range sums {
		if m.Area < min(leastMouth*cell*cell, largest) || m.Area < smallBeside*largest && m.Area < 12*cell*cell {
			continue
		}
		m.sides = v.banks(faces, mine, mouth, key)
		// a line in any direction crosses 4/π as many cell sides as it is long; a straight one is as long as its sides add up to
		var chord r3.Vec
		for side := range sides[key] {
			d := around[side[1]]
			chord = r3.Add(chord, r3.Vec{X: float64(d[0]), Y: float64(d[1])})
		}
		m.Length = cell * max(r3.Norm(chord), float64(len(sides[key]))*math.Pi/4)
		if n := len(m.Beside); n > rims {
			for i := range rims {
				m.Beside[i] = m.Beside[i*n/rims]
			}
			m.Beside = slices.Clone(m.Beside[:rims])
		}
		m.middle = r3.Scale(1/m.Area, m.middle)
		m.Centre = v.frame.Out(m.middle)
		if n := r3.Norm(m.facing); n > 0.05*m.Area {
			m.Out = v.frame.Out(r3.Scale(1/n, m.facing))
		}
		for loop, all := range edges {
			taken := 0
			for side := range all {
				if sides[key][side] {
					taken++
				}
			}
			if float64(taken) >= allRound*float64(len(all)) {
				m.Rings++
				m.Outer = m.Outer || loop == 0
			}
		}
		form.Mouths = append(form.Mouths, *m)
	}
	form.Holes = holes
	slices.SortFunc(form.Mouths, func(a, b Mouth) int {
		return cmp.Or(cmp.Compare(b.Area, a.Area), cmp.Compare(a.middle.X, b.middle.X), cmp.Compare(a.middle.Y, b.middle.Y),
			cmp.Compare(a.middle.Z, b.middle.Z))
	})
	return form
}

// banks are the sides of one mouth, with the way it faces at each smoothed
// over a few columns, so that the lattice's own steps do not count.
func (v *view) banks(faces []face, mine []int, mouth []int32, key int32) []bank {
	g := v.cols
	const reach = 3
	type at struct{ x, y int }
	sum := make(map[at]r3.Vec)
	for _, i := range mine {
		if mouth[i] != key {
			continue
		}
		c := int(v.gaps[faces[i].gap].column)
		d := around[faces[i].side]
		k := at{c % g.NX, c / g.NX}
		sum[k] = r3.Add(sum[k], r3.Scale(faces[i].hi-faces[i].lo, r3.Vec{X: float64(d[0]), Y: float64(d[1])}))
	}
	out := make([]bank, 0, len(sum))
	smooth := make(map[at]r3.Vec, len(sum))
	for k := range sum {
		var n r3.Vec
		for dy := -reach; dy <= reach; dy++ {
			for dx := -reach; dx <= reach; dx++ {
				n = r3.Add(n, sum[at{k.x + dx, k.y + dy}])
			}
		}
		if l := r3.Norm(n); l > 0 {
			smooth[k] = r3.Scale(1/l, n)
		}
	}
	for _, i := range mine {
		if mouth[i] == key {
			c := int(v.gaps[faces[i].gap].column)
			out = append(out, bank{g.Cell * (faces[i].hi - faces[i].lo), smooth[at{c % g.NX, c / g.NX}]})
		}
	}
	return out
}

// edgesOf are the closed edges of a body as seen along the draw, each as the
// sides of its columns, the outermost first, and how many holes they bound.
func (v *view) edgesOf(gaps []int32) (holes int, edges []map[[2]int32]bool) {
	m := v.maskOf(gaps)
	mark := make([]int32, len(m.in)) // of what is not the body: 1 the outside, 2 and up the holes
	id := int32(0)
	var sizes []int
	for start := range m.in {
		if m.in[start] || mark[start] != 0 {
			continue
		}
		id++
		mark[start] = id
		queue := []int{start}
		for n := 0; n < len(queue); n++ {
			x, y := queue[n]%m.nx, queue[n]/m.nx
			for _, d := range around {
				nx, ny := x+d[0], y+d[1]
				if nx < 0 || ny < 0 || nx >= m.nx || ny >= m.ny {
					continue
				}
				if q := ny*m.nx + nx; !m.in[q] && mark[q] == 0 {
					mark[q] = id
					queue = append(queue, q)
				}
			}
		}
		sizes = append(sizes, len(queue))
	}
	loops := make([]map[[2]int32]bool, id)
	for c, in := range m.in {
		if !in {
			continue
		}
		x, y := c%m.nx, c/m.nx
		for side, d := range around[:4] {
			if q := (y+d[1])*m.nx + x + d[0]; !m.in[q] {
				l := mark[q] - 1
				if loops[l] == nil {
					loops[l] = make(map[[2]int32]bool)
				}
				loops[l][[2]int32{int32((y+m.y0)*v.cols.NX + x + m.x0), int32(side)}] = true
			}
		}
	}
	edges = append(edges, loops[0]) // the mask has a rim all round, so that the outside comes first
	for l := 1; l < len(loops); l++ {
		if sizes[l] >= leastPost {
			edges = append(edges, loops[l])
			holes++
		}
	}
	return holes, edges
}

// mask is a body as seen along the draw, with a rim of one cell.
type mask struct {
	x0, y0, nx, ny int // of its corner in the columns, which may lie one outside, and its size
	in             []bool
}

func (v *view) maskOf(gaps []int32) mask {
	g := v.cols
	x0, y0, x1, y1 := g.NX, g.NY, 0, 0
	for _, i := range gaps {
		c := int(v.gaps[i].column)
		x0, x1 = min(x0, c%g.NX), max(x1, c%g.NX)
		y0, y1 = min(y0, c/g.NX), max(y1, c/g.NX)
	}
	m := mask{x0: x0 - 1, y0: y0 - 1, nx: x1 - x0 + 3, ny: y1 - y0 + 3}
	m.in = make([]bool, m.nx*m.ny)
	for _, i := range gaps {
		c := int(v.gaps[i].column)
		m.in[(c/g.NX-m.y0)*m.nx+c%g.NX-m.x0] = true
	}
	return m
}

// filled is the mask with its holes filled.
func (m mask) filled() mask {
	outside := make([]bool, len(m.in))
	queue := []int{0}
	outside[0] = true
	for n := 0; n < len(queue); n++ {
		x, y := queue[n]%m.nx, queue[n]/m.nx
		for _, d := range around[:4] {
			nx, ny := x+d[0], y+d[1]
			if nx < 0 || ny < 0 || nx >= m.nx || ny >= m.ny {
				continue
			}
			if q := ny*m.nx + nx; !m.in[q] && !outside[q] {
				outside[q] = true
				queue = append(queue, q)
			}
		}
	}
	out := m
	out.in = make([]bool, len(m.in))
	for i := range outside {
		out.in[i] = !outside[i]
	}
	return out
}
