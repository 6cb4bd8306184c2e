package design

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io"
)

// Formats of the documents, and the version that is written. The version
// grows when an older reader would misread a newer document; what older
// versions wrote is read by migrate.go.
const (
	Format      = "bathyform-design"
	BriefFormat = "bathyform-brief"
	Version     = 1
)

// Document is a design as it is kept and handed on. What is kept in the
// database leaves Part and the sheets of the materials out; a file that goes
// to another shop carries them, since ids mean nothing there.
type Document struct {
	Format  string `json:"format"`
	Version int    `json:"version"`
	Part    *Part  `json:"part,omitempty"`
	Rubber  *Sheet `json:"rubber,omitempty"`
	Resin   *Sheet `json:"resin,omitempty"`
	Design  Design `json:"design"`
}

// Part names what a design was made for.
type Part struct {
	Name string `json:"name"`
	Mesh string `json:"mesh,omitempty"` // SHA-256 of the mesh file
}

// Sheet is how a material is found on another shelf.
type Sheet struct {
	Name    string  `json:"name"`
	Ratio   string  `json:"ratio"`
	Density float64 `json:"density"` // g/mL
}

// Of is the document of a design as it is kept.
func Of(d Design) Document { return Document{Format: Format, Version: Version, Design: d} }

// Errors of reading.
var (
	ErrFormat = errors.New("this is no design of Bathyform")
	ErrNewer  = errors.New("this design was written by a newer Bathyform: update this one first")
)

// Encode writes a document.
func (doc Document) Encode() ([]byte, error) {
	if err := doc.Design.Check(); err != nil {
		return nil, err
	}
	return json.Marshal(doc)
}

// Decode reads a document strictly: of another format, of a newer version or
// with a field that is not known it is refused, with what is wrong. Older
// versions are brought up to date.
func Decode(data []byte) (Document, error) {
	var doc Document
	data, err := current(data, Format, upgradeDesign)
	if err != nil {
		return doc, err
	}
	if err := strict(data, &doc); err != nil {
		return doc, err
	}
	return doc, doc.Design.Check()
}

// briefDocument is a brief as it is kept.
type briefDocument struct {
	Format  string `json:"format"`
	Version int    `json:"version"`
	Brief   Brief  `json:"brief"`
}

// EncodeBrief writes a brief.
func EncodeBrief(b Brief) ([]byte, error) {
	return json.Marshal(briefDocument{BriefFormat, Version, b})
}

// DecodeBrief reads a brief as strictly.
func DecodeBrief(data []byte) (Brief, error) {
	var doc briefDocument
	data, err := current(data, BriefFormat, upgradeBrief)
	if err != nil {
		return doc.Brief, err
	}
	return doc.Brief, strict(data, &doc)
}

// current brings a document up to the version that is written.
func current(data []byte, format string, upgrade func(data []byte) ([]byte, error)) ([]byte, error) {
	var head struct {
		Format  *string `json:"format"`
		Version int     `json:"version"`
	}
	if err := json.Unmarshal(data, &head); err != nil {
		return nil, fmt.Errorf("%w: %w", ErrFormat, err)
	}
	switch {
	case head.Format == nil: // before documents said what they were
		return upgrade(data)
	case *head.Format != format:
		return nil, fmt.Errorf("%w: its format is %q", ErrFormat, *head.Format)
	case head.Version > Version:
		return nil, ErrNewer
	case head.Version < 1:
		return nil, fmt.Errorf("%w: there is no version %d", ErrFormat, head.Version)
	}
	return data, nil
}

// strict reads JSON that holds known fields alone, and nothing after them.
func strict(data []byte, into any) error {
	dec := json.NewDecoder(bytes.NewReader(data))
	dec.DisallowUnknownFields()
	if err := dec.Decode(into); err != nil {
		return fmt.Errorf("%w: %w", ErrFormat, err)
	}
	if _, err := dec.Token(); !errors.Is(err, io.EOF) {
		return fmt.Errorf("%w: something follows its end", ErrFormat)
	}
	return nil
}
