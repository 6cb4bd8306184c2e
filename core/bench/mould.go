package bench

import (
	"context"
	"fmt"
	"math"

	"bathyform/core/build"
	"bathyform/core/channel"
	"bathyform/core/derive"
	"bathyform/core/design"
	"bathyform/core/fill"
	"bathyform/core/finding"
	"bathyform/core/full"
	"bathyform/core/gate"
	"bathyform/core/hold"
	"bathyform/core/key"
	"bathyform/core/kinds"
	"bathyform/core/mix"
	"bathyform/core/mould"
	"bathyform/core/pieces"
	"bathyform/core/practice"
	"bathyform/core/quantity"
	"bathyform/core/rise"
	"bathyform/core/sheet"
	"bathyform/core/shell"
	"bathyform/core/shot"
	"bathyform/core/survey"
	"bathyform/core/tone"

	"gonum.org/v1/gonum/spatial/r3"
)

// Study is what follows from a design while a hand drags: everything but how
// the rubber falls into pieces.
type Study struct {
	Plan     mould.Plan
	Gates    gate.Layout
	Shot     shot.Plan
	Dress    derive.Number // min to cut the channels off the castings of a pull and dress what is left
	Resin    rise.Rise
	Run      *rise.Run      // of the resin into a cavity; nil where nobody can know
	Pours    []rise.Rise    // of the rubber, pour by pour
	Hold     *hold.Standing // of a master in a block poured all round; else nil
	Findings []finding.Finding
}

// Study works a design out.
func (m *Master) Study(ctx context.Context, q Question) (Study, error) {
	s, err := m.study(ctx, q)
	if err != nil {
		return s, err
	}
	suit, err := m.suit(ctx, q, s.Plan.Kind, 0, false)
	s.Findings = append(s.Findings, s.Plan.Findings()...)
	s.Findings = append(s.Findings, suit.Against...)
	return s, err
}

// poured is the part of a study that follows the resin: channels, air and shot.
func (m *Master) poured(ctx context.Context, q Question) (Study, error) {
	var s Study
	var err error
	if s.Plan, err = m.Lay(ctx, q); err != nil {
		return s, err
	}
	if err := m.gates(ctx, &s, q); err != nil {
		return s, err
	}
	s.Shot, err = shot.Make(shot.Ask{
		Part:     s.Plan.Part,
		LaidIn:   shot.LaidIn(q.Brief.Inserts),
		Gates:    s.Gates,
		Cavities: q.Design.Cavities(),
		Over:     q.Design.ShotOver,
		Cup:      q.House.CupKeeps,
		Syringe:  q.House.Injects(),
		Bucket:   q.House.Bucket,
		Scale:    q.House.ScaleMost,
		InPot:    s.inPot(q.House),
		TintB:    q.House.Does(practice.Tint) == practice.PartB,
		Resin:    q.Resin,

		Colour:    q.Design.Colour,
		Powder:    q.Design.Powder,
		Pulls:     q.pulls(),
		ScaleStep: q.House.ScaleStep,
	})
	s.Dress = s.dress(q)
	return s, err
}

