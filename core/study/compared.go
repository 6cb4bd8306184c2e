package study

import (
	"context"

	"bathyform/core/derive"
	"bathyform/core/finish"
	"bathyform/core/kind"
	"bathyform/core/pieces"
)

// KindRow is one kind in the comparison.
type KindRow struct {
	Kind  kind.Kind
	Built *Built
	Err   string // why it cannot be built, in words
}

// CompareKinds builds the design as every kind that is asked for.
func (p *Prepared) CompareKinds(ctx context.Context, q BuildQuestion, kinds []kind.Kind, told func(stage string, row *KindRow)) error {
	for _, k := range kinds {
		if err := ctx.Err(); err != nil {
			return err
		}
		q.Kind = k
		b, err := p.Build(ctx, q, func(stage string) { told(string(k)+": "+stage, nil) })
		row := KindRow{Kind: k, Built: &b}
		if err != nil {
			if ctx.Err() != nil {
				return ctx.Err()
			}
			row.Built, row.Err = nil, upperFirst(err.Error())+"."
		}
		told(string(k), &row)
	}
	return nil
}

// PartingRow is the parting along one edge of the walls.
type PartingRow struct {
	Seam   pieces.Seam
	Plan   pieces.Plan
	Finish derive.Number // min for each casting
}

// ComparePartings lays the parting along every edge that casters choose from.
func (p *Prepared) ComparePartings(ctx context.Context, q BuildQuestion, told func(stage string, row *PartingRow)) error {
	for _, seam := range pieces.Seams {
		q.Design.Seam = seam
		ask := q.pieceQuestion(kind.Clay)
		ask.Uncut = true // keys do not matter to a line
		plan, err := p.Pieces(ctx, ask, func(stage string) { told(stage, nil) })
		if err != nil {
			return err
		}
		row := PartingRow{Seam: seam, Plan: plan}
		row.Finish = finish.Casting{Seam: plan.Line / float64(q.Design.Cavities()), Across: plan.Open, Quality: q.Quality}.Minutes()
		told("", &row)
	}
	return nil
}
