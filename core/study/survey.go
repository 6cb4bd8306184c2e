package study

import (
	"math"
	"sync"

	"bathyform/core/draw"
	"bathyform/core/gang"
	"bathyform/core/inhibit"
	"bathyform/core/kind"
	"bathyform/core/mesh"
	"bathyform/core/mix"
	"bathyform/core/part"
	"bathyform/core/practice"
	"bathyform/core/prep"
	"bathyform/core/strip"
	"bathyform/core/suit"
	"bathyform/core/thick"

	"gonum.org/v1/gonum/spatial/r3"
)

// Brief is what the caster says of the master and of what the casting must
// be; the zero Brief says nothing.
type Brief struct {
	Quality    string          `json:",omitempty"` // decorative, good or precision
	Surface    inhibit.Surface `json:",omitempty"`
	Generation int             `json:",omitempty"` // 2 for a master that is itself a casting
	Inserts    []Insert        `json:",omitempty"`
	Check      *part.Check     `json:",omitempty"`
	Kind       kind.Kind       `json:",omitempty"` // of mould, as chosen
	Wants      []suit.Want     `json:",omitempty"` // of the casting
	Day        *prep.Day       `json:",omitempty"` // the weather in the shop when it is primed
	Done       []string        `json:",omitempty"` // keys of the prep steps that are ticked
}

// fineParts is how many times the longest edge of the fine mesh goes into the part.
const fineParts = 36

// finer holds what is found out once for a master.
type finer struct {
	meshOnce sync.Once
	mesh     *mesh.Mesh

	thickOnce sync.Once
	thickness thick.Map
	gapsOnce  sync.Once
	gaps      thick.Map

	mu    sync.Mutex
	draws map[drawKey]draw.Analysis

	shapes map[part.Axis]gang.Shape
	pieced []pieced // the newest last
	skins  []skinned
}

type drawKey struct {
	dir      r3.Vec
	oneSided bool
}

// Fine is the master's surface in triangles small enough to colour one by one.
func (p *Prepared) Fine() *mesh.Mesh {
	p.finer.meshOnce.Do(func() {
		box := p.Master.Mesh.Bounds()
		size := r3.Sub(box.Max, box.Min)
		p.finer.mesh, _ = p.Master.Mesh.Refined(max(size.X, size.Y, size.Z) / fineParts)
	})
	return p.finer.mesh
}

// Thickness is the thickness of the fine mesh's triangles.
func (p *Prepared) Thickness() thick.Map {
	m := p.Fine()
	p.finer.thickOnce.Do(func() { p.finer.thickness = thick.Measure(m) })
	return p.finer.thickness
}

// widestGap is the widest recess in mm that is looked for.
const widestGap = 6

// recesses is the width of narrow free places over the fine mesh's triangles.
func (p *Prepared) recesses() thick.Map {
	m := p.Fine()
	p.finer.gapsOnce.Do(func() { p.finer.gaps = thick.Gaps(m, widestGap) })
	return p.finer.gaps
}

// mostDraws bounds the directions that are remembered for a master.
const mostDraws = 24

// Draw looks at the fine mesh along a direction.
func (p *Prepared) Draw(dir r3.Vec, oneSided bool) (draw.Analysis, error) {
	m := p.Fine()
	key := drawKey{dir, oneSided}
	f := &p.finer
	f.mu.Lock()
	a, ok := f.draws[key]
	f.mu.Unlock()
	if ok {
		return a, nil
	}
	a, err := draw.Analyse(m, dir, draw.Options{OneSided: oneSided})
	if err != nil {
		return a, err
	}
	f.mu.Lock()
	defer f.mu.Unlock()
	if f.draws == nil || len(f.draws) >= mostDraws {
		f.draws = make(map[drawKey]draw.Analysis)
	}
	f.draws[key] = a
	return a, nil
}

// assumed is the rubber that is reckoned with before one is chosen.
var assumed = mix.Traits{Shore: 30, Elongation: 300, Demould: 960}

// Judged is an undercut with what the rubber does about it.
type Judged struct {
	draw.Space
	Verdict strip.Verdict
}

// Judge weighs every locked place of a draw against a rubber, nil for a
// usual one.
func (p *Prepared) Judge(a draw.Analysis, rubber *mix.Material, h practice.House, wanted int) []Judged {
	t, from := assumed, "a usual rubber, since none is chosen or its sheet does not say"
	if rubber != nil && rubber.Traits.Elongation > 0 {
		t, from = rubber.Traits, "data sheet of "+rubber.Name
	}
	out := make([]Judged, len(a.Spaces))
	for i, s := range a.Spaces {
		out[i] = Judged{s, strip.Judge(strip.Undercut{Depth: s.Depth, Opening: s.Opening, Volume: s.Volume,
			Wall: h.Clearance.Beside, Reach: math.Max(s.Height, a.Height/2)}, strip.Rubber{Shore: t.Shore, Elongation: t.Elongation, Source: from}, wanted)}
	}
	return out
}

