package study

import (
	"context"
	"errors"
	"fmt"
	"math"

	"bathyform/core/box"
	"bathyform/core/derive"
	"bathyform/core/finding"
	"bathyform/core/gang"
	"bathyform/core/key"
	"bathyform/core/mesh"
	"bathyform/core/mix"
	"bathyform/core/mould"
	"bathyform/core/pieces"
	"bathyform/core/practice"
	"bathyform/core/quantity"
	"bathyform/core/strip"

	"gonum.org/v1/gonum/spatial/r3"
)

// ErrNoShape says that a master known by measure alone has no shape to work on.
var ErrNoShape = errors.New("this master is known by its measures alone; its mould cannot be divided into pieces")

// PieceQuestion is what a mould in pieces is asked with.
type PieceQuestion struct {
	Design     Design
	Rubber     *mix.Material
	Wanted     int // castings still to make
	HalvesOnly bool
	Uncut      bool // poured in one piece and cut, so that no keys are pressed in
}

// piecesCells is the lattice of a mould in pieces with one cavity; a gang's
// has cells as large, as far as mostPoints allows.
const (
	piecesCells = 110
	mostPoints  = 2.5e6
)

func (q PieceQuestion) rubber() strip.Rubber {
	if q.Rubber != nil && q.Rubber.Traits.Elongation > 0 {
		return strip.Rubber{Shore: q.Rubber.Traits.Shore, Elongation: q.Rubber.Traits.Elongation}
	}
	return strip.Rubber{Shore: assumed.Shore, Elongation: assumed.Elongation}
}

// key is all that a division depends on.
func (q PieceQuestion) key() string {
	m := q.Design.Mould
	parting := "outline"
	if m.Parting != nil {
		parting = fmt.Sprint(*m.Parting)
	}
	d := q.Design
	vents := ""
	if q.keyed() { // keys stand clear of them
		vents = fmt.Sprint(d.Gates, m.Attitudes.Resin)
	}
	return fmt.Sprint(m.Draw, m.Clearance, parting, q.rubber(), q.Wanted <= 2, q.HalvesOnly, q.Uncut, d.Box, d.Keys, d.Seam, d.Holes, d.Sides, d.Gang, m.Attitudes.RubberA, vents)
}

func (q PieceQuestion) keyed() bool { return !q.Uncut && q.Design.Keys.Kind != key.None }

// pieced is a mould that was divided.
type pieced struct {
	key  string
	plan pieces.Plan
}

// mostPieced is how many divisions of a master are remembered: enough to
// compare its kinds.
const mostPieced = 4

// Pieces divides the rubber of a design, or returns what was divided before.
func (p *Prepared) Pieces(ctx context.Context, q PieceQuestion, told func(stage string)) (pieces.Plan, error) {
	if p.Master.Mesh == nil {
		return pieces.Plan{}, ErrNoShape
	}
	k := q.key()
	p.finer.mu.Lock()
	for _, known := range p.finer.pieced {
		if known.key == k {
			p.finer.mu.Unlock()
			return known.plan, nil
		}
	}
	p.finer.mu.Unlock()
	d := q.Design
	dir, err := d.Mould.Draw.Dir()
	if err != nil {
		return pieces.Plan{}, err
	}
	shape, err := p.seen(d)
	if err != nil {
		return pieces.Plan{}, err
	}
	m, err := p.whole(d, shape)
	if err != nil {
		return pieces.Plan{}, err
	}
	c := pieces.Choices{Draw: dir, Clearance: d.Mould.Clearance, Parting: d.Mould.Parting, HalvesOnly: q.HalvesOnly, Rubber: q.rubber(), Wanted: q.Wanted,
		Cells: latticeOf(m, p.Master.Mesh, d), Seam: d.Seam, Holes: d.Holes, Keys: d.Keys, Sides: d.Sides}
	if flat, err := mould.Make(p.Master, d.Mould, practice.Usual()); err == nil {
		c.Prefer = &flat.Parting // as the box shows it, where the outline allows
	}
	if q.Uncut {
		c.Keys = key.Choices{Kind: key.None}
	}
	if d.Box.Form != "" && d.Box.Form != box.Rectangle && d.Mould.Attitudes.RubberA.Along(d.Mould.Draw) {
		b, err := box.Of(d.Box.Form, d.around(shape))
		if err != nil {
			return pieces.Plan{}, err
		}
		c.Walls = b.Ring
	}
	if q.keyed() {
		if c.Spots, err = p.spots(d, shape); err != nil {
			return pieces.Plan{}, err
		}
	}
	plan, err := pieces.Make(ctx, m, c, told)
	if err != nil {
		return plan, err
	}
	p.finer.mu.Lock()
	if len(p.finer.pieced) >= mostPieced {
		p.finer.pieced = p.finer.pieced[1:]
	}
	p.finer.pieced = append(p.finer.pieced, pieced{k, plan})
	p.finer.mu.Unlock()
	return plan, nil
}

