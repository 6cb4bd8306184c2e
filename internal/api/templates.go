package api

import (
	"bytes"
	"context"
	"fmt"

	"bathyform/core/template"
	"bathyform/internal/paper"
)

// GetTemplate draws what is cut and marked for a mould.
func (s *Server) GetTemplate(ctx context.Context, r GetTemplateRequestObject) (GetTemplateResponseObject, error) {
	o, q, err := s.asked(ctx, r.JobId, r.Params.Kind)
	if err != nil {
		return nil, err
	}
	var sheet template.Sheet
	if ask := toAsk(GangQuestion{Pot: r.Params.Pot, Gap: given(r.Params.Gap), Edge: given(r.Params.Edge),
		Count: r.Params.Count}); r.Sheet == "gang" &&
		(ask.Count > 0 || ask.Pot > 0) {
		g, err := o.master.Gang(q, ask)
		if err != nil {
			return nil, unusable("No gang can be laid", err)
		}
		sheet = template.GangPlan(g.Layout, g.Shape)
	} else {
		p, err := o.master.Plan(ctx, q, nil)
		if err != nil {
			return nil, buildProblem(err)
		}
		if sheet, err = template.Of(p, r.Sheet, o.master.Solid, o.house.PanelThick); err != nil {
			return nil, unusable("There is no such sheet", err)
		}
	}
	var data []byte
	switch r.Form {
	case "dxf":
		data = sheet.DXF()
	case "pdf":
		if data, err = paper.Tiled(sheet, paperOf(r.Params.Paper, o.house)); err != nil {
			return nil, unusable("That is too large for paper", err)
		}
	default:
		data = sheet.SVG()
	}
	name := fmt.Sprintf(`attachment; filename="%s.%s"`, fileName(o.job.Order.Name+" "+r.Sheet), r.Form)
	return GetTemplate200ApplicationoctetStreamResponse{
		Body:          bytes.NewReader(data),
		ContentLength: int64(len(data)),
		Headers:       GetTemplate200ResponseHeaders{ContentDisposition: &name},
	}, nil
}