// hardest is the dearest answer among undercuts and how many want it.
func hardest(all []Judged) (strip.Answer, int) {
	rank := map[strip.Answer]int{"": 0, strip.Strips: 1, strip.Slit: 2, strip.Fill: 3, strip.SidePiece: 4}
	worst, n := strip.Answer(""), 0
	for _, j := range all {
		switch a := j.Verdict.Answer; {
		case rank[a] > rank[worst]:
			worst, n = a, 1
		case a == worst:
			n++
		}
	}
	return worst, n
}

// Question is what a survey is asked with.
type Question struct {
	Draw          r3.Vec // the draw at hand
	Rubber, Resin *mix.Material
	Brief         Brief
	Wanted        int  // castings still to make
	Tested        bool // this rubber cured on this surface
	Failed        bool // it did not

	Resins, Rubbers []mix.Material // on the shelf
	Tests           suit.Tested    // on the master's surface
}

// Survey is all that is known of a master before rubber is poured.
type Survey struct {
	Draw      draw.Analysis
	Figures   Figures
	Undercuts []Judged
	Thickness thick.Map
	Bins      []thick.Bin
	Thin      []thick.Place // under the resin's lowest section
	Recesses  []thick.Place // narrower than the shop's fine detail
	FlatBack  float64       // share of the plan, on the better side
	OneSided  strip.Answer
	Kinds     kind.Choice
	Prep      []prep.Step
	Resins    []suit.Match
	Rubbers   []suit.Match
}

// flatness is the cosine and the depth in mm within which faces make a flat back.
const (
	backCosine = 0.9998
	backDepth  = 0.2
)

// flatBack is the share of the part's plan that a level face at its end
// towards dir covers.
func flatBack(m *mesh.Mesh, a draw.Analysis, dir r3.Vec) float64 {
	top := math.Inf(-1)
	for _, v := range m.Vertices {
		top = math.Max(top, r3.Dot(v, dir))
	}
	var area float64
	for t := range m.Triangles {
		p, q, r := m.Corners(t)
		n := r3.Cross(r3.Sub(q, p), r3.Sub(r, p))
		l := r3.Norm(n)
		if l > 0 && r3.Dot(n, dir) > backCosine*l && r3.Dot(p, dir) > top-backDepth {
			area += l / 2
		}
	}
	if a.Plan == 0 {
		return 0
	}
	return min(1, area/a.Plan)
}

// Survey looks a mesh master over. It must not be asked of a measured one.
func (p *Prepared) Survey(q Question, h practice.House) (Survey, error) {
	var s Survey
	var err error
	if s.Draw, err = p.Draw(q.Draw, false); err != nil {
		return s, err
	}
	s.Undercuts = p.Judge(s.Draw, q.Rubber, h, q.Wanted)
	m := p.Fine()
	s.Thickness = p.Thickness()
	s.Bins = s.Thickness.Distribution(12)
	if q.Resin != nil && q.Resin.Traits.MinSection > 0 {
		s.Thin = s.Thickness.Narrow(m, q.Resin.Traits.MinSection)
	}
	if h.Detail > 0 {
		s.Recesses = p.recesses().Narrow(m, min(h.Detail, widestGap))
	}
	// a mould of one piece is left by the side with the flatter back
	back := s.Draw.Dir
	up, down := flatBack(m, s.Draw, back), flatBack(m, s.Draw, r3.Scale(-1, back))
	s.FlatBack = up
	if down > up {
		back, s.FlatBack = r3.Scale(-1, back), down
	}
	single, err := p.Draw(back, true)
	if err != nil {
		return s, err
	}
	s.OneSided, _ = hardest(p.Judge(single, q.Rubber, h, q.Wanted))
	s.Figures = figures(s)
	s.Kinds = kind.Rank(p.moldCase(s, q, h))
	s.Prep = prep.List(p.prepCase(s, q))
	s.Resins = suit.Resins(q.Resins, q.Brief.Wants, suit.Part{Thinnest: s.Thickness.Thinnest.Thickness, Thickest: s.Thickness.Thickest.Thickness})
	if q.Tests != nil {
		surface := q.Brief.Surface
		if surface == "" {
			surface = inhibit.Unknown
		}
		s.Rubbers = suit.Rubbers(q.Rubbers, q.Brief.Wants, surface, q.Tests)
	}
	return s, nil
}

