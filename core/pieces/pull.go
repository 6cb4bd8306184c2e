package pieces

import (
	"math"
)

// missesBy is how far, in cells, the line may pass from a place that it is led
// through.
const missesBy = 2.0

// pull leads the line on a wall through a place: fully there, less and less
// along the outline, and no farther up or down than the wall goes. It is not ok
// where no wall lies there.
func (s *sheet) pull(rims []rim, heights []float64, p Pull) bool {
	b := s.block
	of := make(map[int]int, len(rims))
	near, best := math.Inf(1), -1
	for n, r := range rims {
		of[r.column] = n
		at := b.At(r.column%b.NX, r.column/b.NX, 0)
		// a place beside a wall counts by how far it lies from that wall, over its edges too
		if d := math.Hypot(math.Hypot(at.X-p.At.X, at.Y-p.At.Y), max(0, r.lo-p.At.Z, p.At.Z-r.hi)); d < near {
			near, best = d, n
		}
	}
	if best < 0 || near > missesBy*b.Cell {
		return false
	}
	// along the outline, so that the other side of a thin wall stays where it is
	away := map[int]float64{best: 0}
	for queue := []int{best}; len(queue) > 0; queue = queue[1:] {
		n := queue[0]
		c := rims[n].column
		for _, step := range [8]int{1, -1, b.NX, -b.NX, b.NX + 1, b.NX - 1, -b.NX + 1, -b.NX - 1} {
			o, ok := of[c+step]
			if !ok {
				continue
			}
			long := b.Cell
			if step != 1 && step != -1 && step != b.NX && step != -b.NX {
				long *= math.Sqrt2
			}
			if d := away[n] + long; d < p.Reach {
				if old, seen := away[o]; !seen || d < old-1e-9 {
					away[o] = d
					queue = append(queue, o)
				}
			}
		}
	}
	for n, d := range away {
		r := rims[n]
		keep := min((r.hi-r.lo)*0.1, b.Cell)
		share := 0.5 + 0.5*math.Cos(math.Pi*d/p.Reach)
		heights[n] = max(r.lo+keep, min(r.hi-keep, heights[n]+share*(p.At.Z-heights[n])))
	}
	return math.Abs(heights[best]-p.At.Z) <= missesBy*b.Cell
}
