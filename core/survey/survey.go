// Package survey looks a master over before rubber is poured: what locks the
// rubber and whether it strips, how thick the part is, what stands against
// its surface, its sizes and its materials, and what has to be done to it.
package survey

import (
	"fmt"
	"math"

	"bathyform/core/derive"
	"bathyform/core/design"
	"bathyform/core/draw"
	"bathyform/core/finding"
	"bathyform/core/inhibit"
	"bathyform/core/mesh"
	"bathyform/core/mix"
	"bathyform/core/part"
	"bathyform/core/practice"
	"bathyform/core/prep"
	"bathyform/core/quantity"
	"bathyform/core/strip"
	"bathyform/core/suit"
	"bathyform/core/thick"

	"gonum.org/v1/gonum/spatial/r3"
)

// Question is what a survey is asked with.
type Question struct {
	Master        part.Master
	Draw          r3.Vec  // the draw at hand
	Across        float64 // mm, the circle that the mould takes as it is planned; 0 for not planned
	Rubber, Resin *mix.Material
	Brief         design.Brief
	Wanted        int  // castings still to make
	Tested        bool // this rubber cured on this surface
	Failed        bool // it did not

	Resins, Rubbers []mix.Material // on the shelf
	Tests           suit.Tested    // on the master's surface
}

// Seen is what was measured of a mesh master.
type Seen struct {
	Fine      *mesh.Mesh // its surface in small triangles
	Draw      draw.Analysis
	Thickness thick.Map
	Recesses  []thick.Place // narrower than the shop's fine detail
}

// Survey is all that is known of a master before rubber is poured.
type Survey struct {
	Seen
	Known     bool // the shape
	Figures   Figures
	Undercuts []Judged
	Bins      []thick.Bin
	Thin      []thick.Place // under the resin's lowest section
	Prep      []prep.Step
	Resins    []suit.Match
	Rubbers   []suit.Match
	NotWorth  []string // reasons against casting this part at all
}

// Limits of what is worth casting; common practice, no source, from memory.
const (
	fewCastings = 2
	paperThin   = 0.6 // mm
)

// Make looks a master over. A nil seen is a master whose shape is not known:
// what depends on it is left out.
func Make(q Question, seen *Seen, h practice.House) Survey {
	var s Survey
	if seen != nil {
		s.Known, s.Seen = true, *seen
		s.Undercuts = Judge(s.Draw, q.Rubber, q.Wanted)
		s.Bins = s.Thickness.Distribution(12)
		if q.Resin != nil && q.Resin.Traits.MinSection > 0 {
			s.Thin = s.Thickness.Narrow(s.Fine, q.Resin.Traits.MinSection)
		}
		s.Figures = figures(s)
	}
	s.Prep = prep.List(s.prepCase(q))
	s.Resins = suit.Resins(
		q.Resins,
		q.Brief.Wants,
		suit.Part{
			Thinnest: s.Thickness.Thinnest.Thickness,
			Thickest: s.Thickness.Thickest.Thickness,
			Shore:    q.Brief.Shore,
		},
	)
	if q.Tests != nil {
		s.Rubbers = suit.Rubbers(q.Rubbers, q.Brief.Wants, q.Brief.On(), q.Tests)
	}
	if q.Wanted <= fewCastings {
		s.NotWorth = append(
			s.NotWorth,
			fmt.Sprintf("Only %d to make: a print or a machined part is done before the rubber has cured.", q.Wanted),
		)
	}
	if m := s.Thickness.Median; m > 0 && m < paperThin {
		s.NotWorth = append(s.NotWorth, fmt.Sprintf("Half of it is thinner than %.2g mm: made for injection, hardly castable by hand.", m))
	}
	return s
}

// Strength is what a rubber stands: a usual one's where none is chosen or its
// sheet does not say.
func Strength(rubber *mix.Material) strip.Rubber {
	if rubber != nil && rubber.Traits.Elongation > 0 {
		return strip.Rubber{Shore: rubber.Traits.Shore, Elongation: rubber.Traits.Elongation, Source: "data sheet of " + rubber.Name}
	}
	return strip.Rubber{
		Shore:      mix.UsualRubber.Shore,
		Elongation: mix.UsualRubber.Elongation,
		Source:     "a usual rubber, since none is chosen or its sheet does not say",
	}
}

// Judged is an undercut with what the rubber does about it.
type Judged struct {
	draw.Space
	Verdict strip.Verdict
}

// Judge weighs every locked place of a draw against a rubber, nil for a usual one.
func Judge(a draw.Analysis, rubber *mix.Material, wanted int) []Judged {
	return JudgeBy(a, Strength(rubber), wanted)
}

// JudgeBy weighs every locked place of a draw by what the rubber stands.
func JudgeBy(a draw.Analysis, r strip.Rubber, wanted int) []Judged {
	held := strip.Anyhow
	if a.OneSided {
		held = strip.OneWay
	}
	out := make([]Judged, len(a.Spaces))
	for i, s := range a.Spaces {
		out[i] = Judged{s, strip.Judge(a, s, held, r, wanted)}
	}
	return out
}

