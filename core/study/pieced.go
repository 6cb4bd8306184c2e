package study

import (
	"context"
	"errors"
	"fmt"
	"math"

	"bathyform/core/derive"
	"bathyform/core/finding"
	"bathyform/core/mix"
	"bathyform/core/part"
	"bathyform/core/pieces"
	"bathyform/core/practice"
	"bathyform/core/quantity"
	"bathyform/core/strip"
)

// ErrNoShape says that a master known by measure alone has no shape to work on.
var ErrNoShape = errors.New("this master is known by its measures alone; its mould cannot be divided into pieces")

// PieceQuestion is what a mould in pieces is asked with.
type PieceQuestion struct {
	Design     Design
	Rubber     *mix.Material
	Wanted     int // castings still to make
	HalvesOnly bool
}

// piecesCells is the lattice of a mould in pieces.
const piecesCells = 110

type pieceKey struct {
	draw       part.Axis
	clearance  practice.Clearance
	parting    float64 // NaN is never equal: the outline's own is -Inf
	rubber     strip.Rubber
	few        bool
	halvesOnly bool
}

func (q PieceQuestion) key() pieceKey {
	k := pieceKey{draw: q.Design.Mould.Draw, clearance: q.Design.Mould.Clearance, parting: math.Inf(-1),
		rubber: strip.Rubber{Shore: assumed.Shore, Elongation: assumed.Elongation}, few: q.Wanted <= 2, halvesOnly: q.HalvesOnly}
	if q.Design.Mould.Parting != nil {
		k.parting = *q.Design.Mould.Parting
	}
	if q.Rubber != nil && q.Rubber.Traits.Elongation > 0 {
		k.rubber = strip.Rubber{Shore: q.Rubber.Traits.Shore, Elongation: q.Rubber.Traits.Elongation}
	}
	return k
}

// pieced keeps the mould that was divided last.
type pieced struct {
	key  pieceKey
	plan pieces.Plan
}

// Pieces divides the rubber of a design, or returns what was divided before.
func (p *Prepared) Pieces(ctx context.Context, q PieceQuestion, told func(stage string)) (pieces.Plan, error) {
	if p.Master.Mesh == nil {
		return pieces.Plan{}, ErrNoShape
	}
	k := q.key()
	p.finer.mu.Lock()
	known := p.finer.pieced
	p.finer.mu.Unlock()
	if known != nil && known.key == k {
		return known.plan, nil
	}
	dir, err := k.draw.Dir()
	if err != nil {
		return pieces.Plan{}, err
	}
	m := p.Master.Mesh
	if p.Master.Report.VolumeError > 0 {
		m, _ = m.Capped()
	}
	plan, err := pieces.Make(ctx, m, pieces.Choices{Draw: dir, Clearance: k.clearance, Parting: q.Design.Mould.Parting, HalvesOnly: q.HalvesOnly,
		Rubber: k.rubber, Wanted: q.Wanted, Cells: piecesCells}, told)
	if err != nil {
		return plan, err
	}
	p.finer.mu.Lock()
	p.finer.pieced = &pieced{k, plan}
	p.finer.mu.Unlock()
	return plan, nil
}

// PieceBatch is one piece with the rubber that it takes.
type PieceBatch struct {
	Volume derive.Number // mL
	Batch  *mix.Batch    // nil until a rubber is chosen
}

// Batches are the pours of a mould in pieces.
func Batches(plan pieces.Plan, q PieceQuestion) ([]PieceBatch, error) {
	out := make([]PieceBatch, len(plan.Pieces))
	for i, piece := range plan.Pieces {
		out[i].Volume = derive.Of(quantity.Volume, piece.Volume/1000, "sum over the triangles of the piece's closed surface",
			derive.From("cell of the lattice", quantity.Length, plan.Cell, "the box, divided")).
			Noted(fmt.Sprintf("All pieces and the part make up the box to %.2g %%.", 100*plan.Error()))
		if q.Rubber == nil {
			continue
		}
		b, err := mix.Split(*q.Rubber, withOver(out[i].Volume, q.Design.RubberOver))
		if err != nil {
			return nil, err
		}
		out[i].Batch = &b
	}
	return out, nil
}

