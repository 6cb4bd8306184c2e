package plane

import (
	"iter"
	"slices"
)

// An edge between dots starts at a corner and runs right, down, left or up;
// on its left and right hand lie the dots.
var (
	steps = [4][2]int{{1, 0}, {0, 1}, {-1, 0}, {0, -1}}
	left  = [4][2]int{{0, -1}, {0, 0}, {-1, 0}, {-1, -1}}
	right = [4][2]int{{0, 0}, {-1, 0}, {-1, -1}, {0, -1}}
)

// Borders follows the edges between part and paper from corner to corner of
// the dots, with the part on the left hand. Where four dots meet crosswise
// the part is not joined over the corner.
func Borders(mask []bool, width, height int) [][][2]int {
	var loops [][][2]int
	for loop := range EachBorder(mask, width, height) {
		loops = append(loops, slices.Clone(loop))
	}
	return loops
}

// EachBorder is Borders, one edge at a time; a loop is only good until the
// next is asked for.
func EachBorder(mask []bool, width, height int) iter.Seq[[][2]int] {
	return func(yield func([][2]int) bool) { borders(mask, width, height, yield) }
}

func borders(mask []bool, width, height int, yield func([][2]int) bool) {
	in := func(x, y int) bool { return x >= 0 && y >= 0 && x < width && y < height && mask[y*width+x] }
	edge := func(x, y, d int) bool {
		return in(x+left[d][0], y+left[d][1]) && !in(x+right[d][0], y+right[d][1])
	}
	seen := make([]uint8, (width+1)*(height+1))
	var loop [][2]int
	for y := range height + 1 {
		for x := range width + 1 {
			for d := range 4 {
				if seen[y*(width+1)+x]&(1<<d) != 0 || !edge(x, y, d) {
					continue
				}
				loop = loop[:0]
				cx, cy, cd := x, y, d
				for seen[cy*(width+1)+cx]&(1<<cd) == 0 {
					seen[cy*(width+1)+cx] |= 1 << cd
					loop = append(loop, [2]int{cx, cy})
					cx, cy = cx+steps[cd][0], cy+steps[cd][1]
					for _, turn := range [3]int{3, 0, 1} { // left first: it keeps to its own dot
						if next := (cd + turn) % 4; edge(cx, cy, next) {
							cd = next
							break
						}
					}
				}
				if !yield(loop) {
					return
				}
			}
		}
	}
}

// Outlines follows the border of a figure that is known at dots: its middle
// is at whole numbers x and y, and in tells between them what belongs to the
// figure. It runs as [Borders] does, through where the border passes between
// two dots, to a thirtieth of their distance.
func Outlines(mask []bool, width, height int, in func(x, y float64) bool) [][]Point {
	const halvings = 5
	var out [][]Point
	for _, loop := range Borders(mask, width, height) {
		ring := make([]Point, len(loop))
		for i, c := range loop {
			next := loop[(i+1)%len(loop)]
			d := 0
			for c[0]+steps[d][0] != next[0] || c[1]+steps[d][1] != next[1] {
				d++
			}
			p := Point{float64(c[0] + left[d][0]), float64(c[1] + left[d][1])}
			q := Point{float64(c[0] + right[d][0]), float64(c[1] + right[d][1])}
			for range halvings {
				if m := (Point{(p[0] + q[0]) / 2, (p[1] + q[1]) / 2}); in(m[0], m[1]) {
					p = m
				} else {
					q = m
				}
			}
			ring[i] = Point{(p[0] + q[0]) / 2, (p[1] + q[1]) / 2}
		}
		out = append(out, ring)
	}
	return out
}
