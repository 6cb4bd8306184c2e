// Package mould plans a mould: the one box, its cavities, the parting, the
// pieces of rubber and the batches that are poured for them, whatever kind it
// is of, with one cavity or many, of a mesh or of a master that is known by
// its measures alone. Every stage, sheet and finding that speaks of rubber or
// of the box reads it here.
//
// A plan is laid in two steps. [Lay] needs no more than what is seen of the
// part, and answers while a hand drags; [Plan.Divide] adds how the rubber
// falls into pieces, which takes seconds. What a plan says before it is
// divided stays true afterwards.
package mould

import (
	"fmt"
	"math"

	"bathyform/core/derive"
	"bathyform/core/design"
	"bathyform/core/gang"
	"bathyform/core/grid"
	"bathyform/core/kinds"
	"bathyform/core/mesh"
	"bathyform/core/mix"
	"bathyform/core/part"
	"bathyform/core/pieces"
	"bathyform/core/plane"
	"bathyform/core/practice"
	"bathyform/core/quantity"
	"bathyform/core/shell"
	"bathyform/core/slit"

	"gonum.org/v1/gonum/spatial/r3"
)

// Ask is what a mould is planned from.
type Ask struct {
	Master part.Master
	Design design.Design
	Kind   *kinds.Kind
	House  practice.House
	Rubber *mix.Material // nil where none is chosen
	Life   derive.Number // pulls of a mould of this kind

	Shape   gang.Shape                 // of the part, seen along the draw
	Profile *pieces.Profile            // along the draw; nil where the shape is not known
	Stood   func(turn float64) Outline // of the part in the frame that the box stands in, see Standing
	Holds   []r3.Box                   // what the box must hold besides, in mesh coordinates
	Rods    []Rod                      // that leave channels in the rubber
}

// Plan is a mould.
type Plan struct {
	Kind     *kinds.Kind
	Design   design.Design
	Known    bool // the master's shape
	Cavities Cavities
	Box      Box
	Parting  Parting
	Part     derive.Number // mL, of one casting
	Parts    derive.Number // mL, of all cavities
	Body     r3.Box        // round all cavities, mesh coordinates
	One      r3.Box        // round the master
	Bare     r3.Box        // the box as the parts alone want it, without what it holds besides

	Rods     []Rod
	Channels derive.Number // mL that they leave in the rubber

	Divided bool // how the rubber falls into pours is known
	Pours   []kinds.Pour
	Rubber  derive.Number  // mL that the mould holds; nothing yet for a shell before its skin is laid
	Mixed   derive.Number  // mL that is mixed for it
	Life    derive.Number  // pulls
	Clay    *derive.Number // mL of clay for the bed or the blanket
	Weight  float64        // g of rubber; 0 until one is chosen

	Division *pieces.Plan // nil until it is divided, and for a master without a shape
	Blanket  *shell.Blanket
	Cut      *slit.Guide
	Skin     float64 // mm of rubber in a shell

	seen   []plane.Point // hull of the cavities from above, as the box stands
	master part.Master
	rubber *mix.Material
	house  practice.House
}

// Parting is the height along the draw that the parting keeps to where the
// outline lets it.
type Parting struct {
	Height   float64 // mm
	Proposed float64 // mm
	Why      string  // of the proposal
}

// Standing is the frame that a design's box is seen in from above: that of
// the draw where it stands along it.
func Standing(d design.Design) (grid.Frame, error) {
	if d.RubberUpA.Along(d.Draw) {
		return grid.NewFrame(d.Draw.Dir())
	}
	return grid.NewFrame(d.RubberUpA.Dir())
}

