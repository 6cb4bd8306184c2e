package api

import (
	"bytes"
	"context"

	"bathyform/core/sheet"
	"bathyform/internal/paper"
)

// GetTemplate draws what is cut and marked for a mould.
func (s *Server) GetTemplate(ctx context.Context, r GetTemplateRequestObject) (GetTemplateResponseObject, error) {
	o, q, err := s.asked(ctx, r.JobId, r.Params.Kind)
	if err != nil {
		return nil, err
	}
	var drawn sheet.Sheet
	if ask := toAsk(GangQuestion{Pot: r.Params.Pot, Gap: given(r.Params.Gap), Edge: given(r.Params.Edge),
		Count: r.Params.Count}); r.Sheet == "gang" &&
		(ask.Count > 0 || ask.Pot > 0) {
		g, err := o.master.Gang(ctx, q, ask)
		if err != nil {
			return nil, unusable("No gang can be laid", err)
		}
		drawn = sheet.GangPlan(g.Layout, g.Shape, g.In)
	} else {
		p, err := o.master.Plan(ctx, q, nil)
		if err != nil {
			return nil, buildProblem(err)
		}
		if drawn, err = sheet.Of(p, r.Sheet, o.master.Solid, o.house.PanelThick); err != nil {
			return nil, unusable("There is no such sheet", err)
		}
	}
	drawn = drawn.Told(o.house.In())
	var data []byte
	switch r.Form {
	case "dxf":
		data = drawn.DXF()
	case "pdf":
		if data, err = paper.Tiled(drawn, paperOf(r.Params.Paper, o.house), o.house.In()); err != nil {
			return nil, unusable("That is too large for paper", err)
		}
	default:
		data = drawn.SVG()
	}
	name := attachment(o.job, r.Sheet, string(r.Form))
	return GetTemplate200ApplicationoctetStreamResponse{
		Body:          bytes.NewReader(data),
		ContentLength: int64(len(data)),
		Headers:       GetTemplate200ResponseHeaders{ContentDisposition: &name},
	}, nil
}
