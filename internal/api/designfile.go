package api

import (
	"context"
	"encoding/json"
	"fmt"

	"bathyform/core/design"
	"bathyform/internal/store"
)

// GetDesignFile writes the whole design as one document.
func (s *Server) GetDesignFile(ctx context.Context, r GetDesignFileRequestObject) (GetDesignFileResponseObject, error) {
	o, err := s.open(ctx, r.JobId)
	if err != nil {
		return nil, err
	}
	d, err := o.kept(ctx)
	if err != nil {
		return nil, err
	}
	out := design.Of(d)
	out.Part = &design.Part{Name: o.job.Order.Name, Mesh: o.job.MeshSHA}
	out.Rubber, out.Resin = filed(o.shelf, d.Rubber), filed(o.shelf, d.Resin)
	return GetDesignFile200JSONResponse(out), nil
}

func filed(all []store.Material, id string) *design.Sheet {
	for _, m := range all {
		if m.ID.String() == id {
			return &design.Sheet{Name: m.Name, Ratio: m.Mix().Ratio.String(), Density: m.Density}
		}
	}
	return nil
}

// PutDesignFile takes a document's design for a job. What the document says
// of materials is looked up on this shop's shelf.
func (s *Server) PutDesignFile(ctx context.Context, r PutDesignFileRequestObject) (PutDesignFileResponseObject, error) {
	from, err := from(r.Params.IfMatch, r.Params.IdempotencyKey)
	if err != nil {
		return nil, err
	}
	o, err := s.open(ctx, r.JobId)
	if err != nil {
		return nil, err
	}
	d := r.Body.Design
	notes := []string{}
	find := func(kind string, f *design.Sheet) string {
		if f == nil {
			return ""
		}
		for _, m := range o.shelf {
			if m.Kind != kind || m.Name != f.Name {
				continue
			}
			if m.Mix().Ratio.String() != f.Ratio || m.Density != f.Density {
				notes = append(
					notes,
					fmt.Sprintf("%s is on the shelf with another ratio or density than in the document; the shelf's are used.", f.Name),
				)
			}
			return m.ID.String()
		}
		notes = append(notes, fmt.Sprintf("%s is not on the shelf: choose a %s.", f.Name, kind))
		return ""
	}
	d.Rubber, d.Resin = find("rubber", r.Body.Rubber), find("resin", r.Body.Resin)
	if p := r.Body.Part; p != nil && p.Mesh != "" && p.Mesh != o.job.MeshSHA {
		notes = append(notes, "The document was made for another mesh: look at vents, parting and undercuts again.")
	}
	if _, _, err := s.study(ctx, r.JobId, d); err != nil {
		return nil, err
	}
	if err := s.stillThere(ctx, r.JobId, s.store.ReplaceDesign(ctx, r.JobId, d, from)); err != nil {
		return nil, err
	}
	return PutDesignFile200JSONResponse{Design: d, Version: from.Version + 1, Notes: notes}, nil
}

// GetDesignSchema publishes the document's schema.
func (s *Server) GetDesignSchema(context.Context, GetDesignSchemaRequestObject) (GetDesignSchemaResponseObject, error) {
	schema, err := DesignSchema()
	return GetDesignSchema200JSONResponse(schema), err
}

// DesignSchema is the JSON Schema of the design document, taken from the
// contract, so that it cannot differ from what is written and read.
func DesignSchema() (map[string]any, error) {
	spec, err := GetSpec()
	if err != nil {
		return nil, err
	}
	raw, err := json.Marshal(spec.Components.Schemas)
	if err != nil {
		return nil, err
	}
	var all map[string]any
	if err := json.Unmarshal(raw, &all); err != nil {
		return nil, err
	}
	defs := map[string]any{}
	var take func(name string)
	var walk func(v any) any
	walk = func(v any) any {
		switch v := v.(type) {
		case []any:
			for i := range v {
				v[i] = walk(v[i])
			}
		case map[string]any:
			if ref, ok := v["$ref"].(string); ok {
				name := ref[len("#/components/schemas/"):]
				take(name)
				return map[string]any{"$ref": "#/$defs/" + name}
			}
			delete(v, "x-go-type") // for the program alone
			delete(v, "x-go-type-import")
			if v["nullable"] == true { // OpenAPI 3.0's way of saying it
				v["type"] = []any{v["type"], "null"}
				delete(v, "nullable")
			}
			for k := range v {
				v[k] = walk(v[k])
			}
		}
		return v
	}
	take = func(name string) {
		if _, ok := defs[name]; !ok {
			defs[name] = true
			defs[name] = walk(all[name])
		}
	}
	take("DesignFile")
	out, _ := defs["DesignFile"].(map[string]any)
	delete(defs, "DesignFile")
	out["$schema"] = "https://json-schema.org/draft/2020-12/schema"
	out["title"] = "Bathyform design"
	out["$defs"] = defs
	return out, nil
}
