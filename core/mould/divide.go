package mould

import (
	"fmt"
	"math"

	"bathyform/core/derive"
	"bathyform/core/grid"
	"bathyform/core/key"
	"bathyform/core/kinds"
	"bathyform/core/mesh"
	"bathyform/core/pieces"
	"bathyform/core/plane"
	"bathyform/core/practice"
	"bathyform/core/quantity"
	"bathyform/core/shell"
	"bathyform/core/slit"
	"bathyform/core/strip"

	"gonum.org/v1/gonum/spatial/r3"
)

// Choices are what the rubber round the mesh of all cavities is divided by;
// they hold all that the answer depends on beside that mesh.
func (p Plan) Choices(spots []key.Spot, rubber strip.Rubber, wanted, cells int) pieces.Choices {
	room := p.Box.room(p.Cavities.Frame)
	d := p.Design
	height := p.Parting.Height
	c := pieces.Choices{
		Draw:       d.Draw.Dir(),
		Clearance:  d.Clearance,
		Part:       p.Parts.Value * 1000,
		Room:       &room,
		Parting:    &height,
		HalvesOnly: !p.Kind.Sided,
		Whole:      p.Kind.OnBoard || p.Kind.Peeled,
		Rubber:     rubber,
		Wanted:     wanted,
		Cells:      cells,
		Seam:       SeamOf(d.Seam),
		Holes:      SeamOf(d.Holes),
		Keys:       key.Choices{Kind: key.None},
	}
	if p.Kind.Keyed {
		c.Keys, c.Spots = key.Choices{Kind: key.Kind(d.Keys.Kind), Size: d.Keys.Size}, spots
	}
	for _, r := range p.Rods {
		c.Bores = append(c.Bores, r.Bore)
	}
	for _, l := range d.Line {
		c.Line = append(c.Line, pieces.Pull{At: l.At.Vec(), Reach: l.Reach})
	}
	for _, s := range d.Sides {
		told := pieces.Told{At: s.At.Vec(), Strip: s.Strip}
		if s.Draw != nil {
			told.Draw = s.Draw.Vec()
		}
		c.Sides = append(c.Sides, told)
	}
	return c
}

// Divide takes the rubber as it was divided.
func (p Plan) Divide(d pieces.Plan) Plan {
	p.Division = &d
	if p.Kind.Cut {
		g := slit.Lay(d, p.Across(), !p.house.Straight, p.short())
		p.Cut = &g
	}
	sum := 0.0
	for _, q := range d.Pieces {
		sum += q.Volume
	}
	var known []kinds.Piece
	for _, q := range d.Pieces {
		if sum <= 0 || !p.Kind.Halves {
			break
		}
		share := p.shareOf(q, sum).
			Noted(fmt.Sprintf("The surfaces were taken on a lattice of %.2g mm and leave %.2g %% of the part's volume open or "+
				"doubled.", d.Cell, 100*d.Error()))
		known = append(known, kinds.Piece{Name: q.Name, Volume: share})
	}
	p.share(known, nil)
	return p
}

// short is the smallest slit that lets a single part out, where the house
// cuts so: as long as half the way round the part, seen along the way that it
// leaves, less what the rubber gives.
func (p Plan) short() *slit.Short {
	if p.house.Does(practice.Blade) != practice.Smallest || p.Design.Cavities() > 1 || p.master.Mesh == nil {
		return nil
	}
	var flat []plane.Point
	girth, out := math.Inf(1), &slit.Short{}
	for k := range ways {
		sin, cos := math.Sincos(math.Pi * float64(k) / ways)
		flat = flat[:0]
		for _, v := range p.master.Mesh.Vertices {
			in := p.Frame().In(v)
			flat = append(flat, plane.Point{-sin*in.X + cos*in.Y, in.Z})
		}
		if round := plane.Perimeter(plane.Hull(flat)); round < girth-1e-9 {
			girth, out.Toward = round, plane.Point{cos, sin}
		}
	}
	out.Long = girth / 2 / (1 + gives)
	return out
}

// How a part leaves by a slit: in so many ways across the draw, and by a
// share that the mouth is stretched; common practice, no source.
const (
	ways  = 12
	gives = 0.25
)

