package mesh

import (
	"bathyform/core/quantity"
	"fmt"
	"math"
	"strings"
	"sync"

	"gonum.org/v1/gonum/spatial/r3"
)

// Report says what a mesh file holds and how far its figures can be trusted.
type Report struct {
	Format      Format
	Unit        Unit    `json:",omitempty"` // as the file itself says
	Triangles   int     // in the file
	Volume      float64 // mm³ of the solid itself: hollows taken off, what bodies share counted once
	VolumeError float64 // mm³, 0 when the mesh closes
	Hollow      float64 // mm³ of closed hollows inside, which no rubber reaches
	Overlap     float64 // mm³ that bodies which run into one another share
	OverlapErr  float64 // mm³, by how much that may be off
	Cast        float64 // mm³ that a casting has: hollows full
	Area        float64 // mm²
	Bounds      r3.Box  // mm
	Edges       Edges   // as found in the file
	Bodies      int     // surfaces that hang together over edges
	Voids       int     // bodies that are hollows inside another
	Hollows     []int32 `json:"-"` // triangles of the mesh in use that bound hollows, or lie in one
	Sound       bool    // the mesh in use encloses its volume, after the repairs told in Warnings
	Warnings    []string
}

// Examine measures the mesh of a file and mends what can be mended without
// guessing: hairline gaps are joined, triangles wound the wrong way and
// bodies that are inside out are turned, doubled triangles are dropped, and
// holes are closed flat. The mended mesh is what the later stages use; the
// report counts the edges as they were found.
func Examine(f *File) (*Mesh, Report) {
	m := f.Mesh
	r := Report{Format: f.Format, Unit: f.Unit, Triangles: f.Triangles, Warnings: append([]string(nil), f.Notes...)}
	warn := func(format string, args ...any) { r.Warnings = append(r.Warnings, fmt.Sprintf(format, args...)) }
	if f.Collapsed > 0 {
		warn("%s no area and %s left out", quantity.Plural(f.Collapsed, "triangle has", "triangles have"), wasWere(f.Collapsed))
	}

	table := m.edgeTable()
	edges, of, n, volume, area := m.survey(table)
	r.Edges = edges
	again := func() {
		table = m.edgeTable()
		edges, of, n, volume, area = m.survey(table)
	}
	if edges.Open > 0 {
		tol := hairline(m.Bounds())
		if joined := m.joinRims(table.rim(), tol); joined > 0 {
			warn(
				"%s within %.3g mm of another on a gap and %s joined to it",
				quantity.Plural(joined, "corner lay", "corners lay"),
				tol,
				wasWere(joined),
			)
			again()
			r.Edges = edges
		}
	}
	if edges.NonManifold > 0 {
		same, opposite := m.dropDoubled()
		if same > 0 {
			warn("%s twice; the second copy was left out", quantity.Plural(same, "triangle lies", "triangles lie"))
			again()
		}
		if opposite > 0 {
			warn("%s back to back with another: a wall without thickness", quantity.Plural(opposite, "triangle lies", "triangles lie"))
		}
	}
	if edges.Misoriented > 0 {
		turned := m.alignWindings(table)
		warn(
			"%s the other way round than its neighbours and %s turned",
			quantity.Plural(turned, "triangle faces", "triangles face"),
			wasWere(turned),
		)
		again()
	}
	sound := edges
	r.Bodies, r.Volume, r.Area = n, volume, area
	inverted, voids := 0, 0
	var within shared
	if n == 1 && sound.Open == 0 { // the usual case: the sign of the whole says it all
		if r.Volume < 0 {
			inverted = 1
			for t := range m.Triangles {
				m.turn(t)
			}
			r.Volume = -r.Volume
		}
	} else {
		var b bodies
		inverted, voids, b = m.orientBodies(of, n)
		r.Volume = m.Volume()
		r.Hollow, r.Hollows = b.hollow(of)
		if n <= nestingLimit {
			within = m.sharedBy(b.parts)
		}
	}
	r.Voids = voids
	if inverted > 0 {
		warn("%s inside out and %s turned", quantity.Plural(inverted, "body was", "bodies were"), wasWere(inverted))
	}
	if voids > 0 {
		warn(
			"%s inside the part: no rubber reaches there, and castings come out solid there",
			quantity.Plural(voids, "closed hollow lies", "closed hollows lie"),
		)
	}

	if within.volume > 0 {
		r.Overlap, r.OverlapErr = within.volume, within.err
		warn("%s: the %.4g mm³ that they share are counted once, to within %.2g mm³", runInto(within.pairs), r.Overlap, r.OverlapErr)
	}
	r.Bounds = m.Bounds()
	r.Sound = sound.Closed() || sound.NonManifold > 0 && sound.Open == 0 && table.balanced()
	if sound.Open > 0 {
		r.Volume, r.VolumeError = m.OpenVolume()
		capped, holes := m.Capped()
		m = capped
		r.Sound = m.edgeTable().balanced()
		warn("the surface has %s; the volume is right to within %.2g mm³", quantity.Plural(holes, "hole", "holes"), r.VolumeError)
	}
	r.Volume -= r.Overlap
	r.Cast = r.Volume + r.Hollow
	if r.Overlap > 0 {
		r.Sound = false // air is traced on a grid, which counts bodies once
	}
	if sound.NonManifold > 0 {
		warn("%s by more than two triangles", quantity.Plural(sound.NonManifold, "edge is used", "edges are used"))
	}
	if isFlat(r.Volume, r.Area) {
		warn("the mesh encloses no volume")
	}
	return m, r
}