func (p *Prepared) moldCase(s Survey, q Question, h practice.House) kind.Case {
	t := assumed
	if q.Rubber != nil {
		t = q.Rubber.Traits
		t.Demould = orElse(t.Demould, assumed.Demould)
	}
	low, high := planOf(p.Master.Mesh, s.Draw.Dir)
	worst, locked := hardest(s.Undercuts)
	cureFrom, lifeFrom := "data sheet of the rubber", "40 of a usual rubber, common practice, no source"
	if q.Rubber == nil || q.Rubber.Traits.Demould <= 0 {
		cureFrom = "a usual rubber, since none is chosen or its sheet does not say"
	}
	life := 40.0
	if t.Family == string(inhibit.Tin) {
		life, lifeFrom = 32, "32 of a tin-cured rubber, common practice, no source"
	}
	return kind.Case{Quantity: q.Wanted, Length: high.X - low.X, Width: high.Y - low.Y, Height: s.Draw.Height,
		Volume: p.Master.Volume(), Area: p.Master.Report.Area, Clearance: h.Clearance,
		Seam: s.Draw.Outline.Length, SeamOff: s.Draw.Outline.Off, Worst: worst, Locked: locked, OneSided: s.OneSided,
		Rough: q.Brief.Quality == "decorative", FlatBack: s.FlatBack, Median: s.Thickness.Median, Thinnest: s.Thickness.Thinnest.Thickness,
		CureHours: t.Demould / 60, CureFrom: cureFrom, LifeFrom: lifeFrom, Clear: t.Clear, Soft: t.Shore > 0 && t.Shore <= 15, Life: life, Pot: h.PotWide}
}

func (p *Prepared) prepCase(s Survey, q Question) prep.Case {
	c := prep.Case{Surface: q.Brief.Surface, Quality: q.Brief.Quality, Generation: max(1, q.Brief.Generation), Tested: q.Tested, TestFailed: q.Failed,
		Recesses: len(s.Recesses), Day: q.Brief.Day, FlatBack: standsFlat(p.Fine()), OpenMesh: p.Master.Report.VolumeError > 0}
	if c.Surface == "" {
		c.Surface = inhibit.Unknown
	}
	if q.Rubber != nil {
		c.Family, c.RubberName = inhibit.Family(q.Rubber.Traits.Family), q.Rubber.Name
	}
	if q.Resin != nil {
		c.Shrink = q.Resin.Traits.Shrink
	}
	for _, j := range s.Undercuts {
		if j.Verdict.Answer == strip.Fill {
			c.Fill++
		}
	}
	for _, in := range q.Brief.Inserts {
		c.Inserts = append(c.Inserts, in.Insert)
	}
	c.MeasuredAs = p.scaleSays(q.Brief)
	return c
}

// scaleSays is what the caster's own measure says of the mesh's scale.
func (p *Prepared) scaleSays(b Brief) string {
	if b.Check == nil {
		return ""
	}
	box := p.Master.Bounds()
	size := r3.Sub(box.Max, box.Min)
	said, err := b.Check.Verify(max(size.X, size.Y, size.Z), p.Master.Volume())
	if err != nil {
		return ""
	}
	return said
}

// standing is the share of its bounding rectangle that a level face must
// cover for a part to stand on it.
const standing = 0.25

// standsFlat reports whether a part has a flat side to stand on, along any of
// the mesh's axes.
func standsFlat(m *mesh.Mesh) bool {
	box := m.Bounds()
	size := r3.Sub(box.Max, box.Min)
	for _, side := range []struct {
		dir  r3.Vec
		plan float64
	}{{r3.Vec{X: 1}, size.Y * size.Z}, {r3.Vec{Y: 1}, size.X * size.Z}, {r3.Vec{Z: 1}, size.X * size.Y}} {
		whole := draw.Analysis{Plan: side.plan}
		if max(flatBack(m, whole, side.dir), flatBack(m, whole, r3.Scale(-1, side.dir))) >= standing {
			return true
		}
	}
	return false
}

// planOf is the rectangle that a mesh stands on, seen along a direction.
func planOf(m *mesh.Mesh, dir r3.Vec) (low, high r3.Vec) {
	u := r3.Vec{X: 1}
	if math.Abs(dir.X) > 0.7 {
		u = r3.Vec{Y: 1}
	}
	v := r3.Unit(r3.Cross(dir, u))
	u = r3.Cross(v, dir)
	low, high = r3.Vec{X: math.Inf(1), Y: math.Inf(1)}, r3.Vec{X: math.Inf(-1), Y: math.Inf(-1)}
	for _, p := range m.Vertices {
		x, y := r3.Dot(p, u), r3.Dot(p, v)
		low.X, high.X = min(low.X, x), max(high.X, x)
		low.Y, high.Y = min(low.Y, y), max(high.Y, y)
	}
	return low, high
}

func orElse(x, otherwise float64) float64 {
	if x > 0 {
		return x
	}
	return otherwise
}
