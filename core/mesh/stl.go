package mesh

import (
	"bytes"
	"encoding/binary"
	"errors"
	"fmt"
	"math"
	"strconv"
	"sync"

	"gonum.org/v1/gonum/spatial/r3"
)

// ErrNotSTL marks input that is no STL mesh at all, as opposed to a damaged one.
var ErrNotSTL = errors.New("this is not an STL mesh")

// Format says what kind of mesh file it is.
type Format string

// The two forms of STL.
const (
	BinarySTL Format = "stl-binary"
	ASCIISTL  Format = "stl-ascii"
)

// File is a mesh as it was read, welded but not yet repaired.
type File struct {
	Format    Format
	Triangles int // triangles in the file, those without area included
	Collapsed int // triangles left out because two corners coincide
	Mesh      *Mesh
	Unit      Unit     // as the file itself says; empty where it does not
	Notes     []string // what was odd about the file and was read all the same
}

const (
	stlHeader = 84 // 80 bytes of text and a count
	stlRecord = 50 // normal, three corners, two spare bytes
)

// ParseSTL reads an STL mesh of either form. The form is told by the byte
// count, not by the word "solid", which many binary files carry as well.
// Header text, normals and spare bytes are ignored. A file that ends early
// is an error, never a partial mesh.
func ParseSTL(data []byte) (*File, error) {
	if len(bytes.TrimSpace(data)) == 0 {
		return nil, errors.New("the file is empty")
	}
	if len(data) >= stlHeader {
		count := uint64(binary.LittleEndian.Uint32(data[80:]))
		if uint64(len(data)) == stlHeader+stlRecord*count {
			return parseBinary(data, int(count))
		}
	}
	if looksLikeText(data) {
		return parseASCII(data)
	}
	if len(data) < stlHeader {
		return nil, fmt.Errorf("%w: it holds only %d bytes", ErrNotSTL, len(data))
	}
	return parseOddBinary(data)
}

// parseOddBinary reads a binary file whose count and length disagree, where
// it is clear which of the two is right.
func parseOddBinary(data []byte) (*File, error) {
	count := uint64(binary.LittleEndian.Uint32(data[80:]))
	held := uint64(len(data)-stlHeader) / stlRecord
	whole := (len(data)-stlHeader)%stlRecord == 0
	switch {
	case whole && held > 0 && (count == 0 || count == math.MaxUint32):
		f, err := parseBinary(data, int(held))
		if f != nil {
			f.Notes = append(f.Notes, fmt.Sprintf("the header does not give the number of triangles; the file holds %d", held))
		}
		return f, err
	case count > held:
		if count > held*1000+1_000_000 { // nonsense rather than a cut-off file
			return nil, fmt.Errorf("%w: neither its text nor its length fits one", ErrNotSTL)
		}
		return nil, fmt.Errorf(
			"the file is cut short: its header promises %d triangles and it holds %d; export or copy it again",
			count,
			held,
		)
	case count == 0:
		return nil, errors.New("the file holds no triangles")
	default:
		f, err := parseBinary(data, int(count))
		if f != nil {
			extra := uint64(len(data)) - stlHeader - stlRecord*count
			f.Notes = append(f.Notes, fmt.Sprintf("%d bytes after the last triangle were ignored", extra))
		}
		return f, err
	}
}

func parseBinary(data []byte, count int) (*File, error) {
	if count == 0 {
		return nil, errors.New("the file holds no triangles")
	}
	f := &File{Format: BinarySTL, Triangles: count}
	corners, vertices, bad := weldBinary(data[stlHeader:], count)
	if bad >= 0 {
		return nil, notFinite(bad)
	}
	triangles := corners[:0]
	for _, tri := range corners {
		if tri[0] == tri[1] || tri[1] == tri[2] || tri[2] == tri[0] {
			f.Collapsed++
			continue
		}
		triangles = append(triangles, tri)
	}
	f.Mesh = &Mesh{Vertices: vertices, Triangles: triangles}
	return f, nil
}

// raw is a corner as the file has it, three float32, without negative zeros.
type raw [3]uint32

// rawWelder gives equal raw corners one index, as [welder] does; it compares
// the file's own twelve bytes.
type rawWelder struct {
	corners []raw
	slots   []int32 // index into corners plus one, 0 when free; length is a power of two
}

func (c raw) hash() uint64 {
	h := uint64(c[0])*0x9E3779B97F4A7C15 ^ uint64(c[1])*0xC2B2AE3D27D4EB4F ^ uint64(c[2])*0x165667B19E3779F9
	h ^= h >> 29
	h *= 0xBF58476D1CE4E5B9
	return h ^ h>>32
}

