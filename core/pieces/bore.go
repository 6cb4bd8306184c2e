package pieces

import (
	"math"

	"bathyform/core/grid"
	"bathyform/core/mesh"

	"gonum.org/v1/gonum/spatial/r3"
)

// Bore is a channel of round section that is cast into the rubber: as wide as
// Wide at its first place and, where it tapers, as Rim at its last.
type Bore struct {
	Path      []r3.Vec // mesh coordinates
	Wide, Rim float64  // mm; no Rim where it is as wide all along
	Half      r3.Vec   // the way to the side that it is cut into, where it is half round
	Flat      r3.Vec   // across the strip that it is, where it is one
	Thick     float64  // mm of the strip
	Volume    float64  // mm³ that it holds, but for what others hold at its joints
}

// seen is the width of the narrowest bore that the lattice can shape, in cells.
const seen = 2.5

// bore takes the rubber out where channels run that the lattice can shape, and
// says how much that is, mm³. Thinner ones are left to the drill.
func (d *division) bore(all []Bore, frame grid.Frame) (volume float64) {
	for _, b := range all {
		if b.Wide < seen*d.Cell || b.Flat != (r3.Vec{}) && b.Thick < seen*d.Cell || len(b.Path) < 2 {
			continue
		}
		in := b
		in.Path = make([]r3.Vec, len(b.Path))
		for i, p := range b.Path {
			in.Path[i] = frame.In(p)
		}
		in.Half, in.Flat = frame.In(b.Half), frame.In(b.Flat)
		low, high := in.bounds()
		d.bores = append(d.bores, bored{in, low, high, in.Length()})
		volume += b.Volume
	}
	for n := range d.bores {
		b := &d.bores[n]
		from, to := d.cellOf(b.low), d.cellOf(b.high)
		for i := max(0, from[0]); i <= min(d.NX-1, to[0]+1); i++ {
			for j := max(0, from[1]); j <= min(d.NY-1, to[1]+1); j++ {
				for k := max(0, from[2]); k <= min(d.NZ-1, to[2]+1); k++ {
					p := d.Index(i, j, k)
					if o := d.owner[p]; o > part && b.beyond(d.At(i, j, k), b.long) < 0 {
						if o >= sideFirst {
							d.sides[o-sideFirst].bored = true
						}
						d.owner[p] = outside
					}
				}
			}
		}
	}
	return volume
}

// unlike leaves side pieces that a channel runs through to themselves: the
// others of their kind are like one that none runs through.
func (d *division) unlike(order int) {
	instead := map[int]int{} // by the piece that others are like, both from 1
	for i := range d.sides {
		s := &d.sides[i]
		of := s.like
		switch {
		case of == 0:
			continue
		case s.bored:
			s.like = 0
		case d.sides[of-1].bored:
			if instead[of] == 0 {
				instead[of], s.like = i+1, 0
				continue
			}
			first := &d.sides[instead[of]-1]
			s.like, s.steps = instead[of], ((s.steps-first.steps)%order+order)%order
		}
	}
}

func (d *division) cellOf(p r3.Vec) [3]int {
	q := r3.Scale(1/d.Cell, r3.Sub(p, d.Low))
	return [3]int{int(math.Floor(q.X)), int(math.Floor(q.Y)), int(math.Floor(q.Z))}
}

func (b Bore) bounds() (low, high r3.Vec) {
	low, high = b.Path[0], b.Path[0]
	for _, p := range b.Path {
		low = r3.Vec{X: min(low.X, p.X), Y: min(low.Y, p.Y), Z: min(low.Z, p.Z)}
		high = r3.Vec{X: max(high.X, p.X), Y: max(high.Y, p.Y), Z: max(high.Z, p.Z)}
	}
	r := max(b.Wide, b.Rim) / 2
	by := r3.Vec{X: r, Y: r, Z: r}
	return r3.Sub(low, by), r3.Add(high, by)
}

// bored is a bore that the rubber is without, in the frame of the draw, with the
// box round it and its length.
type bored struct {
	Bore
	low, high r3.Vec
	long      float64
}

// near is whether a place lies in the box round the bore.
func (b *bored) near(p r3.Vec) bool {
	return p.X >= b.low.X && p.Y >= b.low.Y && p.Z >= b.low.Z && p.X <= b.high.X && p.Y <= b.high.Y && p.Z <= b.high.Z
}

