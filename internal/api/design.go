package api

import (
	"cmp"
	"context"
	"net/http"

	"bathyform/core/box"
	"bathyform/core/gate"
	"bathyform/core/key"
	"bathyform/core/kind"
	"bathyform/core/mix"
	"bathyform/core/mould"
	"bathyform/core/outline"
	"bathyform/core/part"
	"bathyform/core/pieces"
	"bathyform/core/practice"
	"bathyform/core/study"
	"bathyform/internal/store"

	"github.com/google/uuid"
	"gonum.org/v1/gonum/spatial/r3"
)

// GetDesign returns the kept design or a proposal.
func (s *Server) GetDesign(ctx context.Context, r GetDesignRequestObject) (GetDesignResponseObject, error) {
	j, err := s.store.Job(ctx, r.JobId)
	if err != nil {
		return nil, err
	}
	if j.Design != nil {
		return GetDesign200JSONResponse{Design: fromDesign(*j.Design), Version: j.DesignVersion}, nil
	}
	p, shop, err := s.bench(ctx, j)
	if err != nil {
		return nil, err
	}
	d, err := p.Start(shop.Practice)
	if err != nil {
		return nil, err
	}
	return GetDesign200JSONResponse{Design: fromDesign(store.Design{Design: d}), Version: j.DesignVersion}, nil
}

// bench returns what every study needs: the master in hand and the shop.
func (s *Server) bench(ctx context.Context, j store.Job) (*study.Prepared, store.Shop, error) {
	shop, err := s.store.ReadShop(ctx)
	if err != nil {
		return nil, shop, err
	}
	p, err := s.hand.take(ctx, j)
	return p, shop, err
}

// masterOf takes the master of a job in hand.
func (s *Server) masterOf(ctx context.Context, id uuid.UUID) (*study.Prepared, error) {
	j, err := s.store.Job(ctx, id)
	if err != nil {
		return nil, err
	}
	return s.hand.take(ctx, j)
}

// PutDesign keeps a design that can be worked out.
func (s *Server) PutDesign(ctx context.Context, r PutDesignRequestObject) (PutDesignResponseObject, error) {
	v, err := version(r.Params.IfMatch)
	if err != nil {
		return nil, err
	}
	if _, err := s.study(ctx, r.JobId, *r.Body); err != nil {
		return nil, err
	}
	if err := s.stillThere(ctx, r.JobId, s.store.WriteDesign(ctx, r.JobId, toDesign(*r.Body), v)); err != nil {
		return nil, err
	}
	return PutDesign200JSONResponse{Design: *r.Body, Version: v + 1}, nil
}

// StudyDesign works out what follows from a design.
func (s *Server) StudyDesign(ctx context.Context, r StudyDesignRequestObject) (StudyDesignResponseObject, error) {
	st, err := s.study(ctx, r.JobId, *r.Body)
	if err != nil {
		return nil, err
	}
	out := fromStudy(st)
	s.addBox(ctx, r.JobId, *r.Body, &out)
	return StudyDesign200JSONResponse(out), nil
}

// addBox lays the box of all cavities beside a study; what stands against the
// form is said in words, the rest of the study holds.
func (s *Server) addBox(ctx context.Context, id uuid.UUID, d Design, out *Study) {
	j, err := s.store.Job(ctx, id)
	if err != nil {
		return
	}
	p, shop, err := s.bench(ctx, j)
	if err != nil || p.Master.Mesh == nil {
		return
	}
	design := toDesign(d).Design
	b, err := p.BoxOf(design, shop.Practice)
	if err != nil {
		out.BoxProblem = optional(sentence(err.Error()))
		return
	}
	box := BoxPlan{Form: string(b.Form), Ring: pairs(b.Ring), Wide: b.Wide, Deep: b.Deep, Nearest: b.Nearest, Cavities: [][][]float64{}, Panels: []Panel{},
		Height: fromNumber(b.Height), Volume: fromNumber(b.Volume), Saved: fromNumber(b.Saved), Strip: fromNumber(b.Strip)}
	rings, err := p.Outlines(design)
	if err != nil {
		return
	}
	for _, ring := range rings {
		box.Cavities = append(box.Cavities, pairs(ring))
	}
	for _, panel := range b.Panels {
		box.Panels = append(box.Panels, fromPanel(panel))
	}
	out.Box = &box
}