// latticeOf is how many cells go along the longest side of a mould.
func latticeOf(all, one *mesh.Mesh, d Design) int {
	c := d.Mould.Clearance
	size := func(m *mesh.Mesh) r3.Vec {
		b := m.Bounds()
		return r3.Add(r3.Sub(b.Max, b.Min), r3.Vec{X: 2 * c.Beside, Y: 2 * c.Beside, Z: 2 * c.Beside})
	}
	longest := func(v r3.Vec) float64 { return max(v.X, v.Y, v.Z) }
	s := size(all)
	cell := max(longest(size(one))/piecesCells, math.Cbrt(s.X*s.Y*s.Z/mostPoints))
	return int(longest(s) / cell)
}

// around is what a box goes round, seen along the draw.
func (d Design) around(shape gang.Shape) box.Ask {
	poses := d.Gang
	if len(poses) == 0 {
		poses = []gang.Pose{{}}
	}
	return box.Ask{Hull: shape.Hull(poses), Beside: d.Mould.Clearance.Beside, Wide: d.Box.Wide, Deep: d.Box.Deep}
}

// spotRoom is kept between a channel and a key, mm.
const spotRoom = 2

// spots are the places across the draw that channels take.
func (p *Prepared) spots(d Design, shape gang.Shape) ([]key.Spot, error) {
	one := d
	one.Gang = nil
	s, err := p.Work(one, Given{}, practice.Usual())
	if err != nil {
		return nil, err
	}
	frame, err := d.frame()
	if err != nil {
		return nil, err
	}
	poses := d.Gang
	if len(poses) == 0 {
		poses = []gang.Pose{{}}
	}
	var out []key.Spot
	for _, c := range s.Gates.Channels {
		r := max(c.Bore, c.Rim)/2 + spotRoom
		for i := 1; i < len(c.Path); i++ {
			from, to := c.Path[i-1], c.Path[i]
			n := int(r3.Norm(r3.Sub(to, from))/max(r, 1)) + 1
			for k := range n + 1 {
				at := r3.Add(from, r3.Scale(float64(k)/float64(n), r3.Sub(to, from)))
				for _, pose := range poses {
					in := frame.In(placed(at, frame, shape, pose))
					out = append(out, key.Spot{X: in.X, Y: in.Y, Radius: r})
				}
			}
		}
	}
	return out, nil
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
		b, err := mix.Split(*q.Rubber, withOver(out[i].Volume, q.Design.RubberOver, q.Rubber))
		if err != nil {
			return nil, err
		}
		out[i].Batch = &b
	}
	return out, nil
}

// PartingFigures are a parting's measured values with how they were taken.
type PartingFigures struct{ Line, Off, Steep, Open derive.Number }

// Parting tells how long, how uneven and how steep a parting is; Steep is in degrees.
func Parting(plan pieces.Plan) PartingFigures {
	cell := derive.From("cell of the lattice", quantity.Length, plan.Cell, "the box, divided")
	level := derive.From("level along the draw", quantity.Length, plan.Level, "nearest to the whole outline, or set by hand")
	return PartingFigures{
		Line:  derive.Of(quantity.Length, plan.Line, "length of the part's outline, holes and climbs included", cell),
		Off:   derive.Of(quantity.Length, plan.Off, "greatest distance of the line from its level, where the outline does not reach it", level, cell),
		Open:  derive.Of(quantity.Number, plan.Open, "share of the line that crosses walls instead of following an edge: there the seam shows", cell),
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