// survey looks at the edges and measures the surface at the same time.
func (m *Mesh) survey(table edgeTable) (edges Edges, of []int32, bodies int, volume, area float64) {
	var wg sync.WaitGroup
	wg.Go(func() { volume, area = m.VolumeAndArea() })
	edges, of, bodies = table.survey(len(m.Triangles))
	wg.Wait()
	return edges, of, bodies, volume, area
}

// isFlat tells a surface that encloses nothing from a thin part: a plate a
// millionth as thick as it is wide is no part.
func isFlat(volume, area float64) bool {
	return area == 0 || math.Abs(volume) < 1e-7*math.Pow(area, 1.5)
}

// Flat reports whether the mesh encloses no volume worth the name.
func (r Report) Flat() bool { return isFlat(r.Volume, r.Area) }

// hairline is the widest gap that counts as rounding and not as a hole: a
// few steps of float32 at the size of the part.
func hairline(box r3.Box) float64 {
	far := max(r3.Norm(box.Min), r3.Norm(box.Max))
	return max(4*far*math.Pow(2, -23), 1e-6*r3.Norm(r3.Sub(box.Max, box.Min)))
}

// runInto names bodies that share room.
func runInto(pairs [][2]int) string {
	const most = 4
	var names []string
	for _, p := range pairs[:min(most, len(pairs))] {
		names = append(names, fmt.Sprintf("%d and %d", p[0]+1, p[1]+1))
	}
	more := ""
	if len(pairs) > most {
		more = fmt.Sprintf(" and %d pairs more", len(pairs)-most)
	}
	return "bodies " + strings.Join(names, ", ") + more + " run into one another"
}

func wasWere(n int) string {
	if n == 1 {
		return "was"
	}
	return "were"
}

// dropDoubled leaves out triangles that repeat another with the same winding
// and counts them and those that lie on another with the opposite winding.
func (m *Mesh) dropDoubled() (same, opposite int) {
	seen := make(map[[3]int32]uint8, len(m.Triangles))
	kept := m.Triangles[:0:0]
	for _, t := range m.Triangles {
		for t[0] > t[1] || t[0] > t[2] { // rotate the lowest corner to the front
			t[0], t[1], t[2] = t[1], t[2], t[0]
		}
		key, way := t, uint8(1)
		if key[1] > key[2] {
			key[1], key[2], way = key[2], key[1], 2
		}
		switch had := seen[key]; {
		case had&way != 0:
			same++
			continue
		case had != 0:
			opposite++
		}
		seen[key] |= way
		kept = append(kept, t)
	}
	m.Triangles = kept
	return same, opposite
}

// orientBodies turns bodies that are inside out. A body inside another keeps
// its winding relative to it: opposite winding makes it a void.
func (m *Mesh) orientBodies(of []int32, n int) (inverted, voids int, b bodies) {
	parts := make([]*Mesh, n)
	for i := range parts {
		parts[i] = &Mesh{Vertices: m.Vertices}
	}
	for t, b := range of {
		parts[b].Triangles = append(parts[b].Triangles, m.Triangles[t])
	}
	volume := make([]float64, n)
	for i, p := range parts {
		volume[i] = p.looseVolume()
	}
	turn := make([]bool, n)
	b = bodies{parts: parts, volume: volume, void: make([]bool, n)}
	if n == 1 {
		turn[0] = volume[0] < 0
	} else {
		shells := m.nesting(parts)
		for i := range parts {
			outer := shells[i] // outermost body around i, or i itself
			turn[i] = volume[outer] < 0
			if outer != i && (volume[i] < 0) != (volume[outer] < 0) {
				voids++
				b.void[i] = true
			}
		}
	}
	for i := range turn {
		if turn[i] {
			inverted++
		}
	}
	if inverted > 0 {
		for t, b := range of {
			if turn[b] {
				m.turn(t)
			}
		}
		for i, p := range parts {
			if turn[i] {
				volume[i] = -volume[i]
				for t := range p.Triangles {
					p.turn(t)
				}
			}
		}
	}
	return inverted, voids, b
}

