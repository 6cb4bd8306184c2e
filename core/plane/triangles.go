package plane

// Triangles fills a simple anticlockwise ring with triangles of its corners,
// anticlockwise (ears cut off one by one; Meisters 1975).
func Triangles(r []Point) [][3]int32 {
	left := make([]int32, len(r))
	for i := range left {
		left[i] = int32(i)
	}
	var out [][3]int32
	cross := func(a, b, c int32) float64 {
		p, q, s := r[a], r[b], r[c]
		return (q[0]-p[0])*(s[1]-p[1]) - (q[1]-p[1])*(s[0]-p[0])
	}
	ear := func(k int) bool {
		n := len(left)
		a, b, c := left[(k+n-1)%n], left[k], left[(k+1)%n]
		if cross(a, b, c) <= 0 {
			return false
		}
		for _, p := range left {
			if p != a && p != b && p != c && cross(a, b, p) >= 0 && cross(b, c, p) >= 0 && cross(c, a, p) >= 0 {
				return false
			}
		}
		return true
	}
	for len(left) > 3 {
		at := -1
		for k := range left {
			if ear(k) {
				at = k
				break
			}
		}
		if at < 0 { // corners on one line: any of them may go
			at = 0
			for k := range left {
				n := len(left)
				if c := cross(left[(k+n-1)%n], left[k], left[(k+1)%n]); c == 0 {
					at = k
					break
				}
			}
		}
		n := len(left)
		out = append(out, [3]int32{left[(at+n-1)%n], left[at], left[(at+1)%n]})
		left = append(left[:at:at], left[at+1:]...)
	}
	if len(left) == 3 {
		out = append(out, [3]int32{left[0], left[1], left[2]})
	}
	return out
}
