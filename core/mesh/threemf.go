package mesh

import (
	"archive/zip"
	"bufio"
	"bytes"
	"encoding/xml"
	"errors"
	"fmt"
	"io"
	"path"
	"strconv"
	"strings"

	"gonum.org/v1/gonum/spatial/r3"
)

// ThreeMF is the zipped XML format of the 3MF Consortium. What is read here
// follows its Core Specification 1.3: units, several objects, components with
// transforms, and the build (https://github.com/3MFConsortium/spec_core).
const ThreeMF Format = "3mf"

// Bounds on an archive as a whole, so that a small file cannot fill the memory.
const (
	mostEntries    = 2000
	mostUnpacked   = 600 << 20 // bytes of all its parts
	mostComponents = 64        // one inside another
	longestWord    = 4 << 20   // bytes of one XML token
	mostRepeated   = 12_000_000
	mostPlaced     = 10_000 // objects and components
)

const modelRelation = "http://schemas.microsoft.com/3dmanufacturing/2013/01/3dmodel"

type model3mf struct {
	unit    string
	objects []*object3mf
	items   []item3mf
}

type object3mf struct {
	id, kind   string
	vertices   []r3.Vec // as they stand in the file
	triangles  [][3]int32
	components []item3mf
}

type item3mf struct {
	object    string
	transform string
	path      string // a model part of its own
}

var units3mf = map[string]float64{"": 1, "millimeter": 1, "micron": 0.001, "centimeter": 10, "inch": 25.4, "foot": 304.8, "meter": 1000}

// Parse3MF reads the parts that a 3MF file builds. Coordinates come out in
// millimetres, since the file says its unit.
func Parse3MF(data []byte) (*File, error) {
	z, err := zip.NewReader(bytes.NewReader(data), int64(len(data)))
	if err != nil {
		return nil, fmt.Errorf("the 3MF archive is damaged or cut short (%w); export it again", err)
	}
	if len(z.File) > mostEntries {
		return nil, fmt.Errorf("the archive holds %d files; a 3MF part has a handful", len(z.File))
	}
	var whole uint64
	for _, f := range z.File {
		if whole += min(f.UncompressedSize64, 1<<40); whole > mostUnpacked {
			return nil, errUnpacksTooFar
		}
	}
	r := &reader3mf{zip: z, models: map[string]*model3mf{}, builder: newBuilder(ThreeMF, 1<<12)}
	r.left.bytes, r.left.vertices, r.left.triangles, r.left.repeated = mostUnpacked, mostVertices, mostTriangles, mostRepeated
	root, err := r.rootModel()
	if err != nil {
		return nil, err
	}
	m, err := r.model(root)
	if err != nil {
		return nil, err
	}
	scale, ok := units3mf[m.unit]
	if !ok {
		return nil, fmt.Errorf("the unit %q is not one of 3MF's", m.unit)
	}
	if len(m.items) == 0 {
		return nil, errors.New("the file builds nothing: it has no build items")
	}
	for i, item := range m.items {
		at, err := transform3mf(item.transform)
		if err != nil {
			return nil, fmt.Errorf("build item %d: %w", i+1, err)
		}
		at.scale(scale)
		if err := r.place(root, item, at, 0); err != nil {
			return nil, fmt.Errorf("build item %d: %w", i+1, err)
		}
	}
	if r.file.Triangles == 0 {
		return nil, errors.New("the file holds no triangles")
	}
	r.file.Unit = Millimetre
	if len(m.items) > 1 {
		r.file.Notes = append(r.file.Notes, fmt.Sprintf("the file builds %d objects, taken together as one master", len(m.items)))
	}
	return r.done(), nil
}

type reader3mf struct {
	*builder
	zip    *zip.Reader
	models map[string]*model3mf
	placed int

	left struct { // of what the file may take
		bytes                         int64
		vertices, triangles, repeated int
	}
}

// unpacked reads a part of the archive for as long as there are bytes left for
// all of them, and for one token.
type unpacked struct {
	part io.Reader
	left *int64
	word int64 // bytes since the last token
}

var errUnpacksTooFar = fmt.Errorf(
	"the archive unpacks to more than %d MB, or to one endless word; that is no sensible mesh",
	mostUnpacked>>20,
)

func (u *unpacked) Read(p []byte) (int, error) {
	n, err := u.part.Read(p)
	*u.left -= int64(n)
	if u.word += int64(n); *u.left < 0 || u.word > longestWord {
		return n, errUnpacksTooFar
	}
	return n, err
}