// bodies are the surfaces of a mesh, each by itself, with their outsides out.
type bodies struct {
	parts  []*Mesh
	volume []float64 // six times, signed
	void   []bool    // a hollow inside another
}

// hollow is the room inside closed hollows, and the triangles that bound it
// or lie in it.
func (b bodies) hollow(of []int32) (volume float64, triangles []int32) {
	gone := make([]bool, len(b.parts))
	for i, void := range b.void {
		if !void {
			continue
		}
		gone[i] = true
		box := b.parts[i].usedBounds()
		for j, p := range b.parts {
			if j != i && holds(box, p.usedBounds()) && b.parts[i].encloses(p.Vertices[p.Triangles[0][0]]) {
				gone[j] = true
			}
		}
	}
	for i := range b.parts {
		if gone[i] {
			volume -= b.volume[i] / 6
		}
	}
	for t, i := range of {
		if gone[i] {
			triangles = append(triangles, int32(t))
		}
	}
	return volume, triangles
}

// Filled is a mesh without some of its triangles: as a casting has it, whose
// closed hollows are full.
func (m *Mesh) Filled(hollows []int32) *Mesh {
	if len(hollows) == 0 {
		return m
	}
	gone := make(map[int32]bool, len(hollows))
	for _, t := range hollows {
		gone[t] = true
	}
	return m.alone(func(t int) bool { return !gone[int32(t)] })
}

// alone is some of a mesh's triangles with no vertices but theirs.
func (m *Mesh) alone(keep func(t int) bool) *Mesh {
	out := &Mesh{}
	index := make(map[int32]int32)
	for t, tri := range m.Triangles {
		if !keep(t) {
			continue
		}
		for k, v := range tri {
			i, ok := index[v]
			if !ok {
				i = int32(len(out.Vertices))
				index[v] = i
				out.Vertices = append(out.Vertices, m.Vertices[v])
			}
			tri[k] = i
		}
		out.Triangles = append(out.Triangles, tri)
	}
	return out
}

// looseVolume is the signed volume of a body that shares its vertices with
// others; holes are closed when there are any, since the sign of an open
// surface's sum means nothing.
func (m *Mesh) looseVolume() float64 {
	centre := m.Vertices[m.Triangles[0][0]]
	var volume, area float64
	var open r3.Vec
	for t := range m.Triangles {
		a, b, c := m.Corners(t)
		normal := r3.Cross(r3.Sub(b, a), r3.Sub(c, a))
		volume += r3.Dot(r3.Sub(a, centre), normal)
		area += math.Sqrt(r3.Norm2(normal))
		open = r3.Add(open, normal)
	}
	if r3.Norm(open) > 1e-9*area {
		capped, _ := m.alone(func(int) bool { return true }).Capped()
		volume = 0
		for t := range capped.Triangles {
			a, b, c := capped.Corners(t)
			volume += r3.Dot(r3.Sub(a, centre), r3.Cross(r3.Sub(b, a), r3.Sub(c, a)))
		}
	}
	return volume
}

// nestingLimit bounds the search for bodies inside bodies; a mesh of more
// pieces is lattice or dust, and each piece is taken for itself.
const nestingLimit = 400

// nesting returns for each body the outermost body that holds it, itself when none does.
func (m *Mesh) nesting(parts []*Mesh) []int {
	n := len(parts)
	outer := make([]int, n)
	boxes := make([]r3.Box, n)
	for i, p := range parts {
		outer[i] = i
		boxes[i] = p.usedBounds()
	}
	if n > nestingLimit {
		return outer
	}
	for i := range parts {
		best := -1.0
		for j := range parts {
			if i == j || !holds(boxes[j], boxes[i]) {
				continue
			}
			size := r3.Norm(r3.Sub(boxes[j].Max, boxes[j].Min))
			if size > best && parts[j].encloses(m.Vertices[parts[i].Triangles[0][0]]) {
				outer[i], best = j, size
			}
		}
	}
	return outer
}