// study is what a study shares with a build.
func (m *Master) study(ctx context.Context, q Question) (Study, error) {
	s, err := m.poured(ctx, q)
	if err != nil {
		return s, err
	}
	gates := append(s.Findings, s.full(q).Dragged()...)
	s.Findings = append(survey.MeshFindings(m.Part), s.Plan.InsertFindings(q.Brief.Inserts)...)
	for i := range s.Plan.Pours {
		r, err := rise.Rubber(s.Plan, i, m.spacesFor(ctx))
		if err != nil {
			return s, err
		}
		s.Pours = append(s.Pours, r)
		s.Findings = append(s.Findings, rise.RubberFindings(r)...)
	}
	s.Findings = append(s.Findings, gates...)
	if s.Hold, err = m.held(ctx, q, s.Plan, s.Gates); err != nil {
		return s, err
	}
	if s.Hold != nil {
		s.Findings = append(s.Findings, s.Hold.Findings()...)
	}
	if f := mix.CheckColour(s.Shot.Doses); f != nil {
		s.Findings = append(s.Findings, *f)
	}
	if n := s.Shot.Mixes.Value; n > 1 {
		s.Findings = append(s.Findings, finding.Finding{Severity: finding.Watch, Stage: finding.Shot, Code: "shot-in-several-mixes",
			What: fmt.Sprintf("The shot takes %.0f mixes.", n), Figure: finding.Of(quantity.Volume, s.Shot.Total.Value),
			Limit: finding.Of(quantity.Volume, s.Shot.Total.Value/n),
			Why: "The largest cup or the scale takes no more at once. Two people mix together, or cavities are filled mix by mix: " +
				"never top up " +
				"what has begun to gel.", Source: "House practice",
			Remedies: []finding.Remedy{{Label: "House practice", Action: finding.OpenPractice}}})
	}
	if b := s.Shot.Batch; b != nil {
		if f := mix.CheckScale(finding.Shot, "the shot", *q.Resin, b.A.Value, b.B.Value, q.House); f != nil {
			s.Findings = append(s.Findings, *f)
		}
		found := []*finding.Finding{mix.CheckDensity(finding.Shot, *q.Resin),
			mix.CheckKits(finding.Shot, fmt.Sprintf("The resin for %d pulls", q.pulls()), *q.Resin, b.Mass.Value*float64(q.pulls()))}
		if q.Rubber != nil {
			found = append(found, mix.CheckHeat(*q.Resin, *q.Rubber))
		}
		for _, f := range found {
			if f != nil {
				s.Findings = append(s.Findings, *f)
			}
		}
	} else {
		s.Findings = append(s.Findings, finding.Finding{Severity: finding.Watch, Stage: finding.Shot,
			Code: "no-resin", What: "No resin is chosen yet, so the shot is known by volume only.", Why: "Density and " +
				"ratio come from the resin's data sheet.",
			Remedies: []finding.Remedy{{Label: "Choose a resin", Action: finding.OpenStock}}})
	}
	if q.Rubber == nil {
		s.Findings = append(s.Findings, finding.Finding{Severity: finding.Watch, Stage: finding.Rubber,
			Code: "no-rubber", What: "No rubber is chosen yet, so nothing can be weighed.", Why: "Density and ratio " +
				"come from the rubber's data sheet.", Remedies: []finding.Remedy{{Label: "Choose a rubber", Action: finding.OpenStock}}})
	}
	return s, nil
}

// choices are a design's, and what the order bears.
func (m *Master) choices(q Question) gate.Choices {
	c := gate.Of(q.Design)
	c.Webs, c.Stream = q.House.Webs, q.House.Stream
	c.Fault, c.Pressure = gate.FaultOf(q.quality()), q.House.Pressure
	if len(c.Marks) == 0 || !m.Known() {
		c.Marks = nil
		return c
	}
	return c.On(sure(&m.marked, encoded(c.Marks), func() *gate.Faces { return gate.Marked(m.channels(), c.Marks) }))
}

// gates lays the channels and draws up the rail of the resin.
func (m *Master) gates(ctx context.Context, s *Study, q Question) error {
	p, c := s.Plan, m.choices(q)
	into, err := m.into(ctx, q, p)
	if err != nil {
		return err
	}
	if s.Gates, err = m.layout(ctx, q, p); err != nil {
		return err
	}
	s.Findings = append(s.Findings, s.Gates.Findings(into, c)...)
	if f := s.Gates.Opens(p, q.House.TopBore); f != nil {
		s.Findings = append(s.Findings, *f)
	}
	s.Resin = rise.Resin(p, s.Gates)
	if s.Run = rise.Running(p, s.Gates, s.Resin, q.Resin, q.House); s.Run != nil {
		s.Findings = append(s.Findings, s.Run.Findings...)
	}
	return nil
}

