package study

import (
	"cmp"
	"context"
	"errors"
	"math"
	"slices"

	"bathyform/core/box"
	"bathyform/core/build"
	"bathyform/core/derive"
	"bathyform/core/drawing"
	"bathyform/core/finding"
	"bathyform/core/gang"
	"bathyform/core/gate"
	"bathyform/core/grid"
	"bathyform/core/kind"
	"bathyform/core/mould"
	"bathyform/core/outline"
	"bathyform/core/part"
	"bathyform/core/pieces"
	"bathyform/core/practice"
	"bathyform/core/quantity"
	"bathyform/core/shell"
	"bathyform/core/strip"

	"gonum.org/v1/gonum/spatial/r3"
)

// BuildQuestion is what a mould is built from beside the master.
type BuildQuestion struct {
	Design  Design
	Given   Given
	Kind    kind.Kind // empty for the design's
	Wanted  int       // castings still to make
	Quality string
	House   practice.House
}

// Built is a mould worked out down to the bench.
type Built struct {
	build.Build
	Plan     pieces.Plan
	Box      BoxPlan
	Cavities int
	Blanket  *shell.Blanket
	Across   float64 // mm, the circle that the mould takes as it stands for the resin
	Tall     float64 // mm, then
	Tilt     *derive.Number
}

// BoxPlan is a box round all cavities, seen along the draw.
type BoxPlan struct {
	box.Box
	Height    derive.Number // inside, mm
	Volume    derive.Number // inside, mL
	Saved     derive.Number // mL of rubber, against a rectangle
	Strip     derive.Number // length of a bent wall with its overlap, mm; that of all boards for a rectangle
	Panels    []mould.Panel
	Freeboard float64
}

// usualSkin is the rubber in a shell, and lap how far the end of a bent wall
// goes over its beginning, mm. Common practice, no source.
const (
	usualSkin = 11.0
	lap       = 25.0
)

// kindOf is the kind that a design is built as.
func (q BuildQuestion) kindOf() kind.Kind {
	return cmp.Or(q.Kind, q.Design.Kind, kind.Clay)
}

// pieceQuestion is how the rubber is divided for a kind.
func (q BuildQuestion) pieceQuestion(k kind.Kind) PieceQuestion {
	out := PieceQuestion{Design: q.Design, Rubber: q.Given.Rubber, Wanted: q.Wanted, HalvesOnly: !build.Sided(k)}
	switch k {
	case kind.Cut, kind.Tape, kind.Stretch, kind.OpenFace, kind.Shell:
		out.Uncut = true
	}
	return out
}

