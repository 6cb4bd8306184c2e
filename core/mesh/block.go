package mesh

import "gonum.org/v1/gonum/spatial/r3"

// Block is a closed rectangular solid.
func Block(b r3.Box) *Mesh {
	m := &Mesh{}
	for i := range 8 {
		v := b.Min
		if i&1 != 0 {
			v.X = b.Max.X
		}
		if i&2 != 0 {
			v.Y = b.Max.Y
		}
		if i&4 != 0 {
			v.Z = b.Max.Z
		}
		m.Vertices = append(m.Vertices, v)
	}
	for _, q := range [6][4]int32{{0, 2, 3, 1}, {4, 5, 7, 6}, {0, 1, 5, 4}, {2, 6, 7, 3}, {0, 4, 6, 2}, {1, 3, 7, 5}} {
		m.Triangles = append(m.Triangles, [3]int32{q[0], q[1], q[2]}, [3]int32{q[0], q[2], q[3]})
	}
	return m
}