func (w *rawWelder) index(c raw, hash uint64) int32 {
	mask := uint64(len(w.slots) - 1)
	for at := hash & mask; ; at = (at + 1) & mask {
		slot := w.slots[at]
		if slot == 0 {
			w.corners = append(w.corners, c)
			n := int32(len(w.corners))
			w.slots[at] = n
			if len(w.corners)*10 > len(w.slots)*7 {
				w.grow()
			}
			return n - 1
		}
		if w.corners[slot-1] == c {
			return slot - 1
		}
	}
}

func (w *rawWelder) grow() {
	w.slots = make([]int32, 2*len(w.slots))
	mask := uint64(len(w.slots) - 1)
	for i, c := range w.corners {
		at := c.hash() & mask
		for w.slots[at] != 0 {
			at = (at + 1) & mask
		}
		w.slots[at] = int32(i + 1)
	}
}

// weldBinary gives the corners of all records their indices. Two workers
// share the corners by their hash, so the result does not depend on which
// comes first. bad is the first triangle that is not finite, or -1.
func weldBinary(records []byte, count int) (corners [][3]int32, vertices []r3.Vec, bad int) {
	const shards = 2
	corners = make([][3]int32, count)
	var welders [shards]*rawWelder
	var firstBad [shards]int
	both := func(work func(shard int)) {
		var wg sync.WaitGroup
		for shard := range shards {
			wg.Go(func() { work(shard) })
		}
		wg.Wait()
	}
	both(func(shard int) {
		size := 1 << 10
		for size < count/shards { // a closed mesh has about half as many corners as triangles
			size <<= 1
		}
		w := &rawWelder{corners: make([]raw, 0, count/shards/2+3), slots: make([]int32, size)}
		firstBad[shard] = -1
		for t := range count {
			rec := records[stlRecord*t+12:][:36]
			for k := range 3 {
				c, finite := corner(rec[12*k:])
				if !finite {
					firstBad[shard] = t
					return
				}
				if hash := c.hash(); int(hash>>63) == shard {
					corners[t][k] = w.index(c, hash)<<1 | int32(shard)
				}
			}
		}
		welders[shard] = w
	})
	if firstBad[0] >= 0 {
		return nil, nil, firstBad[0]
	}
	base := len(welders[0].corners)
	vertices = make([]r3.Vec, base+len(welders[1].corners))
	both(func(shard int) {
		for t := count * shard / shards; t < count*(shard+1)/shards; t++ {
			for k, i := range corners[t] {
				corners[t][k] = i>>1 + int32(base)*(i&1)
			}
		}
		for i, c := range welders[shard].corners {
			vertices[i+base*shard] = c.vec()
		}
	})
	return corners, vertices, -1
}

// corner takes three float32 and reports whether all are finite.
func corner(b []byte) (c raw, finite bool) {
	_ = b[11]
	x, y, z := binary.LittleEndian.Uint32(b), binary.LittleEndian.Uint32(b[4:]), binary.LittleEndian.Uint32(b[8:])
	const exponent = 0x7f800000 // all ones for the infinities and for what is not a number
	return raw{unsigned(x), unsigned(y), unsigned(z)}, x&exponent != exponent && y&exponent != exponent && z&exponent != exponent
}

// unsigned makes a negative zero positive.
func unsigned(bits uint32) uint32 {
	if bits == 0x80000000 {
		return 0
	}
	return bits
}

func (c raw) vec() r3.Vec {
	return r3.Vec{X: float64(math.Float32frombits(c[0])), Y: float64(math.Float32frombits(c[1])), Z: float64(math.Float32frombits(c[2]))}
}

func notFinite(triangle int) error {
	return fmt.Errorf("triangle %d has a coordinate that is not a finite number", triangle+1)
}

// looksLikeText reports whether the start of the data reads as the text form.
func looksLikeText(data []byte) bool {
	head := data[:min(len(data), 1024)]
	if bytes.IndexByte(head, 0) >= 0 {
		return false
	}
	lower := bytes.ToLower(head)
	return bytes.HasPrefix(bytes.TrimLeft(lower, " \t\r\n\ufeff"), []byte("solid")) ||
		bytes.Contains(lower, []byte("facet")) || isPrintable(head)
}

func isPrintable(head []byte) bool {
	for _, b := range head {
		if b < 0x20 && b != '\t' && b != '\r' && b != '\n' {
			return false
		}
	}
	return true
}