// Build works a mould out for one kind.
func (p *Prepared) Build(ctx context.Context, q BuildQuestion, told func(stage string)) (Built, error) {
	if told == nil {
		told = func(string) {}
	}
	k := q.kindOf()
	if !slices.Contains(build.Kinds, k) {
		return Built{}, build.ErrKind
	}
	out := Built{Cavities: q.Design.Cavities()}
	plan, err := p.Pieces(ctx, q.pieceQuestion(k), told)
	if err != nil {
		return out, err
	}
	out.Plan = plan
	if out.Box, err = p.BoxOf(q.Design, q.House); err != nil {
		return out, err
	}
	shape, err := p.seen(q.Design)
	if err != nil {
		return out, err
	}
	whole, err := p.whole(q.Design, shape)
	if err != nil {
		return out, err
	}
	if k == kind.Shell {
		told("laying the blanket")
		if out.Blanket, err = p.blanket(ctx, q.Design); err != nil {
			return out, err
		}
	}
	told("looking at channels and level")
	one := q.Design
	s, err := p.Work(one, q.Given, q.House)
	if err != nil {
		return out, err
	}
	if out.Tilt, err = p.tilt(ctx, q.Design, s.Gates); err != nil {
		return out, err
	}
	told("writing the steps")
	c := build.Case{Kind: k, Name: p.Master.Name, Wanted: max(1, q.Wanted), Cavities: out.Cavities, Draw: q.Design.Mould.Draw, Ups: q.Design.Mould.Attitudes,
		Plan: plan, Box: out.Box.Box, Blanket: out.Blanket, Skin: q.Design.skin(), Body: whole.Bounds(), Part: p.Master.Volume() * float64(out.Cavities),
		Shot: s.Shot.Total.Value, Tilt: out.Tilt, Rubber: q.Given.Rubber, Resin: q.Given.Resin, Over: q.Design.RubberOver, Quality: q.Quality, House: q.House}
	c.Life, c.LifeFrom = 40, "40 of a usual rubber, common practice, no source"
	if q.Given.Rubber != nil && q.Given.Rubber.Traits.Family == "tin" {
		c.Life, c.LifeFrom = 32, "32 of a tin-cured rubber, common practice, no source"
	}
	for _, rise := range s.Pours {
		n := 0
		for _, pocket := range rise.Pockets {
			if pocket.Volume >= visiblePoint {
				n++
			}
		}
		c.Brush = append(c.Brush, n*out.Cavities)
	}
	for _, ch := range s.Gates.Channels {
		switch ch.Kind {
		case gate.Sprue, gate.VentKind:
			c.Scars = append(c.Scars, ch.Bore)
		}
	}
	if len(c.Scars) == 0 {
		c.Scars = append(c.Scars, q.Design.Gates.SprueBore)
	}
	if c.View, c.Section, err = p.cut(q.Design); err != nil {
		return out, err
	}
	if c.Seen, err = p.Outlines(q.Design); err != nil {
		return out, err
	}
	if out.Blanket != nil {
		normal := r3.Cross(c.View.Right, c.View.Up)
		at := r3.Scale(0.5, r3.Add(c.Body.Min, c.Body.Max))
		c.Sleeve = out.Blanket.Outer.Section(normal, r3.Dot(normal, at)+1e-4)
	}
	out.Build, err = build.Make(c)
	if err != nil {
		return out, err
	}
	out.Across, out.Tall = c.Footprint()
	for _, f := range PieceFindings(plan, q.pieceQuestion(k)) {
		if k == kind.Stretch && f.Severity == finding.Watch {
			continue
		}
		out.Findings = append(out.Findings, f)
	}
	more, err := p.unsuited(q, k)
	out.Findings = append(out.Findings, more...)
	return out, err
}

// What some kinds ask of a part; common practice, no source.
const (
	leastBack = 0.35 // share of the plan that is flat, for a part to stand on its back
	mostThin  = 4.0  // mm of median thickness that is squeezed
)

// unsuited says what of the part's shape speaks against a kind.
func (p *Prepared) unsuited(q BuildQuestion, k kind.Kind) (out []finding.Finding, err error) {
	dir, err := q.Design.Mould.Draw.Dir()
	if err != nil {
		return nil, err
	}
	switch k {
	case kind.OpenFace:
		a, err := p.Draw(dir, false)
		if err != nil {
			return nil, err
		}
		back := r3.Scale(-1, dir) // the side that lies on the board, and by which the part leaves
		if flat := flatBack(p.Fine(), a, back); flat < leastBack {
			out = append(out, finding.Finding{Severity: finding.Stop, Stage: finding.Mould, What: "The part has no flat back to stand on.", Figure: finding.Of(quantity.Number, flat), Limit: finding.Of(quantity.Number, leastBack),
				Why: "Share of its plan that is flat on the side away from the draw. An open-face block leaves that side free: rubber runs under whatever does not lie on the board.", Source: finding.CommonPractice})
		}
		one, err := p.Draw(back, true)
		if err != nil {
			return nil, err
		}
		if worst, n := hardest(p.Judge(one, q.Given.Rubber, q.House, q.Wanted)); worst == strip.SidePiece || worst == strip.Slit {
			out = append(out, finding.Finding{Severity: finding.Stop, Stage: finding.Mould, What: "Leaving one way only, the part is held by what stands over it.", Figure: finding.Of(quantity.Number, float64(n)),
				Why: "Places that overhang as seen from the open face: a two-part draw would call most of them none.", Source: finding.CommonPractice})
		}
	case kind.Squeeze:
		if median := p.Thickness().Median; median > mostThin {
			out = append(out, finding.Finding{Severity: finding.Watch, Stage: finding.Mould, What: "The part is thick enough to be filled through a sprue.", Figure: finding.Of(quantity.Length, median), Limit: finding.Of(quantity.Length, mostThin),
				Why: "Half of it is thicker. A squeeze mould is for thin shells: here it only costs flash and a weight.", Source: finding.CommonPractice})
		}
	}
	return out, nil
}

func (d Design) skin() float64 {
	if d.Skin > 0 {
		return d.Skin
	}
	return usualSkin
}

