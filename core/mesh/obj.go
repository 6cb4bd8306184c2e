package mesh

import (
	"bathyform/core/plane"
	"bathyform/core/quantity"
	"bytes"
	"errors"
	"fmt"
	"math"
	"strconv"
	"strings"

	"gonum.org/v1/gonum/spatial/r3"
)

// OBJ is the text format of vertices and faces.
const OBJ Format = "obj"

// looksLikeOBJ tells OBJ text by its first lines: a vertex comes before anything else that counts.
func looksLikeOBJ(data []byte) bool {
	head := data[:min(len(data), 64<<10)]
	if bytes.IndexByte(head, 0) >= 0 {
		return false
	}
	for line := range bytes.Lines(head) {
		words := bytes.Fields(line)
		if len(words) == 0 || words[0][0] == '#' {
			continue
		}
		switch string(words[0]) {
		case "v":
			return len(words) >= 4
		case "mtllib", "usemtl", "o", "g", "s", "vt", "vn", "vp":
			continue
		}
		return false
	}
	return false
}

// ParseOBJ reads vertices and faces. Groups are read as one part; faces of
// more than three corners are cut into triangles; texture and normals are
// left aside. Coordinates carry no unit.
func ParseOBJ(data []byte) (*File, error) {
	b := newBuilder(OBJ, len(data)/80)
	var index []int32 // of the file's vertices among the welded ones
	var corners []int32
	polygons, other := 0, map[string]int{}
	number := 0
	var carried []byte
	for line := range bytes.Lines(data) {
		number++
		line = bytes.TrimRight(line, "\r\n")
		if bytes.HasSuffix(line, []byte("\\")) { // the line goes on
			carried = append(append(carried, line[:len(line)-1]...), ' ')
			continue
		}
		if carried != nil {
			line, carried = append(carried, line...), nil
		}
		if len(line) > longestLine {
			return nil, fmt.Errorf("line %d is %d MB long: this is no OBJ file, or a damaged one", number, len(line)>>20)
		}
		if i := bytes.IndexByte(line, '#'); i >= 0 {
			line = line[:i]
		}
		words := strings.Fields(string(line))
		if len(words) == 0 {
			continue
		}
		switch words[0] {
		case "v":
			if len(words) < 4 {
				return nil, fmt.Errorf("line %d: a vertex needs three coordinates", number)
			}
			var v [3]float64
			for k := range v {
				x, err := strconv.ParseFloat(words[k+1], 64)
				if err != nil {
					return nil, fmt.Errorf("line %d: %q is not a number", number, words[k+1])
				}
				v[k] = x + 0 // no negative zero
			}
			p := r3.Vec{X: v[0], Y: v[1], Z: v[2]}
			if !isFinite(p) {
				return nil, fmt.Errorf("line %d: a coordinate is not a finite number", number)
			}
			if len(index) == mostVertices {
				return nil, errTooManyVertices
			}
			index = append(index, b.index(p))
		case "f":
			corners = corners[:0]
			for _, w := range words[1:] {
				at, _, _ := strings.Cut(w, "/")
				i, err := strconv.Atoi(at)
				if i < 0 {
					i += len(index) + 1
				}
				if err != nil || i < 1 || i > len(index) {
					return nil, fmt.Errorf("line %d: the face speaks of vertex %q, which is not there", number, at)
				}
				corners = append(corners, index[i-1])
			}
			if len(corners) < 3 {
				return nil, fmt.Errorf("line %d: a face needs three corners", number)
			}
			if len(corners) > 3 {
				polygons++
			}
			if b.file.Triangles+len(corners)-2 > mostTriangles {
				return nil, errTooManyTriangles
			}
			if err := b.polygon(corners); err != nil {
				return nil, fmt.Errorf("line %d: %w", number, err)
			}
		case "l", "p", "curv", "surf":
			other[words[0]]++
		}
	}
	if b.file.Triangles == 0 {
		return nil, fmt.Errorf("the file holds %d vertices but no faces", len(index))
	}
	if polygons > 0 {
		b.file.Notes = append(
			b.file.Notes,
			fmt.Sprintf(
				"%s cut into triangles",
				quantity.Plural(polygons, "face with more than three corners was", "faces with more than three corners were"),
			),
		)
	}
	if n := other["l"] + other["p"] + other["curv"] + other["surf"]; n > 0 {
		b.file.Notes = append(
			b.file.Notes,
			fmt.Sprintf("%s no surface and %s left out", quantity.Plural(n, "element has", "elements have"), wasWere(n)),
		)
	}
	return b.done(), nil
}

// polygon cuts a face into triangles: ears of its outline as seen along its
// own normal, so that a face with dents keeps them.
func (b *builder) polygon(c []int32) error {
	if len(c) == 3 {
		b.add(c[0], c[1], c[2])
		return nil
	}
	var normal r3.Vec // Newell's sum
	for i := range c {
		p, q := b.vertices[c[i]], b.vertices[c[(i+1)%len(c)]]
		normal = r3.Add(normal, r3.Cross(p, q))
	}
	u, v := across(normal)
	ring := make([]plane.Point, len(c))
	for i, k := range c {
		ring[i] = plane.Point{r3.Dot(b.vertices[k], u), r3.Dot(b.vertices[k], v)}
	}
	cut, left := plane.Cut(ring, b.cutting)
	if b.cutting = left; left < 0 {
		return errors.New("faces with so many corners take too long to cut: have the program that made the file triangulate them")
	}
	for _, t := range cut {
		b.add(c[t[0]], c[t[1]], c[t[2]])
	}
	return nil
}

// across are two of the mesh's axes in which a face is seen from in front,
// shortened at most to 1/√3.
func across(normal r3.Vec) (u, v r3.Vec) {
	x, y, z := math.Abs(normal.X), math.Abs(normal.Y), math.Abs(normal.Z)
	switch {
	case z >= x && z >= y:
		u, v = r3.Vec{X: 1}, r3.Vec{Y: math.Copysign(1, normal.Z)}
	case x >= y:
		u, v = r3.Vec{Y: 1}, r3.Vec{Z: math.Copysign(1, normal.X)}
	default:
		u, v = r3.Vec{Z: 1}, r3.Vec{X: math.Copysign(1, normal.Y)}
	}
	return u, v
}

// mostCutting bounds the corners looked at while the faces of a file are cut, about a second's work.
const mostCutting = 40_000_000
