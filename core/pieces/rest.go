package pieces

import (
	"fmt"
	"math"
	"slices"

	"bathyform/core/grid"
	"bathyform/core/mesh"

	"gonum.org/v1/gonum/spatial/r3"
)

// Profile is what a part shows along a draw: where its outline may be parted,
// and how its section changes with height. The height of the parting follows
// from it alone, whatever is done with the mould afterwards.
type Profile struct {
	Low, High float64 // of the part along the draw, mm
	rims      []rim
	areas     [levels]float64 // mm² of the section at each level
	above     [levels]float64 // mm³ over each level
	volume    float64
}

// Rest is the height that a parting keeps to where the outline lets it.
type Rest struct {
	Height float64 // along the draw, mm
	Why    string
}

const (
	profileCells = 128  // columns along the longest side
	levels       = 256  // at which the section is measured
	sameSection  = 5e-4 // relative difference below which two sections count as equal
)

// Look takes a part's profile along a draw.
func Look(m *mesh.Mesh, draw r3.Vec) (Profile, error) {
	var p Profile
	frame, err := grid.NewFrame(draw)
	if err != nil {
		return p, fmt.Errorf("draw: %w", err)
	}
	at := make([]r3.Vec, len(m.Vertices))
	p.Low, p.High = math.Inf(1), math.Inf(-1)
	low, high := r3.Vec{X: math.Inf(1), Y: math.Inf(1)}, r3.Vec{X: math.Inf(-1), Y: math.Inf(-1)}
	for i, v := range m.Vertices {
		q := frame.In(v)
		at[i] = q
		p.Low, p.High = min(p.Low, q.Z), max(p.High, q.Z)
		low, high = r3.Vec{X: min(low.X, q.X), Y: min(low.Y, q.Y)}, r3.Vec{X: max(high.X, q.X), Y: max(high.Y, q.Y)}
	}
	p.volume = math.Abs(m.Volume())
	cols, err := grid.LayColumns(at, m.Triangles, max(high.X-low.X, high.Y-low.Y)/profileCells)
	if err != nil {
		return p, err
	}
	p.rims = rimsOf(cols)
	p.areas, p.above = sections(at, m.Triangles, p.Low, p.High)
	return p, nil
}

// rimsOf are the columns at the part's edge and how far a line may climb there.
func rimsOf(cols *grid.Columns) (rims []rim) {
	n := cols.NX * cols.NY
	lo, hi := make([]float64, n), make([]float64, n)
	full := make([]bool, n)
	var hits []grid.Crossing
	for c := range n {
		x, y := cols.Centre(c)
		hits = cols.Crossings(x, y, hits[:0])
		if line := outer(hits); len(line) > 0 {
			lo[c], hi[c], full[c] = line[0].at, line[len(line)-1].at, true
		}
	}
	for c := range n {
		if !full[c] {
			continue
		}
		i, j := c%cols.NX, c/cols.NX
		if i == 0 || j == 0 || i == cols.NX-1 || j == cols.NY-1 || !full[c-1] || !full[c+1] || !full[c-cols.NX] || !full[c+cols.NX] {
			rims = append(rims, rim{column: c, lo: lo[c], hi: hi[c]})
		}
	}
	return rims
}

// Rest is where the parting is nearest to the whole outline. Where a range of
// heights is as good, it is that of the greatest section; where that is as
// great over a range, the one at which the halves take the same rubber, in a
// box that reaches from low to high and has the area across the draw.
func (p Profile) Rest(seam Seam, low, high, across float64) Rest {
	if len(p.rims) == 0 {
		return Rest{(p.Low + p.High) / 2, "no outline was found along the draw: half way up the part"}
	}
	if seam != Flattest {
		heights := make([]float64, len(p.rims))
		for i, r := range p.rims {
			heights[i] = r.hi
			if seam == LowEdge {
				heights[i] = r.lo
			}
			if seam == MidWall {
				heights[i] = (r.lo + r.hi) / 2
			}
		}
		slices.Sort(heights)
		return Rest{heights[len(heights)/2], "most of the edges that it follows lie at this height"}
	}
	wide, why := p.widest(low, high, across)
	z, near := nearestLevel(p.rims, wide, 2*(p.High-p.Low)/levels)
	if !near {
		why = "nearest to the whole outline, which lies at different heights"
	}
	return Rest{z, why}
}

// widest is the height of the greatest section.
func (p Profile) widest(low, high, across float64) (z float64, why string) {
	most := slices.Max(p.areas[:])
	more := func(i int) float64 { // rubber of the upper half over the lower's, parted at a level
		at := p.levelAt(i)
		return across*(high-at) - p.above[i] - (across*(at-low) - (p.volume - p.above[i]))
	}
	bestOff, tied, before := math.Inf(1), 0, -2
	for i, a := range p.areas {
		if a < most*(1-sameSection) {
			continue
		}
		tied++
		off := more(i)
		if math.Abs(off) < bestOff {
			z, bestOff = p.levelAt(i), math.Abs(off)
		}
		if last := more(max(0, i-1)); before == i-1 && last*off < 0 { // even between these two
			z, bestOff = p.levelAt(i-1)+(p.levelAt(i)-p.levelAt(i-1))*last/(last-off), 0
		}
		before = i
	}
	if tied > levels/20 {
		return z, fmt.Sprintf("the outline across the draw is %.4g cm² over a range; here the rubber is shared evenly", most/100)
	}
	return z, fmt.Sprintf("the outline across the draw is greatest here, %.4g cm²", most/100)
}

func (p Profile) levelAt(i int) float64 { return p.Low + (p.High-p.Low)*(float64(i)+0.5)/levels }

// sections returns at each level the area of the section and the volume over
// it, for a mesh whose draw is z.
func sections(at []r3.Vec, triangles [][3]int32, low, high float64) (areas, above [levels]float64) {
	var plans, moments [levels + 1]float64 // of triangles wholly above level i-1
	step := (high - low) / levels
	levelAt := func(i int) float64 { return low + (high-low)*(float64(i)+0.5)/levels }
	for _, t := range triangles {
		a, b, c := at[t[0]], at[t[1]], at[t[2]]
		plan := r3.Cross(r3.Sub(b, a), r3.Sub(c, a)).Z / 2
		bottom, top := min(a.Z, b.Z, c.Z), max(a.Z, b.Z, c.Z)
		first := max(0, min(int(math.Ceil((bottom-low)/step-0.5)), levels)) // not below its lowest corner
		plans[first] += plan
		moments[first] += plan * (a.Z + b.Z + c.Z) / 3
		for i := first; i < levels; i++ {
			z := levelAt(i)
			if z >= top {
				break
			}
			areas[i] += mesh.PlanAbove(plan, a.Z-z, b.Z-z, c.Z-z)
			above[i] += mesh.PrismAbove(plan, a.Z-z, b.Z-z, c.Z-z)
		}
	}
	var plan, moment float64
	for i := levels - 1; i >= 0; i-- {
		plan += plans[i+1]
		moment += moments[i+1]
		areas[i] += plan
		above[i] += moment - plan*levelAt(i)
	}
	return areas, above
}
