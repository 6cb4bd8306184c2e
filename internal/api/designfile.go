package api

import (
	"context"
	"encoding/json"
	"fmt"

	"bathyform/internal/store"

	"github.com/google/uuid"
)

// designFormat and designVersion name the document; the version grows when an
// older reader would misread a newer document.
const (
	designFormat  = "bathyform-design"
	designVersion = 1
)

// GetDesignFile writes the whole design as one document.
func (s *Server) GetDesignFile(ctx context.Context, r GetDesignFileRequestObject) (GetDesignFileResponseObject, error) {
	j, _, q, _, err := s.designOf(ctx, r.JobId)
	if err != nil {
		return nil, err
	}
	out := DesignFile{Format: designFormat, Version: designVersion, Design: fromDesign(q)}
	out.Part.Name = j.Order.Name
	if j.MeshSHA != "" {
		out.Part.Mesh = &j.MeshSHA
	}
	all, err := s.store.Materials(ctx)
	if err != nil {
		return nil, err
	}
	out.Rubber, out.Resin = filed(all, q.Rubber), filed(all, q.Resin)
	return GetDesignFile200JSONResponse(out), nil
}

// designOf takes a job's design as kept or as it would be proposed.
func (s *Server) designOf(ctx context.Context, id uuid.UUID) (store.Job, int, store.Design, store.Shop, error) {
	j, err := s.store.Job(ctx, id)
	if err != nil {
		return j, 0, store.Design{}, store.Shop{}, err
	}
	if j.Design != nil {
		return j, j.DesignVersion, *j.Design, store.Shop{}, nil
	}
	p, shop, err := s.bench(ctx, j)
	if err != nil {
		return j, 0, store.Design{}, shop, err
	}
	d, err := p.Start(shop.Practice)
	return j, j.DesignVersion, store.Design{Design: d}, shop, err
}

func filed(all []store.Material, id *uuid.UUID) *FiledMaterial {
	for _, m := range all {
		if id != nil && m.ID == *id {
			return &FiledMaterial{Name: m.Name, Ratio: m.Mix().Ratio.String(), Density: m.Density}
		}
	}
	return nil
}

// PutDesignFile takes a document's design for a job. What the document says
// of materials is looked up on this shop's shelf.
func (s *Server) PutDesignFile(ctx context.Context, r PutDesignFileRequestObject) (PutDesignFileResponseObject, error) {
	v, err := version(r.Params.IfMatch)
	if err != nil {
		return nil, err
	}
	j, err := s.store.Job(ctx, r.JobId)
	if err != nil {
		return nil, err
	}
	all, err := s.store.Materials(ctx)
	if err != nil {
		return nil, err
	}
	d := r.Body.Design
	notes := []string{}
	find := func(what string, kind string, f *FiledMaterial) *uuid.UUID {
		if f == nil {
			return nil
		}
		for _, m := range all {
			if m.Kind != kind || m.Name != f.Name {
				continue
			}
			if m.Mix().Ratio.String() != f.Ratio || m.Density != f.Density {
				notes = append(notes, fmt.Sprintf("%s is on the shelf with another ratio or density than in the document; the shelf's are used.", f.Name))
			}
			return &m.ID
		}
		notes = append(notes, fmt.Sprintf("%s is not on the shelf: choose a %s.", f.Name, what))
		return nil
	}
	d.Rubber, d.Resin = find("rubber", "rubber", r.Body.Rubber), find("resin", "resin", r.Body.Resin)
	if m := r.Body.Part.Mesh; m != nil && *m != j.MeshSHA {
		notes = append(notes, "The document was made for another mesh: look at vents, parting and undercuts again.")
	}
	if _, err := s.study(ctx, r.JobId, d); err != nil {
		return nil, err
	}
	if err := s.stillThere(ctx, r.JobId, s.store.WriteDesign(ctx, r.JobId, toDesign(d), v)); err != nil {
		return nil, err
	}
	return PutDesignFile200JSONResponse{Design: d, Version: v + 1, Notes: notes}, nil
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
