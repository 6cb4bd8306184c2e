package api

import (
	"bytes"
	"context"
	"fmt"
	"math"
	"net/http"
	"slices"
	"time"

	"bathyform/core/bench"
	"bathyform/core/build"
	"bathyform/core/derive"
	"bathyform/core/finding"
	"bathyform/core/kinds"
	"bathyform/core/mesh"
	"bathyform/core/mould"
	"bathyform/core/practice"
	"bathyform/core/quantity"
	"bathyform/internal/paper"
	"bathyform/internal/store"
)

// GetBuildSheet sets the sheet that goes to the bench.
func (s *Server) GetBuildSheet(ctx context.Context, r GetBuildSheetRequestObject) (GetBuildSheetResponseObject, error) {
	o, q, err := s.asked(ctx, r.JobId, r.Params.Kind)
	if err != nil {
		return nil, err
	}
	b, err := o.master.Build(ctx, q, nil)
	if err != nil {
		return nil, buildProblem(err)
	}
	shop, err := s.store.ReadShop(ctx)
	if err != nil {
		return nil, err
	}
	sheet, err := buildSheet(o.job, shop.Name, b.Build, q, time.Now())
	if err != nil {
		return nil, buildProblem(err)
	}
	data, err := sheet.PDF(paperOf(r.Params.Paper, q.House))
	if err != nil {
		return nil, err
	}
	name := attachment(o.job, "build sheet", "pdf")
	return GetBuildSheet200ApplicationoctetStreamResponse{
		Body:          bytes.NewReader(data),
		ContentLength: int64(len(data)),
		Headers:       GetBuildSheet200ResponseHeaders{ContentDisposition: &name},
	}, nil
}

// paperOf is the paper that is asked for, or that of the shop's units.
func paperOf[P ~string](asked *P, h practice.House) paper.Size {
	switch {
	case asked != nil:
		return paper.Size(*asked)
	case h.Units == quantity.US:
		return paper.Letter
	}
	return paper.A4
}

// told are findings in the shop's units.
func told(all []finding.Finding, in quantity.Units) []finding.Finding {
	out := slices.Clone(all)
	for i, f := range out {
		out[i].What, out[i].Why = in.Told(f.What), in.Told(f.Why)
	}
	return out
}

func buildSheet(j store.Job, shop string, b build.Build, q bench.Question, now time.Time) (paper.BuildSheet, error) {
	p, in := b.Plan, q.House.In()
	out := paper.BuildSheet{Shop: shop, Part: j.Order.Name, Kind: p.Kind.Name, Printed: now.Format("2 January 2006"), In: in,
		Pictures: b.Attitudes, Plan: b.Lay, Findings: told(b.Findings, in), Cautions: append(append([]string{}, kinds.RubberCautions...),
			kinds.ShotCautions...)}
	slots, midnight, err := scheduled(b, q.House, now)
	if err != nil {
		return out, err
	}
	for i, st := range b.Steps {
		when := moment(midnight, slots[i].From).Format("Mon 2 Jan 15:04")
		out.Steps = append(out.Steps, paper.Step{When: when, Do: in.Told(st.Do), Why: in.Told(st.Why), Caution: st.Caution, Wait: st.Wait})
	}
	fact := func(name string, n derive.Number) paper.Fact {
		return paper.Fact{Name: name, Value: n.Value, Kind: n.Kind}
	}
	words := func(name, w string) paper.Fact { return paper.Fact{Name: name, Words: w} }
	out.Facts = []paper.Fact{
		words("castings wanted", fmt.Sprint(q.Wanted)),
		words("cavities", fmt.Sprint(p.Design.Cavities())),
		fact("moulds", b.Moulds),
		fact("rubber to mix", p.Mixed),
		fact("work", b.Hands),
		fact("curing", b.Waits),
	}
	if len(slots) > 0 {
		out.Facts = append(out.Facts, words("first casting out", moment(midnight, slots[len(slots)-1].To).Format("Mon 2 Jan 15:04")))
	}
	if !p.Kind.Shelled {
		out.Facts = append(out.Facts, words("box inside", paper.Sides(in, p.Box.Wide, p.Box.Deep, p.Box.Height.Value)))
	}
	if q.Rubber != nil {
		out.Facts = append(out.Facts, words("rubber", q.Rubber.Name))
	}
	if b.Weight != nil {
		out.Facts = append(out.Facts, fact("weight of the mould", *b.Weight))
	}
	if p.Clay != nil {
		out.Quantities = append(out.Quantities, fact("clay", *p.Clay), fact("its mass", *p.ClayMass()))
	}
	for _, e := range b.Extras {
		out.Quantities = append(out.Quantities, fact(e.Name, e.Number))
	}
	for _, panel := range p.Box.Panels {
		if !p.Kind.Shelled {
			out.Quantities = append(
				out.Quantities,
				words(fmt.Sprintf("%d × %s", panel.Count, panel.Name), paper.Sides(in, panel.A.Value, panel.B.Value)),
			)
		}
	}
	for _, pour := range p.Pours {
		row := paper.Pour{
			Name:   pour.Name,
			Volume: pour.Mixed.Value,
			Mixes:  int(math.Round(pour.Mixes.Value)),
			Bed:    pour.Bed,
			Level:  pour.Level,
			Up:     pour.Up.String(),
		}
		if pour.Batch != nil {
			row.A, row.B = pour.Batch.A.Value, pour.Batch.B.Value
		}
		out.Pours = append(out.Pours, row)
	}
	return out, nil
}