// Locks are judged undercuts as the choice of a kind takes them, with what
// the caster has said of single ones.
func Locks(all []Judged, said []design.Side) []strip.Lock {
	out := make([]strip.Lock, len(all))
	for i, j := range all {
		out[i] = strip.Lock{At: j.Centre, Volume: j.Volume, Mode: j.Verdict.Mode, Answer: j.Verdict.Answer, Deep: max(j.Travel, j.Depth)}
	}
	for _, s := range said {
		best, far := -1, math.Inf(1)
		for i := range out {
			if d := r3.Norm(r3.Sub(s.At.Vec(), out[i].At)); d < far {
				best, far = i, d
			}
		}
		if best >= 0 && s.Strip {
			out[best].Said = true
		}
	}
	return out
}

// flatness is the cosine and the depth in mm within which faces make a flat back.
const (
	backCosine = 0.9998
	backDepth  = 0.2
)

// FlatBack is the area in mm² of the level face at a mesh's end towards dir.
func FlatBack(m *mesh.Mesh, dir r3.Vec) float64 {
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
	return area
}

func (s Survey) prepCase(q Question) prep.Case {
	c := prep.Case{
		Surface:    q.Brief.On(),
		Quality:    q.Brief.Quality,
		Generation: max(1, q.Brief.Generation),
		Tested:     q.Tested,
		TestFailed: q.Failed,
		Recesses:   len(s.Recesses),
		Day:        q.Brief.Day,
		OpenMesh:   q.Master.Report.VolumeError > 0,
		MeasuredAs: scaleSays(q.Master, q.Brief),
	}
	if s.Known {
		c.FlatBack = standsFlat(s.Fine)
	}
	if q.Rubber != nil {
		c.Family, c.RubberName = inhibit.Family(q.Rubber.Traits.Family), q.Rubber.Name
	}
	if q.Resin != nil {
		c.Shrink = q.Resin.Traits.Shrink
	}
	for _, j := range s.Undercuts {
		if j.Verdict.Answer == strip.Plug {
			c.Fill++
		}
	}
	for _, in := range q.Brief.Inserts {
		c.Inserts = append(c.Inserts, in.Prep())
	}
	return c
}

// scaleSays is what the caster's own measure says of the master's scale.
func scaleSays(m part.Master, b design.Brief) string {
	if b.Check == nil {
		return ""
	}
	box := m.Bounds()
	size := r3.Sub(box.Max, box.Min)
	said, err := b.Check.Verify(max(size.X, size.Y, size.Z), m.Volume())
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
		if max(FlatBack(m, side.dir), FlatBack(m, r3.Scale(-1, side.dir))) >= standing*side.plan {
			return true
		}
	}
	return false
}

// MeshFindings says what the mesh itself warns of.
func MeshFindings(m part.Master) (out []finding.Finding) {
	if m.Mesh == nil {
		return nil
	}
	r := m.Report
	if r.VolumeError > 0 {
		f := finding.Finding{Severity: finding.Watch, Stage: finding.Master,
			Code: "mesh-holes", What: fmt.Sprintf("The mesh has holes: %d open edges.", r.Edges.Open),
			Figure: finding.Of(quantity.Volume, r.Volume/1000), Limit: finding.Of(quantity.Volume, r.VolumeError/1000),
			Why: fmt.Sprintf(
				"The holes were closed flat. The volume is right to within %.2g %%; mend the mesh where it was made if that is too coarse.",
				100*r.VolumeError/r.Volume,
			),
			Source: "generalised winding number, Jacobson et al. 2013"}
		if r.VolumeError > 0.1*r.Volume {
			f.Severity = finding.Stop
		}
		out = append(out, f)
	}
	for _, w := range r.Warnings {
		out = append(
			out,
			finding.Finding{
				Severity: finding.Note,
				Stage:    finding.Master,
				Code:     "mesh-warning",
				What:     quantity.Sentence(w) + ".",
				Why:      "Found while reading the mesh.",
				Source:   "the file",
			},
		)
	}
	if !r.Sound {
		out = append(out, finding.Finding{Severity: finding.Watch, Stage: finding.Master,
			Code: "mesh-on-a-grid", What: "The surface does not close cleanly, so air is traced on a grid.",
			Why:    "Pockets and their heights are good to a cell of the grid, about a hundredth of the part, instead of exact.",
			Source: "the mesh"})
	}
	return out
}

func at(v r3.Vec) *r3.Vec { return &v }

// BackShare is how much of a part's plan its back covers, as a figure.
func BackShare(m *mesh.Mesh, plan float64, dir r3.Vec) derive.Number {
	back := FlatBack(m, dir)
	share := 0.0
	if plan > 0 {
		share = min(1, back/plan)
	}
	return derive.Of(
		quantity.Number,
		share,
		"level face at that end / plan of the part",
		derive.From("level face", quantity.Area, back/100, "the mesh"),
		derive.From("plan of the part", quantity.Area, plan/100, "the mesh"),
	)
}
