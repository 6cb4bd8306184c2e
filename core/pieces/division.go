package pieces

import (
	"context"
	"maps"
	"slices"

	"bathyform/core/grid"
	"bathyform/core/parallel"

	"gonum.org/v1/gonum/spatial/r3"
)

// division is who owns which point.
type division struct {
	*block
	sheet *sheet
	sides []side
	owner []int16
	kept  map[int]int16 // locked points that one half holds, on whichever side of the sheet they lie
	bores []bored       // that the rubber is without, in the frame of the draw
}

// keep leaves a locked space to the halves that let go of it most easily.
func (d *division) keep(s space) {
	if d.kept == nil {
		d.kept = make(map[int]int16)
	}
	for i, half := range s.kept {
		d.kept[s.points[i]] = half
	}
}

// divide gives every point to the part, a side piece or a half.
func (d *division) divide() {
	d.owner = make([]int16, d.Points())
	solid := d.eroded(func(p int) bool { return d.part[p] })
	locked := make(map[int]int16)
	for n := range d.sides {
		for _, p := range d.sides[n].points {
			locked[p] = sideFirst + int16(n)
		}
	}
	rows(d.NY, func(j int) {
		for i := range d.NX {
			for k := range d.NZ {
				p := d.Index(i, j, k)
				at := d.At(i, j, k)
				switch {
				case d.part[p]:
					d.owner[p] = part
				case d.beyond(at) > 0:
					d.owner[p] = outside
				default:
					d.owner[p] = d.rubber(p, at, solid, locked)
				}
			}
		}
	})
}

// rows does the same to n rows of the lattice on all processors.
func rows(n int, work func(j int)) {
	_ = parallel.Each(context.Background(), n, n, func(j int) error {
		work(j)
		return nil
	}, nil)
}

func (d *division) rubber(p int, at r3.Vec, solid []bool, locked map[int]int16) int16 {
	if n, ok := locked[p]; ok {
		return n
	}
	for n := range d.sides {
		if s := &d.sides[n]; s.depth(at) < 0 && d.leaves(at, s.dir, solid) {
			return sideFirst + int16(n)
		}
	}
	if half, ok := d.kept[p]; ok {
		return half
	}
	if d.sheet.side(at) < 0 {
		return upper
	}
	return lower
}

// speck is how many points of part by themselves are put down to the lattice.
const speck = 30

// gather leaves every piece in one body: crumbs that the lattice cut off go
// to the piece that they touch most, hollows that no rubber reaches to the
// part. It reports whether there were any.
func (d *division) gather() (changed bool) {
	steps := d.steps()
	body := make([]int32, len(d.owner))
	var sizes []int
	var whose []int16
	for p, o := range d.owner {
		if o < part || body[p] != 0 {
			continue
		}
		id := int32(len(sizes) + 1)
		body[p] = id
		queue := []int{p}
		for n := 0; n < len(queue); n++ {
			for _, s := range steps {
				if q := queue[n] + s; q >= 0 && q < len(body) && d.owner[q] == o && body[q] == 0 {
					body[q] = id
					queue = append(queue, q)
				}
			}
		}
		sizes, whose = append(sizes, len(queue)), append(whose, o)
	}
	largest := map[int16]int32{}
	for i, o := range whose {
		if l, ok := largest[o]; !ok || sizes[i] > sizes[l-1] {
			largest[o] = int32(i + 1)
		}
	}
	touches := make(map[int32]map[int16]int)
	for p, id := range body {
		if id == 0 || largest[d.owner[p]] == id || d.owner[p] == part && sizes[id-1] > speck {
			continue
		}
		if touches[id] == nil {
			touches[id] = map[int16]int{}
		}
		for _, s := range steps {
			if o := d.owner[p+s]; o > part && o != d.owner[p] {
				touches[id][o]++
			}
		}
	}
	for p, id := range body {
		of, ok := touches[id]
		if !ok {
			continue
		}
		to, most := part, 0
		for o, n := range of {
			if n > most || n == most && o < to {
				to, most = o, n
			}
		}
		d.owner[p], changed = to, true
	}
	return changed
}

// mostlyFreed is the share of an undercut from which side pieces free it.
const mostlyFreed = 0.8

// filled is the share of a locked space that side pieces fill, and which of
// them fills the most.
func (d *division) filled(s space) (by int16, share float64) {
	filled := 0
	each := make(map[int16]int)
	for _, p := range s.points {
		if o := d.owner[p]; o >= sideFirst {
			filled++
			if each[o]++; by == 0 || each[o] > each[by] || each[o] == each[by] && o < by {
				by = o
			}
		}
	}
	return by, float64(filled) / float64(len(s.points))
}