func pairs(ring []outline.Point) [][]float64 {
	out := make([][]float64, len(ring))
	for i, p := range ring {
		out[i] = []float64{p[0], p[1]}
	}
	return out
}

func (s *Server) study(ctx context.Context, id uuid.UUID, d Design) (study.Study, error) {
	j, err := s.store.Job(ctx, id)
	if err != nil {
		return study.Study{}, err
	}
	p, shop, err := s.bench(ctx, j)
	if err != nil {
		return study.Study{}, err
	}
	m, err := s.materials(ctx, d)
	if err != nil {
		return study.Study{}, err
	}
	m.Inserts = j.Brief.Inserts
	st, err := p.Work(toDesign(d).Design, m, shop.Practice)
	if err != nil {
		return st, unusable("This cannot be built", err)
	}
	return st, nil
}

// materials finds what a design has chosen on the shelf.
func (s *Server) materials(ctx context.Context, d Design) (study.Given, error) {
	var out study.Given
	if d.Rubber == nil && d.Resin == nil {
		return out, nil
	}
	all, err := s.store.Materials(ctx)
	if err != nil {
		return out, err
	}
	find := func(id *uuid.UUID, kind string) (*mix.Material, error) {
		if id == nil {
			return nil, nil
		}
		for _, m := range all {
			if m.ID == *id && m.Kind == kind {
				found := m.Mix()
				return &found, nil
			}
		}
		return nil, problem(http.StatusUnprocessableEntity, "That "+kind+" is not on the shelf", "Choose one that is in Stock.")
	}
	if out.Rubber, err = find(d.Rubber, "rubber"); err != nil {
		return out, err
	}
	out.Resin, err = find(d.Resin, "resin")
	return out, err
}

// ProposeVents puts a vent at every high spot.
func (s *Server) ProposeVents(ctx context.Context, r ProposeVentsRequestObject) (ProposeVentsResponseObject, error) {
	p, err := s.masterOf(ctx, r.JobId)
	if err != nil {
		return nil, err
	}
	vents, err := p.ProposeVents(toDesign(*r.Body).Design)
	if err != nil {
		return nil, err
	}
	return ProposeVents200JSONResponse(fromVents(vents)), nil
}

// GetSection cuts the part for drawing.
func (s *Server) GetSection(ctx context.Context, r GetSectionRequestObject) (GetSectionResponseObject, error) {
	p, err := s.masterOf(ctx, r.JobId)
	if err != nil {
		return nil, err
	}
	loops, err := p.Section(part.Axis(r.Params.Axis), r.Params.Offset)
	if err != nil {
		return nil, err
	}
	out := GetSection200JSONResponse{Loops: [][]float32{}}
	for _, loop := range loops {
		flat := make([]float32, 0, 3*len(loop))
		for _, v := range loop {
			flat = append(flat, float32(v.X), float32(v.Y), float32(v.Z))
		}
		out.Loops = append(out.Loops, flat)
	}
	return out, nil
}

func fromVents(vents []gate.Vent) []Vent {
	out := make([]Vent, len(vents))
	for i, v := range vents {
		out[i] = Vent{At: point(v.At), Bore: v.Bore}
	}
	return out
}

