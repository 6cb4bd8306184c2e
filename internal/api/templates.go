package api

import (
	"bytes"
	"context"
	"fmt"
	"net/http"

	"bathyform/core/box"
	"bathyform/core/gang"
	"bathyform/core/kind"
	"bathyform/core/mould"
	"bathyform/core/study"
	"bathyform/core/template"
	"bathyform/internal/paper"

	"github.com/google/uuid"
)

// GetTemplate draws what is cut and marked for a mould.
func (s *Server) GetTemplate(ctx context.Context, r GetTemplateRequestObject) (GetTemplateResponseObject, error) {
	sheet, job, err := s.template(ctx, r)
	if err != nil {
		return nil, err
	}
	var data []byte
	switch r.Form {
	case "dxf":
		data = sheet.DXF()
	case "pdf":
		shop, err := s.store.ReadShop(ctx)
		if err != nil {
			return nil, err
		}
		if data, err = paper.Tiled(sheet, paperOf(r.Params.Paper, shop.Practice)); err != nil {
			return nil, unusable("That is too large for paper", err)
		}
	default:
		data = sheet.SVG()
	}
	name := fmt.Sprintf(`attachment; filename="%s.%s"`, fileName(job+" "+string(r.Sheet)), r.Form)
	return GetTemplate200ApplicationoctetStreamResponse{Body: bytes.NewReader(data), ContentLength: int64(len(data)), Headers: GetTemplate200ResponseHeaders{ContentDisposition: &name}}, nil
}

// plateRim is how far clamping plates stand out over the block, mm.
const plateRim = 20.0

func (s *Server) template(ctx context.Context, r GetTemplateRequestObject) (template.Sheet, string, error) {
	var none template.Sheet
	if r.Sheet == "boards" {
		if sheet, name, ok, err := s.measuredBoards(ctx, r.JobId); ok || err != nil {
			return sheet, name, err
		}
	}
	k := kindOfSheet(r.Sheet)
	j, p, q, err := s.toBuild(ctx, r.JobId, k)
	if err != nil {
		return none, "", err
	}
	name := j.Order.Name
	if r.Sheet == "gang" {
		g, err := s.gangAsked(p, q, r)
		if err != nil {
			return none, "", gangProblem(err)
		}
		return template.GangPlan(g.Layout, g.Shape), name, nil
	}
	b, err := p.BoxOf(q.Design, q.House)
	if err != nil {
		return none, "", unusable("There is no box to cut", err)
	}
	tall, thick := b.Height.Value+b.Freeboard, q.House.PanelThick
	switch r.Sheet {
	case "folded":
		return template.Folded(b.Wide, b.Deep, tall), name, nil
	case "bent":
		if b.Form == box.Rectangle || b.Form == box.Own {
			return none, "", problem(http.StatusUnprocessableEntity, "That box is not bent", "Choose a sleeve, a contour or a round box on the Mould stage.")
		}
		return template.Bent(b.Box, tall, b.Strip.Value-b.Wall), name, nil
	case "blanking":
		return template.BlankingEnd(b.Box, max(b.Wide, b.Deep), tall), name, nil
	case "plates":
		return template.Plates(b.Box, plateRim), name, nil
	}
	made, err := p.Build(ctx, q, nil)
	if err != nil {
		return none, "", buildProblem(err)
	}
	bed := 0.0
	for _, pour := range made.Pours {
		if pour.Name == "Half A" {
			bed = pour.Bed
		}
	}
	switch r.Sheet {
	case "boards":
		return template.Boards(b.Panels, thick, bed, b.Height.Value), name, nil
	case "jointed":
		return template.Jointed(b.Wide, b.Deep, tall, thick, bed, b.Height.Value), name, nil
	case "wrap":
		return template.Wrap(*made.Cut), name, nil
	case "fins":
		return template.Fins(made.Plan, 12), name, nil
	case "flange":
		dir, err := q.Design.Mould.Draw.Dir()
		if err != nil {
			return none, "", unusable("There is no draw", err)
		}
		sheet, err := template.Flange(made.Blanket.Outer, dir)
		return sheet, name, err
	}
	section, err := p.SectionAt(q.Design, made.Plan.Level)
	if err != nil {
		return none, "", err
	}
	sheet := template.PartingBoard(b.Ring, made.Plan.Frame, section)
	return sheet.Keyed(made.Plan.Keys.Keys), name, nil
}

// measuredBoards are the boards of a master that is known by its measures alone.
func (s *Server) measuredBoards(ctx context.Context, id uuid.UUID) (template.Sheet, string, bool, error) {
	j, err := s.store.Job(ctx, id)
	if err != nil {
		return template.Sheet{}, "", false, err
	}
	p, shop, err := s.bench(ctx, j)
	if err != nil || p.Master.Mesh != nil {
		return template.Sheet{}, "", false, err
	}
	d, err := p.Start(shop.Practice)
	if j.Design != nil {
		d, err = j.Design.Design, nil
	}
	if err != nil {
		return template.Sheet{}, "", false, err
	}
	plan, err := mould.Make(p.Master, d.Mould, shop.Practice)
	if err != nil {
		return template.Sheet{}, "", false, unusable("There is no box to cut", err)
	}
	return template.Boards(plan.Panels, shop.Practice.PanelThick, plan.Bed(d.Mould), plan.Height.Value), j.Order.Name, true, nil
}

// kindOfSheet is the kind that a sheet belongs to; nil for the design's own.
func kindOfSheet(sheet string) *BuiltKind {
	var k BuiltKind
	switch sheet {
	case "wrap":
		k = BuiltKindCut
	case "fins":
		k = BuiltKindTapeParted
	case "flange":
		k = BuiltKindShell
	case "parting-board", "boards", "jointed":
		k = BuiltKind(kind.Clay)
	default:
		return nil
	}
	return &k
}

// gangAsked is the design's own gang, or one that is asked for by numbers.
func (s *Server) gangAsked(p *study.Prepared, q study.BuildQuestion, r GetTemplateRequestObject) (study.Gang, error) {
	ask := gang.Ask{Pot: given(r.Params.Pot), Gap: given(r.Params.Gap), Edge: given(r.Params.Edge), Count: given(r.Params.Count)}
	if ask.Count == 0 && ask.Pot == 0 && len(q.Design.Gang) > 0 {
		return p.Place(q.Design, q.Design.Gang, 0, q.Design.Mould.Clearance.Beside)
	}
	return p.Lay(q.Design, ask)
}
