package key

import (
	"fmt"
	"math"
)

// Room is the plan that keys are placed in: a lattice of points, each with
// its distance to the nearest thing that a key must stay clear of.
type Room struct {
	X0, Y0, Cell float64
	NX, NY       int
	Away         []float64  // by y*NX+x, mm to part, wall, side piece or steep parting; negative within
	Box          [4]float64 // low and high x, low and high y of the block
	Bent         bool       // its walls are no rectangle
}

// Spot is a round place that is taken, such as a sprue.
type Spot struct{ X, Y, Radius float64 }

// Clearing is how a lattice of taken points becomes distances: every point's
// distance to the nearest taken one, by two sweeps of the parabola method
// (Felzenszwalb & Huttenlocher 2012), and to the walls.
func Clearing(x0, y0, cell float64, nx, ny int, taken []bool, box [4]float64, spots []Spot) Room {
	r := Room{X0: x0, Y0: y0, Cell: cell, NX: nx, NY: ny, Box: box, Away: make([]float64, nx*ny)}
	far := float64(nx*nx + ny*ny)
	sq := make([]float64, nx*ny)
	for i, t := range taken {
		if !t {
			sq[i] = far
		}
	}
	line := make([]float64, max(nx, ny))
	for j := range ny {
		parabolas(sq[j*nx:(j+1)*nx], 1, nx, line)
	}
	for i := range nx {
		parabolas(sq[i:], nx, ny, line)
	}
	for j := range ny {
		for i := range nx {
			x, y := r.at(i, j)
			d := (math.Sqrt(sq[j*nx+i]) - 1) * cell // the taken point may reach a cell towards this one
			d = min(d, x-box[0], box[1]-x, y-box[2], box[3]-y)
			for _, s := range spots {
				d = min(d, math.Hypot(x-s.X, y-s.Y)-s.Radius)
			}
			r.Away[j*nx+i] = d
		}
	}
	return r
}

func (r Room) at(i, j int) (x, y float64) { return r.X0 + float64(i)*r.Cell, r.Y0 + float64(j)*r.Cell }

// parabolas replaces every step-th value by the least of value + distance².
func parabolas(v []float64, step, n int, tmp []float64) {
	at := make([]int, n)
	from := make([]float64, n+1)
	k := 0
	at[0], from[0], from[1] = 0, math.Inf(-1), math.Inf(1)
	meet := func(p, q int) float64 {
		return ((v[q*step] + float64(q*q)) - (v[p*step] + float64(p*p))) / float64(2*(q-p))
	}
	for q := 1; q < n; q++ {
		s := meet(at[k], q)
		for s <= from[k] {
			k--
			s = meet(at[k], q)
		}
		k++
		at[k], from[k], from[k+1] = q, s, math.Inf(1)
	}
	k = 0
	for q := range n {
		for from[k+1] < float64(q) {
			k++
		}
		d := float64(q - at[k])
		tmp[q] = d*d + v[at[k]*step]
	}
	for q := range n {
		v[q*step] = tmp[q]
	}
}

// What keys are placed by; common practice, no source.
const (
	wall     = 2.5  // mm of rubber round a key
	largest  = 8.0  // mm, radius of a key at its foot
	smallest = 2.0  // mm
	most     = 8    // keys
	bigBlock = 90.0 // mm of a block's side that one more pair of keys is for
	spread   = 0.5  // of the block's diagonal, that the outermost keys should span
)

// Placed is the keys and what has to be said of them.
type Placed struct {
	Keys   []Key
	Volume float64 // mm³, of all
	Span   float64 // mm between the two that are farthest apart
	Short  string  // what is wrong with them; empty when they hold
}

// Place puts as many keys as hold, as large as have room and as far apart as
// they go, one of them unlike the rest.
func Place(r Room, c Choices) (Placed, error) {
	if err := c.Check(); err != nil {
		return Placed{}, err
	}
	kind := c.Kind
	if kind == "" {
		kind = Dome
	}
	var out Placed
	wide, deep := r.Box[1]-r.Box[0], r.Box[3]-r.Box[2]
	switch kind {
	case None:
		out.Short = "Nothing holds the halves against one another but the cut itself."
		return out, nil
	case Bevel:
		return placeBevel(r, c), nil
	}
	want := min(most, 4+2*int(max(wide, deep)/bigBlock/2))
	sizes := []float64{8, 7, 6, 5, 4, 3.5, 3, 2.5, smallest}
	if c.Size > 0 {
		sizes = []float64{c.Size}
	}
	for _, size := range sizes {
		out.Keys = r.scatter(kind, size, want)
		if len(out.Keys) >= 4 || len(out.Keys) >= 3 && size <= 3 {
			break
		}
	}
	for _, k := range out.Keys {
		out.Volume += k.Volume()
		for _, o := range out.Keys {
			out.Span = max(out.Span, math.Hypot(k.X-o.X, k.Y-o.Y))
		}
	}
	switch {
	case len(out.Keys) == 0:
		out.Short = "There is no room for a key between part and wall."
	case len(out.Keys) < 3:
		out.Short = fmt.Sprintf("Only %d keys have room; three hold a half against shifting and turning.", len(out.Keys))
	case out.Span < spread*math.Hypot(wide, deep):
		out.Short = "The keys stand close together and leave the far end free to shift."
	}
	return out, nil
}

