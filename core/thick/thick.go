// Package thick measures how thick a part is, place by place.
//
// The thickness under a point of the surface is the diameter of the largest
// ball that touches the surface there from inside and is stopped by a
// surface facing it (shrinking ball, after Ma, Bae and Choi 2012, from
// memory). A ball follows tapers and rounds, where a ray straight through
// would measure the slant; and because only a facing surface stops it, the
// ball beside an edge does not call a thick block thin: the edge's own ball
// is the neighbour's. Nothing is thicker than the largest ball that goes into
// the part at all.
package thick

import (
	"cmp"
	"context"
	"math"
	"runtime"
	"slices"
	"sync"

	"bathyform/core/mesh"

	"gonum.org/v1/gonum/spatial/r3"
)

// Cosines of the angle between two outward normals beyond which the surfaces
// face one another. Of a part, 150 degrees: the sides of an edge do not, but
// for a feather edge of less than 30 degrees, which is thin indeed. Of the
// free space outside, 97 degrees: rubber has to run into a groove of any but
// a square angle.
const (
	facing  = -0.866
	grooves = -0.12
)

// Map is the thickness of a part.
type Map struct {
	Face []float64 // of each triangle at its middle, mm; +Inf where there is no inside
	Area []float64 // of each triangle, mm²
	stop []int32   // triangle that stops the ball of each, -1 for none

	Thinnest, Thickest Place
	Median             float64 // half of the surface is thinner
}

// Place is a thickness and where it is.
type Place struct {
	Thickness float64 // mm
	At        r3.Vec  // on the surface
	Area      float64 // of surface that is about as thin or thick, mm²
}

// The surface that a thin place must have: in squares of its own thickness,
// which a short neck has, and in triangles of the mesh as they are on average,
// since single slivers say nothing about a wall.
const (
	speck   = 0.5
	slivers = 8.0
)

// Fine is a part's surface in triangles small enough to be measured one by
// one: their longest edge goes so often into the part.
func Fine(m *mesh.Mesh) *mesh.Mesh {
	box := m.Bounds()
	size := r3.Sub(box.Max, box.Min)
	fine, _ := m.Refined(max(size.X, size.Y, size.Z) / fineParts)
	return fine
}

const fineParts = 36

// Of measures a closed part as it comes; it ends early with ctx.
func Of(ctx context.Context, m *mesh.Mesh) (Map, error) { return Measure(ctx, Fine(m)) }

// Measure takes the thickness of a closed part at the middle of every triangle,
// unless ctx ends before.
func Measure(ctx context.Context, m *mesh.Mesh) (Map, error) {
	return measure(ctx, m, math.Inf(1), false)
}

// Gaps takes the width of the free space over every triangle the same way,
// from outside, up to a width of limit mm: where rubber must run into a
// recess or a groove of the master. Wider ones are +Inf.
func Gaps(ctx context.Context, m *mesh.Mesh, limit float64) (Map, error) {
	return measure(ctx, m, limit, true)
}

func measure(ctx context.Context, m *mesh.Mesh, limit float64, outside bool) (Map, error) {
	n := len(m.Triangles)
	out := Map{Face: make([]float64, n), Area: make([]float64, n), stop: make([]int32, n)}
	normals := make([]r3.Vec, n)
	for t := range m.Triangles {
		a, b, c := m.Corners(t)
		v := r3.Cross(r3.Sub(b, a), r3.Sub(c, a))
		if length := r3.Norm(v); length > 0 {
			normals[t], out.Area[t] = r3.Scale(1/length, v), length/2
			if outside {
				normals[t] = r3.Scale(-1, normals[t])
			}
		}
	}
	tree := mesh.NewTree(m)
	across := bodiesAcross(m)
	order := tree.Nearby()
	// of a fine mesh, one triangle in a few neighbours is measured and the others start from its ball
	run := max(1, (n+measured-1)/measured)
	const chunk = 256
	next := make(chan int)
	var wg sync.WaitGroup
	for range max(1, runtime.GOMAXPROCS(0)) {
		wg.Go(func() {
			angle := math.Acos(facing)
			if outside {
				angle = math.Acos(grooves)
			}
			for from := range next {
				for k := from; k < min(from+chunk*run, n) && ctx.Err() == nil; k += run {
					lead := int(order[k])
					most := min(across(lead, outside), limit/2)
					thickness, stop := ball(m, tree, normals, lead, most, angle, outside)
					out.Face[lead], out.stop[lead] = thickness, stop
					for _, t := range order[k+1 : min(k+run, n)] {
						var ok bool
						out.stop[t] = stop
						if out.Face[t], ok = beside(m, normals, int(t), lead, stop, thickness); !ok {
							out.Face[t], out.stop[t] = ball(m, tree, normals, int(t), most, angle, outside)
						}
					}
				}
			}
		})
	}
	for from := 0; from < n; from += chunk * run {
		next <- from
	}
	close(next)
	wg.Wait()
	var largest Ball
	if !outside {
		if largest = largestBall(ctx, m, tree, normals, out.Face); largest.Radius > 0 {
			out.bounded(ctx, m, tree, normals, order, largest)
		}
	}
	if err := ctx.Err(); err != nil {
		return Map{}, err
	}
	out.summarise(m, largest)
	return out, nil
}

