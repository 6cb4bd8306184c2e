package mesh

import (
	"bathyform/core/quantity"
	"bytes"
	"fmt"
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
			b.polygon(corners)
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
func (b *builder) polygon(c []int32) {
	if len(c) == 3 {
		b.add(c[0], c[1], c[2])
		return
	}
	var n r3.Vec // Newell's sum
	for i := range c {
		p, q := b.vertices[c[i]], b.vertices[c[(i+1)%len(c)]]
		n = r3.Add(n, r3.Cross(p, q))
	}
	left := append([]int32(nil), c...)
	turn := func(i, j, k int32) float64 {
		p := b.vertices[i]
		return r3.Dot(n, r3.Cross(r3.Sub(b.vertices[j], p), r3.Sub(b.vertices[k], p)))
	}
	for len(left) > 3 {
		cut := -1
		for i := range left {
			p, q, r := left[(i+len(left)-1)%len(left)], left[i], left[(i+1)%len(left)]
			if turn(p, q, r) <= 0 {
				continue
			}
			ear := true
			for _, o := range left {
				if o != p && o != q && o != r && turn(p, q, o) >= 0 && turn(q, r, o) >= 0 && turn(r, p, o) >= 0 {
					ear = false
					break
				}
			}
			if ear {
				cut = i
				break
			}
		}
		if cut < 0 {
			cut = 1 // crosses itself or has no area: any cut is as good
		}
		b.add(left[(cut+len(left)-1)%len(left)], left[cut], left[(cut+1)%len(left)])
		left = append(left[:cut:cut], left[cut+1:]...)
	}
	b.add(left[0], left[1], left[2])
}
