package survey

import (
	"bathyform/core/derive"
	"bathyform/core/quantity"
)

// Figures are a survey's measured values with how they were taken.
type Figures struct {
	Locked, Seam, SeamOff, Steep  derive.Number
	Thinnest, Median, Thickest    derive.Number
	DrawnUp, DrawnDown, LockedFor derive.Number // areas
}

// mostListed is how many locked spaces the sum of their volumes names.
const mostListed = 8

func figures(s Survey) Figures {
	d, t := s.Draw, s.Thickness
	cell := derive.From("cell of the grid", quantity.Length, d.Cell, "the part's longest side, divided")
	area := func(mm2 float64, formula string) derive.Number { return derive.Of(quantity.Area, mm2/100, formula) }
	locked := derive.Of(
		quantity.Volume,
		d.Volume/1000,
		"sum of the spaces outside the part that both a ray along the draw and one against it leave through the part",
		cell,
	)
	for i, u := range s.Undercuts {
		if i == mostListed {
			break
		}
		locked.Inputs = append(
			locked.Inputs,
			derive.From("space", quantity.Volume, u.Volume/1000, "columns of the grid between two hits, joined where they touch"),
		)
	}
	ball := "diameter of the largest ball that touches the surface from inside and is stopped by a surface facing it"
	source := derive.From("triangles measured", quantity.Number, float64(len(t.Face)), "the mesh, cut fine")
	return Figures{
		Locked: locked.Noted("Good to about a cell at the rim of every space."),
		Seam: derive.Of(quantity.Length, d.Outline.Length, "length of the part's outline seen along the draw, holes included", cell).
			Noted("The line itself is laid out in the mould stage."),
		SeamOff:   derive.Of(quantity.Length, d.Outline.Off, "mean distance of the outline from the level plane nearest to it", cell),
		Steep:     area(d.Draft.Under1, "surface of the triangles that lean less than 1° away from the draw"),
		DrawnUp:   area(d.Faces.Up, "surface that a ray along the draw leaves freely"),
		DrawnDown: area(d.Faces.Down, "surface that a ray against the draw leaves freely"),
		LockedFor: area(d.Faces.Locked, "surface that neither ray leaves freely"),
		Thinnest:  derive.Of(quantity.Length, t.Thinnest.Thickness, ball+"; the least, but for a thousandth of the surface", source),
		Median:    derive.Of(quantity.Length, t.Median, ball+"; half of the surface is thinner", source),
		Thickest:  derive.Of(quantity.Length, t.Thickest.Thickness, ball+"; the most", source),
	}
}