func fromDesign(d store.Design) Design {
	m, g := d.Mould, d.Gates
	out := Design{
		Draw: Axis(m.Draw), RubberUpA: Axis(m.Attitudes.RubberA), RubberUpB: Axis(m.Attitudes.RubberB), ResinUp: Axis(m.Attitudes.Resin),
		Parting: m.Parting, Clearance: Clearance{Beside: m.Clearance.Beside, Below: m.Clearance.Below, Above: m.Clearance.Above},
		Rubber: d.Rubber, Resin: d.Resin, RubberOver: d.RubberOver,
		Feed: Feed(g.Feed), SprueBore: g.SprueBore, VentBore: d.VentBore, WellWidth: g.WellWidth, WellDepth: g.WellDepth,
		Vents: fromVents(g.Vents), ShotOver: d.ShotOver,
		Kind: optional(BuiltKind(d.Kind)), Gap: optional(d.Gap), Skin: optional(d.Skin),
	}
	if d.Box != (study.BoxChoice{}) {
		out.Box = &BoxChoice{Form: BoxChoiceForm(cmp.Or(d.Box.Form, box.Rectangle)), Wide: optional(d.Box.Wide), Deep: optional(d.Box.Deep)}
	}
	if d.Keys != (key.Choices{}) {
		out.Keys = &KeyChoice{Kind: KeyChoiceKind(cmp.Or(d.Keys.Kind, key.Dome)), Size: optional(d.Keys.Size)}
	}
	if d.Seam != "" {
		out.Seam = optional(DesignSeam(d.Seam))
	}
	if d.Holes != "" {
		out.Holes = optional(DesignHoles(d.Holes))
	}
	if len(d.Sides) > 0 {
		all := make([]SideChoice, len(d.Sides))
		for i, side := range d.Sides {
			all[i] = SideChoice{At: point(side.At), Strip: side.Strip}
			if side.Draw != (r3.Vec{}) {
				way := point(side.Draw)
				all[i].Draw = &way
			}
		}
		out.Sides = &all
	}
	if len(d.Gang) > 0 {
		all := make([]Point, len(d.Gang))
		for i, pose := range d.Gang {
			all[i] = Point{pose.X, pose.Y, pose.Turn}
		}
		out.Gang = &all
	}
	return out
}

// optional is nil for what was left out.
func optional[T comparable](v T) *T {
	if v == *new(T) {
		return nil
	}
	return &v
}

func given[T any](v *T) (out T) {
	if v != nil {
		out = *v
	}
	return out
}

// fromSeam names a seam as the page does.
func fromSeam(s pieces.Seam) string { return cmp.Or(string(s), "middle") }

func toDesign(d Design) store.Design {
	vents := make([]gate.Vent, len(d.Vents))
	for i, v := range d.Vents {
		vents[i] = gate.Vent{At: vec(v.At), Bore: v.Bore}
	}
	out := store.Design{Rubber: d.Rubber, Resin: d.Resin, Design: study.Design{
		Mould: mould.Choices{
			Draw:      part.Axis(d.Draw),
			Attitudes: mould.Attitudes{RubberA: part.Axis(d.RubberUpA), RubberB: part.Axis(d.RubberUpB), Resin: part.Axis(d.ResinUp)},
			Parting:   d.Parting,
			Clearance: practice.Clearance{Beside: d.Clearance.Beside, Below: d.Clearance.Below, Above: d.Clearance.Above},
		},
		RubberOver: d.RubberOver,
		Gates:      gate.Choices{Feed: practice.Feed(d.Feed), SprueBore: d.SprueBore, WellWidth: d.WellWidth, WellDepth: d.WellDepth, Vents: vents},
		VentBore:   d.VentBore,
		ShotOver:   d.ShotOver,
		Kind:       kind.Kind(given(d.Kind)),
		Gang:       toPoses(given(d.Gang)),
		Gap:        given(d.Gap),
		Skin:       given(d.Skin),
	}}
	if d.Box != nil {
		out.Box = study.BoxChoice{Form: box.Form(d.Box.Form), Wide: given(d.Box.Wide), Deep: given(d.Box.Deep)}
	}
	if d.Keys != nil {
		out.Keys = key.Choices{Kind: key.Kind(d.Keys.Kind), Size: given(d.Keys.Size)}
	}
	if seam := given(d.Seam); seam != "middle" {
		out.Seam = pieces.Seam(seam)
	}
	if holes := given(d.Holes); holes != "outside" {
		out.Holes = pieces.Seam(holes)
	}
	for _, side := range given(d.Sides) {
		t := pieces.Told{At: vec(side.At), Strip: side.Strip}
		if side.Draw != nil {
			t.Draw = vec(*side.Draw)
		}
		out.Sides = append(out.Sides, t)
	}
	return out
}