// scatter places keys of one size, each as far as it can be from those before it.
func (r Room) scatter(kind Kind, size float64, want int) []Key {
	var out []Key
	gap := func(x, y float64) float64 {
		away := math.Inf(1)
		for _, k := range out {
			away = min(away, math.Hypot(x-k.X, y-k.Y)-k.Reach())
		}
		return away
	}
	midX, midY := (r.Box[0]+r.Box[1])/2, (r.Box[2]+r.Box[3])/2
	for len(out) < want {
		k := Key{Kind: kind, Radius: size}
		if len(out) == 0 { // the odd one first, while there is room
			k.Odd, k.Radius = true, min(size*oddScale, max(size, largest*oddScale))
		}
		best, found := 0.0, false
		for j := range r.NY {
			for i := range r.NX {
				if r.Away[j*r.NX+i] < k.Radius+wall {
					continue
				}
				x, y := r.at(i, j)
				far := min(gap(x, y)-k.Radius, 1e6)
				if far < wall {
					continue
				}
				if len(out) == 0 {
					far = math.Hypot(x-midX, y-midY) // into a corner
				}
				if far > best+1e-9 {
					best, found = far, true
					k.X, k.Y = x, y
				}
			}
		}
		if !found && k.Odd { // a smaller odd one, then
			if odd := r.first(kind, size*0.7); odd != nil {
				out = append(out, *odd)
				continue
			}
			return nil
		}
		if !found {
			break
		}
		if k.long() {
			k.Turn, found = r.turned(k)
			if !found {
				k.Kind = Dome
			}
		}
		out = append(out, k)
	}
	return out
}

// first finds a corner for a single key.
func (r Room) first(kind Kind, size float64) *Key {
	midX, midY := (r.Box[0]+r.Box[1])/2, (r.Box[2]+r.Box[3])/2
	best := -1.0
	var out *Key
	for j := range r.NY {
		for i := range r.NX {
			x, y := r.at(i, j)
			if d := math.Hypot(x-midX, y-midY); r.Away[j*r.NX+i] >= size+wall && d > best+1e-9 {
				best, out = d, &Key{Kind: kind, X: x, Y: y, Radius: size, Odd: true}
			}
		}
	}
	return out
}

// turned looks which way a bar has room.
func (r Room) turned(k Key) (float64, bool) {
	for n := range 8 {
		turn := float64(n) * math.Pi / 8
		sin, cos := math.Sincos(turn)
		ok := true
		for _, end := range []float64{-1, 1} {
			d := end * (barRatio - 1) * k.Radius
			i, j := int(math.Round((k.X+d*cos-r.X0)/r.Cell)), int(math.Round((k.Y+d*sin-r.Y0)/r.Cell))
			ok = ok && i >= 0 && j >= 0 && i < r.NX && j < r.NY && r.Away[j*r.NX+i] >= k.Radius+wall
		}
		if ok {
			return turn, true
		}
	}
	return 0, false
}

// placeBevel makes the rim as broad as the narrowest place beside the part allows.
func placeBevel(r Room, c Choices) Placed {
	if r.Bent {
		return Placed{Short: "A bevel is cut along straight walls: in this form of box take domes, bars or pins."}
	}
	size := c.Size
	if size == 0 {
		// the wall beside the part at its narrowest: half of it may be bevel
		room := math.Inf(1)
		for j := range r.NY {
			for i := range r.NX {
				if x, y := r.at(i, j); r.Away[j*r.NX+i] <= 0 && x > r.Box[0] && x < r.Box[1] && y > r.Box[2] && y < r.Box[3] {
					room = min(room, x-r.Box[0], r.Box[1]-x, y-r.Box[2], r.Box[3]-y)
				}
			}
		}
		size = min(8, room/2/bevelRun)
	}
	if !(size > 0.5) || math.IsInf(size, 0) {
		return Placed{Short: "There is no room for a bevel between part and wall."}
	}
	k := Key{Kind: Bevel, Radius: size, Inside: r.Box, X: r.Box[0], Y: r.Box[2]}
	return Placed{Keys: []Key{k}, Volume: k.Volume(), Span: math.Hypot(r.Box[1]-r.Box[0], r.Box[3]-r.Box[2]),
		Short: "A bevel alone closes more than one way round; mark the sides, or cut one corner off."}
}