// Lined takes the skin of a shell as it was laid, beside the division that
// tells of the seam.
func (p Plan) Lined(b shell.Blanket, d pieces.Plan) Plan {
	p.Blanket, p.Division = &b, &d
	skin := derive.Of(
		quantity.Volume,
		b.Volume/1000,
		"volume of the skin",
		derive.From("skin", quantity.Volume, b.Volume/1000, "its closed surface, undercuts bridged"),
	)
	p.Rubber = skin
	p.share(nil, &skin)
	return p
}

// Body is a piece of rubber as it leaves the mould.
type Body struct {
	Name     string
	Draw     r3.Vec // mesh coordinates
	Order    int    // of opening, from 1
	Mesh     *mesh.Mesh
	Volume   derive.Number // mL
	Catches  float64       // mm³, see [pieces.Piece]
	Stripped float64
}

// Bodies are the pieces of a mould that was divided, in the order they leave.
func (p Plan) Bodies() (out []Body) {
	if p.Blanket != nil {
		return []Body{{Name: "Skin", Draw: p.Design.Draw.Dir(), Order: 1, Mesh: p.Blanket.Body, Volume: p.Rubber}}
	}
	if p.Division == nil {
		return nil
	}
	sum := 0.0
	for _, q := range p.Division.Pieces {
		sum += q.Volume
	}
	for _, q := range p.Division.Pieces {
		v := p.shareOf(q, sum)
		out = append(out, Body{q.Name, q.Draw, q.Order, q.Mesh, v, q.Catches, q.Stripped})
	}
	return out
}

// Sides are the names of side pieces, those that are one shape first.
func (p Plan) Sides() (names []string) {
	if p.Division == nil || !p.Kind.Sided {
		return nil
	}
	sides := p.Division.Pieces[:len(p.Division.Pieces)-2]
	alike := map[string]bool{}
	for _, q := range sides {
		if q.Like != "" {
			alike[q.Name], alike[q.Like] = true, true
		}
	}
	for _, first := range []bool{true, false} {
		for _, q := range sides {
			if alike[q.Name] == first {
				names = append(names, q.Name)
			}
		}
	}
	return names
}

// Alike is how many of the first of Sides are one shape, turned.
func (p Plan) Alike() int {
	if p.Division == nil || !p.Kind.Sided {
		return 0
	}
	n := 0
	for _, q := range p.Division.Pieces {
		if q.Like != "" {
			n++
		}
	}
	if n > 0 {
		n++ // with the one that they are like
	}
	return n
}

// Figures are what was measured of a parting; Steep is in degrees. They are
// nothing for a block that is never parted.
type Figures struct{ Line, Off, Steep, Open derive.Number }

// Seam tells how long, how uneven and how steep the parting is.
func (p Plan) Seam() Figures { return FiguresOf(*p.Division) }

// FiguresOf are those of a division.
func FiguresOf(d pieces.Plan) Figures {
	cell := derive.From("cell of the lattice", quantity.Length, d.Cell, "the box, divided")
	level := derive.From("level along the draw", quantity.Length, d.Level, "the proposal, or set by hand")
	return Figures{
		Line: derive.Of(quantity.Length, d.Line, "length of the part's outline, holes and climbs included", cell),
		Off: derive.Of(
			quantity.Length,
			d.Off,
			"greatest distance of the line from its level, where the outline does not reach it",
			level,
			cell,
		),
		Open: derive.Of(
			quantity.Number,
			d.Open,
			"share of the line that crosses walls instead of following an edge: there the seam shows",
			cell,
		),
		Steep: derive.Of(quantity.Number, d.Steep, "greatest slope of the parting between part and wall, in degrees", cell),
	}
}

// Frame is that of the draw.
func (p Plan) Frame() grid.Frame { return p.Cavities.Frame }

// shareOf is a piece's part of the rubber, in proportion to its closed surface;
// sum is that of all pieces, mm³.
func (p Plan) shareOf(q pieces.Piece, sum float64) derive.Number {
	return derive.Of(quantity.Volume, p.Rubber.Value*q.Volume/sum, "rubber × piece / all pieces",
		p.Rubber.As("rubber"),
		derive.From("piece", quantity.Volume, q.Volume/1000, "sum over the triangles of its closed surface"),
		derive.From("all pieces", quantity.Volume, sum/1000, "the same"))
}