// full is a study as castings come out of it.
func (s Study) full(q Question) full.Case {
	return full.Case{Gates: s.Gates, Shot: s.Shot, Resin: q.Resin, Rubber: q.Rubber, Kind: s.Plan.Kind, House: q.House}
}

// vented is the cavity that a design's vents let air out of, nil where it has
// none: without a shape, or without a sprue.
func (m *Master) vented(ctx context.Context, q Question) (*fill.Space, error) {
	k, err := q.KindOf()
	if err != nil || k.Resin != kinds.Sprued {
		return nil, err
	}
	return m.standingUp(ctx, q.Design.Tilt.Up(q.Design.ResinUp.Dir()))
}

// RankVents puts the vents that a design needs in the order of the air that
// they spare.
func (m *Master) RankVents(ctx context.Context, q Question) (gate.Ranking, error) {
	cavity, err := m.vented(ctx, q)
	if err != nil || cavity == nil {
		return gate.Ranking{}, err
	}
	return gate.Rank(cavity, m.choices(q), q.Design.VentBore)
}

// ProposeVents puts a vent at every high spot of a design.
func (m *Master) ProposeVents(ctx context.Context, q Question) ([]design.Vent, error) {
	cavity, err := m.vented(ctx, q)
	if err != nil || cavity == nil {
		return nil, err
	}
	var out []design.Vent
	for _, v := range gate.ProposeVents(cavity, m.choices(q), q.Design.VentBore) {
		out = append(out, design.Vent{At: design.At(v.At), Bore: v.Bore, State: v.State, Rim: v.Rim, Cup: v.Cup, Cut: v.Cut})
	}
	return out, nil
}

// suit holds a kind against the part. What a seam of off mm off its level and
// the part's thickness say is left out where they are not asked for, since
// thickness takes its time.
func (m *Master) suit(ctx context.Context, q Question, k *kinds.Kind, off float64, thickness bool) (kinds.Suit, error) {
	c, err := m.caseOf(ctx, q, k, off, thickness)
	if err != nil {
		return kinds.Suit{}, err
	}
	return k.Suits(c), nil
}

func (m *Master) caseOf(ctx context.Context, q Question, k *kinds.Kind, off float64, thickness bool) (kinds.Case, error) {
	b := m.Part.Bounds()
	size := r3.Sub(b.Max, b.Min)
	dir := q.Design.Draw.Dir()
	low, high := q.Design.Draw.Span(b)
	c := kinds.Case{
		Known:  m.Known(),
		Wanted: q.wanted(),
		Long:   max(size.X, size.Y, size.Z),
		Height: high - low,
		Off:    off,
		Rough:  q.Brief.Quality == "decorative",
		Rubber: q.Rubber,
		Cut:    k.Cut,
	}
	if !m.Known() {
		return c, nil
	}
	a, err := m.Draw(ctx, dir, false)
	if err != nil {
		return c, err
	}
	c.Locked = survey.Locks(survey.Judge(a, q.Rubber, q.wanted()), q.Design.Sides)
	if k.OnBoard {
		back := r3.Scale(-1, dir) // the side that lies on the board, and by which the part leaves
		c.Back = survey.BackShare(m.Fine(), a.Plan, back).Value
		one, err := m.Draw(ctx, back, true)
		if err != nil {
			return c, err
		}
		c.Overhang = survey.Locks(survey.Judge(one, q.Rubber, q.wanted()), nil)
	}
	if thickness || k.Resin == kinds.Pressed {
		t, err := m.Thickness(ctx)
		if err != nil {
			return c, err
		}
		c.Median = t.Median
	}
	return c, nil
}

// spotRoom is kept between a channel and a key, mm.
const spotRoom = 2

