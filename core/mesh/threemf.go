package mesh

import (
	"archive/zip"
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

// Bounds on an archive, so that a small file cannot fill the memory.
const (
	mostEntries    = 2000
	mostUnpacked   = 600 << 20 // bytes of one part
	mostComponents = 64        // one inside another
	mostTriangles  = 8_000_000
	mostPlaced     = 10_000 // objects and components
)

const modelRelation = "http://schemas.microsoft.com/3dmanufacturing/2013/01/3dmodel"

type model3mf struct {
	Unit    string      `xml:"unit,attr"`
	Objects []object3mf `xml:"resources>object"`
	Items   []item3mf   `xml:"build>item"`
}

type object3mf struct {
	ID   string `xml:"id,attr"`
	Type string `xml:"type,attr"`
	Mesh *struct {
		Vertices []struct {
			X string `xml:"x,attr"`
			Y string `xml:"y,attr"`
			Z string `xml:"z,attr"`
		} `xml:"vertices>vertex"`
		Triangles []struct {
			V1 int `xml:"v1,attr"`
			V2 int `xml:"v2,attr"`
			V3 int `xml:"v3,attr"`
		} `xml:"triangles>triangle"`
	} `xml:"mesh"`
	Components []item3mf `xml:"components>component"`
}

type item3mf struct {
	Object    string `xml:"objectid,attr"`
	Transform string `xml:"transform,attr"`
	Path      string `xml:"path,attr"` // a model part of its own
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
	r := &reader3mf{zip: z, models: map[string]*model3mf{}, builder: newBuilder(ThreeMF, 1<<12)}
	root, err := r.rootModel()
	if err != nil {
		return nil, err
	}
	m, err := r.model(root)
	if err != nil {
		return nil, err
	}
	scale, ok := units3mf[m.Unit]
	if !ok {
		return nil, fmt.Errorf("the unit %q is not one of 3MF's", m.Unit)
	}
	if len(m.Items) == 0 {
		return nil, errors.New("the file builds nothing: it has no build items")
	}
	for i, item := range m.Items {
		at, err := transform3mf(item.Transform)
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
	if len(m.Items) > 1 {
		r.file.Notes = append(r.file.Notes, fmt.Sprintf("the file builds %d objects, taken together as one master", len(m.Items)))
	}
	return r.done(), nil
}

type reader3mf struct {
	*builder
	zip    *zip.Reader
	models map[string]*model3mf
	placed int
}

func (r *reader3mf) open(name string) ([]byte, error) {
	name = strings.TrimPrefix(path.Clean("/"+name), "/")
	for _, f := range r.zip.File {
		if !strings.EqualFold(f.Name, name) {
			continue
		}
		if f.UncompressedSize64 > mostUnpacked {
			return nil, fmt.Errorf("%s would unpack to %d MB; that is no sensible mesh", name, f.UncompressedSize64>>20)
		}
		rc, err := f.Open()
		if err != nil {
			return nil, fmt.Errorf("%s cannot be unpacked: %w", name, err)
		}
		defer rc.Close() //nolint:errcheck // only read from
		data, err := io.ReadAll(io.LimitReader(rc, mostUnpacked+1))
		if err != nil {
			return nil, fmt.Errorf("%s cannot be unpacked: %w", name, err)
		}
		if len(data) > mostUnpacked {
			return nil, fmt.Errorf("%s unpacks to more than %d MB; that is no sensible mesh", name, mostUnpacked>>20)
		}
		if bytes.Contains(data[:min(len(data), 4096)], []byte("<!DOCTYPE")) ||
			bytes.Contains(data[:min(len(data), 4096)], []byte("<!ENTITY")) {
			return nil, fmt.Errorf("%s defines entities of its own, which 3MF does not allow", name)
		}
		return data, nil
	}
	return nil, fmt.Errorf("the part %q of the archive is missing; export the file again", name)
}

// rootModel finds the model that the package's relationships point at.
func (r *reader3mf) rootModel() (string, error) {
	data, err := r.open("_rels/.rels")
	if err != nil {
		return "", fmt.Errorf("this archive is no 3MF file: %w", err)
	}
	var rels struct {
		Relationship []struct {
			Target string `xml:",attr"`
			Type   string `xml:",attr"`
		}
	}
	if err := xml.Unmarshal(data, &rels); err != nil {
		return "", fmt.Errorf("the relationships of the archive cannot be read: %w", err)
	}
	for _, rel := range rels.Relationship {
		if rel.Type == modelRelation {
			return rel.Target, nil
		}
	}
	return "", errors.New("this archive is no 3MF file: it names no 3D model")
}

func (r *reader3mf) model(name string) (*model3mf, error) {
	name = path.Clean("/" + name)
	if m, ok := r.models[name]; ok {
		return m, nil
	}
	data, err := r.open(name)
	if err != nil {
		return nil, err
	}
	m := &model3mf{}
	if err := xml.Unmarshal(data, m); err != nil {
		return nil, fmt.Errorf("the model %s cannot be read: %w", name, err)
	}
	r.models[name] = m
	return m, nil
}

// place puts an object and what it is composed of where a transform says.
func (r *reader3mf) place(model string, item item3mf, at affine, depth int) error {
	if depth > mostComponents {
		return fmt.Errorf("object %s is a component of itself", item.Object)
	}
	if r.placed++; r.placed > mostPlaced {
		return fmt.Errorf("more than %d objects are placed; object %s may be a component of itself", mostPlaced, item.Object)
	}
	if item.Path != "" {
		model = item.Path
	}
	m, err := r.model(model)
	if err != nil {
		return err
	}
	for i := range m.Objects {
		o := &m.Objects[i]
		if o.ID != item.Object {
			continue
		}
		if o.Type == "support" || o.Type == "solidsupport" {
			return nil
		}
		for k, c := range o.Components {
			local, err := transform3mf(c.Transform)
			if err != nil {
				return fmt.Errorf("object %s, component %d: %w", o.ID, k+1, err)
			}
			if err := r.place(model, c, local.then(at), depth+1); err != nil {
				return err
			}
		}
		return r.mesh(o, at)
	}
	return fmt.Errorf("object %q is not in the file", item.Object)
}

func (r *reader3mf) mesh(o *object3mf, at affine) error {
	if o.Mesh == nil {
		return nil
	}
	if r.file.Triangles+len(o.Mesh.Triangles) > mostTriangles {
		return fmt.Errorf("more than %d triangles; export the part with fewer", mostTriangles)
	}
	index := make([]int32, len(o.Mesh.Vertices))
	for i, v := range o.Mesh.Vertices {
		var at3 [3]float64
		for k, text := range [3]string{v.X, v.Y, v.Z} {
			x, err := strconv.ParseFloat(text, 64)
			if err != nil {
				return fmt.Errorf("object %s, vertex %d: %q is not a number", o.ID, i, text)
			}
			at3[k] = x
		}
		p := at.apply(r3.Vec{X: at3[0], Y: at3[1], Z: at3[2]})
		if !isFinite(p) {
			return fmt.Errorf("object %s, vertex %d: a coordinate is not a finite number", o.ID, i)
		}
		index[i] = r.index(r3.Add(p, r3.Vec{}))
	}
	mirrored := at.mirrors()
	for i, t := range o.Mesh.Triangles {
		for _, k := range [3]int{t.V1, t.V2, t.V3} {
			if k < 0 || k >= len(index) {
				return fmt.Errorf("object %s, triangle %d speaks of vertex %d, which is not there", o.ID, i, k)
			}
		}
		if mirrored {
			t.V2, t.V3 = t.V3, t.V2
		}
		r.add(index[t.V1], index[t.V2], index[t.V3])
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
