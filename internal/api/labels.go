package api

import (
	"bytes"
	"context"
	"fmt"
	"mime"

	"bathyform/internal/paper"
)

// GetLabels sets a sheet of labels of the moulds in use.
func (s *Server) GetLabels(ctx context.Context, r GetLabelsRequestObject) (GetLabelsResponseObject, error) {
	shop, err := s.store.ReadShop(ctx)
	if err != nil {
		return nil, err
	}
	moulds, err := s.store.Moulds(ctx)
	if err != nil {
		return nil, err
	}
	host, _ := ctx.Value(calledKey{}).(string)
	var all []paper.Label
	for _, m := range moulds {
		if m.Retired != nil {
			continue
		}
		all = append(all, paper.Label{Number: m.Number, Says: []string{m.JobName, m.Rubber, "poured " + m.Poured.Format("2 Jan 2006")},
			Opens: fmt.Sprintf("http://%s/rack/%s", host, m.ID)})
	}
	data, err := paper.Labels(paperOf(r.Params.Paper, shop.Practice), all)
	if err != nil {
		return nil, err
	}
	name := mime.FormatMediaType("attachment", map[string]string{"filename": "labels.pdf"})
	return GetLabels200ApplicationoctetStreamResponse{Body: bytes.NewReader(data), ContentLength: int64(len(data)),
		Headers: GetLabels200ResponseHeaders{ContentDisposition: &name}}, nil
}
