package sheet

import (
	"errors"
	"fmt"

	"bathyform/core/box"
	"bathyform/core/gang"
	"bathyform/core/mesh"
	"bathyform/core/mould"
	"bathyform/core/plane"
)

// ErrNone says that a plan has no such sheet.
var ErrNone = errors.New("this mould has no such sheet: its kind, or the form of its box, does without")

// plateRim is how far clamping plates stand out over the block, and finWide
// how wide the tape of a fin is, mm. Common practice, no source.
const (
	plateRim = 20.0
	finWide  = 12.0
)

// Of draws a sheet of a planned mould by its key. Part is the closed master,
// of which a parting board needs the section; boards of the house's thickness.
func Of(p mould.Plan, key string, part *mesh.Mesh, board float64) (Sheet, error) {
	found := false
	for _, s := range p.Sheets() {
		found = found || s.Key == key
	}
	if !found {
		return Sheet{}, fmt.Errorf("%w (%q)", ErrNone, key)
	}
	b := p.Box
	tall := b.Height.Value + b.Freeboard
	bed := 0.0
	if p.Kind.Halves {
		bed = p.Level()
	}
	switch key {
	case "boards":
		return Boards(b.Panels, board, bed, b.Height.Value), nil
	case "jointed":
		return Jointed(b.Wide, b.Deep, tall, board, bed, b.Height.Value), nil
	case "folded":
		return Folded(b.Wide, b.Deep, tall), nil
	case "bent":
		return Bent(b.Box, tall, b.Strip.Value-b.Wall), nil
	case "blanking":
		return BlankingEnd(b.Box, max(b.Wide, b.Deep), tall), nil
	case "plates":
		return Plates(across(p), plateRim), nil
	case "gang":
		c := p.Cavities
		l, err := gang.Place(c.Shape, c.Poses, 0, p.Design.Clearance.Beside)
		if over := (gang.OverlapError{}); err != nil && !errors.As(err, &over) {
			return Sheet{}, err
		}
		return GangPlan(l, c.Shape, p.InPlan()), nil
	case "rods":
		return Rods(p.Rods), nil
	case "wrap":
		return Wrap(*p.Cut), nil
	case "fins":
		return Fins(*p.Division, finWide), nil
	case "flange":
		return Flange(p.Blanket.Outer, p.Design.Draw.Dir())
	}
	section := p.Cavities.Whole(part).Section(p.Design.Draw.Dir(), p.Parting.Height)
	sheet := PartingBoard(p.Across(), p.Frame(), section)
	if p.Division != nil {
		sheet = sheet.Keyed(p.Division.Keys.Keys)
	}
	return sheet, nil
}

// across is the block as plates lie on it: seen along the draw.
func across(p mould.Plan) box.Box {
	if p.Box.Stands.Along(p.Design.Draw) {
		return p.Box.Box
	}
	ring := p.Across()
	low, high := plane.Bounds(ring)
	return box.Box{Form: box.Rectangle, Ring: ring, Wide: high[0] - low[0], Deep: high[1] - low[1]}
}
