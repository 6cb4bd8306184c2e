package pieces

import (
	"math"

	"gonum.org/v1/gonum/spatial/r3"
)

// drawn moves a piece out along its draw, with the pieces that leave after it
// still in place, and measures what of it meets them or the part. What is
// undercut between part and part along the draw is counted apart for the
// halves: it is stripped.
//
// Only what is sure in spite of the lattice counts: points that lie a cell
// inside, on bodies that do.
func (d *division) drawn(who int16, dir r3.Vec) (catches, stripped float64) {
	if who < sideFirst {
		return d.parted(who), d.undercut(who)
	}
	cell := d.Cell * d.Cell * d.Cell
	blocked := d.eroded(func(p int) bool { return d.part[p] || d.after(who, d.owner[p]) })
	own := d.eroded(func(p int) bool { return d.owner[p] == who })
	for j := 1; j < d.NY-1; j++ {
		for i := 1; i < d.NX-1; i++ {
			for k := 1; k < d.NZ-1; k++ {
				p := d.Index(i, j, k)
				if !own[p] {
					continue
				}
				if !d.leaves(d.At(i, j, k), dir, blocked) {
					catches += cell
				}
			}
		}
	}
	return catches, 0
}

// parted is what of a half meets the half that is still in place: column by
// column, since halves leave along the columns.
func (d *division) parted(who int16) (catches float64) {
	for c := range d.NX * d.NY {
		in := false // something that stays was met on the way out
		for n := range d.NZ {
			p := c*d.NZ + n
			if who == upper {
				p = c*d.NZ + d.NZ - 1 - n
			}
			if d.after(who, d.owner[p]) {
				in = in || !d.sheet.snapped(d.At(c%d.NX, c/d.NX, p-c*d.NZ))
			} else if in && d.owner[p] == who {
				catches += d.Cell * d.Cell * d.Cell
			}
		}
	}
	return catches
}

// after reports whether an owner's piece is still in place when who's is drawn:
// side pieces go first in their order, then half A, then half B.
func (d *division) after(who, other int16) bool {
	turn := func(o int16) int {
		switch {
		case o == upper:
			return len(d.sides) + 1
		case o == lower:
			return len(d.sides) + 2
		case o >= sideFirst:
			return int(o-sideFirst) + 1
		}
		return 0
	}
	return turn(other) > turn(who)
}

// undercut is how much of a half lies behind the part along its draw: over
// every column, exact in height.
func (d *division) undercut(who int16) (volume float64) {
	for j := range d.NY {
		for i := range d.NX {
			line := d.lines[2][j*d.NX+i]
			for g := 1; g+1 < len(line); g += 2 {
				lo, hi := line[g].at, line[g+1].at
				h := d.sheet.at(r3.Vec{X: d.Low.X + float64(i)*d.Cell, Y: d.Low.Y + float64(j)*d.Cell})
				if who == upper {
					lo = max(lo, h)
				} else {
					hi = min(hi, h)
				}
				if hi <= lo {
					continue
				}
				mine, all := 0, 0
				for k := max(0, int(math.Ceil((lo-d.Low.Z)/d.Cell))); k <= min(d.NZ-1, int(math.Floor((hi-d.Low.Z)/d.Cell))); k++ {
					all++
					if d.owner[d.Index(i, j, k)] == who {
						mine++
					}
				}
				if all > 0 {
					volume += (hi - lo) * float64(mine) / float64(all) * d.Cell * d.Cell
				}
			}
		}
	}
	return volume
}