// spots are the places across the draw that channels take.
func spots(p mould.Plan, l gate.Layout) []key.Spot {
	var out []key.Spot
	for _, c := range l.Channels {
		r := max(c.Bore, c.Rim)/2 + spotRoom
		for i := 1; i < len(c.Path); i++ {
			from, to := c.Path[i-1], c.Path[i]
			n := int(r3.Norm(r3.Sub(to, from))/max(r, 1)) + 1
			for k := range n + 1 {
				in := p.Frame().In(r3.Add(from, r3.Scale(float64(k)/float64(n), r3.Sub(to, from))))
				out = append(out, key.Spot{X: in.X, Y: in.Y, Radius: r})
			}
		}
	}
	return out
}

// cells is the lattice of a mould with one cavity; a gang's has cells as
// large, as far as mostPoints allows.
const (
	cells      = 110
	mostPoints = 2.5e6
)

// latticeOf is how many cells go along the longest side of a mould.
func latticeOf(p mould.Plan) int {
	size := r3.Sub(p.Box.Bounds.Max, p.Box.Bounds.Min)
	one := r3.Add(r3.Sub(p.One.Max, p.One.Min), r3.Scale(2*p.Design.Clearance.Beside, r3.Vec{X: 1, Y: 1, Z: 1}))
	cell := max(max(one.X, one.Y, one.Z)/cells, math.Cbrt(size.X*size.Y*size.Z/mostPoints))
	return int(max(size.X, size.Y, size.Z) / cell)
}

// divided is how the rubber of a plan falls into pieces, as it was divided
// before or anew. A master without a shape is never divided.
func (m *Master) divided(ctx context.Context, q Question, p mould.Plan, l gate.Layout, told func(string)) (mould.Plan, error) {
	if !m.Known() {
		return p, nil
	}
	var at []key.Spot
	if p.Kind.Keyed {
		at = spots(p, l)
	}
	choices := p.Choices(at, survey.Strength(q.Rubber), min(q.wanted(), 3), latticeOf(p))
	if !p.Kind.Halves { // nothing that the rubber must stand decides where a block is cut
		choices.Rubber.Source = ""
	}
	d, err := m.divisions.Get(ctx, encoded(choices, p.Cavities.Poses), func(ctx context.Context) (pieces.Plan, error) {
		return pieces.Make(ctx, p.Cavities.Whole(m.Solid), choices, told)
	})
	if err != nil {
		return p, err
	}
	if !p.Kind.Shelled {
		return p.Divide(d), nil
	}
	told("laying the blanket")
	b, err := m.blankets.Get(ctx, blanketKey{q.Design.Draw, p.Skin}, func(ctx context.Context) (shell.Blanket, error) {
		return shell.Make(ctx, m.Solid, q.Design.Draw.Dir(), p.Skin, 0)
	})
	if err != nil {
		return p, err
	}
	return p.Lined(b, d), nil
}

// Built is a mould worked out down to the bench.
type Built struct {
	build.Build
	Study Study // of the same plan, divided
	Case  kinds.Case
}