// printed walls and the play of printed keys, mm. Common practice, no source.
const (
	printedWall = 2.4
	keyPlay     = 0.2
)

// GetBody packs a body to print.
func (s *Server) GetBody(ctx context.Context, r GetBodyRequestObject) (GetBodyResponseObject, error) {
	o, q, err := s.asked(ctx, r.JobId, r.Params.Kind)
	if err != nil {
		return nil, err
	}
	p, err := o.master.Plan(ctx, q, nil)
	if err != nil {
		return nil, buildProblem(err)
	}
	all, err := bodies(p, r.Body)
	if err != nil {
		return nil, buildProblem(err)
	}
	if len(all) == 0 {
		return nil, problem(
			http.StatusNotFound,
			"There is nothing to print",
			"This mould has no such body: choose keys, or a box with walls.",
		)
	}
	var data []byte
	if r.Form == "3mf" {
		if data, err = mesh.Write3MF(all); err != nil {
			return nil, err
		}
	} else {
		m := &mesh.Mesh{}
		for _, b := range all {
			m.Append(b.Mesh)
		}
		data = m.WriteSTL()
	}
	name := attachment(o.job, r.Body, string(r.Form))
	return GetBody200ApplicationoctetStreamResponse{
		Body:          bytes.NewReader(data),
		ContentLength: int64(len(data)),
		Headers:       GetBody200ResponseHeaders{ContentDisposition: &name},
	}, nil
}

func bodies(p mould.Plan, body string) (out []mesh.Named, err error) {
	for _, b := range p.Prints() {
		if b.Key != body {
			continue
		}
		switch body {
		case "box":
			m, err := p.Box.Printed(p.Box.Height.Value+p.Box.Freeboard, printedWall)
			return []mesh.Named{{Name: "box", Mesh: m}}, err
		case "keys":
			for i, k := range p.Division.Keys.Keys {
				if m := k.Body(keyPlay); len(m.Triangles) > 0 {
					out = append(out, mesh.Named{Name: fmt.Sprintf("key %d", i+1), Mesh: m})
				}
			}
			return out, nil
		case "rods":
			for _, r := range p.Rods {
				if m := r.Body(); m != nil {
					out = append(out, mesh.Named{Name: r.Name, Mesh: m})
				}
			}
			return out, nil
		case "core":
			return []mesh.Named{{Name: "core", Mesh: p.Blanket.Outer}}, nil
		}
		return []mesh.Named{{Name: "blanket", Mesh: p.Blanket.Body}}, nil
	}
	return nil, nil
}