// parseASCII reads the text form by its keywords alone: "facet" opens a
// triangle, "vertex" gives a corner, "endfacet" closes it. Line breaks,
// letter case, normals, names and a missing "endsolid" do not matter.
func parseASCII(data []byte) (*File, error) {
	f := &File{Format: ASCIISTL}
	w := newWelder(len(data) / 250)
	var triangles [][3]int32
	var tri [3]int32
	corners, open, ended := 0, false, false
	words := wordScanner{data: data}
	for word := words.next(); word != nil; word = words.next() {
		switch {
		case isWord(word, "facet"):
			if open {
				return nil, fmt.Errorf("facet %d is not closed before the next begins", f.Triangles+1)
			}
			open, corners = true, 0
		case isWord(word, "vertex"):
			if !open || corners == 3 {
				return nil, fmt.Errorf("facet %d does not have three corners; only triangles can be read", f.Triangles+1)
			}
			v, err := words.vector(f.Triangles)
			if err != nil {
				return nil, err
			}
			tri[corners] = w.index(v)
			corners++
		case isWord(word, "endfacet"):
			if !open || corners != 3 {
				return nil, fmt.Errorf("facet %d has %d corners instead of three", f.Triangles+1, corners)
			}
			open = false
			f.Triangles++
			if tri[0] == tri[1] || tri[1] == tri[2] || tri[2] == tri[0] {
				f.Collapsed++
			} else {
				triangles = append(triangles, tri)
			}
		case isWord(word, "endsolid"):
			ended = true
		}
	}
	switch {
	case open:
		return nil, fmt.Errorf("the file is cut short: it ends inside facet %d; export or copy it again", f.Triangles+1)
	case f.Triangles == 0 && bytes.Contains(bytes.ToLower(data[:min(len(data), 512)]), []byte("solid")):
		return nil, errors.New("the file holds no triangles")
	case f.Triangles == 0:
		return nil, fmt.Errorf("%w: it is text without a single facet", ErrNotSTL)
	case !ended:
		f.Notes = append(f.Notes, "the closing line \"endsolid\" is missing")
	}
	f.Mesh = &Mesh{Vertices: w.vertices, Triangles: triangles}
	return f, nil
}

// wordScanner cuts text into words without copying it.
type wordScanner struct {
	data []byte
	pos  int
}

func (s *wordScanner) next() []byte {
	for s.pos < len(s.data) && s.data[s.pos] <= ' ' {
		s.pos++
	}
	if s.pos >= len(s.data) {
		return nil
	}
	start := s.pos
	for s.pos < len(s.data) && s.data[s.pos] > ' ' {
		s.pos++
	}
	return s.data[start:s.pos]
}

func (s *wordScanner) vector(facet int) (r3.Vec, error) {
	var xyz [3]float64
	for k := range xyz {
		word := s.next()
		if word == nil {
			return r3.Vec{}, fmt.Errorf("the file is cut short: it ends inside facet %d; export or copy it again", facet+1)
		}
		x, err := strconv.ParseFloat(string(word), 64)
		if err != nil && !errors.Is(err, strconv.ErrRange) {
			return r3.Vec{}, fmt.Errorf("facet %d has %.20q where a number should stand", facet+1, word)
		}
		xyz[k] = x + 0
	}
	v := r3.Vec{X: xyz[0], Y: xyz[1], Z: xyz[2]}
	if !isFinite(v) || r3.Norm(v) > math.MaxFloat32 {
		return r3.Vec{}, notFinite(facet)
	}
	return v, nil
}

// isWord compares without regard to letter case.
func isWord(word []byte, want string) bool {
	return len(word) == len(want) && bytes.EqualFold(word, []byte(want))
}

// WriteSTL returns the mesh as a binary STL, coordinates rounded to float32.
func (m *Mesh) WriteSTL() []byte {
	out := make([]byte, stlHeader+stlRecord*len(m.Triangles))
	copy(out, "Bathyform, millimetres")
	binary.LittleEndian.PutUint32(out[80:], uint32(len(m.Triangles)))
	for t := range m.Triangles {
		a, b, c := m.Corners(t)
		n := r3.Cross(r3.Sub(b, a), r3.Sub(c, a))
		if l := r3.Norm(n); l > 0 {
			n = r3.Scale(1/l, n)
		}
		rec := out[stlHeader+stlRecord*t:]
		for i, v := range [4]r3.Vec{n, a, b, c} {
			binary.LittleEndian.PutUint32(rec[12*i:], math.Float32bits(float32(v.X)))
			binary.LittleEndian.PutUint32(rec[12*i+4:], math.Float32bits(float32(v.Y)))
			binary.LittleEndian.PutUint32(rec[12*i+8:], math.Float32bits(float32(v.Z)))
		}
	}
	return out
}