// Build works a mould out for the kind of the question. Told is called with
// the name of every stage.
func (m *Master) Build(ctx context.Context, q Question, told func(stage string)) (Built, error) {
	if told == nil {
		told = func(string) {}
	}
	var out Built
	s, err := m.study(ctx, q)
	if err != nil {
		return out, err
	}
	if s.Plan.Kind.Shelled && !m.Known() {
		return out, fmt.Errorf("a skin lies all over the part, and so does a shell: %w", ErrNoShape)
	}
	if s.Plan, err = m.divided(ctx, q, s.Plan, s.Gates, told); err != nil {
		return out, err
	}
	told("following the rubber")
	s.Pours = nil
	var brush []int
	for i := range s.Plan.Pours {
		r, err := rise.Rubber(s.Plan, i, m.spacesFor(ctx))
		if err != nil {
			return out, err
		}
		s.Pours = append(s.Pours, r)
		brush = append(brush, rise.Brushed(r, q.Design.Cavities()))
	}
	off := 0.0
	if d := s.Plan.Division; d != nil {
		off = d.Off
	}
	told("holding it against the part")
	if out.Case, err = m.caseOf(ctx, q, s.Plan.Kind, off, true); err != nil {
		return out, err
	}
	thickest := 0.0
	if m.Known() {
		t, err := m.Thickness(ctx)
		if err != nil {
			return out, err
		}
		thickest = t.Thickest.Thickness
		filled := s.full(q)
		filled.Thickest, filled.Thin = t.Thickest, t.Narrow(m.Fine(), full.Thin)
		s.Findings = append(s.Findings, filled.Measured()...)
	}
	c := build.Case{
		Thickest: thickest,
		Hold:     s.Hold,
		Reliefs:  out.Case.Reliefs(),
		Plan:     s.Plan,
		Suit:     s.Plan.Kind.Suits(out.Case),
		Thin:     out.Case.Thin(),
		Wanted:   q.wanted(),
		Quality:  q.quality(),
		Cavity:   s.Shot.Cavity,
		Shot:     s.Shot.Total,
		Brush:    brush,
		Rubber:   q.Rubber,
		Resin:    q.Resin,
		House:    q.House,
	}
	c.Rods, c.Scars = rods(s.Gates)
	for i, v := range q.Design.Vents {
		switch v.State {
		case design.Weeps:
			c.Rods.Weeps = append(c.Rods.Weeps, i+1)
		case design.Plugged:
			c.Rods.Plugged = append(c.Rods.Plugged, i+1)
		}
	}
	told("tilting it")
	if c.Tilt, err = m.tilt(ctx, q, s); err != nil {
		return out, err
	}
	told("writing the steps")
	m.pictured(&c)
	out.Build, out.Study = build.Make(c), s
	out.Findings = append(s.Findings, out.Findings...)
	out.Study.Findings = nil
	return out, ctx.Err()
}

// rods are what leaves the channels of a layout in the rubber, and the bores of
// what is cut off its first casting.
func rods(l gate.Layout) (r kinds.Rods, scars []float64) {
	for _, c := range l.Channels {
		switch c.Kind {
		case channel.Sprue:
			r.Sprue, r.Sprues = c.Bore, r.Sprues+1
		case channel.Runner:
			r.Runner, r.Runs = c.Bore, r.Runs+c.Length()
		case channel.Gate:
			r.Gate, r.Gates = c.Bore, r.Gates+1
		case channel.Blind:
			if r.Blind, r.Round = c.Bore, c.Length(); c.Cavity == channel.Shared {
				r.Blind, r.Round, r.Runs = 0, 0, r.Runs+c.Length() // as a runner
			}
		case channel.Vent:
			if c.Cut {
				r.Cuts = append(r.Cuts, c.Bore)
			} else {
				r.Vents = append(r.Vents, c.Bore)
			}
		}
		if c.Cavity == 0 && c.Scar() > 0 {
			scars = append(scars, c.Bore)
		}
	}
	return r, scars
}

// Rank builds a design as every kind, telling of each as it is done, and puts
// them in order.
func (m *Master) Rank(ctx context.Context, q Question, told func(stage string, row *build.Row)) ([]build.Row, error) {
	var rows []build.Row
	for _, k := range kinds.All {
		if err := ctx.Err(); err != nil {
			return nil, err
		}
		q.Kind = k.Key
		b, err := m.Build(ctx, q, func(stage string) { told(k.Name+": "+stage, nil) })
		if ctx.Err() != nil {
			return nil, ctx.Err()
		}
		row := build.RowOf(k, b.Build, err)
		if k.Elsewhere != "" {
			row.Why = k.Suits(kinds.Case{}).Why()
		}
		rows = append(rows, row)
		told(k.Name, &row)
	}
	build.Rank(rows)
	return rows, nil
}

