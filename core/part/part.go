// Package part holds what is known of a master: a mesh, or only its size and
// volume.
package part

import (
	"errors"
	"fmt"
	"math"

	"bathyform/core/derive"
	"bathyform/core/mesh"
	"bathyform/core/quantity"

	"gonum.org/v1/gonum/spatial/r3"
)

// Master is the part that is copied.
type Master struct {
	Name     string
	Mesh     *mesh.Mesh  // nil for a master known by measure alone
	Report   mesh.Report // of Mesh
	Measured *Measured   // nil when there is a mesh
}

// Measured is a master known by calipers and scale.
type Measured struct {
	Length, Width, Height float64 // mm, along x, y and z
	Volume                float64 // mL
	How                   string  // how the volume was found
}

// ErrNoMaster says that a job has no master yet.
var ErrNoMaster = errors.New("there is no master yet; drop in a mesh or enter its size and volume")

// leastVolume is that of a bead of a fifth of a millimetre, mL.
const leastVolume = 1e-6

// Check refuses a measured master that cannot be: its volume must go into its box.
func (m Measured) Check() error {
	for name, v := range map[string]float64{"length": m.Length, "width": m.Width, "height": m.Height, "volume": m.Volume} {
		if !(v > 0) || math.IsInf(v, 0) {
			return fmt.Errorf("the %s must be more than 0", name)
		}
	}
	if m.Volume < leastVolume {
		return fmt.Errorf("a volume of %.3g mL is less than anyone casts; check the unit", m.Volume)
	}
	if box := m.Length * m.Width * m.Height / 1000; m.Volume > box*(1+1e-9) {
		return fmt.Errorf("a volume of %.4g mL does not go into a box of %.4g x %.4g x %.4g mm, which holds %.4g mL; check the units",
			m.Volume, m.Length, m.Width, m.Height, box)
	}
	return nil
}

// Bounds returns the box that the master fills, in mesh coordinates; a
// measured master stands on the origin.
func (m Master) Bounds() r3.Box {
	if m.Mesh != nil {
		return m.Report.Bounds
	}
	if m.Measured == nil {
		return r3.Box{}
	}
	return r3.Box{Max: r3.Vec{X: m.Measured.Length, Y: m.Measured.Width, Z: m.Measured.Height}}
}

// Volume returns in mm³ what the master takes up in the rubber, and a casting
// of resin: closed hollows are full, what bodies share counts once.
func (m Master) Volume() float64 {
	if m.Mesh != nil {
		if m.Report.Cast > 0 {
			return m.Report.Cast
		}
		return m.Report.Volume // of a report that was kept before hollows were told apart
	}
	if m.Measured == nil {
		return 0
	}
	return m.Measured.Volume * 1000
}

// VolumeSource says where the volume comes from.
func (m Master) VolumeSource() string {
	switch {
	case m.Mesh == nil && m.Measured != nil:
		return "measured: " + m.Measured.How
	case m.Report.VolumeError > 0:
		return "the mesh, holes closed flat"
	default:
		return "the mesh, exact"
	}
}

// VolumeNumber returns the volume in mL with how it was found.
func (m Master) VolumeNumber() derive.Number {
	v := m.Volume() / 1000
	switch {
	case m.Mesh == nil && m.Measured != nil:
		return derive.Of(quantity.Volume, v, m.Measured.How)
	case m.Report.VolumeError > 0:
		return derive.Of(quantity.Volume, v, "sum over all triangles of the tetrahedra they make with the middle, holes closed flat",
			derive.From("triangles", quantity.Number, float64(m.Report.Triangles), "the mesh"),
			derive.From("open edges", quantity.Number, float64(m.Report.Edges.Open), "the mesh"),
			derive.From("at most off by", quantity.Volume, m.Report.VolumeError/1000, "generalised winding number, Jacobson et al. 2013"))
	default:
		return derive.Of(quantity.Volume, v, "sum over all triangles of the tetrahedra they make with the middle, "+
			"outer surfaces less hollows",
			derive.From("triangles", quantity.Number, float64(m.Report.Triangles), "the mesh"),
			derive.From("bodies", quantity.Number, float64(m.Report.Bodies), "the mesh"),
		).
			Noted("Exact for the mesh; a curved part is a little larger than its facets.")
	}
}

// AreaNumber returns the surface in cm² with how it was found.
func (m Master) AreaNumber() derive.Number {
	return derive.Of(
		quantity.Area,
		m.Report.Area/100,
		"sum of the triangles' areas",
		derive.From("triangles", quantity.Number, float64(m.Report.Triangles), "the mesh"),
	)
}

// Span returns the lowest and highest height of the master along a way, in mm.
func (m Master) Span(dir r3.Vec) (low, high float64) {
	b := m.Bounds()
	p, q := r3.Dot(dir, b.Min), r3.Dot(dir, b.Max)
	return min(p, q), max(p, q)
}