// Lay plans a mould as far as it is known without dividing the rubber.
func Lay(a Ask) (Plan, error) {
	if err := a.Design.Check(); err != nil {
		return Plan{}, err
	}
	if a.Master.Volume() <= 0 {
		return Plan{}, part.ErrNoMaster
	}
	p := Plan{
		Kind:   a.Kind,
		Design: a.Design,
		One:    a.Master.Bounds(),
		Known:  a.Master.Mesh != nil,
		Life:   a.Life,
		Rods:   a.Rods,
		master: a.Master,
		rubber: a.Rubber,
		house:  a.House,
	}
	var err error
	if p.Cavities, err = Laid(a.Design, a.Shape); err != nil {
		return p, err
	}
	frame, err := Standing(a.Design)
	if err != nil {
		return p, err
	}
	stood := p.Cavities.spread(frame, a.Stood)
	p.seen = stood.Hull
	low, high := boundsOfHull(stood)
	p.Body = boundsOf(frame, r3.Box{Min: low, Max: high})
	if p.Box, err = boxFor(a.Design, a.Kind, frame, stood, nil, a.House); err != nil {
		return p, err
	}
	if p.Bare = p.Box.Bounds; len(a.Holds) > 0 {
		if p.Box, err = boxFor(a.Design, a.Kind, frame, stood, a.Holds, a.House); err != nil {
			return p, err
		}
	}
	if a.Kind.Shelled {
		if p.Skin = a.Design.Skin; p.Skin == 0 {
			p.Skin = kinds.UsualSkin
		}
		if a.Design.Cavities() > 1 {
			return p, fmt.Errorf("a shell is built round one part: lay a single cavity, or choose another kind")
		}
	}
	p.sum()
	return p, p.part(a)
}

func boundsOfHull(o Outline) (low, high r3.Vec) {
	low, high = r3.Vec{X: math.Inf(1), Y: math.Inf(1), Z: o.Low}, r3.Vec{X: math.Inf(-1), Y: math.Inf(-1), Z: o.High}
	for _, q := range o.Hull {
		low.X, low.Y, high.X, high.Y = min(low.X, q[0]), min(low.Y, q[1]), max(high.X, q[0]), max(high.Y, q[1])
	}
	return low, high
}

// sum is how much rubber and resin the box holds.
func (p *Plan) sum() {
	m := p.master
	p.Part = derive.Of(
		quantity.Volume,
		m.Volume()/1000,
		"volume of the master",
		derive.From("volume", quantity.Volume, m.Volume()/1000, m.VolumeSource()),
	)
	if e := m.Report.VolumeError; m.Mesh != nil && e > 0 {
		p.Part = p.Part.Noted(fmt.Sprintf("the mesh has holes: right to within %.2g mL", e/1000))
	}
	if r := m.Report; m.Mesh != nil && r.Overlap > 0 {
		p.Part = p.Part.Noted(
			fmt.Sprintf("its bodies share %.3g mL, counted once: right to within %.2g mL", r.Overlap/1000, r.OverlapErr/1000),
		)
	}
	if r := m.Report; m.Mesh != nil && r.Hollow > 0 {
		p.Part = p.Part.Noted(fmt.Sprintf("with %.3g mL of closed hollows, which no rubber reaches", r.Hollow/1000))
	}
	n := float64(p.Design.Cavities())
	p.Parts = derive.Of(
		quantity.Volume,
		n*p.Part.Value,
		"part × cavities",
		p.Part.As("part"),
		derive.From("cavities", quantity.Number, n, "this design"),
	)
	p.measuredBox()
	if p.Kind.Shelled {
		return
	}
	p.Channels = channels(p.Rods)
	left, formula, inputs := p.Box.Volume.Value-p.Parts.Value, "box − parts", []derive.Input{p.Box.Volume.As("box"), p.Parts.As("parts")}
	if p.Channels.Value > 0 {
		left, formula, inputs = left-p.Channels.Value, formula+" − channels", append(inputs, p.Channels.As("channels"))
	}
	p.Rubber = derive.Of(quantity.Volume, left, formula, inputs...)
}

// measuredBox takes the box as the caster measured it with water or rice.
func (p *Plan) measuredBox() {
	b := p.Design.Box
	if b.Filled == 0 || p.Kind.Shelled {
		return
	}
	const source = "filled with water or rice and poured into a measure"
	filled := derive.From("what fills it", quantity.Volume, b.Filled, source)
	if b.Empty {
		p.Box.Volume = derive.Of(quantity.Volume, b.Filled, "what fills the empty box", filled)
		return
	}
	p.Box.Volume = derive.Of(quantity.Volume, b.Filled+p.Parts.Value, "what fills it, with the master in it + "+
		"parts", filled, p.Parts.As("parts"))
}