func (m *Mesh) usedBounds() r3.Box {
	inf := math.Inf(1)
	box := r3.Box{Min: r3.Vec{X: inf, Y: inf, Z: inf}, Max: r3.Vec{X: -inf, Y: -inf, Z: -inf}}
	for _, t := range m.Triangles {
		for _, i := range t {
			v := m.Vertices[i]
			box.Min = r3.Vec{X: min(box.Min.X, v.X), Y: min(box.Min.Y, v.Y), Z: min(box.Min.Z, v.Z)}
			box.Max = r3.Vec{X: max(box.Max.X, v.X), Y: max(box.Max.Y, v.Y), Z: max(box.Max.Z, v.Z)}
		}
	}
	return box
}

func holds(outer, inner r3.Box) bool {
	return outer.Min.X <= inner.Min.X && outer.Min.Y <= inner.Min.Y && outer.Min.Z <= inner.Min.Z &&
		outer.Max.X >= inner.Max.X && outer.Max.Y >= inner.Max.Y && outer.Max.Z >= inner.Max.Z
}

// encloses reports whether p lies inside, whichever way the body is wound.
func (m *Mesh) encloses(p r3.Vec) bool {
	var sum float64
	for t := range m.Triangles {
		a, b, c := m.Corners(t)
		sum += solidAngle(r3.Sub(a, p), r3.Sub(b, p), r3.Sub(c, p))
	}
	return math.Abs(sum) > 2*math.Pi
}

// Load parses a file of any known format, scales it to millimetres and
// examines it in one step.
func Load(data []byte, mmPerUnit float64) (*Mesh, Report, error) {
	f, err := Parse(data)
	if err != nil {
		return nil, Report{}, err
	}
	if f.Mesh == nil || len(f.Mesh.Triangles) == 0 {
		return nil, Report{}, fmt.Errorf("all %d triangles of the file are without area", f.Triangles)
	}
	f.Mesh = f.Mesh.Scaled(mmPerUnit)
	if err := f.Mesh.believable(); err != nil {
		return nil, Report{}, err
	}
	count := f.Triangles
	m, r := Examine(f)
	if len(m.Triangles) == 0 { // they collapsed when what lay next to one another was joined
		return nil, Report{}, fmt.Errorf("all %d triangles of the file are without area", count)
	}
	return m, r, nil
}

// farthest is how far from the origin the corners of a part may lie, mm.
const farthest = 1e7

// shortest is how long a part is at least, mm, in whatever unit it was drawn.
const shortest = 1e-3

// believable refuses numbers that no part has: they come of a broken file.
func (m *Mesh) believable() error {
	box := m.Bounds()
	far := max(-box.Min.X, -box.Min.Y, -box.Min.Z, box.Max.X, box.Max.Y, box.Max.Z)
	if far > farthest {
		return fmt.Errorf(
			"its corners lie up to %.3g mm away: that is no part that anyone casts. The file is damaged, or in another unit: "+
				"write it again where it was drawn, in millimetres",
			far,
		)
	}
	if size := r3.Sub(box.Max, box.Min); max(size.X, size.Y, size.Z) < shortest {
		return fmt.Errorf("it is %.3g mm long: that is no part that anyone casts. The file is in another unit: write it again "+
			"where it was drawn, in millimetres", max(size.X, size.Y, size.Z))
	}
	if n := m.layers(); n > mostLayers {
		return fmt.Errorf("its surfaces lie over one another %.0f-fold: thousands of bodies or loose facets run through one another. "+
			"Unite them in the program that drew the part, and export its outer skin", n)
	}
	return nil
}

// mostLayers is how many surfaces a straight line may pass on its way through
// a part, as a mean: a dense lattice has a hundred.
const mostLayers = 300

// layers is how many surfaces a line along one of the axes passes as a mean,
// along the axis where it passes most.
func (m *Mesh) layers() (most float64) {
	var seen r3.Vec
	for t := range m.Triangles {
		a, b, c := m.Corners(t)
		n := r3.Cross(r3.Sub(b, a), r3.Sub(c, a))
		seen = r3.Add(seen, r3.Vec{X: math.Abs(n.X) / 2, Y: math.Abs(n.Y) / 2, Z: math.Abs(n.Z) / 2})
	}
	box := m.Bounds()
	size := r3.Sub(box.Max, box.Min)
	for _, of := range [3][2]float64{{seen.X, size.Y * size.Z}, {seen.Y, size.Z * size.X}, {seen.Z, size.X * size.Y}} {
		if of[1] > 0 {
			most = max(most, of[0]/of[1])
		}
	}
	return most
}