// skinned is a blanket that was laid.
type skinned struct {
	draw    part.Axis
	thick   float64
	blanket shell.Blanket
}

// blanket lays the skin of a shell round one cavity, or returns what was laid before.
func (p *Prepared) blanket(ctx context.Context, d Design) (*shell.Blanket, error) {
	f := &p.finer
	f.mu.Lock()
	for _, s := range f.skins {
		if s.draw == d.Mould.Draw && s.thick == d.skin() {
			f.mu.Unlock()
			return &s.blanket, nil
		}
	}
	f.mu.Unlock()
	if len(d.Gang) > 1 {
		return nil, errors.New("a shell is built round one part: lay a single cavity, or choose another kind")
	}
	dir, err := d.Mould.Draw.Dir()
	if err != nil {
		return nil, err
	}
	m := p.Master.Mesh
	if p.Master.Report.VolumeError > 0 {
		m, _ = m.Capped()
	}
	b, err := shell.Make(ctx, m, dir, d.skin(), 0)
	if err != nil {
		return nil, err
	}
	f.mu.Lock()
	f.skins = append(f.skins[max(0, len(f.skins)-1):], skinned{d.Mould.Draw, d.skin(), b})
	f.mu.Unlock()
	return &b, nil
}

// cut is the section that the pictures show: through the middle of the part,
// with the draw upwards and the resin's way up in the plane.
func (p *Prepared) cut(d Design) (drawing.View, [][]r3.Vec, error) {
	draw, err := d.Mould.Draw.Dir()
	if err != nil {
		return drawing.View{}, nil, err
	}
	shape, err := p.seen(d)
	if err != nil {
		return drawing.View{}, nil, err
	}
	whole, err := p.whole(d, shape)
	if err != nil {
		return drawing.View{}, nil, err
	}
	right, err := d.Mould.Attitudes.Resin.Dir()
	if err != nil {
		return drawing.View{}, nil, err
	}
	b := whole.Bounds()
	size := r3.Sub(b.Max, b.Min)
	if math.Abs(r3.Dot(right, draw)) > 0.5 { // the broader way across
		best := -1.0
		for _, v := range []r3.Vec{{X: 1}, {Y: 1}, {Z: 1}} {
			if math.Abs(r3.Dot(v, draw)) < 0.5 && math.Abs(r3.Dot(v, size)) > best+1e-6 {
				best, right = math.Abs(r3.Dot(v, size)), v
			}
		}
	}
	normal := r3.Cross(right, draw)
	at := r3.Scale(0.5, r3.Add(b.Min, b.Max))
	if len(d.Gang) > 0 { // through the first cavity
		poses := d.Gang[:1]
		h := shape.Hull(poses)
		mid := r3.Vec{}
		for _, q := range h {
			mid.X += q[0] / float64(len(h))
			mid.Y += q[1] / float64(len(h))
		}
		frame, err := grid.NewFrame(draw)
		if err != nil {
			return drawing.View{}, nil, err
		}
		mid.Z = r3.Dot(draw, at)
		at = frame.Out(mid)
	}
	return drawing.View{Right: right, Up: draw}, whole.Section(normal, r3.Dot(normal, at)+1e-4*r3.Norm(size)), nil
}

// Outlines are the cavities of a design seen along the draw, in its frame.
func (p *Prepared) Outlines(d Design) ([][]outline.Point, error) {
	shape, err := p.seen(d)
	if err != nil {
		return nil, err
	}
	poses := d.Gang
	if len(poses) == 0 {
		poses = []gang.Pose{{}}
	}
	var out [][]outline.Point
	for _, pose := range poses {
		ring := shape.Laid(pose)
		for i := range ring {
			ring[i] = outline.Point{ring[i][0] + shape.At[0], ring[i][1] + shape.At[1]}
		}
		out = append(out, ring)
	}
	return out, nil
}

// SectionAt cuts all cavities of a design across the draw at the parting.
func (p *Prepared) SectionAt(d Design, level float64) ([][]r3.Vec, error) {
	shape, err := p.seen(d)
	if err != nil {
		return nil, err
	}
	m, err := p.whole(d, shape)
	if err != nil {
		return nil, err
	}
	dir, err := d.Mould.Draw.Dir()
	if err != nil {
		return nil, err
	}
	return m.Section(dir, level), nil
}