// pictured adds the section that the pictures show: through the middle of the
// part, with the draw upwards and the resin's way up in the plane.
func (m *Master) pictured(c *build.Case) {
	p := c.Plan
	draw, right := p.Design.Draw.Dir(), p.Design.ResinUp.Dir()
	size := r3.Sub(p.Body.Max, p.Body.Min)
	if math.Abs(r3.Dot(right, draw)) > 0.5 { // the broader way across
		best := -1.0
		for _, v := range []r3.Vec{{X: 1}, {Y: 1}, {Z: 1}} {
			if math.Abs(r3.Dot(v, draw)) < 0.5 && math.Abs(r3.Dot(v, size)) > best+1e-6 {
				best, right = math.Abs(r3.Dot(v, size)), v
			}
		}
	}
	normal := r3.Cross(right, draw)
	at := p.Middle()
	if len(p.Cavities.Poses) > 1 { // through the first cavity
		at = p.Cavities.Place(r3.Scale(0.5, r3.Add(p.One.Min, p.One.Max)), p.Cavities.Poses[0])
	}
	c.View = sheet.View{Right: right, Up: draw}
	c.Section = p.Cavities.Whole(m.Solid).Section(normal, r3.Dot(normal, at)+1e-4*r3.Norm(size))
	if p.Blanket != nil {
		c.Sleeve = p.Blanket.Outer.Section(normal, r3.Dot(normal, p.Middle())+1e-4)
	}
}

// Cut is a mould cut by a plane.
type Cut struct {
	Cavities, Block [][]r3.Vec
	Pieces          []CutPiece
}

// CutPiece is a piece of rubber in a [Cut].
type CutPiece struct {
	Name  string
	Tone  tone.Tone
	Loops [][]r3.Vec
}

// Section cuts a mould across an axis of the mesh; with its pieces, if it is
// divided or may take the time to be.
func (m *Master) Section(ctx context.Context, q Question, normal r3.Vec, offset float64, divided bool) (Cut, error) {
	p, err := m.Lay(ctx, q)
	if err != nil {
		return Cut{}, err
	}
	if divided {
		if p, err = m.Plan(ctx, q, nil); err != nil {
			return Cut{}, err
		}
	}
	out := Cut{Cavities: p.Cavities.Whole(m.Solid).Section(normal, offset), Block: p.Box.Block().Section(normal, offset+1e-7)}
	for _, b := range p.Bodies() {
		as := tone.Side
		switch b.Name {
		case "Half A", "Block", "Skin":
			as = tone.RubberA
		case "Half B":
			as = tone.RubberB
		}
		out.Pieces = append(out.Pieces, CutPiece{b.Name, as, b.Mesh.Section(normal, offset+1e-7)})
	}
	return out, nil
}

// Plan is a mould with its rubber divided.
func (m *Master) Plan(ctx context.Context, q Question, told func(stage string)) (mould.Plan, error) {
	if told == nil {
		told = func(string) {}
	}
	s, err := m.study(ctx, q)
	if err != nil {
		return s.Plan, err
	}
	return m.divided(ctx, q, s.Plan, s.Gates, told)
}

// Seam is the parting along one edge of the walls.
type Seam struct {
	Seam    design.Seam
	Figures mould.Figures
	Level   float64
	Finish  derive.Number // min for each casting
}

// Seams lays the parting along every edge that casters choose from.
func (m *Master) Seams(ctx context.Context, q Question, told func(stage string, row *Seam)) error {
	for _, seam := range []design.Seam{design.Middle, design.Top, design.Bottom} {
		q.Design.Seam, q.Design.Parting = seam, nil
		b, err := m.Build(ctx, q, func(stage string) { told(stage, nil) })
		if err != nil {
			return err
		}
		if b.Plan.Division == nil {
			return ErrNoShape
		}
		told("", &Seam{Seam: seam, Figures: b.Plan.Seam(), Level: b.Plan.Division.Level, Finish: b.Finish})
	}
	return nil
}