const (
	measured = 9_000  // triangles up to which each is measured by itself
	alike    = 0.94   // cosine of the angle up to which neighbours face alike: 20 degrees
	flat     = 0.9995 // cosine up to which they lie in one plane: 2 degrees
	slack    = 0.012  // share by which a ball may be too large
)

// ball shrinks the ball that touches triangle t at its middle until no facing
// surface reaches into it: the least |p-q|² / (2 (p-q)·n) over the points q
// of facing triangles is its radius. It also tells which triangle stops it,
// -1 if none does.
func ball(m *mesh.Mesh, tree *mesh.Tree, normals []r3.Vec, t int, most, angle float64, outside bool) (float64, int32) {
	n := normals[t]
	if n == (r3.Vec{}) {
		return math.Inf(1), -1
	}
	a, b, c := m.Corners(t)
	return ballAt(m, tree, normals, r3.Scale(1.0/3, r3.Add(a, r3.Add(b, c))), n, most, angle, outside)
}

// ballAt is the ball that touches the surface at p, whose normal is n there.
func ballAt(m *mesh.Mesh, tree *mesh.Tree, normals []r3.Vec, p, n r3.Vec, most, angle float64, outside bool) (float64, int32) {
	near := math.Cos(angle)
	faces := func(i int32) bool { return r3.Dot(normals[i], n) < near }
	across, stop := tree.Ray(p, r3.Scale(-1, n), faces)
	start := min(across/2, most) // the ball cannot be larger than this
	outward := n                 // Least asks by the triangles' own normals
	if outside {
		outward = r3.Scale(-1, n)
	}
	r := tree.Least(start, slack, outward, angle, func(b *r3.Box) float64 {
		dx, dy, dz := max(b.Min.X-p.X, 0, p.X-b.Max.X), max(b.Min.Y-p.Y, 0, p.Y-b.Max.Y), max(b.Min.Z-p.Z, 0, p.Z-b.Max.Z)
		deepest := max(
			(p.X-b.Min.X)*n.X,
			(p.X-b.Max.X)*n.X,
		) + max(
			(p.Y-b.Min.Y)*n.Y,
			(p.Y-b.Max.Y)*n.Y,
		) + max(
			(p.Z-b.Min.Z)*n.Z,
			(p.Z-b.Max.Z)*n.Z,
		)
		if deepest <= 0 {
			return math.Inf(1)
		}
		return (dx*dx + dy*dy + dz*dz) / (2 * deepest)
	}, func(i int32, best float64) float64 {
		a, b, c := m.Corners(int(i))
		for range 8 {
			centre := r3.Sub(p, r3.Scale(best, n))
			d := r3.Sub(p, mesh.NearestOnTriangle(centre, a, b, c))
			depth := r3.Dot(d, n)
			if depth <= 1e-9*most { // touches from behind: no inside between them
				return best
			}
			r := r3.Norm2(d) / (2 * depth)
			if r >= best*(1-1e-4) {
				return best
			}
			best, stop = r, i
		}
		return best
	})
	if r >= most*(1-1e-9) {
		return math.Inf(1), -1
	}
	return 2 * r, stop
}