// Length is that of its path, mm.
func (b Bore) Length() (whole float64) {
	for i := 1; i < len(b.Path); i++ {
		whole += r3.Norm(r3.Sub(b.Path[i], b.Path[i-1]))
	}
	return whole
}

// beyond is how far a place lies outside the bore of a whole length, negative
// inside. Bends are
// round; the ends are plane.
func (b *Bore) beyond(p r3.Vec, whole float64) float64 {
	gone, least := 0.0, math.Inf(1)
	for i := 1; i < len(b.Path); i++ {
		run := r3.Sub(b.Path[i], b.Path[i-1])
		long := r3.Norm(run)
		if long == 0 {
			continue
		}
		along := r3.Dot(r3.Sub(p, b.Path[i-1]), run) / long
		t := max(0, min(long, along))
		r := b.Wide / 2
		if b.Rim > 0 {
			r += (b.Rim - b.Wide) / 2 * (gone + t) / whole
		}
		d := r3.Norm(r3.Sub(p, r3.Add(b.Path[i-1], r3.Scale(t/long, run)))) - r
		if i == 1 {
			d = max(d, -along)
		}
		if i == len(b.Path)-1 {
			d = max(d, along-long)
		}
		least = min(least, d)
		gone += long
	}
	if b.Half != (r3.Vec{}) {
		least = max(least, -r3.Dot(b.Half, r3.Sub(p, b.Path[0])))
	}
	if b.Flat != (r3.Vec{}) {
		least = max(least, math.Abs(r3.Dot(b.Flat, r3.Sub(p, b.Path[0])))-b.Thick/2)
	}
	return least
}

// Body is the rod that leaves the bore: a closed tube of so many sides, mitred at
// its bends. It is nil for a half-round one, which is of clay, and for a strip,
// which is of card or tape.
func (b Bore) Body(sides int) *mesh.Mesh {
	if b.Half != (r3.Vec{}) || b.Flat != (r3.Vec{}) || len(b.Path) < 2 {
		return nil
	}
	along := func(i int) r3.Vec { return r3.Unit(r3.Sub(b.Path[i], b.Path[i-1])) }
	first := along(1)
	side := r3.Vec{X: 1}
	if math.Abs(first.X) > 0.7 {
		side = r3.Vec{Y: 1}
	}
	u := r3.Unit(r3.Cross(first, side))
	w := r3.Cross(first, u)
	m := &mesh.Mesh{Vertices: []r3.Vec{b.Path[0]}}
	ring := make([]r3.Vec, sides)
	for k := range ring {
		sin, cos := math.Sincos(2 * math.Pi * float64(k) / float64(sides))
		ring[k] = r3.Add(b.Path[0], r3.Scale(b.Wide/2, r3.Add(r3.Scale(cos, u), r3.Scale(sin, w))))
	}
	last := len(b.Path) - 1
	for i := range b.Path {
		if i > 0 { // carried on to the plane that halves the bend
			d, n := along(i), along(i)
			if i < last {
				n = r3.Unit(r3.Add(d, along(i+1)))
			}
			for k, p := range ring {
				if b.Rim > 0 {
					p = r3.Add(b.Path[0], r3.Scale(b.Rim/b.Wide, r3.Sub(p, b.Path[0])))
				}
				ring[k] = r3.Add(p, r3.Scale(r3.Dot(n, r3.Sub(b.Path[i], p))/r3.Dot(n, d), d))
			}
		}
		m.Vertices = append(m.Vertices, ring...)
	}
	m.Vertices = append(m.Vertices, b.Path[last])
	at := func(i, k int) int32 { return int32(1 + i*sides + k%sides) }
	end := int32(len(m.Vertices) - 1)
	for k := range sides {
		m.Triangles = append(m.Triangles, [3]int32{0, at(0, k+1), at(0, k)}, [3]int32{end, at(last, k), at(last, k+1)})
		for i := 1; i <= last; i++ {
			m.Triangles = append(m.Triangles, [3]int32{at(i-1, k), at(i-1, k+1), at(i, k)}, [3]int32{at(i-1, k+1), at(i, k+1), at(i, k)})
		}
	}
	return m
}
