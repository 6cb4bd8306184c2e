package mesh

import (
	"bytes"
	"errors"
	"fmt"
)

// What a part in a file that packs tightly may be at all: as much as the
// largest STL that is taken in, and more than any casting shows.
const (
	mostTriangles = 2_200_000
	mostVertices  = 3 * mostTriangles
	longestLine   = 4 << 20 // bytes
)

var (
	errTooManyTriangles = fmt.Errorf("more than %d triangles; export the part with fewer", mostTriangles)
	errTooManyVertices  = fmt.Errorf("more than %d vertices; export the part with fewer triangles", mostVertices)
)

// Parse reads a mesh file of any format that is known, told by its contents
// and not by its name.
func Parse(data []byte) (*File, error) {
	switch {
	case bytes.HasPrefix(data, []byte("PK\x03\x04")):
		return Parse3MF(data)
	case looksLikeOBJ(data):
		return ParseOBJ(data)
	}
	f, err := ParseSTL(data)
	if errors.Is(err, ErrNotSTL) {
		return nil, errors.New("this is no mesh that can be read: export the part as STL, OBJ or 3MF")
	}
	return f, err
}

// builder collects triangles by their corners.
type builder struct {
	*welder
	file      *File
	triangles [][3]int32
	cutting   int // looks at corners that are left for cutting faces into triangles
}

func newBuilder(format Format, triangles int) *builder {
	return &builder{welder: newWelder(triangles), file: &File{Format: format}, cutting: mostCutting}
}

// add puts a triangle in whose corners are vertices of the welder.
func (b *builder) add(i, j, k int32) {
	b.file.Triangles++
	if i == j || j == k || k == i {
		b.file.Collapsed++
		return
	}
	b.triangles = append(b.triangles, [3]int32{i, j, k})
}

func (b *builder) done() *File {
	b.file.Mesh = &Mesh{Vertices: b.vertices, Triangles: b.triangles}
	return b.file
}
