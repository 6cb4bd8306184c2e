package mesh

import (
	"archive/zip"
	"bytes"
	"encoding/xml"
	"fmt"
	"strconv"
)

// Named is a mesh with the name that it goes by in a file of several.
type Named struct {
	Name string
	Mesh *Mesh
}

const (
	contentTypes3mf = `<?xml version="1.0" encoding="UTF-8"?>
<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types">
<Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/>
<Default Extension="model" ContentType="application/vnd.ms-package.3dmanufacturing-3dmodel+xml"/></Types>
`
	relations3mf = `<?xml version="1.0" encoding="UTF-8"?>
<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships">
<Relationship Target="/3D/3dmodel.model" Id="rel0" Type="` + modelRelation + `"/></Relationships>
`
)

// Write3MF packs meshes in millimetres into one 3MF file, each an object of
// its own at its own place (Core Specification 1.3: the package's three parts,
// vertices, triangles, build).
func Write3MF(all []Named) ([]byte, error) {
	var out bytes.Buffer
	z := zip.NewWriter(&out)
	for _, part := range [][2]string{{"[Content_Types].xml", contentTypes3mf}, {"_rels/.rels", relations3mf}} {
		w, err := z.Create(part[0])
		if err != nil {
			return nil, err
		}
		if _, err := w.Write([]byte(part[1])); err != nil {
			return nil, err
		}
	}
	w, err := z.Create("3D/3dmodel.model")
	if err != nil {
		return nil, err
	}
	var b bytes.Buffer
	b.WriteString(
		"<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<model unit=\"millimeter\" xml:lang=\"en\" " +
			"xmlns=\"http://schemas.microsoft.com/3dmanufacturing/core/2015/02\">\n<resources>\n",
	)
	number := func(v float64) string { return strconv.FormatFloat(v, 'f', -1, 32) }
	for i, n := range all {
		fmt.Fprintf(&b, `<object id="%d" type="model" name="`, i+1)
		if err := xml.EscapeText(&b, []byte(n.Name)); err != nil {
			return nil, err
		}
		b.WriteString("\"><mesh>\n<vertices>\n")
		for _, v := range n.Mesh.Vertices {
			fmt.Fprintf(&b, "<vertex x=\"%s\" y=\"%s\" z=\"%s\"/>\n", number(v.X), number(v.Y), number(v.Z))
		}
		b.WriteString("</vertices>\n<triangles>\n")
		for _, t := range n.Mesh.Triangles {
			fmt.Fprintf(&b, "<triangle v1=\"%d\" v2=\"%d\" v3=\"%d\"/>\n", t[0], t[1], t[2])
		}
		b.WriteString("</triangles>\n</mesh></object>\n")
	}
	b.WriteString("</resources>\n<build>\n")
	for i := range all {
		fmt.Fprintf(&b, "<item objectid=\"%d\"/>\n", i+1)
	}
	b.WriteString("</build>\n</model>\n")
	if _, err := w.Write(b.Bytes()); err != nil {
		return nil, err
	}
	if err := z.Close(); err != nil {
		return nil, err
	}
	return out.Bytes(), nil
}