// threadedStill reports whether what side pieces leave of a space still closes
// on itself through the part: a body of it that opens to the half that holds
// it in two places or more.
func (d *division) threadedStill(s space) bool {
	const (
		worth = 12 // points that a body must have
		mouth = 3  // and that each of its mouths must
	)
	locked := make(map[int]bool, len(s.points))
	var left []int
	for _, p := range s.points {
		locked[p] = true
		if o := d.owner[p]; o == upper || o == lower {
			left = append(left, p)
		}
	}
	steps := d.steps()
	for _, body := range d.bodies(left) {
		if len(body) < worth {
			continue
		}
		who := d.owner[body[0]]
		open := make(map[int]bool) // free points of the same half beside it
		for _, p := range body {
			for _, st := range steps {
				if q := p + st; q >= 0 && q < len(d.owner) && d.owner[q] == who && !locked[q] {
					open[q] = true
				}
			}
		}
		if d.patches(open, mouth) > 1 {
			return true
		}
	}
	return false
}

// patches is into how many groups points fall that touch over faces, edges or corners.
func (d *division) patches(points map[int]bool, least int) (n int) {
	order := make([]int, 0, len(points))
	for p := range points {
		order = append(order, p)
	}
	slices.Sort(order)
	left := maps.Clone(points)
	x, y := d.Index(1, 0, 0), d.Index(0, 1, 0)
	for _, start := range order {
		if !left[start] {
			continue
		}
		delete(left, start)
		group := []int{start}
		for k := 0; k < len(group); k++ {
			for a := -1; a <= 1; a++ {
				for b := -1; b <= 1; b++ {
					for c := -1; c <= 1; c++ {
						if q := group[k] + a*x + b*y + c; left[q] {
							delete(left, q)
							group = append(group, q)
						}
					}
				}
			}
		}
		if len(group) >= least {
			n++
		}
	}
	return n
}

// field is how far a place is outside an owner's body, the part left aside.
func (d *division) field(who int16, p r3.Vec) float64 {
	f := d.beyond(p)
	for i := range d.bores {
		if b := &d.bores[i]; b.near(p) {
			f = max(f, -b.beyond(p, b.long))
		}
	}
	for n := range d.sides {
		depth := d.sides[n].depth(p)
		if who == sideFirst+int16(n) {
			return max(f, depth)
		}
		f = max(f, -depth) // the pieces before it were cut out already
	}
	if who == upper {
		return max(f, d.sheet.side(p))
	}
	return max(f, -d.sheet.side(p))
}

// piece shapes an owner's body and draws it out.
func (d *division) piece(who int16, name string, dir r3.Vec, frame grid.Frame, order int) Piece {
	m := grid.Dual(d.Lattice, func(p int) bool { return d.owner[p] == who }, func(i, j, k, axis int, forward bool) grid.Hit {
		return d.hit(who, i, j, k, axis, forward)
	})
	for i, p := range m.Vertices {
		m.Vertices[i] = frame.Out(p)
	}
	out := Piece{Name: name, Draw: frame.Out(dir), Order: order, Mesh: m, Volume: m.Volume()}
	out.Catches, out.Stripped = d.drawn(who, dir)
	return out
}

// copy is a piece whose body is another's, turned: only how it leaves is asked.
func (d *division) copy(who int16, name string, dir r3.Vec, frame grid.Frame, order int) Piece {
	out := Piece{Name: name, Draw: frame.Out(dir), Order: order}
	out.Catches, out.Stripped = d.drawn(who, dir)
	return out
}

// hit finds where an owner's body ends on an edge of the lattice: at the
// part, or where its own bounds are.
func (d *division) hit(who int16, i, j, k, axis int, forward bool) grid.Hit {
	step := d.Cell
	if !forward {
		step = -step
	}
	along := [3]r3.Vec{{X: step}, {Y: step}, {Z: step}}[axis]
	from := d.At(i, j, k)
	share, normal, met := d.meets(i, j, k, axis, forward)
	if d.field(who, from) < 0 {
		lo, hi := 0.0, 1.0
		if met {
			hi = share
		}
		if d.field(who, r3.Add(from, r3.Scale(hi, along))) >= 0 {
			for range 20 { // a millionth of a cell
				mid := (lo + hi) / 2
				if d.field(who, r3.Add(from, r3.Scale(mid, along))) < 0 {
					lo = mid
				} else {
					hi = mid
				}
			}
			at := r3.Add(from, r3.Scale((lo+hi)/2, along))
			return grid.Hit{At: at, Normal: d.slope(who, at)}
		}
	}
	if met {
		return grid.Hit{At: r3.Add(from, r3.Scale(share, along)), Normal: r3.Scale(-1, normal)}
	}
	// where one piece leaves off because another is in its way there is only the lattice to go by
	return grid.Hit{At: r3.Add(from, r3.Scale(0.5, along)), Normal: r3.Scale(1/d.Cell, along)}
}

func (d *division) slope(who int16, p r3.Vec) r3.Vec {
	h := 1e-4 * d.Cell
	g := r3.Vec{
		X: d.field(who, r3.Add(p, r3.Vec{X: h})) - d.field(who, r3.Sub(p, r3.Vec{X: h})),
		Y: d.field(who, r3.Add(p, r3.Vec{Y: h})) - d.field(who, r3.Sub(p, r3.Vec{Y: h})),
		Z: d.field(who, r3.Add(p, r3.Vec{Z: h})) - d.field(who, r3.Sub(p, r3.Vec{Z: h})),
	}
	if n := r3.Norm(g); n > 0 {
		return r3.Scale(1/n, g)
	}
	return r3.Vec{Z: 1}
}