// beside is the ball of a triangle near one that was measured: on a flat wall
// stopped by the plane that stopped that one, round a bend as large; not ok
// where the two differ so much that it has to be measured itself.
func beside(m *mesh.Mesh, normals []r3.Vec, t, lead int, stop int32, thickness float64) (float64, bool) {
	n := normals[t]
	same := r3.Dot(n, normals[lead])
	if stop < 0 || same < alike {
		return 0, false
	}
	if same < flat { // round the same bend
		return thickness, true
	}
	wall := normals[stop]
	plane := func(t int) float64 {
		a, b, c := m.Corners(t)
		p := r3.Scale(1.0/3, r3.Add(a, r3.Add(b, c)))
		return r3.Dot(r3.Sub(m.Vertices[m.Triangles[stop][0]], p), wall) / (1 - r3.Dot(normals[t], wall))
	}
	ratio := plane(t) / plane(lead)
	return ratio * thickness, ratio > 0.7 && ratio < 1.4
}

// summarise finds the thinnest and the thickest place.
func (out *Map) summarise(m *mesh.Mesh, largest Ball) {
	order := make([]int, 0, len(out.Face))
	var total float64
	for t, h := range out.Face {
		if !math.IsInf(h, 1) && out.Area[t] > 0 {
			order = append(order, t)
			total += out.Area[t]
		}
	}
	if len(order) == 0 {
		return
	}
	slices.SortFunc(order, func(a, b int) int { return cmp.Or(cmp.Compare(out.Face[a], out.Face[b]), a-b) })
	middle := func(t int) r3.Vec {
		a, b, c := m.Corners(t)
		return r3.Scale(1.0/3, r3.Add(a, r3.Add(b, c)))
	}
	var sum float64
	for _, t := range order {
		if sum += out.Area[t]; sum >= 0.5*total {
			out.Median = out.Face[t]
			break
		}
	}
	// the thinnest of which there is more than a speck up to a tenth thicker
	low, end, about := order[0], 0, 0.0
	for _, t := range order {
		h := out.Face[t]
		for end < len(order) && out.Face[order[end]] <= 1.1*h {
			about += out.Area[order[end]]
			end++
		}
		if about >= max(speck*h*h, slivers*total/float64(len(order))) || about >= 0.5*total {
			low = t
			break
		}
		about -= out.Area[t]
	}
	out.Thinnest = Place{out.Face[low], middle(low), out.AreaBetween(0, out.Face[low]*1.1)}
	if largest.Radius > 0 {
		h := 2 * largest.Radius
		out.Thickest = Place{h, largest.Touches, out.AreaBetween(0.9*h, math.Inf(1))}
		return
	}
	high := order[len(order)-1]
	out.Thickest = Place{out.Face[high], middle(high), out.AreaBetween(out.Face[high]*0.9, math.Inf(1))}
}

// AreaBetween is the surface whose thickness lies from low to high mm.
func (out Map) AreaBetween(low, high float64) (area float64) {
	for t, h := range out.Face {
		if h >= low && h <= high && !math.IsInf(h, 1) {
			area += out.Area[t]
		}
	}
	return area
}

// Bin is a share of the surface in a range of thickness.
type Bin struct {
	Low, High float64 // mm
	Share     float64
}

// Distribution sorts the surface into n ranges of thickness.
func (out Map) Distribution(n int) []Bin {
	low, high := out.Thinnest.Thickness, out.Thickest.Thickness
	if n < 1 || !(high > 0) {
		return nil
	}
	bins := make([]Bin, n)
	for i := range bins {
		bins[i].Low = low + (high-low)*float64(i)/float64(n)
		bins[i].High = low + (high-low)*float64(i+1)/float64(n)
	}
	var total float64
	for t, h := range out.Face {
		if math.IsInf(h, 1) {
			continue
		}
		i := 0
		if high > low {
			i = int(math.Floor((h - low) / (high - low) * float64(n)))
		}
		bins[max(0, min(i, n-1))].Share += out.Area[t]
		total += out.Area[t]
	}
	for i := range bins {
		bins[i].Share /= max(total, math.SmallestNonzeroFloat64)
	}
	return bins
}