// PartingFigures are a parting's measured values with how they were taken.
type PartingFigures struct{ Line, Off, Steep derive.Number }

// Parting tells how long, how uneven and how steep a parting is; Steep is in degrees.
func Parting(plan pieces.Plan) PartingFigures {
	cell := derive.From("cell of the lattice", quantity.Length, plan.Cell, "the box, divided")
	level := derive.From("level along the draw", quantity.Length, plan.Level, "nearest to the whole outline, or set by hand")
	return PartingFigures{
		Line:  derive.Of(quantity.Length, plan.Line, "length of the part's outline seen along the draw, holes included", cell),
		Off:   derive.Of(quantity.Length, plan.Off, "greatest distance of the line from its level, where the outline does not reach it", level, cell),
		Steep: derive.Of(quantity.Number, plan.Steep, "greatest slope of the parting between part and wall, in degrees", cell),
	}
}

// steepest is the slope in degrees from which a parting's two sides lie on
// one another like a wall: they rub, and the sheet is hard to bed. Common
// practice, no source.
const steepest = 70

// PieceFindings says what stands against a mould in pieces.
func PieceFindings(plan pieces.Plan, q PieceQuestion) (out []finding.Finding) {
	add := func(f finding.Finding) {
		f.Stage = finding.Mould
		out = append(out, f)
	}
	sides := len(plan.Pieces) - 2
	for _, piece := range plan.Pieces {
		if piece.Catches > 1 {
			add(finding.Finding{Severity: finding.Stop, What: piece.Name + " does not come away.", Figure: finding.Of(quantity.Volume, piece.Catches/1000),
				Why: "Moved out along its draw, with the pieces that leave after it in place, this much of it meets them or the part.", Source: "every piece moved on the lattice"})
		}
		if piece.Stripped > lockedShare*plan.Part {
			add(finding.Finding{Severity: finding.Watch, What: fmt.Sprintf("%s holds the part until it is stripped off.", piece.Name), Figure: finding.Of(quantity.Volume, piece.Stripped/1000), Limit: finding.Of(quantity.Volume, lockedShare*plan.Part/1000),
				Why: "So much of it lies behind the part along its draw and has to stretch over it.", Source: finding.CommonPractice})
		}
	}
	for _, at := range plan.Left {
		add(finding.Finding{Severity: finding.Watch, What: "No side piece frees this undercut.", Where: place(at), Why: "From every way out part of it is in the way: strip it, fill it on the master, or draw the part another way.", Source: "every way out tried on the lattice"})
	}
	if plan.Steep > steepest {
		add(finding.Finding{Severity: finding.Watch, What: "The parting climbs like a wall.", Figure: finding.Of(quantity.Number, plan.Steep), Limit: finding.Of(quantity.Number, steepest),
			Why: "Degrees of its steepest place. The halves still come apart, but they rub there and the bed is hard to build: another draw has a flatter line.", Source: finding.CommonPractice})
	}
	if sides > 0 {
		cure := assumed.Demould / 60
		if q.Rubber != nil && q.Rubber.Traits.Demould > 0 {
			cure = q.Rubber.Traits.Demould / 60
		}
		add(finding.Finding{Severity: finding.Note, What: fmt.Sprintf("%s the rubber: %s than two halves that are stripped.", places(sides, "side piece spares", "side pieces spare"), places(sides, "more pour", "more pours")),
			Figure: finding.Of(quantity.Time, cure+sideHours*float64(sides)),
			Why:    fmt.Sprintf("They can be poured together and cure once more, %.3g h, with %.2g h of work each; and each is taken out and put back at every pull.", cure, sideHours), Source: finding.CommonPractice})
	}
	return out
}

// sideHours is the work that a side piece takes. Common practice, no source.
const sideHours = 0.4
