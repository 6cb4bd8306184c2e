package api

import (
	"bytes"
	"context"
	"fmt"
	"net/http"

	"bathyform/core/gang"
	"bathyform/core/mould"
	"bathyform/core/template"
)

// GetTemplate draws what is cut and marked for a mould.
func (s *Server) GetTemplate(ctx context.Context, r GetTemplateRequestObject) (GetTemplateResponseObject, error) {
	sheet, job, err := s.template(ctx, r)
	if err != nil {
		return nil, err
	}
	data := sheet.SVG()
	if r.Form == "dxf" {
		data = sheet.DXF()
	}
	name := fmt.Sprintf(`attachment; filename="%s.%s"`, fileName(job+" "+string(r.Sheet)), r.Form)
	return GetTemplate200ApplicationoctetStreamResponse{Body: bytes.NewReader(data), ContentLength: int64(len(data)), Headers: GetTemplate200ResponseHeaders{ContentDisposition: &name}}, nil
}

func (s *Server) template(ctx context.Context, r GetTemplateRequestObject) (template.Sheet, string, error) {
	j, err := s.store.Job(ctx, r.JobId)
	if err != nil {
		return template.Sheet{}, "", err
	}
	if r.Sheet == "gang" {
		number := func(x *float64) float64 {
			if x == nil {
				return 0
			}
			return *x
		}
		_, p, q, _, err := s.asDesigned(ctx, r.JobId)
		if err != nil {
			return template.Sheet{}, "", err
		}
		ask := gang.Ask{Pot: number(r.Params.Pot), Gap: number(r.Params.Gap), Edge: number(r.Params.Edge)}
		if r.Params.Count != nil {
			ask.Count = *r.Params.Count
		}
		g, err := p.Lay(q.Design, ask)
		if err != nil {
			return template.Sheet{}, "", gangProblem(err)
		}
		return template.GangPlan(g.Layout, g.Shape), j.Order.Name, nil
	}
	p, shop, err := s.bench(ctx, j)
	if err != nil {
		return template.Sheet{}, "", err
	}
	d, err := p.Start(shop.Practice)
	if err == nil && j.Design != nil {
		d = j.Design.Design
	}
	if err != nil {
		return template.Sheet{}, "", err
	}
	plan, err := mould.Make(p.Master, d.Mould, shop.Practice)
	if err != nil {
		return template.Sheet{}, "", unusable("There is no box to cut", err)
	}
	if r.Sheet == "boards" {
		return template.Boards(plan, shop.Practice.PanelThick, plan.Bed(d.Mould)), j.Order.Name, nil
	}
	if p.Master.Mesh == nil {
		return template.Sheet{}, "", problem(http.StatusConflict, "The shape is not known", sentence(errNoShape.Error()))
	}
	dir, err := d.Mould.Draw.Dir()
	if err != nil {
		return template.Sheet{}, "", unusable("There is no draw", err)
	}
	section, err := p.Section(d.Mould.Draw, plan.Parting)
	if err != nil {
		return template.Sheet{}, "", err
	}
	sheet, err := template.PartingBoard(plan, dir, section)
	return sheet, j.Order.Name, err
}