// tokens reads a part of the archive, one XML token after the other.
func (r *reader3mf) tokens(name string, each func(xml.Token) error) error {
	name = strings.TrimPrefix(path.Clean("/"+name), "/")
	for _, f := range r.zip.File {
		if !strings.EqualFold(f.Name, name) {
			continue
		}
		part, err := f.Open()
		if err != nil {
			return fmt.Errorf("%s cannot be unpacked: %w", name, err)
		}
		defer part.Close() //nolint:errcheck // only read from
		from := &unpacked{part: part, left: &r.left.bytes}
		d := xml.NewDecoder(bufio.NewReaderSize(from, 1<<16))
		for {
			token, err := d.Token()
			from.word = 0
			if errors.Is(err, io.EOF) {
				return nil
			}
			if errors.Is(err, errUnpacksTooFar) {
				return errUnpacksTooFar
			}
			if err != nil {
				return fmt.Errorf("%s cannot be read: %w", name, err)
			}
			if _, ok := token.(xml.Directive); ok {
				return fmt.Errorf("%s defines a document type or entities of its own, which 3MF does not allow", name)
			}
			if err := each(token); err != nil {
				return err
			}
		}
	}
	return fmt.Errorf("the part %q of the archive is missing; export the file again", name)
}

// attr is an attribute of an element, empty where it has none.
func attr(e xml.StartElement, name string) string {
	for _, a := range e.Attr {
		if a.Name.Local == name {
			return a.Value
		}
	}
	return ""
}

// rootModel finds the model that the package's relationships point at.
func (r *reader3mf) rootModel() (target string, err error) {
	err = r.tokens("_rels/.rels", func(token xml.Token) error {
		if e, ok := token.(xml.StartElement); ok && target == "" && e.Name.Local == "Relationship" && attr(e, "Type") == modelRelation {
			target = attr(e, "Target")
		}
		return nil
	})
	if err != nil {
		return "", fmt.Errorf("this archive is no 3MF file: %w", err)
	}
	if target == "" {
		return "", errors.New("this archive is no 3MF file: it names no 3D model")
	}
	return target, nil
}

// model reads a model part once. What it holds is counted against the bounds
// of the file as it is read.
func (r *reader3mf) model(name string) (*model3mf, error) {
	name = path.Clean("/" + name)
	if m, ok := r.models[name]; ok {
		return m, nil
	}
	m := &model3mf{}
	var in []string // the elements that a token stands in
	err := r.tokens(name, func(token xml.Token) error {
		switch e := token.(type) {
		case xml.StartElement:
			if err := r.element(m, in, e); err != nil {
				return err
			}
			if in = append(in, e.Name.Local); len(in) > mostComponents {
				return fmt.Errorf("%s is nested too deep to be a 3MF model", name)
			}
		case xml.EndElement:
			in = in[:len(in)-1]
		}
		return nil
	})
	if err != nil {
		return nil, err
	}
	r.models[name] = m
	return m, nil
}

// element takes in one element of a model that stands in others.
func (r *reader3mf) element(m *model3mf, in []string, e xml.StartElement) error {
	within := ""
	if len(in) > 0 {
		within = in[len(in)-1]
	}
	item := func() item3mf { return item3mf{attr(e, "objectid"), attr(e, "transform"), attr(e, "path")} }
	var o *object3mf
	if len(m.objects) > 0 {
		o = m.objects[len(m.objects)-1]
	}
	switch at := within + ">" + e.Name.Local; {
	case at == ">model":
		m.unit = attr(e, "unit")
	case at == "resources>object":
		m.objects = append(m.objects, &object3mf{id: attr(e, "id"), kind: attr(e, "type")})
	case at == "build>item":
		m.items = append(m.items, item())
	case o == nil:
	case at == "components>component":
		o.components = append(o.components, item())
	case at == "vertices>vertex":
		var v [3]float64
		for k, axis := range [3]string{"x", "y", "z"} {
			text := attr(e, axis)
			x, err := strconv.ParseFloat(text, 64)
			if err != nil {
				return fmt.Errorf("object %s, vertex %d: %q is not a number", o.id, len(o.vertices), text)
			}
			v[k] = x
		}
		if r.left.vertices--; r.left.vertices < 0 {
			return errTooManyVertices
		}
		o.vertices = append(o.vertices, r3.Vec{X: v[0], Y: v[1], Z: v[2]})
	case at == "triangles>triangle":
		var t [3]int32
		for k, corner := range [3]string{"v1", "v2", "v3"} {
			text := attr(e, corner)
			n, err := strconv.ParseInt(text, 10, 32)
			if err != nil {
				return fmt.Errorf("object %s, triangle %d: %q is no vertex", o.id, len(o.triangles), text)
			}
			t[k] = int32(n)
		}
		if r.left.triangles--; r.left.triangles < 0 {
			return errTooManyTriangles
		}
		o.triangles = append(o.triangles, t)
	}
	return nil
}

