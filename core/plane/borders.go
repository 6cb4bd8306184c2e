package plane

// Borders follows the edges between part and paper from corner to corner of
// the dots, with the part on the left hand. Where four dots meet crosswise
// the part is not joined over the corner.
func Borders(mask []bool, width, height int) [][][2]int {
	in := func(x, y int) bool { return x >= 0 && y >= 0 && x < width && y < height && mask[y*width+x] }
	// an edge starts at a corner and runs right, down, left or up
	step := [4][2]int{{1, 0}, {0, 1}, {-1, 0}, {0, -1}}
	// dots to the left and right hand of an edge that leaves corner x, y
	left := [4][2]int{{0, -1}, {0, 0}, {-1, 0}, {-1, -1}}
	right := [4][2]int{{0, 0}, {-1, 0}, {-1, -1}, {0, -1}}
	edge := func(x, y, d int) bool {
		return in(x+left[d][0], y+left[d][1]) && !in(x+right[d][0], y+right[d][1])
	}
	seen := make([]uint8, (width+1)*(height+1))
	var loops [][][2]int
	for y := range height + 1 {
		for x := range width + 1 {
			for d := range 4 {
				if seen[y*(width+1)+x]&(1<<d) != 0 || !edge(x, y, d) {
					continue
				}
				var loop [][2]int
				cx, cy, cd := x, y, d
				for seen[cy*(width+1)+cx]&(1<<cd) == 0 {
					seen[cy*(width+1)+cx] |= 1 << cd
					loop = append(loop, [2]int{cx, cy})
					cx, cy = cx+step[cd][0], cy+step[cd][1]
					for _, turn := range [3]int{3, 0, 1} { // left first: it keeps to its own dot
						if next := (cd + turn) % 4; edge(cx, cy, next) {
							cd = next
							break
						}
					}
				}
				loops = append(loops, loop)
			}
		}
	}
	return loops
}