// part settles the parting and shares the rubber out as far as it goes.
func (p *Plan) part(a Ask) error {
	room := p.Box.room(p.Cavities.Frame)
	low, high := room.Box.Min.Z, room.Box.Max.Z
	partLow, partHigh := p.Design.Draw.Span(p.Body)
	if a.Profile == nil {
		p.Parting = Parting{Height: (partLow + partHigh) / 2, Why: "the shape is not known, so the middle"}
	} else {
		rest := a.Profile.Rest(SeamOf(p.Design.Seam), low, high, room.Volume/(high-low)/float64(p.Design.Cavities()))
		p.Parting = Parting{Height: rest.Height, Why: rest.Why}
	}
	p.Parting.Proposed = p.Parting.Height
	if own := p.Design.Parting; own != nil {
		if p.Parting.Height = *own; *own <= low || *own >= high {
			return fmt.Errorf(
				"the parting at %.4g mm lies outside the box, which reaches from %.4g to %.4g mm along the draw; the "+
					"part reaches from %.4g to %.4g mm",
				*own,
				low,
				high,
				partLow,
				partHigh,
			)
		}
	}
	var known []kinds.Piece
	if !p.Known && p.Kind.Halves {
		known = p.halvesByMeasure(low, high)
	}
	p.share(known, nil)
	return nil
}

// halvesByMeasure shares the box of a master without a shape out: half of the
// part is taken to lie in each half.
func (p *Plan) halvesByMeasure(low, high float64) []kinds.Piece {
	var out []kinds.Piece
	for i, depth := range []float64{high - p.Parting.Height, p.Parting.Height - low} {
		share := derive.Of(quantity.Volume, p.Box.Volume.Value*depth/(high-low)-(p.Parts.Value+p.Channels.Value)/2,
			"box × depth of the half / depth of the box − (parts + channels) / 2", p.Box.Volume.As("box"), p.Channels.As("channels"),
			derive.From("depth of the half", quantity.Length, depth, "from the parting to the end of the box"),
			derive.From("depth of the box", quantity.Length, high-low, "along the draw"), p.Parts.As("parts")).
			Noted("the shape is not known: half of the part and of the channels is taken to lie in each half")
		out = append(out, kinds.Piece{Name: []string{"Half A", "Half B"}[i], Volume: share})
	}
	return out
}

// SeamOf is a seam as the division takes it.
func SeamOf(s design.Seam) pieces.Seam {
	switch s {
	case design.Top, design.Bottom, design.Half:
		return pieces.Seam(s)
	}
	return pieces.Flattest
}

// bed is how high the parting stands over the floor on a way up, mm; 0 where
// it stands upright.
func (p *Plan) bed(up interface{ Of(r3.Vec) float64 }) float64 {
	draw := p.Design.Draw.Dir()
	along := up.Of(draw)
	if math.Abs(along) < 0.5 {
		return 0
	}
	low, high := p.Design.Draw.Span(p.Box.Bounds)
	if along > 0 {
		return p.Parting.Height - low
	}
	return high - p.Parting.Height
}

// Level is how high the parting stands over the floor as half A is poured, mm;
// 0 where it stands upright.
func (p Plan) Level() float64 { return p.bed(p.Design.RubberUpA) }

// Under is how much rubber stands under the parts as the box stands, mm.
func (p Plan) Under() float64 {
	return p.Box.Under
}

// Above is what stands in the box, seen from above in the box's frame: the
// cavities where that is along the draw, else the hull round them.
func (p Plan) Above() [][]plane.Point {
	if p.Box.Stands.Along(p.Design.Draw) {
		return p.Cavities.Outlines()
	}
	return [][]plane.Point{p.seen}
}

// Solid is a master's closed mesh: the block of its measures where its shape
// is not known, which serves for what is seen of its outside alone.
func Solid(m part.Master) *mesh.Mesh {
	switch {
	case m.Mesh == nil:
		return mesh.Block(m.Bounds())
	case m.Report.VolumeError > 0:
		closed, _ := m.Mesh.Capped()
		return closed
	}
	return m.Mesh
}
