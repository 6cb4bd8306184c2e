// Package meshtest makes meshes with known answers for tests: solids whose
// volume, area and trapped air can be worked out by hand.
package meshtest

import (
	"math"
	"math/rand/v2"

	"bathyform/core/mesh"
	"bathyform/core/plane"

	"gonum.org/v1/gonum/spatial/r3"
)

// Box is a block with its low corner at min and its high corner at max.
func Box(min, max r3.Vec) *mesh.Mesh {
	m := &mesh.Mesh{}
	for i := range 8 {
		v := min
		if i&1 != 0 {
			v.X = max.X
		}
		if i&2 != 0 {
			v.Y = max.Y
		}
		if i&4 != 0 {
			v.Z = max.Z
		}
		m.Vertices = append(m.Vertices, v)
	}
	for _, q := range [][4]int32{{0, 2, 3, 1}, {4, 5, 7, 6}, {0, 1, 5, 4}, {2, 6, 7, 3}, {0, 4, 6, 2}, {1, 3, 7, 5}} {
		m.Triangles = append(m.Triangles, [3]int32{q[0], q[1], q[2]}, [3]int32{q[0], q[2], q[3]})
	}
	return m
}

// Turned is the solid that a profile sweeps about the z axis. The profile
// lists radius and height pairs with the material on its left going on; it
// either starts and ends on the axis or is a closed ring clear of it (then
// the last point joins the first).
func Turned(n int, profile ...[2]float64) *mesh.Mesh {
	m := &mesh.Mesh{}
	rings := make([][]int32, len(profile))
	for i, p := range profile {
		if p[0] == 0 {
			m.Vertices = append(m.Vertices, r3.Vec{Z: p[1]})
			rings[i] = []int32{int32(len(m.Vertices) - 1)}
			continue
		}
		for k := range n {
			a := 2 * math.Pi * float64(k) / float64(n)
			m.Vertices = append(m.Vertices, r3.Vec{X: p[0] * math.Cos(a), Y: p[0] * math.Sin(a), Z: p[1]})
			rings[i] = append(rings[i], int32(len(m.Vertices)-1))
		}
	}
	join := func(lo, hi []int32) {
		for k := range n {
			next := (k + 1) % n
			switch {
			case len(lo) == 1 && len(hi) == 1:
			case len(lo) == 1:
				m.Triangles = append(m.Triangles, [3]int32{lo[0], hi[next], hi[k]})
			case len(hi) == 1:
				m.Triangles = append(m.Triangles, [3]int32{lo[k], lo[next], hi[0]})
			default:
				m.Triangles = append(m.Triangles, [3]int32{lo[k], lo[next], hi[next]}, [3]int32{lo[k], hi[next], hi[k]})
			}
		}
	}
	for i := 1; i < len(profile); i++ {
		join(rings[i-1], rings[i])
	}
	if profile[0][0] != 0 {
		join(rings[len(rings)-1], rings[0])
	}
	return m
}

// Cylinder stands on z = 0.
func Cylinder(radius, height float64, n int) *mesh.Mesh {
	return Turned(n, [2]float64{0, 0}, [2]float64{radius, 0}, [2]float64{radius, height}, [2]float64{0, height})
}

// Sphere is centred at the origin, n facets round and n/2 from pole to pole.
func Sphere(radius float64, n int) *mesh.Mesh {
	var profile [][2]float64
	for i := 0; i <= n/2; i++ {
		a := math.Pi * float64(i) / float64(n/2)
		r := radius * math.Sin(a)
		if i == 0 || i == n/2 {
			r = 0
		}
		profile = append(profile, [2]float64{r, -radius * math.Cos(a)})
	}
	return Turned(n, profile...)
}

// Moved returns a copy turned by rot about the origin and then shifted.
func Moved(m *mesh.Mesh, rot r3.Rotation, by r3.Vec) *mesh.Mesh {
	out := &mesh.Mesh{Triangles: m.Triangles}
	for _, v := range m.Vertices {
		out.Vertices = append(out.Vertices, r3.Add(rot.Rotate(v), by))
	}
	return out
}

// RandomUp returns a direction evenly spread over the sphere.
func RandomUp(rng *rand.Rand) r3.Vec {
	return r3.Unit(r3.Vec{X: rng.NormFloat64(), Y: rng.NormFloat64(), Z: rng.NormFloat64()})
}

// Blocks is the solid made of the unit cubes named by a drawing: rows run
// from the top down, '#' is empty, anything else is solid. The drawing stands
// in the x-z plane and is deep unit cubes thick in y. Cubes must not touch
// over an edge alone.
func Blocks(deep int, rows ...string) *mesh.Mesh {
	return Cubes(func(x, y, z int) bool {
		row := rows[len(rows)-1-z]
		return x < len(row) && row[x] != '#'
	}, [3]int{}, [3]int{len(rows[0]), deep, len(rows)})
}

// Cubes is the solid made of the unit cubes for which solid is true, asked
// from low up to but not including high.
func Cubes(solid func(x, y, z int) bool, low, high [3]int) *mesh.Mesh {
	filled := func(c [3]int) bool {
		for k := range c {
			if c[k] < low[k] || c[k] >= high[k] {
				return false
			}
		}
		return solid(c[0], c[1], c[2])
	}
	m := &mesh.Mesh{}
	index := map[[3]int]int32{}
	corner := func(c [3]int) int32 {
		i, ok := index[c]
		if !ok {
			i = int32(len(m.Vertices))
			index[c] = i
			m.Vertices = append(m.Vertices, r3.Vec{X: float64(c[0]), Y: float64(c[1]), Z: float64(c[2])})
		}
		return i
	}
	for x := low[0]; x < high[0]; x++ {
		for y := low[1]; y < high[1]; y++ {
			for z := low[2]; z < high[2]; z++ {
				c := [3]int{x, y, z}
				if !filled(c) {
					continue
				}
				for axis := range 3 {
					for side := range 2 {
						next := c
						next[axis] += 2*side - 1
						if filled(next) {
							continue
						}
						u, v := (axis+1)%3, (axis+2)%3
						if side == 0 {
							u, v = v, u
						}
						p := c
						p[axis] += side
						q, r, s := p, p, p
						q[u]++
						r[u]++
						r[v]++
						s[v]++
						a, b, d, e := corner(p), corner(q), corner(r), corner(s)
						m.Triangles = append(m.Triangles, [3]int32{a, b, d}, [3]int32{a, d, e})
					}
				}
			}
		}
	}
	return m
}

// Extruded is the prism of depth along y over an outline in the x-z plane,
// given without crossings, in anticlockwise order with x to the right and z up.
func Extruded(outline [][2]float64, depth float64) *mesh.Mesh {
	m := &mesh.Mesh{}
	n := int32(len(outline))
	for _, p := range outline {
		m.Vertices = append(m.Vertices, r3.Vec{X: p[0], Z: p[1]}, r3.Vec{X: p[0], Y: depth, Z: p[1]})
	}
	for i := range n {
		j := (i + 1) % n
		m.Triangles = append(m.Triangles, [3]int32{2 * i, 2*j + 1, 2 * j}, [3]int32{2 * i, 2*i + 1, 2*j + 1})
	}
	for _, t := range plane.Triangles(outline) {
		m.Triangles = append(m.Triangles, [3]int32{2 * t[0], 2 * t[1], 2 * t[2]}, [3]int32{2*t[0] + 1, 2*t[2] + 1, 2*t[1] + 1})
	}
	if m.Volume() < 0 {
		for i, tri := range m.Triangles {
			m.Triangles[i] = [3]int32{tri[0], tri[2], tri[1]}
		}
	}
	return m
}