// place puts an object and what it is composed of where a transform says.
func (r *reader3mf) place(model string, item item3mf, at affine, depth int) error {
	if depth > mostComponents {
		return fmt.Errorf("object %s is a component of itself", item.object)
	}
	if r.placed++; r.placed > mostPlaced {
		return fmt.Errorf("more than %d objects are placed; object %s may be a component of itself", mostPlaced, item.object)
	}
	if item.path != "" {
		model = item.path
	}
	m, err := r.model(model)
	if err != nil {
		return err
	}
	for _, o := range m.objects {
		if o.id != item.object {
			continue
		}
		if o.kind == "support" || o.kind == "solidsupport" {
			return nil
		}
		for k, c := range o.components {
			local, err := transform3mf(c.transform)
			if err != nil {
				return fmt.Errorf("object %s, component %d: %w", o.id, k+1, err)
			}
			if err := r.place(model, c, local.then(at), depth+1); err != nil {
				return err
			}
		}
		return r.mesh(o, at)
	}
	return fmt.Errorf("object %q is not in the file", item.object)
}

func (r *reader3mf) mesh(o *object3mf, at affine) error {
	if r.file.Triangles+len(o.triangles) > mostTriangles {
		return errTooManyTriangles
	}
	if r.left.repeated -= len(o.vertices); r.left.repeated < 0 {
		return fmt.Errorf("object %s is placed so often that more than %d vertices come together", o.id, mostRepeated)
	}
	index := make([]int32, len(o.vertices))
	for i, v := range o.vertices {
		p := at.apply(v)
		if !isFinite(p) {
			return fmt.Errorf("object %s, vertex %d: a coordinate is not a finite number", o.id, i)
		}
		index[i] = r.index(r3.Add(p, r3.Vec{}))
	}
	mirrored := at.mirrors()
	for i, t := range o.triangles {
		for _, k := range t {
			if k < 0 || int(k) >= len(index) {
				return fmt.Errorf("object %s, triangle %d speaks of vertex %d, which is not there", o.id, i, k)
			}
		}
		if mirrored {
			t[1], t[2] = t[2], t[1]
		}
		r.add(index[t[0]], index[t[1]], index[t[2]])
	}
	return nil
}

// affine is a 3MF transform: rows of a 3x3 matrix and a shift, applied to row
// vectors.
type affine struct{ m [12]float64 }

func transform3mf(text string) (affine, error) {
	if strings.TrimSpace(text) == "" {
		return affine{[12]float64{1, 0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0}}, nil
	}
	var a affine
	words := strings.Fields(text)
	if len(words) != 12 {
		return a, fmt.Errorf("a transform needs twelve numbers, not %d", len(words))
	}
	for i, w := range words {
		x, err := strconv.ParseFloat(w, 64)
		if err != nil {
			return a, fmt.Errorf("%q in a transform is not a number", w)
		}
		a.m[i] = x
	}
	return a, nil
}

func (a affine) apply(p r3.Vec) r3.Vec {
	m := &a.m
	return r3.Vec{
		X: p.X*m[0] + p.Y*m[3] + p.Z*m[6] + m[9],
		Y: p.X*m[1] + p.Y*m[4] + p.Z*m[7] + m[10],
		Z: p.X*m[2] + p.Y*m[5] + p.Z*m[8] + m[11],
	}
}

// then is a followed by b.
func (a affine) then(b affine) affine {
	var out affine
	for row := range 4 {
		p := r3.Vec{X: a.m[3*row], Y: a.m[3*row+1], Z: a.m[3*row+2]}
		q := b.apply(p)
		if row < 3 {
			q = r3.Sub(q, r3.Vec{X: b.m[9], Y: b.m[10], Z: b.m[11]})
		}
		out.m[3*row], out.m[3*row+1], out.m[3*row+2] = q.X, q.Y, q.Z
	}
	return out
}

func (a *affine) scale(f float64) {
	for i := range a.m {
		a.m[i] *= f
	}
}

func (a affine) mirrors() bool {
	m := &a.m
	return m[0]*(m[4]*m[8]-m[5]*m[7])-m[1]*(m[3]*m[8]-m[5]*m[6])+m[2]*(m[3]*m[7]-m[4]*m[6]) < 0
}
