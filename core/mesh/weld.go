package mesh

import (
	"math"

	"gonum.org/v1/gonum/spatial/r3"
)

// welder gives equal corners one index. Corners are equal when all three
// coordinates are the same number; nothing is rounded.
type welder struct {
	vertices []r3.Vec
	slots    []int32 // index into vertices plus one, 0 when free; length is a power of two
}

func newWelder(triangles int) *welder {
	size := 1 << 10
	for size < triangles { // a closed mesh has about half as many corners as triangles
		size <<= 1
	}
	return &welder{vertices: make([]r3.Vec, 0, triangles/2+3), slots: make([]int32, size)}
}

func hashCorner(v r3.Vec) uint64 {
	h := math.Float64bits(v.X)*0x9E3779B97F4A7C15 ^
		math.Float64bits(v.Y)*0xC2B2AE3D27D4EB4F ^
		math.Float64bits(v.Z)*0x165667B19E3779F9
	h ^= h >> 29
	h *= 0xBF58476D1CE4E5B9
	return h ^ h>>32
}

// index returns the index of v, which must not hold a negative zero: add 0
// to each coordinate first.
func (w *welder) index(v r3.Vec) int32 {
	mask := uint64(len(w.slots) - 1)
	for at := hashCorner(v) & mask; ; at = (at + 1) & mask {
		slot := w.slots[at]
		if slot == 0 {
			w.vertices = append(w.vertices, v)
			n := int32(len(w.vertices))
			w.slots[at] = n
			if len(w.vertices)*10 > len(w.slots)*7 {
				w.grow()
			}
			return n - 1
		}
		if w.vertices[slot-1] == v {
			return slot - 1
		}
	}
}

func (w *welder) grow() {
	w.slots = make([]int32, 2*len(w.slots))
	mask := uint64(len(w.slots) - 1)
	for i, v := range w.vertices {
		at := hashCorner(v) & mask
		for w.slots[at] != 0 {
			at = (at + 1) & mask
		}
		w.slots[at] = int32(i + 1)
	}
}

// joinRims welds corners on open edges that lie within tol of each other and
// returns how many were joined. Programs that round each triangle apart
// leave such hairline gaps.
func (m *Mesh) joinRims(rim []int32, tol float64) int {
	type cell [3]int64
	at := func(v r3.Vec) cell {
		return cell{int64(math.Floor(v.X / tol)), int64(math.Floor(v.Y / tol)), int64(math.Floor(v.Z / tol))}
	}
	to := make(map[int32]int32)
	kept := make(map[cell][]int32, len(rim))
	for _, i := range rim {
		v := m.Vertices[i]
		c := at(v)
		target := int32(-1)
	search:
		for dx := int64(-1); dx <= 1; dx++ {
			for dy := int64(-1); dy <= 1; dy++ {
				for dz := int64(-1); dz <= 1; dz++ {
					for _, j := range kept[cell{c[0] + dx, c[1] + dy, c[2] + dz}] {
						if r3.Norm(r3.Sub(v, m.Vertices[j])) <= tol {
							target = j
							break search
						}
					}
				}
			}
		}
		if target < 0 {
			kept[c] = append(kept[c], i)
		} else {
			to[i] = target
		}
	}
	if len(to) == 0 {
		return 0
	}
	moved := make([]bool, len(m.Vertices)) // a look into the map for these alone
	for i := range to {
		moved[i] = true
	}
	triangles := make([][3]int32, 0, len(m.Triangles))
	for _, t := range m.Triangles {
		if moved[t[0]] || moved[t[1]] || moved[t[2]] {
			for k, i := range t {
				if moved[i] {
					t[k] = to[i]
				}
			}
			if t[0] == t[1] || t[1] == t[2] || t[2] == t[0] {
				continue
			}
		}
		triangles = append(triangles, t)
	}
	m.Triangles = triangles
	return len(to)
}
