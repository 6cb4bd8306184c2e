package mesh

import (
	"bathyform/core/quantity"
	"bytes"
	"errors"
	"fmt"
	"slices"
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
	turn := func(i, j, k int) float64 {
		p := b.vertices[c[i]]
		return r3.Dot(normal, r3.Cross(r3.Sub(b.vertices[c[j]], p), r3.Sub(b.vertices[c[k]], p)))
	}
	before, after := make([]int, len(c)), make([]int, len(c)) // round what is left
	for i := range c {
		before[i], after[i] = (i+len(c)-1)%len(c), (i+1)%len(c)
	}
	// what lies in an ear, if anything does, is a corner that points inwards
	inward := make([]int, 0, len(c))
	for i := range c {
		if turn(before[i], i, after[i]) <= 0 {
			inward = append(inward, i)
		}
	}
	isEar := func(p, q, r int) bool {
		if turn(p, q, r) <= 0 {
			return false
		}
		b.cutting += len(inward)
		return !slices.ContainsFunc(inward, func(o int) bool {
			return c[o] != c[p] && c[o] != c[q] && c[o] != c[r] && turn(p, q, o) >= 0 && turn(q, r, o) >= 0 && turn(r, p, o) >= 0
		})
	}
	at, tried := 0, 0
	for left := len(c); left > 3; {
		p, q, r := before[at], at, after[at]
		if !isEar(p, q, r) && tried < left { // where none is one it crosses itself or has no area: any cut is as good
			at, tried = r, tried+1
			continue
		}
		if b.cutting > mostCutting {
			return errors.New("faces with so many corners take too long to cut: have the program that made the file triangulate them")
		}
		b.add(c[p], c[q], c[r])
		after[p], before[r] = r, p
		inward = slices.DeleteFunc(inward, func(o int) bool {
			return o == q || (o == p || o == r) && turn(before[o], o, after[o]) > 0
		})
		at, tried, left = p, 0, left-1
	}
	b.add(c[before[at]], c[at], c[after[at]])
	return nil
}

// mostCutting bounds the corners looked at while the faces of a file are cut, about a second's work.
const mostCutting = 100_000_000
